import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../../exact/index.js';
import { TraceBuilder, type Level, type Trace } from '../../trace/index.js';
import { cardOf, type CardKind } from './index.js';

const US = Rational.of(1n, 1_000_000n);
function line(edges: readonly (readonly [number, Level])[]): Trace {
	const builder = new TraceBuilder(0);
	for (const [time, level] of edges) builder.add(time, level);
	return builder.finish({ unit: US, start: 0, end: 1_000_000 });
}
const measured = (kind: CardKind, trace: Trace, other: Trace, window = { start: 0, end: 1_000_000 }) => {
	const { at, parts } = cardOf(kind).series!({ trace, other, window, limit: 0 });
	return Array.from(parts, (part, i) => [at[i], part]);
};

/** Lines of a shaft that turns by quarters, one every ten units. */
function turning(steps: readonly (1 | -1)[]): { a: Trace; b: Trace } {
	const edges: { a: [number, Level][]; b: [number, Level][] } = { a: [], b: [] };
	let place = 0;
	steps.forEach((by, i) => {
		const before = ((place % 4) + 4) % 4;
		place += by;
		const after = ((place % 4) + 4) % 4;
		const level = (quarter: number): [Level, Level] => [quarter === 1 || quarter === 2 ? 1 : 0, quarter >= 2 ? 1 : 0];
		const [[a0, b0], [a1, b1]] = [level(before), level(after)];
		if (a0 !== a1) edges.a.push([10 * (i + 1), a1]);
		if (b0 !== b1) edges.b.push([10 * (i + 1), b1]);
	});
	return { a: line(edges.a), b: line(edges.b) };
}

test('an edge is answered by the other line’s next, within the limit and at the same time too', () => {
	const [a, b] = [
		line([
			[10, 1],
			[50, 0],
			[90, 1]
		]),
		line([
			[12, 1],
			[50, 0]
		])
	];
	const answers = (limit: number) =>
		Array.from(cardOf('answers').series!({ trace: a, other: b, window: { start: 0, end: 1000 }, limit }).parts);
	expect([answers(5), answers(1)]).toEqual([[2, 0], [0]]);
});

describe('an encoder’s two lines', () => {
	test('are decoded to where it stands, whichever way it turned', () => {
		fc.assert(
			fc.property(fc.array(fc.constantFrom(1 as const, -1 as const), { maxLength: 60 }), (steps) => {
				const { a, b } = turning(steps);
				let place = 0;
				const places = steps.map((by, i) => [10 * (i + 1), (place += by)]);
				expect(measured('position', a, b)).toEqual(places);
				// The other line first: it turns the other way.
				expect(measured('position', b, a)).toEqual(places.map(([at, count]) => [at, count === 0 ? 0 : -count]));
				expect(measured('missed', a, b)).toEqual([]);
				const runs = measured('turns', a, b).map(([, run]) => run);
				expect(runs.reduce((sum, run) => sum + run, 0)).toBe(place);
				expect(runs.every((run, i) => i === 0 || run * runs[i - 1] < 0)).toBe(true);
				expect(measured('speed', a, b).every(([, time]) => time === 10)).toBe(true);
			})
		);
	});
	test('that change at once, or cannot be known, are counts that were missed', () => {
		const a = line([
			[10, 1],
			[20, 0],
			[40, 2],
			[50, 1]
		]);
		const b = line([
			[20, 1],
			[60, 0]
		]);
		expect(measured('missed', a, b).map(([at]) => at)).toEqual([20, 40, 50]);
		expect(measured('position', a, b).at(-1)).toEqual([60, 0]);
	});
	test('in a window count from its start', () => {
		const { a, b } = turning([1, 1, 1, 1, 1, 1]);
		expect(measured('position', a, b, { start: 25, end: 45 })).toEqual([
			[30, 1],
			[40, 2]
		]);
	});
});
