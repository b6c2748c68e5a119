import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { LinePair } from './lines.js';
import { matchLine } from './matching.js';
import { align, type AlignSettings, type PlannedRow, type RecordedRow } from './index.js';

const SETTINGS: AlignSettings = { ratio: [1 - 2e-4, 1 + 2e-4], budget: 10, glitch: 60 };
/** A train without a rhythm: gaps that never come twice. */
const TRAIN = Array.from({ length: 40 }, (_, i) => 1000 * i + 37 * ((i * i) % 17) + (i % 2) * 130);
const train: PlannedRow = { initial: 0, times: TRAIN };
const pulse: PlannedRow = { initial: 0, times: [0, 350], period: 1000 };

/** What a recorder sees of planned times from `from` on. */
function seen(times: readonly number[], { offset = 0, ratio = 1, from = -Infinity, to = Infinity } = {}): RecordedRow {
	const all = times.map((time) => Math.round(offset + ratio * time));
	const inside = all.filter((time) => time >= from && time <= to);
	const before = all.filter((time) => time < from).length;
	return {
		initial: (before % 2) as 0 | 1,
		times: inside,
		from: Number.isFinite(from) ? from : inside[0] - 700,
		to: Number.isFinite(to) ? to : inside[inside.length - 1] + 700
	};
}
const turns = (n: number) => Array.from({ length: n }, (_, i) => [1000 * i, 1000 * i + 350]).flat();
const laid = (plan: PlannedRow, recorded: RecordedRow, settings = SETTINGS) => {
	const found = align([{ plan, recorded }], settings);
	if (!found.fits) throw new Error('nothing fits');
	return found;
};

