import { describe, expect, test } from 'vitest';
import { damaged, makeCase } from '../../../tests/suspects/cases.js';
import { tryDamage, tryMistakes, tryRight } from '../../../tests/suspects/trials.js';
import { Rational } from '../exact/index.js';
import { derivePlan, fernhollow, fernhollowVane, type Plan, type Sweep } from '../plan/index.js';
import { TraceBuilder, type Trace } from '../trace/index.js';
import { MISTAKES } from './catalogue/index.js';
import {
	checkLog,
	checkStepwise,
	checkWhole,
	findMistakes,
	guessMaps,
	meantBy,
	plainCheck,
	readMap,
	sceneOf,
	suspectWaves,
	type Witness
} from './index.js';

test('mistakes are gone through from the most usual on', () => {
	const usual = MISTAKES.map((one) => one.usual);
	expect(usual).toEqual([...usual].sort((a, b) => a - b));
});

const plan = fernhollow();
const NANO = Rational.of(1n, 1_000_000_000n);

/** A line in nanoseconds that rises every `period` and stays high for `high`. */
function pulses(period: number, high: number, count = 60, from = 100): Trace {
	const builder = new TraceBuilder(0);
	for (let k = 0; k < count; k++) {
		builder.add(Math.round(from + k * period), 1);
		builder.add(Math.round(from + k * period + high), 0);
	}
	return builder.finish({ unit: NANO, start: 0, end: Math.round(from + count * period) });
}

function witness(aim: string, trace: Trace, more: Partial<Witness> = {}): Witness {
	return { recording: 'r', line: aim, aim, role: 'pin', trace, step: { step: NANO }, instrument: Rational.zero, ...more };
}

const codesOf = (witnesses: Witness[], of: Plan = plan) =>
	findMistakes(sceneOf(of, witnesses)).suspects.flatMap((one) =>
		one.explains ? [one, ...one.ties].map(({ codes }) => codes.join(' ')) : []
	);

// Heater A: 72 MHz, reload 59999, compare 21000: 833.333 us, high for 291.667 us.
const [PERIOD, HIGH] = [833_333.333, 291_666.667];

