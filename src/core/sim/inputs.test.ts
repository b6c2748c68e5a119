import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { acceptedEdges, captureEdges, countQuadrature, type SimInput, type SimLevel } from './index.js';

const UNTIL = 240;

/** The slow twin: the level at every base cycle. */
function levels({ initial, edges }: SimInput): SimLevel[] {
	const changes = new Set(Array.from(edges));
	let level = initial;
	return Array.from({ length: UNTIL }, (_, t) => {
		if (changes.has(t)) level = level === 1 ? 0 : 1;
		return level;
	});
}

/** The slow filter, sample by sample: the accepted level in every kernel cycle. */
function filtered(input: SimInput, kernel: number, samples: number, divide: number): SimLevel[] {
	const all = levels(input);
	const seen: SimLevel[] = [];
	let held = input.initial;
	const out: SimLevel[] = [];
	for (let cycle = 0; cycle * kernel < UNTIL; cycle++) {
		if (cycle % divide === 0) {
			seen.push(all[cycle * kernel]);
			const last = seen.slice(-samples);
			// Before cycle 0 the input has its first level: fewer samples than that are filled up with it.
			while (last.length < samples) last.unshift(input.initial);
			if (last.every((one) => one === last[0])) held = last[0];
		}
		out.push(held);
	}
	return out;
}

const inputs = fc
	.record({ initial: fc.constantFrom<SimLevel>(0, 1), gaps: fc.array(fc.integer({ min: 1, max: 14 }), { maxLength: 30 }) })
	.map(({ initial, gaps }): SimInput => {
		let now = 0;
		return { initial, edges: gaps.map((gap) => (now += gap)).filter((time) => time < UNTIL) };
	});
const kernels = fc.integer({ min: 1, max: 3 });
const filters = fc.record({ samples: fc.integer({ min: 1, max: 4 }), divide: fc.integer({ min: 1, max: 3 }) });

describe('the input filter', () => {
	test('accepts after N equal samples, as counted sample by sample', () => {
		fc.assert(
			fc.property(inputs, kernels, filters, (input, kernel, filter) => {
				const want = filtered(input, kernel, filter.samples, filter.divide);
				const edges = acceptedEdges(input, kernel, filter, want.length);
				let level = input.initial;
				const got = want.map((_, cycle) => {
					const edge = edges.find((one) => one.cycle === cycle);
					if (edge) level = edge.level;
					return level;
				});
				expect(got).toEqual(want);
			}),
			{ numRuns: 400, seed: 7 }
		);
	});
	test('rejects what is shorter than N samples, and delays the rest by N - 1', () => {
		const input: SimInput = { initial: 0, edges: [10, 13, 20, 30] };
		// Three cycles high are rejected by four samples; ten are taken at the fourth, 23, and left at the fourth low one, 33.
		expect(acceptedEdges(input, 1, { samples: 4, divide: 1 }, 100)).toEqual([
			{ cycle: 23, level: 1 },
			{ cycle: 33, level: 0 }
		]);
	});
});

describe('capture', () => {
	test('latches the value held at every k-th edge of its kind', () => {
		fc.assert(
			fc.property(
				inputs,
				kernels,
				fc.constantFrom('rise', 'fall', 'both'),
				fc.integer({ min: 1, max: 4 }),
				(input, kernel, edge, every) => {
					const all = filtered(input, kernel, 1, 1);
					const prescale = 3;
					const want: [number, number][] = [];
					let count = 0;
					all.forEach((level, cycle) => {
						const before = cycle === 0 ? input.initial : all[cycle - 1];
						if (level === before || (edge !== 'both' && (level === 1) !== (edge === 'rise'))) return;
						if (++count % every === 0) want.push([cycle * kernel, Math.floor(cycle / prescale) % 16]);
					});
					const setting = { kernel, prescale, width: 4, edge: edge as 'rise', every, filter: { samples: 1, divide: 1 } };
					expect(captureEdges(input, setting, UNTIL)).toEqual(want);
				}
			),
			{ numRuns: 300, seed: 8 }
		);
	});
});

describe('the quadrature counter', () => {
	test('counts as a table of states says, step by step', () => {
		fc.assert(
			fc.property(
				inputs,
				inputs,
				kernels,
				fc.constantFrom<1 | 2 | 4>(1, 2, 4),
				fc.constantFrom<'wrap' | 'clamp'>('wrap', 'clamp'),
				(a, b, kernel, times, range) => {
					const [la, lb] = [filtered(a, kernel, 1, 1), filtered(b, kernel, 1, 1)];
					const reload = 5;
					let count = 2;
					const counts: [number, number][] = [];
					// Forward the states AB run 00, 10, 11, 01.
					const place = (x: number, y: number) => [0, 3, 1, 2][2 * x + y];
					la.forEach((x, cycle) => {
						const y = lb[cycle];
						const [ox, oy] = cycle === 0 ? [a.initial, b.initial] : [la[cycle - 1], lb[cycle - 1]];
						if ((x === ox) === (y === oy)) return;
						const up = (place(x, y) - place(ox, oy) + 4) % 4 === 1;
						const ofA = x !== ox;
						if (times === 2 && !ofA) return;
						// Of single counting: a rise of A while B is low, up; a fall of A while B is low, down.
						if (times === 1 && !(ofA && y === 0)) return;
						const next = count + (up ? 1 : -1);
						const kept = range === 'wrap' ? (next + reload + 1) % (reload + 1) : Math.min(reload, Math.max(0, next));
						if (kept !== count) counts.push([cycle * kernel, kept]);
						count = kept;
					});
					const setting = { kernel, times, reload, range, start: 2, filter: { samples: 1, divide: 1 } };
					expect(countQuadrature(a, b, setting, UNTIL)).toEqual({ counts, final: count });
				}
			),
			{ numRuns: 400, seed: 9 }
		);
	});
});
