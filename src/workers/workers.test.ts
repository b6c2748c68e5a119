import { afterEach, describe, expect, test, vi } from 'vitest';
import { Rational } from '../core/exact/index.js';
import { steadyQuantities } from '../core/aims/common/expect.js';
import { waveOf } from '../core/aims/index.js';
import { derivePlan, fernhollow, newAim, type Plan } from '../core/plan/index.js';
import { Disagreement, packChunk, StretchedTrace, TraceBuilder, type Trace } from '../core/trace/index.js';
import { benchWork } from './bench.js';
import { fromWire, type LineFrame } from './benchWire.js';
import { checkWork } from './check.js';
import type { CheckProgress } from './checkWire.js';
import type { Go } from './pool.js';
import { predictWork } from './predict.js';
import { ratesWork } from './rates.js';
import type { RatesProgress } from './ratesWire.js';

const plan = fernhollow();
const on = (): Go => 'on';

/** A line that rises at 0, 100, 200 … µs and is high for 35. */
function recorded(): Trace {
	const builder = new TraceBuilder(0);
	for (let k = 1; k <= 50; k++) {
		builder.add(100 * k, 1);
		builder.add(100 * k + 35, 0);
	}
	return builder.finish({ unit: Rational.ratio(1, 1_000_000), start: 0, end: 6000 });
}

let served = 0;
function serve(name: string, trace = recorded(), status = 200): LineFrame {
	const bytes = trace.chunks.map((chunk) => Uint8Array.from(packChunk(chunk)));
	vi.stubGlobal('fetch', () => {
		served++;
		return Promise.resolve(new Response(new Blob(bytes), { status }));
	});
	const { unit, start, end, initial } = trace.meta;
	return { url: `/lines/${name}`, version: '1.0', edges: trace.count, unit: unit.toString(), start, end, initial };
}
afterEach(() => vi.unstubAllGlobals());

describe('the bench worker', () => {
	test('fetches a line once for whatever is asked of it', async () => {
		const frame = serve('once');
		served = 0;
		const [chunks, measured] = await Promise.all([benchWork.load(frame), benchWork.measure(frame, { start: 0, end: 6001 })]);
		expect([served, chunks.reduce((sum, { offsets }) => sum + offsets.length, 0)]).toEqual([1, 100]);
		expect(fromWire(measured).frequency?.mean).toEqual(Rational.int(10_000));
		expect(fromWire(measured).duty?.mean).toEqual(Rational.ratio(7, 20));
	});

	test('measures cards, and steps from value to value', async () => {
		const line = serve('cards');
		const asked = { of: 'period' as const, line, window: { start: 0, end: 1001 }, limit: 0 };
		const found = (await benchWork.card(asked))!;
		// Rises at 100, 200 .. 1000 us: nine periods.
		expect([found.summary!.count, found.summary!.mean, found.bins.counts.reduce((a, b) => a + b), found.trend.length]).toEqual([
			9,
			'1/10000',
			9,
			9
		]);
		expect(await benchWork.cardStep(asked, 150, 1)).toBe(200);
		expect(await benchWork.cardStep(asked, 200, 1)).toBe(300);
		expect(await benchWork.cardStep(asked, 200, -1)).toBe(100);
		expect(await benchWork.cardStep(asked, 900, 1)).toBeNull();
		expect((await benchWork.card({ ...asked, of: 'glitches', limit: 40 }))!.summary!.count).toBe(9);
	});

	test('says when a line cannot be had, and tries again', async () => {
		await expect(benchWork.load(serve('lost', recorded(), 404))).rejects.toThrow('404');
		expect((await benchWork.load(serve('lost'))).length).toBeGreaterThan(0);
	});

	test('finds where a line differs from a planned one, no further than that is predicted', async () => {
		const frame = serve('other');
		// High from 0 on, then never again; predicted for 250 µs.
		const columns = new StretchedTrace(Rational.ratio(1, 1_000_000), 0, Float64Array.of(0, 35), []).columns;
		const wave = { kind: 'predicted' as const, unit: '1/1000000', columns, until: 250 };
		const found = new Disagreement((await benchWork.disagree(frame, wave, 100))!);
		expect(found.columns.starts).toEqual(Float64Array.of(200, 300));
		expect(found.columns.ends).toEqual(Float64Array.of(235, 335));
	});

	test('a steady wave is held against all of the recording', async () => {
		const derivation = derivePlan(plan).aims.find(({ pulse }) => pulse)!;
		const pulse = derivation.pulse!;
		expect(steadyQuantities(derivation)).not.toEqual([]);
		const wave = { kind: 'steady' as const, setting: waveOf(pulse), tick: pulse.tickRate.inverse().toString() };
		expect((await benchWork.disagree(serve('steady'), wave, 0))!.starts.length).toBeGreaterThan(10);
	});
});

