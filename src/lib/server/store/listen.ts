import pg from 'pg';
import { z } from 'zod';
import { log } from '../log.js';

/** What the database tells of a plan: its new revision, or, without one, that its recordings are others. */
export interface Told {
	revision?: number | undefined;
}

type Listener = (told: Told) => void;

const CHANNEL = 'plans';
/** Between two tries to hear the database again. */
const AGAIN_MS = 1000;

const message = z.object({ plan: z.string(), revision: z.int().optional() });

/** Hears of every change in the database, whichever server made it, and tells those that have the plan open. */
class Ears {
	private readonly listeners = new Map<string, Set<Listener>>();
	private readonly again = new Set<() => void>();
	private client: pg.Client | undefined;
	private timer: NodeJS.Timeout | undefined;
	private closed = false;

	/**
	 * Tells `listener` of the plan until the function it returns is called. `missed` is called when something may have gone unheard, since
	 * the connection was lost and is there again.
	 */
	hear(plan: string, listener: Listener, missed: () => void): () => void {
		if (!this.client) this.open();
		const all = this.listeners.get(plan) ?? new Set();
		this.listeners.set(plan, all.add(listener));
		this.again.add(missed);
		return () => {
			all.delete(listener);
			if (all.size === 0 && this.listeners.get(plan) === all) this.listeners.delete(plan);
			this.again.delete(missed);
		};
	}

	close(): void {
		this.closed = true;
		clearTimeout(this.timer);
		this.client?.end().catch(() => undefined);
	}

	private open(): void {
		// Whoever comes while it is waited for opens it sooner.
		clearTimeout(this.timer);
		const client = new pg.Client({
			connectionString: process.env.DATABASE_URL,
			keepAlive: true,
			connectionTimeoutMillis: 3000,
			application_name: 'nolvet-ears'
		});
		this.client = client;
		const lost = (error: Error) => {
			if (this.closed || this.client !== client) return;
			this.client = undefined;
			client.end().catch(() => undefined);
			log.warn({ reason: error.message }, 'the database is not heard');
			this.timer = setTimeout(() => this.open(), AGAIN_MS);
		};
		client.on('error', lost);
		client.on('end', () => lost(new Error('connection ended')));
		client.on('notification', ({ payload }) => this.tell(payload ?? ''));
		client
			.connect()
			.then(() => client.query(`listen ${CHANNEL}`))
			.then(() => this.again.forEach((missed) => missed()))
			.catch(lost);
	}

	private tell(payload: string): void {
		const { plan, revision } = message.parse(JSON.parse(payload));
		for (const listener of this.listeners.get(plan) ?? []) listener({ revision });
	}
}

export const ears = new Ears();