describe('a recording laid on a plan', () => {
	test('is found wherever it begins, in whatever clock', () => {
		fc.assert(
			fc.property(fc.integer({ min: -50_000, max: 50_000 }), fc.integer({ min: -190, max: 190 }), fc.nat(14), (offset, ppm, skip) => {
				const ratio = 1 + ppm * 1e-6;
				const from = Math.round(offset + ratio * TRAIN[skip]) - 400;
				const { laying, lines, ratioKnown, offsetKnown } = laid(train, seen(TRAIN, { offset, ratio, from }));
				expect(Math.abs(laying.offset - offset)).toBeLessThan(5);
				expect(lines[0]).toMatchObject({ missing: [], extra: [], off: [] });
				expect(ratioKnown[0] - 1e-9 <= ratio && ratio <= ratioKnown[1] + 1e-9).toBe(true);
				expect(offsetKnown[0] <= laying.offset && laying.offset <= offsetKnown[1]).toBe(true);
			}),
			{ numRuns: 60 }
		);
	});

	test('tells what is missing, extra, a glitch, and far off', () => {
		const recorded = seen(TRAIN, { offset: 5000 });
		const times = Array.from(recorded.times);
		// Two edges are not there, two pairs are that should not be, and one comes late.
		const changed = [...times.slice(0, 10), ...times.slice(12), times[20] + 500, times[20] + 540, times[30] + 300, times[30] + 420].sort(
			(a, b) => a - b
		);
		changed[changed.indexOf(times[5])] += 120;
		const { lines, laying } = laid(train, { ...recorded, times: changed });
		expect(laying.offset).toBeCloseTo(5000, 0);
		expect(lines[0].missing.map(Math.round)).toEqual(times.slice(10, 12));
		expect(lines[0].extra).toEqual([times[20] + 500, times[20] + 540, times[30] + 300, times[30] + 420]);
		expect(lines[0].glitches).toEqual([[times[20] + 500, times[20] + 540]]);
		expect(lines[0].off.map(([place, edge]) => Math.round(edge - place))).toEqual([120]);
	});

	test('of a steady plan begins with its first period, and may lack pulses', () => {
		const recorded = seen(turns(60), { offset: 12_345, ratio: 1.0001 });
		const times = Array.from(recorded.times).filter((_, i) => Math.floor(i / 2) % 7 !== 3);
		const { laying, lines } = laid(pulse, { ...recorded, times });
		expect(Math.abs(laying.offset - 12_345)).toBeLessThan(3);
		expect(Math.abs(laying.ratio - 1.0001)).toBeLessThan(2e-6);
		expect([lines[0].missing.length, lines[0].extra.length]).toEqual([2 * 9, 0]);
	});

	test('of several lines has one offset and one ratio', () => {
		const other: PlannedRow = { initial: 1, times: TRAIN.slice(3, 30).map((time) => time + 450) };
		// The steady line alone would fit every thousand: the train says where.
		const found = align(
			[
				{ plan: { initial: 0, times: turns(45) }, recorded: seen(turns(45), { offset: 3000, from: 9700, to: 30_000 }) },
				{ plan: other, recorded: { ...seen(other.times as number[], { offset: 3000 }), initial: 1 } }
			],
			SETTINGS
		);
		expect(found.fits && Math.round(found.laying.offset)).toBe(3000);
	});

	test('knows nothing of stretches of unknown level', () => {
		const recorded = seen(TRAIN, { offset: 0 });
		const hidden: [number, number] = [TRAIN[10] - 100, TRAIN[19] + 100];
		const times = Array.from(recorded.times).filter((time) => time < hidden[0] || time > hidden[1]);
		const { lines } = laid(train, { ...recorded, times, unknown: [hidden] });
		expect([lines[0].missing, lines[0].matched.count]).toEqual([[], 30]);
	});

	test('that fits several places names them', () => {
		const burst = [0, 300, 700, 1000, 1900, 2200, 2900, 3300];
		const plan: PlannedRow = { initial: 0, times: [...burst, ...burst.map((time) => time + 20_000)] };
		const recorded = seen(burst, { offset: 500_000 });
		const { others, laying } = laid(plan, recorded);
		expect([...others.map(({ offset }) => Math.round(offset)), Math.round(laying.offset)].sort()).toEqual([480_000, 500_000]);
		expect(laid(train, seen(TRAIN)).others).toEqual([]);
	});

	test('lies where somebody says, whatever fits', () => {
		const found = laid(pulse, seen(turns(30), { offset: 500 }), { ...SETTINGS, at: { offset: 620, ratio: 1 } });
		expect([found.laying, found.others]).toEqual([{ offset: 620, ratio: 1 }, []]);
		// All are 120 off, more than the budget, and still nearer to their own edges than to others.
		expect([found.lines[0].matched.count, found.lines[0].off.length]).toEqual([60, 60]);
	});

	test('that shows something else does not fit, and is laid by first rises', () => {
		const recorded: RecordedRow = { initial: 0, times: TRAIN.map((time, i) => 3 * time + 211 * (i % 5)), from: -500, to: 130_000 };
		expect(align([{ plan: train, recorded }], SETTINGS)).toEqual({ fits: false, laying: { offset: recorded.times[0], ratio: 1 } });
		const nothing: RecordedRow = { initial: 0, times: [], from: 0, to: 1000 };
		expect(align([{ plan: train, recorded: nothing }], SETTINGS).fits).toBe(false);
		expect(align([{ plan: { initial: 0, times: [] }, recorded: nothing }], SETTINGS).fits).toBe(false);
		expect(align([], SETTINGS).fits).toBe(false);
	});

	test('of thousands of edges is looked for in parts of it first', () => {
		const recorded = seen(turns(6000), { offset: 777, ratio: 1.00015 });
		const times = Array.from(recorded.times).filter((_, i) => Math.floor(i / 2) % 11 !== 5);
		const { laying, lines } = laid(pulse, { ...recorded, times });
		expect(Math.abs(laying.ratio - 1.00015)).toBeLessThan(1e-7);
		expect([lines[0].extra.length, lines[0].missing.length]).toEqual([0, 2 * 545]);
	});

	test('of a long train without a rhythm finds the few edges that a short recording shows', () => {
		const times = [0];
		for (let i = 0, dice = 1; i < 20000; i++) {
			dice = (dice * 48_271) % 2_147_483_647;
			times.push(times[i] + 900 + (dice % 13_000));
		}
		const recorded = seen(times, { offset: -4_000_000, from: times[15101] - 4_000_300, to: times[15113] - 3_999_700 });
		const { laying, lines } = laid({ initial: 0, times }, recorded);
		expect(Math.round(laying.offset)).toBe(-4_000_000);
		expect(lines[0]).toMatchObject({ missing: [], extra: [], off: [] });
	});

	test('of a million edges is laid by all of them', { timeout: 60_000 }, () => {
		const edges = 1_000_000;
		const recorded = seen(turns(edges / 2), { offset: 777, ratio: 0.99985 });
		// One pulse in the middle is missing, and one edge near the end comes late.
		const times = Float64Array.from(recorded.times).filter((_, i) => i !== 600_000 && i !== 600_001);
		times[900_000] += 60;
		const { laying, lines, ratioKnown } = laid(pulse, { ...recorded, times });
		expect(Math.abs(laying.ratio - 0.99985)).toBeLessThan(1e-9);
		expect(ratioKnown[1] - ratioKnown[0]).toBeLessThan(1e-7);
		const { matched, missing, extra, off } = lines[0];
		expect([matched.count, missing.length, extra.length, off.length]).toEqual([edges - 2, 2, 0, 1]);
	});
});

