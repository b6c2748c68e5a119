import fc from 'fast-check';
import { expect, test } from 'vitest';
import { leastSquares, Moments, Points } from './points.js';

test('moments about a laying give the line of least squares through the points that they were taken of', () => {
	const edge = fc.tuple(fc.integer({ min: 0, max: 1000 }), fc.double({ min: -3, max: 3, noNaN: true }));
	fc.assert(
		fc.property(
			fc.uniqueArray(edge, { minLength: 2, maxLength: 60, selector: ([x]) => x }),
			fc.double({ min: -1e5, max: 1e5, noNaN: true }),
			fc.double({ min: 0.999, max: 1.001, noNaN: true }),
			fc.integer({ min: 0, max: 60 }),
			(edges, offset, ratio, cut) => {
				const from = { offset, ratio };
				const range = [0.9, 1.1] as const;
				const places = Float64Array.from(edges, ([x]) => offset + ratio * x).sort();
				const recorded = places.map((place, i) => place + edges[i][1]);
				const all = new Points(edges.length);
				const moments = new Moments(from);
				// In two lines, of which one may be empty; what is too far off is left out of both.
				const limit = 2;
				for (const [first, end] of [
					[0, Math.min(cut, edges.length)],
					[Math.min(cut, edges.length), edges.length]
				]) {
					const numbers = Int32Array.from({ length: end - first }, (_, k) => first + k);
					moments.add(places, recorded, { count: end - first, planned: numbers, recorded: numbers }, limit);
				}
				places.forEach((place, i) => {
					if (Math.abs(recorded[i] - place) > limit) return;
					all.x[all.count] = (place - offset) / ratio;
					all.y[all.count++] = recorded[i];
				});
				const [line, wanted] = [moments.line(range), leastSquares(all, range)];
				expect(line === undefined).toBe(wanted === undefined);
				for (const x of line && wanted ? [0, 1000] : [])
					expect(Math.abs(line!.offset + line!.ratio * x - wanted!.offset - wanted!.ratio * x)).toBeLessThan(1e-6);
			}
		),
		{ seed: 5, numRuns: 300 }
	);
});