describe('suspects of one pulse', () => {
	test('there are none when the plan explains it', () => {
		expect(findMistakes(sceneOf(plan, [witness('heater-a', pulses(PERIOD, HIGH))]))).toMatchObject({ explained: true, suspects: [] });
	});
	test('a compare of other digits: 12000 where 21000 was planned', () => {
		// 12000 / 72 MHz = 166.667 us.
		expect(codesOf([witness('heater-a', pulses(PERIOD, 166_666.667))])[0]).toBe('digits-transposed');
	});
	// 72 MHz: 60000 ticks a period of which 21000 high; at reset 8 MHz; 0x0852 = 2130 is 0x5208 with its bytes exchanged.
	test.each([
		['the clock is as at reset', 60_000 / 0.008, 21_000 / 0.008, 'clock-at-reset'],
		['the pin is the other way round', PERIOD, PERIOD - HIGH, 'polarity-inverted'],
		['the compare’s bytes are exchanged', PERIOD, 2130 / 0.072, 'bytes-swapped'],
		['the compare is one more', PERIOD, 21_001 / 0.072, 'compare-one-more'],
		['the compare is one less', PERIOD, 20_999 / 0.072, 'compare-one-less']
	])('%s', (_, period, high, code) => {
		expect(codesOf([witness('heater-a', pulses(period, high, 400))])).toContain(code);
	});
	test('each has waves of its own, row by row of the evidence', () => {
		const whole = checkWhole(plan, [witness('heater-a', pulses(2 * PERIOD, 2 * HIGH))]);
		const { rows } = plainCheck(plan, whole, [], whole).evidence;
		const waves = suspectWaves(whole);
		expect(waves.length).toBe(rows.length);
		expect(waves[0]).toEqual([]);
		const at = rows.findIndex(({ codes }) => codes.join() === 'prescale-one-more');
		const [{ aim, role, course }] = waves[at];
		expect([aim, role]).toEqual(['heater-a', 'pin']);
		expect(course.steady!.period * 1e9).toBeCloseTo(2 * PERIOD, 2);
		expect(course.steady!.high * 1e9).toBeCloseTo(2 * HIGH, 2);
	});
	test('two mistakes are named as a pair', () => {
		// Twice the period by a prescale of 2, and 12000 where 21000 was planned.
		const { suspects } = findMistakes(sceneOf(plan, [witness('heater-a', pulses(2 * PERIOD, 2 * 166_666.667))]));
		expect(suspects[0].codes).toHaveLength(2);
		expect(suspects.slice(0, 5).flatMap((one) => [one, ...one.ties].map(({ codes }) => codes))).toContainEqual([
			'digits-transposed',
			'prescale-one-more'
		]);
	});
	test('the interval of a tick’s events is judged where a pin shows them, with what was wished', () => {
		// The system tick: 10 ms, 100 ppm allowed; the crystal 50. 1 % late is outside, 70 ppm only as set.
		const events = (interval: number) => checkWhole(plan, [witness('system-tick', pulses(interval, 2000, 300), { role: 'event' })]).aims[0];
		expect(events(10e6)).toMatchObject({ asSet: 'within', asWished: 'within' });
		const { of, measured, count } = events(10e6).quantities[0];
		expect([of, String(measured), count]).toEqual(['interval', '1/100', 299]);
		expect(events(10.1e6)).toMatchObject({ asSet: 'outside', asWished: 'outside' });
		expect(events(10_000_700)).toMatchObject({ asSet: 'outside', asWished: 'within' });
		// A pin that turns at every event is high for every other interval.
		const turning = (interval: number) =>
			checkWhole(plan, [witness('system-tick', pulses(2 * interval, interval, 150), { role: 'event' })]).aims[0];
		expect(turning(10e6)).toMatchObject({ asSet: 'within', asWished: 'within' });
		expect(turning(10e6).quantities[0]).toMatchObject({ measured: Rational.ratio(1, 100), count: 298 });
		expect(turning(10_000_700)).toMatchObject({ asSet: 'outside', asWished: 'within' });
		expect(turning(10.1e6)).toMatchObject({ asSet: 'outside', asWished: 'outside' });
	});
	test('a typed reading is enough', () => {
		const reading = { id: 'x', aim: 'heater-a', of: 'frequency', line: 'pin', value: '600.0 Hz', error: '', by: '' };
		const { aims, findings } = checkWhole({ ...plan, readings: [reading] }, []);
		expect(aims.map(({ aim, asWished }) => [aim, asWished])).toEqual([['heater-a', 'outside']]);
		expect(findings.suspects[0].codes).toEqual(['prescale-one-more']);
	});
	test('a measured time is turned around into ticks', () => {
		// 300 us is 21600 ticks of 1/72 us; a crystal of 30 ppm leaves one more or less open.
		const { turned } = checkWhole(plan, [witness('heater-a', pulses(PERIOD, 300_000))]);
		const high = turned.find(({ of }) => of === 'high')!;
		expect([high.ticks, high.planned, high.timer]).toEqual([[21599, 21601], 21000, 'timer-d']);
	});
	test('the verdicts are told first, then each first suspect as soon as it is found, and it stays the first', () => {
		const half = witness('heater-a', pulses(2 * PERIOD, 2 * HIGH), { recording: 'half' });
		const low = witness('heater-a', pulses(PERIOD, PERIOD - HIGH), { recording: 'low' });
		const early: string[][] = [];
		const steps = checkStepwise(plan, [half, low], ({ findings }) =>
			early.push(findings.suspects.map(({ about, codes }) => `${about?.recording} ${codes[0]}`))
		);
		let before = 0;
		let step = steps.next();
		for (; !step.done; step = steps.next()) if (early.length < 3) before = step.value;
		const last = step.value.findings.suspects.filter((one) => one.explains);
		expect(early).toEqual([[], ['half prescale-one-more'], last.map(({ about, codes }) => `${about?.recording} ${codes[0]}`)]);
		expect(before).toBeLessThan(0.7);
	});
	test('recordings that contradict each other are explained one by one', () => {
		const half = witness('heater-a', pulses(2 * PERIOD, 2 * HIGH), { recording: 'half' });
		const low = witness('heater-a', pulses(PERIOD, PERIOD - HIGH), { recording: 'low' });
		const { suspects } = findMistakes(sceneOf(plan, [half, low]));
		const told = suspects.filter((one) => one.explains).map(({ codes, about }) => [about?.recording, codes[0]]);
		expect(told).toEqual([
			['half', 'prescale-one-more'],
			['low', 'polarity-inverted']
		]);
	});
});

