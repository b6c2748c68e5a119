import { createStore, del, entries, set, type UseStore } from 'idb-keyval';
import { newId } from './ids.js';

/** Keeps what a tab has not saved yet; undefined: there is nothing to keep. */
export interface Keeper<T> {
	keep(value: T | undefined): void;
}

export const NO_KEEPER: Keeper<never> = { keep: () => undefined };

/** What a tab that has ended had kept. */
export interface Left<T> {
	key: string;
	/** When it was kept, in milliseconds since 1970. */
	at: number;
	value: T;
}

interface Kept<T> {
	place: string;
	tab: string;
	at: number;
	value: T;
}

/** A tab whose browser tells nothing of other tabs counts as ended when it has kept nothing for so long. */
const SILENT_MS = 60_000;

/** So long after an edit it is kept, with those that came meanwhile. */
const WAIT_MS = 60;

/** This page, as long as it lives: it holds a lock of its name, which ends with it however it ends. */
const tab = newId();
let locked = false;
let opened: UseStore | undefined;

function store(): UseStore {
	if (!locked) {
		locked = true;
		navigator.locks?.request(lockOf(tab), () => new Promise(() => undefined)).catch(() => undefined);
	}
	return (opened ??= createStore('nolvet', 'unsaved'));
}

const lockOf = (name: string) => `nolvet-tab-${name}`;

/** Keeps values of one place, such as a plan, in the browser's own database: the newest one, whatever becomes of this page. */
export class BrowserKeeper<T> implements Keeper<T> {
	private waiting: { value: T | undefined } | undefined;
	private busy = false;
	private kept = false;

	constructor(private readonly place: string) {}

	keep(value: T | undefined): void {
		if (value === undefined && !this.kept && !this.busy) return;
		this.waiting = { value };
		if (this.busy) return;
		this.busy = true;
		// The edit is drawn first: a whole plan is no small thing to put away.
		setTimeout(() => void this.write(), WAIT_MS);
	}

	private async write(): Promise<void> {
		const key = `${this.place} ${tab}`;
		while (this.waiting) {
			const { value } = this.waiting;
			this.waiting = undefined;
			try {
				if (value === undefined) await del(key, store());
				else await set(key, { place: this.place, tab, at: Date.now(), value } satisfies Kept<T>, store());
				this.kept = value !== undefined;
			} catch {
				// A browser that keeps nothing, in a private window say, is no reason to lose the edit that is here.
			}
		}
		this.busy = false;
	}
}

/** What tabs that have ended kept of a place, the oldest first. */
export async function leftAt<T>(place: string): Promise<Left<T>[]> {
	try {
		const all = (await entries<string, Kept<T>>(store())).filter(([, kept]) => kept.place === place && kept.tab !== tab);
		const held = (await navigator.locks?.query())?.held?.map(({ name }) => name);
		const ended = all.filter(([, kept]) => (held ? !held.includes(lockOf(kept.tab)) : Date.now() - kept.at > SILENT_MS));
		return ended.map(([key, { at, value }]) => ({ key, at, value })).sort((a, b) => a.at - b.at);
	} catch {
		return [];
	}
}

export async function forget(key: string): Promise<void> {
	await del(key, store()).catch(() => undefined);
}
