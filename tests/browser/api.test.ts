import { request } from 'node:http';
import { beforeAll, describe, expect, inject, test } from 'vitest';
import { PLAN_VERSION, type Plan, type Step, fernhollow, setStep } from '../../src/core/plan/index.js';
import { shippedPart } from '../../src/core/part/index.js';
import { unpackChunks } from '../../src/core/trace/index.js';

let base: string;
beforeAll(() => {
	base = inject('base');
});

/** The demo's document under another name: the stories of the pages open the demo by its own. */
const example = (): Plan => ({ ...fernhollow(), name: 'By call' });

interface Answer {
	status: number;
	body: Record<string, unknown>;
}

async function call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> {
	const raw = typeof body === 'string';
	const type = raw ? 'application/octet-stream' : 'application/json';
	const response = await fetch(base + path, {
		method,
		headers: { 'content-type': type, ...headers },
		...(body !== undefined && { body: raw ? body : JSON.stringify(body) })
	});
	const text = await response.text();
	return { status: response.status, body: text.startsWith('{') ? (JSON.parse(text) as Answer['body']) : { text } };
}

async function newPlan(document: unknown = example()): Promise<string> {
	const { status, body } = await call('POST', '/api/plans', { document });
	expect(status).toBe(201);
	return body.id as string;
}

const edit = (step: Step) => ({ kind: 'edit', merged: false, step });

describe('plans', () => {
	test('steps make numbered revisions; an older base is refused, and nothing of it is taken', async () => {
		const id = await newPlan();
		const plan = example();
		const rate = edit(setStep(plan, ['aims', 0, 'rate'], '2 kHz', 'rate'));
		const duty = edit(setStep(plan, ['aims', 0, 'duty'], '10 %', 'duty'));
		expect(await call('POST', `/api/plans/${id}/steps`, { base: 1, steps: [rate, duty] })).toEqual({
			status: 200,
			body: { revision: 3, savedOn: expect.stringMatching(/^\d{4}-\d\d-\d\d$/) as string }
		});
		const stale = await call('POST', `/api/plans/${id}/steps`, { base: 1, steps: [duty] });
		expect([stale.status, stale.body.revision]).toEqual([409, 3]);
		const { body } = await call('GET', `/api/plans/${id}`);
		expect([body.revision, ((body.document as Plan).aims[0] as { rate: string }).rate, (body.history as unknown[]).length]).toEqual([
			3,
			'2 kHz',
			2
		]);
	});

	test('of steps that do not all fit, none is saved', async () => {
		const id = await newPlan();
		const plan = example();
		const good = edit(setStep(plan, ['name'], 'Other', 'name'));
		const wrong = edit({ label: 'wrong', parts: [{ kind: 'set', path: ['note'], before: 'something else', after: 'x' }] });
		const broken = edit(setStep(plan, ['aims', 0, 'polarity'], 'sideways', 'broken'));
		for (const bad of [wrong, broken])
			expect((await call('POST', `/api/plans/${id}/steps`, { base: 1, steps: [good, bad] })).status).toBe(422);
		const { body } = await call('GET', `/api/plans/${id}`);
		expect([body.revision, (body.document as Plan).name]).toEqual([1, 'By call']);
	});

	test.each<[string, string, unknown, number, string]>([
		['no JSON', '/api/plans', '{', 400, 'no JSON'],
		['neither a name nor a document', '/api/plans', {}, 400, ''],
		[
			'a document of a newer version',
			'/api/plans',
			{ document: { ...example(), version: PLAN_VERSION + 1 } },
			422,
			`newer than the ${PLAN_VERSION}`
		],
		['a document with wrong aims', '/api/plans', { document: { ...example(), aims: [{}] } }, 422, 'aims.0'],
		[
			'steps of an unknown plan',
			'/api/plans/none/steps',
			{ base: 1, steps: [edit(setStep(example(), ['name'], 'x', ''))] },
			404,
			'no such plan'
		],
		['no steps', '/api/plans/none/steps', { base: 1, steps: [] }, 400, '']
	])('%s is refused with a reason', async (_, path, body, status, reason) => {
		const answer = await call('POST', path, body, { 'content-type': 'application/json' });
		expect(answer.status).toBe(status);
		expect(answer.body.message).toContain(reason);
	});

	test('a copy takes its recordings with it', async () => {
		const id = await newPlan();
		const { body: made } = await call('POST', `/api/plans/${id}/recordings?name=a.csv&wait`, 'time (us),a\n0,0\n1,1\n2,0\n3,1\n');
		const mapped: Plan = {
			...example(),
			mappings: [{ id: 'm', recording: made.id as string, line: 'a', aim: 'heater-a', instrument: '0' }]
		};
		const { body: copy } = await call('POST', `/api/plans/${id}/copy`, { name: 'Copy', document: mapped });
		const { body } = await call('GET', `/api/plans/${copy.id as string}`);
		const [mapping] = (body.document as Plan).mappings;
		expect(mapping.recording).not.toBe(made.id);
		const bytes = new Uint8Array(await (await fetch(`${base}/api/recordings/${mapping.recording}/lines/1`)).arrayBuffer());
		expect(unpackChunks(bytes)[0]).toMatchObject({ base: 1_000_000, shortest: 1_000_000 });
	});

	test('a deleted plan leaves the list, and comes back', async () => {
		const id = await newPlan({ ...example(), name: 'Short-lived' });
		const listed = async () => (await (await fetch(`${base}/plans`)).text()).includes(id);
		expect(await listed()).toBe(true);
		await call('PATCH', `/api/plans/${id}`, { deleted: true });
		expect(await listed()).toBe(false);
		await call('PATCH', `/api/plans/${id}`, { deleted: false });
		expect(await listed()).toBe(true);
	});

	test('a page of another origin cannot write', async () => {
		expect((await call('POST', '/api/plans', { name: 'x', part: 'heron-32' }, { origin: 'http://elsewhere.test' })).status).toBe(403);
	});
});