describe('events of a tick', () => {
	// Every 10 ms, in microseconds.
	const line = (period: number, high: number): Witness => {
		const builder = new TraceBuilder(0);
		for (let k = 1; k <= 60; k++) {
			builder.add(period * k, 1);
			builder.add(period * k + high, 0);
		}
		const micro = Rational.of(1n, 1_000_000n);
		const trace = builder.finish({ unit: micro, start: 0, end: 61 * period });
		return witness('system-tick', trace, { role: 'event', step: { step: micro } });
	};
	test.each([
		['each a pulse', 10_000, 20],
		['each a turn of the pin', 20_000, 10_000]
	])('are explained where they are shown %s', (_, period, high) => {
		const { base, explained } = findMistakes(sceneOf(plan, [line(period, high)]));
		expect([explained, base.flatMap(({ all }) => all.map(({ of }) => of))]).toEqual([true, ['period']]);
	});
	test('that come half as often are not', () => {
		expect(codesOf([line(20_000, 20)])).toContain('prescale-one-more');
	});
});

describe('a shot with its recorded trigger', () => {
	const micro = Rational.of(1n, 1_000_000n);
	const line = (initial: 0 | 1, edges: number[]): Trace => {
		const builder = new TraceBuilder(initial);
		edges.forEach((time, i) => builder.add(time, ((initial + i + 1) % 2) as 0 | 1));
		return builder.finish({ unit: micro, start: -20_000, end: 200_000 });
	};
	// 500 us after each rise the pin is high for 20 ms.
	const shots = (rises: number[], delay: number) => [
		witness(
			'shutter',
			line(
				0,
				rises.flatMap((time) => [time, time + 30_000])
			),
			{ role: 'trigger', step: { step: micro } }
		),
		witness(
			'shutter',
			line(
				0,
				rises.flatMap((time) => [time + delay, time + delay + 20_000])
			),
			{ step: { step: micro } }
		)
	];
	test.each([
		['behind the recording’s time 0', [1000, 90_000]],
		['also where it came before that', [-9000, 60_000]]
	])('is explained %s', (_, rises) => {
		const { base, explained } = findMistakes(sceneOf(plan, shots(rises, 500)));
		expect([explained, base.flatMap(({ all }) => all.map(({ of }) => of))]).toEqual([true, ['edges', 'high', 'starts', 'rows']]);
	});
	test('that comes late is not', () => {
		expect(findMistakes(sceneOf(plan, shots([-9000, 60_000], 700))).explained).toBe(false);
	});
});

describe('pulses that software counts', () => {
	const vane = fernhollowVane();
	// Frames of 20 ms, flap A high for 1.5 ms, in microseconds.
	const flap = (period: number, high: number): Witness => {
		const builder = new TraceBuilder(0);
		for (let k = 0; k < 40; k++) {
			builder.add(100 + period * k, 1);
			builder.add(100 + period * k + high, 0);
		}
		const micro = Rational.of(1n, 1_000_000n);
		const trace = builder.finish({ unit: micro, start: 0, end: 100 + 40 * period });
		return witness('flaps', trace, { role: 'flap A', step: { step: micro } });
	};
	test('are explained as planned', () => {
		const { base, explained } = findMistakes(sceneOf(vane, [flap(20_000, 1500)]));
		expect([explained, base[0].all.map(({ of }) => of)]).toEqual([true, ['period', 'high', 'steadiness']]);
	});
	test('hang on their timer’s clock', () => {
		expect(codesOf([flap(40_000, 3000)], vane)).toContain('tick-divisor-wrong');
	});
});

describe('damage', () => {
	test('glitches are told, and taken out before anybody is suspected', () => {
		const trace = pulses(PERIOD, HIGH);
		const builder = new TraceBuilder(0);
		trace.forEdges(0, trace.count, (time, level) => {
			builder.add(time, level);
			if (level !== 1 || Math.floor(time / PERIOD) % 20 !== 3) return;
			builder.add(time + 150_000, 0);
			builder.add(time + 150_300, 1);
		});
		const { damage, findings } = checkWhole(plan, [witness('heater-a', builder.finish(trace.meta))]);
		expect([damage.map(({ code, count }) => [code, count]), findings.explained]).toEqual([[['extra-glitches', 3]], true]);
	});
	test('exchanged channels are told', () => {
		const [a, b] = [witness('heater-a', pulses(PERIOD, HIGH)), witness('dome-motor', pulses(50_000, 29_500), { role: 'main' })];
		const { damage } = checkWhole(plan, [
			{ ...a, trace: b.trace },
			{ ...b, trace: a.trace }
		]);
		expect(damage.map(({ code, lines }) => [code, lines])).toEqual([['swapped-channels', ['heater-a', 'dome-motor']]]);
	});
});

