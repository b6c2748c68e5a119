import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { AimOf } from '../../core/aims/index.js';
import { type Plan, type SavedStep, applyStep, fernhollow } from '../../core/plan/index.js';
import { PlanSession } from './session.svelte.js';

/** A server of one plan, as saveSteps keeps it; `down` makes every call fail. */
class Server {
	document: Plan = fernhollow();
	revision = 1;
	history: SavedStep[] = [];
	down = false;
	calls: string[] = [];
	/** Held calls wait until it is let go. */
	gate: Promise<void> | undefined;

	fetch = async (url: string, options: { method: string; body?: string }): Promise<Response> => {
		this.calls.push(`${options.method} ${url}`);
		await this.gate;
		if (this.down) throw new TypeError('connection refused');
		if (options.method === 'GET')
			return this.answer(200, { id: 'p', revision: this.revision, document: this.document, history: this.history });
		const body = JSON.parse(options.body!) as { base: number; steps: SavedStep[]; document: Plan };
		if (url.endsWith('/copy')) return this.answer(201, { id: 'copy' });
		if (body.base !== this.revision) return this.answer(409, { message: 'newer', revision: this.revision });
		this.save(body.steps);
		return this.answer(200, { revision: this.revision });
	};

	save(steps: SavedStep[]): void {
		this.document = steps.reduce((doc, { step }) => applyStep(doc, step), this.document);
		this.history.push(...steps);
		this.revision += steps.length;
	}

	private answer(status: number, body: unknown): Promise<Response> {
		return Promise.resolve(new Response(JSON.stringify(body), { status }));
	}
}

let server: Server;
let session: PlanSession;

beforeEach(() => {
	vi.useFakeTimers();
	server = new Server();
	vi.stubGlobal('fetch', server.fetch);
	session = new PlanSession({ id: 'p', revision: 1, document: server.document, history: [] });
});
afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

const type = (text: string, first: boolean) => session.set(['aims', 0, 'rate'], text, 'rate', !first);
const rest = (ms = 400) => vi.advanceTimersByTimeAsync(ms);

describe('PlanSession', () => {
	test('saves within a second, what was typed in one visit as one revision', async () => {
		['8', '85', '850 us'].forEach((text, i) => type(text, i === 0));
		expect(session.save.kind).toBe('saving');
		await rest();
		expect([session.save.kind, session.revision, server.revision, (server.document.aims[0] as AimOf<'pwm'>).rate]).toEqual([
			'saved',
			2,
			2,
			'850 us'
		]);
		expect(session.unsaved).toBe(false);
	});

	test('derives and finds at once, and undo is a step like any other', async () => {
		type('0.01 Hz', true);
		expect(session.findings.map((f) => f.code)).toContain('rate-too-slow');
		expect(session.undo()).toBe('rate');
		expect(session.findings).toEqual([]);
		expect(session.redo()).toBe('rate');
		session.undo();
		await rest();
		expect(server.document).toEqual(fernhollow());
		expect(server.history.map((s) => s.kind)).toEqual(['edit', 'undo', 'redo', 'undo']);
		const reloaded = new PlanSession({ id: 'p', revision: server.revision, document: server.document, history: server.history });
		reloaded.redo();
		expect((reloaded.plan.aims[0] as AimOf<'pwm'>).rate).toBe('0.01 Hz');
	});

	test('a save that fails says so, keeps the edit, and tries again later and later', async () => {
		server.down = true;
		type('2 kHz', true);
		await rest();
		expect(session.save).toEqual({ kind: 'failed', message: 'the server does not answer' });
		await rest(20_000);
		const tries = server.calls.length;
		expect(tries).toBeGreaterThan(3);
		expect(tries).toBeLessThan(8);
		server.down = false;
		await rest(11_000);
		expect([session.save.kind, (server.document.aims[0] as AimOf<'pwm'>).rate]).toEqual(['saved', '2 kHz']);
	});

	test('closing the page asks only when edits could be lost', async () => {
		expect(session.losable).toBe(false);
		type('2 kHz', true);
		expect(session.losable).toBe(false);
		server.down = true;
		await rest();
		expect([session.save.kind, session.losable]).toEqual(['failed', true]);
	});

	test('what is typed while a save is under way is not lost, and not sent twice', async () => {
		let open = () => {};
		server.gate = new Promise((resolve) => (open = resolve));
		type('2', true);
		await rest();
		type('2 kHz', false);
		open();
		server.gate = undefined;
		await rest(1000);
		expect([(server.document.aims[0] as AimOf<'pwm'>).rate, session.save.kind, server.revision]).toEqual(['2 kHz', 'saved', 3]);
	});

	test('an edit of an older revision is told, and nothing is overwritten', async () => {
		server.save([
			{
				kind: 'edit',
				merged: false,
				step: { label: 'other', parts: [{ kind: 'set', path: ['name'], before: 'Fernhollow Observatory', after: 'Theirs' }] }
			}
		]);
		type('2 kHz', true);
		await rest();
		expect(session.save).toEqual({ kind: 'stale', revision: 2 });
		await rest(60_000);
		expect([(server.document.aims[0] as AimOf<'pwm'>).rate, (session.plan.aims[0] as AimOf<'pwm'>).rate]).toEqual(['1.2 kHz', '2 kHz']);
		expect(await session.keepAsCopy()).toBe('copy');
		await session.takeNewer();
		expect([session.plan.name, (session.plan.aims[0] as AimOf<'pwm'>).rate, session.revision, session.save.kind]).toEqual([
			'Theirs',
			'1.2 kHz',
			2,
			'saved'
		]);
	});

	test('a tab that was left alone takes the newer one by itself; one with unsaved edits asks', async () => {
		const theirs = (after: string, before: string): SavedStep => ({
			kind: 'edit',
			merged: false,
			step: { label: '', parts: [{ kind: 'set', path: ['name'], before, after }] }
		});
		server.save([theirs('One', 'Fernhollow Observatory')]);
		await session.lookForNewer();
		expect([session.plan.name, session.save.kind]).toEqual(['One', 'saved']);
		server.save([theirs('Two', 'One')]);
		type('2 kHz', true);
		await session.lookForNewer();
		expect(session.save).toEqual({ kind: 'stale', revision: 3 });
	});
});
