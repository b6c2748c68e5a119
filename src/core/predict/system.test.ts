import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { Predictor, type Prediction } from '../sim/index.js';
import { steadyWave } from '../timer/index.js';
import type { LevelSource } from '../trace/index.js';
import { freshAim, waveOf, pulsePlaces, type Aim, type AimOf } from '../aims/index.js';
import { derivePlan, fernhollow, fernhollowLamp, fernhollowVane, type Plan } from '../plan/index.js';
import { planSystem } from '../predict/index.js';
import { shippedPart } from '../part/index.js';

const demo = fernhollow();
const planOf = (...aims: Aim[]): Plan => ({ ...demo, aims });

function predict(
	plan: Plan,
	seconds = 1
): { lanes: ReturnType<typeof planSystem>['lanes']; prediction: Prediction; unplanned: ReturnType<typeof planSystem>['unplanned'] } {
	const { system, unit, lanes, unplanned } = planSystem(derivePlan(plan));
	const predictor = new Predictor(system, unit);
	expect(predictor.runTo(Math.round(seconds / unit.toNumber()))).toBe(true);
	return { lanes, prediction: predictor.prediction(), unplanned };
}

/** Times of the first edges to a level from a time on, in seconds. */
function edgesTo(source: LevelSource, level: 0 | 1, from: number, count: number): number[] {
	const found: number[] = [];
	for (let i = source.edgesBefore(from / source.unit.toNumber()); found.length < count; i++)
		if (source.levelAfter(i + 1) === level) found.push(source.edgeTime(i) * source.unit.toNumber());
	return found;
}