describe('logs', () => {
	const log = (rows: [string, string][]): Sweep => ({
		id: 'log',
		name: 'log',
		aim: 'wind',
		of: '',
		setUnit: 'Hz',
		readUnit: 'Hz',
		error: '',
		setBy: '',
		readBy: '',
		rows
	});
	const rates = [2, 4, 8, 16, 32, 64];
	test('what is read as set is within', () => {
		const found = checkLog(derivePlan(plan), log(rates.map((hz) => [`${hz}`, `${hz}.000`])))!;
		expect([found.judged.relation.id, found.outcome, found.suspects]).toEqual(['rate>rate', 'within', []]);
	});
	test('a divisor that was kept is named', () => {
		const found = checkLog(derivePlan(plan), log(rates.map((hz) => [`${hz}`, `${(hz / 2).toFixed(3)}`])))!;
		expect(found.outcome).toBe('outside');
		expect(found.suspects.filter((one) => one.explains).map(({ code }) => code)).toContain('capture-divisor-kept');
	});
});

describe('mappings', () => {
	test.each([
		['a.vcd:line=aim/pin', { file: 'a.vcd', line: 'line', aim: 'aim', role: 'pin' }],
		['a:b.vcd:l=x=aim/pin', { file: 'a:b.vcd', line: 'l=x', aim: 'aim', role: 'pin' }],
		['a.vcd:l\\:x=the/aim/a\\/b', { file: 'a.vcd', line: 'l:x', aim: 'the/aim', role: 'a/b' }],
		['a.vcd:l=aim', { file: 'a.vcd', line: 'l', aim: 'aim', role: '' }],
		['nothing', undefined],
		['a.vcd=aim/pin', undefined]
	])('%s', (text, want) => {
		expect(readMap(text)).toEqual(want);
	});
	test('an aim is meant by its id or its name; a leader is another aim’s pin', () => {
		expect(meantBy(plan, 'dew heater A', '')).toEqual({ aim: 'heater-a', role: 'pin' });
		expect(meantBy(plan, 'heater-b', 'leader')).toEqual({ aim: 'heater-a', role: 'pin' });
		expect(meantBy(plan, 'nobody', 'pin')).toBeUndefined();
	});
	test('are guessed by name, then by wave', () => {
		const offers = [
			{ aim: 'm', role: 'main', names: ['dome motor main', 'dome motor'], steady: { period: 5e-5, high: 3e-5 } },
			{ aim: 'm', role: 'complementary', names: ['dome motor complementary'], steady: { period: 5e-5, high: 2e-5 } },
			{ aim: 'h', role: 'pin', names: ['dew heater'], steady: { period: 1e-3, high: 1e-4 } }
		];
		const lines = [{ line: 'MOTOR_LOW' }, { line: 'D3', steady: { period: 1.001e-3, high: 1e-4 } }, { line: 'motor high' }];
		expect(guessMaps(lines, offers).map((one) => one && `${one.aim} ${one.role}`)).toEqual(['m complementary', 'h pin', 'm main']);
	});
});

test('a check is plain data: it survives JSON without a difference', () => {
	const whole = checkWhole(plan, [witness('heater-a', pulses(2 * PERIOD, 2 * HIGH))]);
	const told = plainCheck(plan, whole, [], whole);
	expect(JSON.parse(JSON.stringify(told))).toEqual(told);
	expect([told.verdict, told.evidence.rows[0].codes, told.evidence.rows[1].codes]).toEqual(['outside', [], ['prescale-one-more']]);
});

/** Does every line of a case pulse steadily? */
const alone = ({ plan: of }: { plan: Plan }) => !of.aims.some((aim) => 'carrier' in aim);

