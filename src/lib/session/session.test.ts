import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { AimOf } from '../../core/aims/index.js';
import { type Plan, type SavedStep, applyStep, fernhollow, setStep } from '../../core/plan/index.js';
import { PlanSession } from './session.svelte.js';

/** A server of one plan, as saveSteps keeps it; `down` makes every call fail. */
/** On which the server saves. */
const DAY = '2026-11-27';

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
			return this.answer(200, { id: 'p', revision: this.revision, savedOn: DAY, document: this.document, history: this.history });
		const body = JSON.parse(options.body!) as { base: number; steps: SavedStep[]; document: Plan };
		if (url.endsWith('/copy')) return this.answer(201, { id: 'copy' });
		if (body.base !== this.revision) return this.answer(409, { message: 'newer', revision: this.revision });
		this.save(body.steps);
		return this.answer(200, { revision: this.revision, savedOn: DAY });
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
	session = new PlanSession({ id: 'p', revision: 1, savedOn: '2026-11-26', document: server.document, history: [] });
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
		expect(session.made).toEqual({ revision: server.revision, date: DAY });
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
		const reloaded = new PlanSession({
			id: 'p',
			revision: server.revision,
			savedOn: DAY,
			document: server.document,
			history: server.history
		});
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

	/** Somebody else saves a value at a place. */
	const theirs = (path: (string | number)[], value: string) =>
		server.save([{ kind: 'edit', merged: false, step: setStep(server.document, path, value, 'theirs') }]);
	const rateOf = (plan: Plan) => (plan.aims[0] as AimOf<'pwm'>).rate;

	test('goes on from what others save, and keeps the same what they did not touch', async () => {
		const { part } = session.plan;
		theirs(['name'], 'One');
		server.document = structuredClone(server.document);
		await session.heard(2);
		expect([session.plan.name, session.revision, session.save.kind, session.plan.part === part]).toEqual(['One', 2, 'saved', true]);
		expect(session.undo()).toBe('theirs');
	});

	test('brings unsaved edits together with newer ones of other places, each undone by itself', async () => {
		theirs(['name'], 'Theirs');
		type('2 kHz', true);
		session.set(['note'], 'mine', 'note');
		await rest(1000);
		expect([session.save.kind, session.revision, rateOf(server.document), server.document.name]).toEqual(['saved', 4, '2 kHz', 'Theirs']);
		session.undo();
		session.undo();
		expect([rateOf(session.plan), session.plan.note, session.plan.name]).toEqual(['1.2 kHz', fernhollow().note, 'Theirs']);
	});

	test('edits whose answer was lost are known again among newer ones', async () => {
		type('2 kHz', true);
		const real = server.fetch;
		server.fetch = async (url, options) => {
			await real(url, options);
			throw new TypeError('the answer is lost');
		};
		vi.stubGlobal('fetch', server.fetch);
		await rest();
		vi.stubGlobal('fetch', real);
		theirs(['name'], 'Theirs');
		session.set(['note'], 'mine', 'note');
		await session.heard(3);
		await rest(2000);
		expect([session.save.kind, server.revision, rateOf(server.document), server.document.note, server.history.length]).toEqual([
			'saved',
			4,
			'2 kHz',
			'mine',
			3
		]);
	});

	test('edits of one place clash: nothing is overwritten, and what is chosen is saved', async () => {
		theirs(['aims', 0, 'rate'], '3 kHz');
		type('2 kHz', true);
		session.set(['note'], 'mine', 'note');
		await rest();
		expect([session.save, session.clash?.theirs.revision]).toEqual([{ kind: 'stale', revision: 2 }, 2]);
		await rest(60_000);
		// Others go on meanwhile, and what is typed on counts too.
		theirs(['name'], 'Theirs');
		await session.heard(3);
		type('2.5 kHz', false);
		expect([rateOf(server.document), rateOf(session.plan), session.clash?.theirs.revision]).toEqual(['3 kHz', '2.5 kHz', 3]);
		session.settle(['mine']);
		await rest();
		const { document, revision } = server;
		expect([rateOf(document), document.note, document.name, revision, session.save.kind]).toEqual([
			'2.5 kHz',
			'mine',
			'Theirs',
			4,
			'saved'
		]);
	});

	test('a clash can be left: the newer one is taken, or one’s own kept as a copy', async () => {
		theirs(['aims', 0, 'rate'], '3 kHz');
		type('2 kHz', true);
		await rest();
		expect(await session.keepAsCopy()).toBe('copy');
		await session.takeNewer();
		expect([rateOf(session.plan), session.revision, session.save.kind, session.clash]).toEqual(['3 kHz', 2, 'saved', undefined]);
	});

	test('a clash that the other side takes back is none any more', async () => {
		theirs(['aims', 0, 'rate'], '3 kHz');
		type('2 kHz', true);
		await rest();
		theirs(['aims', 0, 'rate'], '1.2 kHz');
		await session.heard(3);
		await rest();
		expect([session.clash, rateOf(server.document), session.save.kind]).toEqual([undefined, '2 kHz', 'saved']);
	});

	test('what cannot be fetched just now is fetched later, and nothing is sent on top of it', async () => {
		theirs(['name'], 'Theirs');
		type('2 kHz', true);
		const real = server.fetch;
		vi.stubGlobal('fetch', (url: string, options: { method: string; body?: string }) =>
			options.method === 'GET' ? Promise.reject(new TypeError('away')) : real(url, options)
		);
		await rest(3000);
		expect([session.save.kind, server.revision]).toEqual(['failed', 2]);
		vi.stubGlobal('fetch', real);
		await rest(8000);
		expect([session.save.kind, rateOf(server.document), server.document.name]).toEqual(['saved', '2 kHz', 'Theirs']);
	});
});