describe('a plan as a system', () => {
	test('Fernhollow’s heaters rise at 0, 120 and 240 degrees, to the cycle', () => {
		const { prediction } = predict(demo, 0.1);
		const rises = ['timer-d.ch1', 'timer-h.ch1', 'timer-c.ch1'].map((name) => {
			const trace = prediction.outputs.get(name)!;
			// From the third period on; 60000 cycles each.
			const at = trace.edgesBefore(180_000);
			return [at, at + 1].map((i) => trace.edgeTime(i)).find((_, i) => trace.levelAfter(at + i + 1) === 1)!;
		});
		expect(rises.map((time) => time % 60_000)).toEqual([0, 20_000, 40_000]);
	});
	test('every aim of the demo has its lanes', () => {
		const { lanes, unplanned } = predict(demo, 0.01);
		expect(unplanned).toEqual([]);
		expect(new Set(lanes.map(({ aim }) => aim)).size).toBe(10);
		expect(lanes.filter(({ aim, detail }) => aim === 'strobe' && !detail).map(({ role }) => role)).toEqual([
			'strobe clock',
			'strobe left',
			'strobe right'
		]);
		expect(predict(fernhollowLamp()).lanes.map(({ role }) => role)).toEqual(['pin', 'counter', 'events']);
		expect(predict(fernhollowVane()).lanes.map(({ role }) => role)).toEqual(['flap A', 'flap B', 'flap C']);
	});
	test('the dome motor’s two pins never overlap: 36 cycles lie between', () => {
		const { prediction } = predict(demo, 0.01);
		const [main, other] = ['timer-a.ch1', 'timer-a.ch1.n'].map((name) => prediction.outputs.get(name)!);
		const seconds = (cycles: number) => cycles / 72e6;
		const [fall] = edgesTo(main, 0, 0.001, 1);
		const [rise] = edgesTo(other, 1, fall, 1);
		expect(Math.round((rise - fall) / seconds(1))).toBe(36);
	});
	test('the focus coil’s rows come one a period, row 0 from the start', () => {
		const { prediction } = predict(demo, 0.02);
		const trace = prediction.outputs.get('timer-a.ch4')!;
		const derived = derivePlan(demo).aims.find(({ aim }) => aim.id === 'focus-coil')!;
		const compares = derived.table!.rows.map(({ values }) => Number((values[2] as Rational).num));
		// Period k is high from 3600 k on for its row's compare.
		for (const k of [0, 1, 2, 40, 159, 160, 200]) {
			const at = trace.edgesBefore(k * 3600 + 1);
			expect([k, trace.edgeTime(at) - k * 3600]).toEqual([k, compares[k % 160]]);
		}
	});
	test('the shutter answers the first edge of its bouncing trigger with one pulse, and the bouncing of its release with another', () => {
		const { prediction, lanes } = predict(demo, 0.1);
		const trace = prediction.outputs.get('timer-e.ch1')!;
		expect(lanes.filter(({ aim }) => aim === 'shutter').map(({ role }) => role)).toEqual(['trigger', 'pin', 'counter', 'events']);
		expect(trace.count).toBe(4);
		// Released 50 ms later: what bounces up 5 ms x 1 x 2 / (12 x 13) after that fires again.
		expect(trace.edgeTime(2)).toBe(Math.round(72_000 * 51 + (360_000 * 2) / 156) + 2 + 1500 * 24);
		// 1 ms, two cycles of latency, 1500 x 24 cycles of delay, 60000 x 24 of width.
		expect([trace.edgeTime(0), trace.edgeTime(1) - trace.edgeTime(0)]).toEqual([72_000 + 2 + 1500 * 24, 60_000 * 24]);
	});
	test('an output whose width cannot be read has no lane, and takes none from another', () => {
		const board = fernhollowVane();
		const flaps = board.aims[0] as AimOf<'divided'>;
		const outputs = [{ ...flaps.outputs[0], width: 'wide' }, flaps.outputs[1]];
		expect(predict({ ...board, aims: [{ ...flaps, outputs }] }).lanes.map(({ role }) => role)).toEqual(['flap B']);
	});
	test('clocks without a common one that can be counted exactly are told, and nothing is predicted wrong', () => {
		const part = structuredClone(demo.part);
		part.clock.push({ id: 'odd', name: 'Odd', kind: 'source', hz: '71999999.99999989', ppm: { lo: '0', hi: '0' }, chosen: false });
		part.timers[1].kernel = 'odd';
		const pulse = freshAim('pwm', 'p', 'p', part.timers[1].id, {});
		const { system, unplanned } = planSystem(derivePlan({ ...demo, part, aims: [...demo.aims, pulse] }));
		expect([system.timers.length, new Set(unplanned.map(({ why }) => why))]).toEqual([0, new Set(['base-too-fine'])]);
	});
	test('a dead time of a clock of its own is kept to the cycle', () => {
		// 3 cycles of 5 MHz are 600 ns, no whole number of the kernel’s 72 MHz: 43.2.
		const part = structuredClone(demo.part);
		part.clock.push({ id: 'dead', name: 'Dead', kind: 'source', hz: '5000000', ppm: { lo: '0', hi: '0' }, chosen: false });
		part.timers[0].channels[0].complement = { segments: [{ from: 0, to: 9, base: 0, step: 1 }], clock: 'dead' };
		const pair = freshAim('pair', 'p', 'p', 'timer-a', { dead: '550 ns', duty: '50 %' });
		const { prediction } = predict({ ...demo, part, aims: [pair] }, 0.001);
		const [main, other] = ['timer-a.ch1', 'timer-a.ch1.n'].map((name) => prediction.outputs.get(name)!);
		const [fall] = edgesTo(main, 0, 0.0002, 1);
		expect(edgesTo(other, 1, fall, 1)[0] - fall).toBeCloseTo(600e-9, 15);
	});
	test('a gated follower pulses only while its leader is high', () => {
		const leader = { ...freshAim('pwm', 'l', 'l', 'timer-d', { channel: 'ch1' }), rate: '1 kHz' };
		const { prediction } = predict(
			planOf(leader, freshAim('follower', 'f', 'f', 'timer-h', { leader: 'l', action: 'gate', rate: '20 kHz' })),
			0.01
		);
		// Half of 1 ms at 20 kHz: ten periods in each of ten milliseconds.
		expect(prediction.timers.get('timer-h')!.updates.count).toBe(100);
	});
	test('a cascade counts its leader’s periods', () => {
		const leader = { ...freshAim('pwm', 'l', 'l', 'timer-d', { channel: 'ch1' }), rate: '1 kHz' };
		const { prediction } = predict(
			planOf(leader, freshAim('follower', 'f', 'f', 'timer-h', { leader: 'l', action: 'clock', rate: '10 Hz' })),
			1
		);
		expect(prediction.timers.get('timer-h')!.updates.count).toBe(9);
	});

	const PLACES = ['heron-32', 'plover-16', 'sprat-8'].flatMap((id) =>
		pulsePlaces(shippedPart(id)!).map((place) => ({ part: shippedPart(id)!, place }))
	);
	test('a pulse is predicted as its steady wave says, on every channel of the shipped parts', () => {
		fc.assert(
			fc.property(
				fc.constantFrom(...PLACES),
				fc.constantFrom('auto', 'up', 'down', 'updown'),
				fc.integer({ min: 200, max: 20_000 }),
				fc.integer({ min: 1, max: 99 }),
				fc.boolean(),
				({ part, place }, align, rate, duty, low) => {
					const aim = {
						...freshAim('pwm', 'p', 'p', place.timer.id, { channel: place.channel.id }),
						align: align as 'auto',
						rate: `${rate} Hz`,
						duty: `${duty} %`,
						tolerance: '90 %',
						polarity: low ? ('low' as const) : ('high' as const)
					};
					const plan: Plan = { ...demo, part, clock: {}, aims: [aim] };
					const [derivation] = derivePlan(plan).aims;
					if (!derivation.pulse) return;
					const { prediction } = predict(plan, 6 / derivation.pulse.hz.toNumber());
					const found = prediction.outputs.get(`${place.timer.id}.${place.channel.id}`)!;
					const wave = steadyWave(waveOf(derivation.pulse), derivation.pulse.tickRate.inverse())!;
					// From the second period on the start is forgotten.
					const perTick = wave.unit.div(found.unit).toNumber();
					for (
						let tick = 2 * derivation.pulse.ticks;
						tick < 4 * derivation.pulse.ticks;
						tick += 1 + Math.floor(derivation.pulse.ticks / 97)
					) {
						const want = wave.levelAfter(wave.edgesBefore(tick + 1));
						expect(found.levelAfter(found.edgesBefore(tick * perTick + 1))).toBe(want);
					}
				}
			),
			{ numRuns: 150, seed: 4711 }
		);
	});
});