describe('the predict worker', () => {
	const predict = (given: Plan, seconds: number, go: (seconds: number) => Go = on) => predictWork.predict(given, [], seconds, go);

	test('predicts every planned aim for as long as is asked', async () => {
		const wire = (await predict(plan, 0.01))!;
		expect(wire.done).toBe(true);
		expect(wire.reached * Rational.parse(wire.unit).toNumber()).toBeCloseTo(0.01, 9);
		const drawn = new Set(wire.lanes.map(({ aim }) => aim));
		const left = new Set(wire.unplanned.map(({ aim }) => aim));
		for (const { id } of plan.aims) expect(drawn.has(id) || left.has(id)).toBe(true);
	});

	test('told to stop it gives what it has, told to drop it gives nothing', async () => {
		const shot = newAim('oneshot', 'shot', 'shot', plan)!;
		// No period is like another: nothing of it can be told by repeating.
		const sweep = { kind: 'sweep' as const, from: '1 kHz', to: '9 kHz', duty: '50 %', over: '10 s' };
		const long: Plan = { ...plan, aims: [shot], stimuli: { shot: sweep }, changes: [], mappings: [] };
		let calls = 0;
		const part = (await predict(long, 3600, () => (++calls < 2 ? 'on' : 'stop')))!;
		expect(part.done).toBe(false);
		expect(part.reached).toBeGreaterThan(0);
		expect(await predict(plan, 3600, () => 'drop')).toBeNull();
	});

	test('counts a score and both outcomes of each list of writes', async () => {
		const score = await predictWork.score(plan);
		expect(score.staves.length).toBeGreaterThan(0);
		const { outcomes } = await predictWork.outcomes(plan);
		expect(new Set(outcomes.map(({ list }) => list))).toEqual(new Set(plan.changes.map(({ id }) => id)));
	});
});

describe('the rates worker', () => {
	const node = plan.part.clock.find(({ kind }) => kind === 'divide')!.id;
	const wished: Plan = { ...plan, wishes: [{ id: 'w', node, kind: 'highest', value: '' }] };

	test('tells how far it is until it is done', async () => {
		const told: RatesProgress[] = [];
		await ratesWork.search(wished, 5, (progress) => {
			told.push(progress);
			return 'on';
		});
		expect(told.at(-1)).toMatchObject({ done: true });
		expect(told.at(-1)!.answers.length).toBeGreaterThan(0);
	});

	test('ends when it is told to', async () => {
		let calls = 0;
		await ratesWork.search(wished, 5, () => {
			calls++;
			return 'stop';
		});
		expect(calls).toBe(1);
	});
});

describe('the check worker', () => {
	/** Heater A at half its rate. */
	const half = () => {
		const builder = new TraceBuilder(0);
		for (let k = 0; k < 60; k++) {
			builder.add(100_000 + k * 1_666_667, 1);
			builder.add(100_000 + k * 1_666_667 + 583_333, 0);
		}
		const trace = builder.finish({ unit: Rational.of(1n, 1_000_000_000n), start: 0, end: 100_200_000 });
		const named = { recording: 'r', line: 'heater', aim: 'heater-a', role: 'pin', step: '1/1000000000', instrument: '20' };
		return { frame: serve('half', trace), ...named };
	};

	test('does not wait for a page that is slow to answer, and tells the verdicts before it is done', async () => {
		const told: CheckProgress[] = [];
		const slow = (progress: CheckProgress) => {
			told.push(progress);
			return told.length === 1 ? ('on' as const) : new Promise<Go>(() => undefined);
		};
		const found = await checkWork.check(plan, [half()], slow);
		expect([told.length, found?.check.as_set, found?.check.suspects[0].codes]).toEqual([2, 'outside', ['prescale-one-more']]);
	});

	test('ends for nothing when the page says so', async () => {
		let asked = 0;
		expect(await checkWork.check(plan, [half()], () => (asked++ === 0 ? 'on' : 'drop'))).toBeNull();
		expect(await checkWork.check(plan, [half()], () => 'drop')).toBeNull();
	});
});