describe('against plans of all kinds with mistakes of all kinds (npm run suspects for many)', () => {
	test('right shapes are within, though no two of their periods need be alike (seed 9)', { timeout: 120_000 }, () => {
		const shapes = Array.from({ length: 400 }, (_, i) => makeCase(9_000_000 + i, 0)).filter(
			(one) => one?.making.jitter === 0 && !alone(one)
		);
		const verdicts = shapes
			.slice(0, 12)
			.map((one) => checkWhole(one!.plan, one!.witnesses).aims.map(({ aim, asSet }) => [one!.seed, aim, asSet]));
		expect(verdicts.flat().filter(([, , outcome]) => outcome === 'outside')).toEqual([]);
		expect(verdicts.length).toBe(12);
	});
	test('nothing is suspected of right plans (seed 3)', { timeout: 120_000 }, () => {
		expect(tryRight(3, 40).missed).toEqual([]);
	});
	test('the one mistake is first (seed 3)', { timeout: 240_000 }, () => {
		const { first, near, all } = tryMistakes(3, 32, 1);
		expect(all).toBe(32);
		expect(first).toBeGreaterThanOrEqual(31);
		expect(near).toBe(32);
	});
	test('two mistakes are named as a pair (seed 3)', { timeout: 240_000 }, () => {
		const { near, all } = tryMistakes(3, 12, 2);
		expect(near).toBeGreaterThanOrEqual(Math.floor(0.7 * all));
	});
	test('damage is told apart (seed 3)', { timeout: 240_000 }, () => {
		const { near, all } = tryDamage(3, 10);
		expect(near).toBeGreaterThanOrEqual(Math.floor(0.85 * all));
	});
	test('a second mistake is found on a pin that the plan keeps still, though alone it does nothing', { timeout: 120_000 }, () => {
		for (const seed of [55_000_134, 55_000_455, 55_000_522]) {
			const { plan, witnesses, codes } = makeCase(seed, 2)!;
			const { suspects } = findMistakes(sceneOf(plan, witnesses));
			expect([seed, suspects[0].explains, suspects[0].codes]).toEqual([seed, true, codes]);
		}
	});
	test('what keeps a pin still is named by the level at which it stays, high or low', { timeout: 120_000 }, () => {
		const levels = new Set<number>();
		let still = 0;
		for (let seed = 31_000_000; still < 8; seed++) {
			const one = makeCase(seed, 1);
			const lines = one?.witnesses.map(({ trace }) => trace) ?? [];
			if (!one || lines.length === 0 || lines.some(({ count }) => count > 0)) continue;
			const { explained, suspects } = findMistakes(sceneOf(one.plan, one.witnesses));
			if (explained) continue;
			still++;
			levels.add(lines[0].levelAfter(0));
			const named = suspects.slice(0, 1).flatMap((first) => [first, ...first.ties].map(({ codes }) => codes.join(' ')));
			expect([seed, named]).toEqual([seed, expect.arrayContaining(one.codes)]);
		}
		expect([...levels].sort()).toEqual([0, 1]);
	});
	test('edges that a recording lost, or made up, are told of lines without a rhythm too', { timeout: 120_000 }, () => {
		for (const code of ['missing-edges', 'extra-glitches'] as const) {
			let tried = 0;
			for (let seed = 32_000_000; tried < 2; seed++) {
				const one = makeCase(seed, 0);
				const rows = one && findMistakes(sceneOf(one.plan, one.witnesses)).base.some(({ all }) => all.some(({ of }) => of === 'rows'));
				const broken = rows ? damaged(one, code) : undefined;
				if (!one || !broken || findMistakes(sceneOf(one.plan, broken)).explained) continue;
				tried++;
				const { damage, findings } = checkWhole(one.plan, broken);
				expect([seed, damage.map((each) => each.code), findings.suspects]).toEqual([seed, [code], []]);
			}
		}
	});
	test('lost edges of one recording, and a mistake that another shows, are told side by side', { timeout: 120_000 }, () => {
		let tried = 0;
		for (let seed = 33_000_000; tried < 2; seed++) {
			const [right, wrong] = [makeCase(seed, 0), makeCase(seed, 1)];
			const rows = right && findMistakes(sceneOf(right.plan, right.witnesses)).base.some(({ all }) => all.some(({ of }) => of === 'rows'));
			const broken = rows ? damaged(right, 'missing-edges') : undefined;
			if (!right || !wrong || !broken) continue;
			const named = findMistakes(sceneOf(wrong.plan, wrong.witnesses)).suspects[0];
			if (!named?.explains || named.codes.join() !== wrong.codes.join() || checkWhole(right.plan, broken).damage.length === 0) continue;
			tried++;
			const other = wrong.witnesses.map((one) => ({ ...one, recording: 's' }));
			const { damage, findings } = checkWhole(right.plan, [...broken, ...other]);
			expect([seed, damage.map(({ code, recording }) => [code, recording])]).toEqual([seed, [['missing-edges', 'r']]]);
			expect([seed, findings.suspects.filter(({ explains }) => explains).map(({ codes }) => codes)]).toEqual([seed, [wrong.codes]]);
		}
	});
	test('a line of rows on another time base is not taken apart for glitches and gaps', { timeout: 120_000 }, () => {
		for (const seed of [541_001_711, 541_001_753]) {
			const one = makeCase(seed, 0)!;
			const { damage } = checkWhole(one.plan, damaged(one, 'time-base-off')!);
			expect([seed, damage.map(({ code }) => code)]).toEqual([seed, ['time-base-off']]);
		}
	});
});
