import { describe, expect, test } from 'vitest';
import { rulerMarks, tickMarks } from './ruler.js';

describe('marks of a ruler', () => {
	const stepOf = (marks: { x: number }[]) => marks[1].x - marks[0].x;

	test.each(Array.from({ length: 60 }, (_, i) => [1.7 ** (i - 4)]))(
		'are 1, 2 or 5 times a power of ten apart at %f ps a pixel',
		(perColumn) => {
			const view = { start: -300 * perColumn, perColumn, columns: 1200 };
			const marks = rulerMarks(view, 0, 90);
			const step = stepOf(marks) * perColumn;
			const mantissa = step / 10 ** Math.floor(Math.log10(step) + 1e-9);
			expect([1, 2, 5].some((m) => Math.abs(mantissa - m) < 1e-6)).toBe(true);
			expect(stepOf(marks)).toBeGreaterThanOrEqual(90);
			// The next smaller step would be too narrow.
			expect(stepOf(marks)).toBeLessThan(90 * 2.5 + 1e-6);
			expect(marks.some(({ x, label }) => Math.abs(x - 300) < 1e-6 && label.startsWith('0'))).toBe(true);
		}
	);

	test('of ticks stand on whole ticks', () => {
		const marks = tickMarks({ start: 0, perColumn: 10, columns: 1000 }, 0, 13_888, 90);
		expect(marks.map(({ label }) => label)).toEqual(['0']);
		const wide = tickMarks({ start: 0, perColumn: 1e6, columns: 1000 }, 0, 13_888.9, 90);
		expect(wide[1].label).toBe('10\u202f000');
	});
});