/** All orders tried: the greatest gain of pairs in order, each within reach and of one direction. */
function slowly(
	planned: { times: Float64Array; up: Uint8Array },
	recorded: { times: Float64Array; up: Uint8Array },
	reach: number
): number {
	const rows = Array.from({ length: planned.times.length + 1 }, () => new Float64Array(recorded.times.length + 1));
	for (let i = 1; i < rows.length; i++)
		for (let j = 1; j < rows[0].length; j++) {
			const gain = reach - Math.abs(planned.times[i - 1] - recorded.times[j - 1]);
			const pair = planned.up[i - 1] === recorded.up[j - 1] && gain > 0 ? rows[i - 1][j - 1] + gain : 0;
			rows[i][j] = Math.max(rows[i - 1][j], rows[i][j - 1], pair);
		}
	return rows[planned.times.length][recorded.times.length];
}

test('edges matched in islands are matched as well as all at once (seed 7)', () => {
	const row = fc.array(fc.integer({ min: 1, max: 90 }), { minLength: 2, maxLength: 40 }).map((gaps) => {
		let now = 0;
		return Float64Array.from(gaps, (gap) => (now += gap));
	});
	fc.assert(
		fc.property(row, row, fc.integer({ min: -60, max: 60 }), fc.boolean(), (plan, times, offset, raised) => {
			const recorded = { initial: raised ? 1 : 0, times, from: -10, to: 4000 } as const;
			const pair = LinePair.of({ initial: 0, times: plan }, recorded);
			const laying = { offset, ratio: 1 };
			const { cost, price, pairs, planned } = matchLine(pair, laying);
			const inside = pair.planned(laying);
			const best = slowly(inside, { times: pair.recordedTimes, up: pair.recordedUp }, 2 * price);
			expect(cost).toBeCloseTo(price * (inside.times.length + pair.recordedTimes.length) - best, 6);
			for (let k = 0; k < pairs.count; k++) {
				expect(inside.up[pairs.planned[k]]).toBe(pair.recordedUp[pairs.recorded[k]]);
				if (k > 0) expect([pairs.planned[k] > pairs.planned[k - 1], pairs.recorded[k] > pairs.recorded[k - 1]]).toEqual([true, true]);
			}
			expect(planned.length).toBe(inside.times.length);
		}),
		{ numRuns: 400, seed: 7 }
	);
});