describe('checks', () => {
	const told = (verdict: string) => ({
		verdict,
		asSet: verdict,
		aims: [{ id: 'a', name: 'aim a', verdict, asSet: verdict }],
		suspects: verdict === 'outside' ? [['reload-one-more']] : [],
		recordings: [{ id: 'r', name: 'half.vcd', generation: 1 }]
	});

	test('are kept newest first, one like the one before only once, and the list of plans tells the newest', async () => {
		const id = await newPlan();
		for (const verdict of ['outside', 'outside', 'within'])
			expect((await call('POST', `/api/plans/${id}/checks`, { revision: 1, told: told(verdict) })).status).toBe(201);
		const kept = (await (await fetch(`${base}/api/plans/${id}/checks`)).json()) as { verdict: string; revision: number }[];
		expect(kept.map(({ verdict, revision }) => [verdict, revision])).toEqual([
			['within', 1],
			['outside', 1]
		]);
		const listed = await (await fetch(`${base}/plans`)).text();
		expect(listed).toContain('aim a, half.vcd');
	});
	test('of no plan, or of no shape, are refused', async () => {
		expect((await call('POST', '/api/plans/none/checks', { revision: 1, told: told('within') })).status).toBe(404);
		const id = await newPlan();
		expect((await call('POST', `/api/plans/${id}/checks`, { revision: 1, told: { verdict: 'fine' } })).status).toBe(400);
	});
});

describe('recordings', () => {
	/** Says that a body of `length` bytes comes, sends none of it, and gives the answer's status. */
	function announce(path: string, length: number): Promise<number> {
		return new Promise((done, fail) => {
			const headers = { 'content-type': 'application/octet-stream', 'content-length': length };
			const sent = request(base + path, { method: 'POST', headers }, (response) => {
				done(response.statusCode!);
				sent.destroy();
			});
			sent.on('error', fail);
			sent.flushHeaders();
		});
	}

	test('nine gigabytes are refused before they are sent', async () => {
		const id = await newPlan();
		expect(await announce(`/api/plans/${id}/recordings?name=nine.vcd`, 9_000_000_000)).toBe(413);
	});

	test('a refused file says why in its place, and the plan’s others stay', async () => {
		const id = await newPlan();
		await call('POST', `/api/plans/${id}/recordings?name=good.csv&wait`, 'time (us),a\n0,0\n1,1\n');
		const rows = Array.from({ length: 200_000 }, (_, i) => `${i},${i % 2}`);
		const bad = `time (us),a\n${rows.join('\n')}\n100,0\n`;
		const answer = await call('POST', `/api/plans/${id}/recordings?name=bad.csv&wait`, bad);
		expect(answer).toMatchObject({ status: 422, body: { line: 200_002, accepted: 'times must rise from row to row' } });
		const list = (await (await fetch(`${base}/api/plans/${id}/recordings`)).json()) as {
			name: string;
			state: string;
			lines: { edges: number }[];
		}[];
		expect(list.map((r) => [r.name, r.state, r.lines.map((l) => l.edges)])).toEqual([
			['good.csv', 'ready', [1]],
			['bad.csv', 'refused', []]
		]);
	});

	test('what does not say what it is, or belongs to no plan, is refused', async () => {
		const id = await newPlan();
		expect(await announce('/api/plans/none/recordings', 10)).toBe(404);
		const bare = await new Promise<number>((done, fail) => {
			const sent = request(`${base}/api/plans/${id}/recordings`, { method: 'POST', headers: { 'content-length': 3 } }, (r) =>
				done(r.statusCode!)
			);
			sent.on('error', fail);
			sent.end('abc');
		});
		expect(bare).toBe(415);
		expect((await fetch(`${base}/api/recordings/none/lines/0`)).status).toBe(404);
	});

	test('odd questions about a line are the asker’s to mend, whatever numbers they hold', async () => {
		const id = await newPlan();
		const { body } = await call('POST', `/api/plans/${id}/recordings?name=a.csv&wait`, 'time (us),a\n0,0\n1,1\n2,0.5\n3,1\n');
		const line = `/api/recordings/${body.id as string}/lines/1`;
		const status = async (path: string) => (await fetch(base + path)).status;
		for (const [query, want] of [
			['?first=-5', 200],
			['?first=1e16', 200],
			['?first=no', 400],
			['?from=-1e17&to=1e17', 200],
			['/window?start=0&width=0&count=10', 400],
			['/window?start=0&width=1&count=1e9', 400],
			['/window?start=-1e17&width=1e17&count=8192', 200],
			['/samples?start=-1e17&width=1e17&count=8192', 200],
			['/samples?start=0.5&width=0.1&count=3', 200],
			['/next?time=Infinity', 400],
			['/next?time=-1e17&by=-1', 200],
			['/measure?from=9&to=3', 200],
			['/measure?from=0', 400]
		] as const)
			expect([query, await status(line + query)]).toEqual([query, want]);
		expect(await status(`/api/recordings/${body.id as string}/export?as=xml`)).toBe(400);
		expect(await status(`/api/recordings/${body.id as string}/export?as=samples&from=1.5&to=-3`)).toBe(200);
		expect((await call('POST', '/api/recordings/none/read', {})).status).toBe(404);
		expect((await call('PATCH', `/api/recordings/${body.id as string}/lines/9`, { threshold: 1 })).status).toBe(404);
		expect((await call('PATCH', `/api/recordings/${body.id as string}`, { step: '0/1', from: 'hand' })).status).toBe(400);
	});

	test('edges come back chunk by chunk as they were sent', async () => {
		const id = await newPlan();
		const rows = Array.from({ length: 50_000 }, (_, i) => `${i * 3},${i % 2}`);
		const { body } = await call('POST', `/api/plans/${id}/recordings?name=long.csv&wait`, `time (ns),a\n${rows.join('\n')}\n`);
		const bytes = new Uint8Array(await (await fetch(`${base}/api/recordings/${body.id as string}/lines/1`)).arrayBuffer());
		const chunks = unpackChunks(bytes);
		expect(chunks.map((c) => c.offsets.length)).toEqual([16_384, 16_384, 16_384, 847]);
		expect(chunks[3].base + chunks[3].offsets[846]).toBe(49_999 * 3000);
	});
});

describe('parts', () => {
	const text = JSON.stringify({ ...shippedPart('sprat-8')!, name: 'Sprat by call' });
	const usable = async () => JSON.parse((await call('GET', '/api/parts')).body.text as string) as { key: string; part: { name: string } }[];

	test('any text is kept, but only a valid profile can be planned with', async () => {
		const draft = await call('POST', '/api/parts', { text: 'not yet JSON' });
		const good = await call('POST', '/api/parts', { text });
		expect([draft.status, good.status]).toEqual([201, 201]);
		expect((await call('GET', `/api/parts/${draft.body.key as string}`)).body).toMatchObject({
			text: 'not yet JSON',
			revision: 1,
			shipped: false
		});
		const keys = (await usable()).map(({ key }) => key);
		expect(keys).toContain(good.body.key);
		expect(keys).not.toContain(draft.body.key);
		expect((await call('POST', '/api/plans', { name: 'By call', part: draft.body.key })).status).toBe(422);
		expect((await call('POST', '/api/plans', { name: 'By call', part: good.body.key })).status).toBe(201);
	});

	test('a save over an older revision is refused', async () => {
		const { body } = await call('POST', '/api/parts', { text });
		const path = `/api/parts/${body.key as string}`;
		expect(await call('PUT', path, { base: 1, text: '{}' })).toEqual({ status: 200, body: { revision: 2 } });
		const stale = await call('PUT', path, { base: 1, text });
		expect([stale.status, stale.body.revision]).toEqual([409, 2]);
		expect((await call('GET', path)).body.text).toBe('{}');
	});

	test('one that is put away is not offered, and comes back', async () => {
		const { body } = await call('POST', '/api/parts', { text });
		const offered = async () => (await usable()).some(({ key }) => key === body.key);
		expect(await offered()).toBe(true);
		await call('PATCH', `/api/parts/${body.key as string}`, { deleted: true });
		expect(await offered()).toBe(false);
		await call('PATCH', `/api/parts/${body.key as string}`, { deleted: false });
		expect(await offered()).toBe(true);
	});

	test.each<[string, string, string, unknown, number]>([
		['an unknown profile', 'GET', '/api/parts/none', undefined, 404],
		['saving an unknown profile', 'PUT', '/api/parts/none', { base: 1, text: '' }, 404],
		['putting a shipped profile away', 'PATCH', '/api/parts/heron-32', { deleted: true }, 404],
		['a text that is no text', 'POST', '/api/parts', { text: 5 }, 400],
		['a plan on an unknown part', 'POST', '/api/plans', { name: 'x', part: 'none' }, 422]
	])('%s is refused', async (_, method, path, body, status) => expect((await call(method, path, body)).status).toBe(status));
});
