import { describe, expect, test } from 'vitest';
import { Rational } from '../../core/exact/index.js';
import { ValueTrace, type ValueKind } from '../../core/trace/index.js';
import { SvgPen, tickMarks, valueScene } from './index.js';

const unit = Rational.ratio(1, 1_000_000);
/** Points of a counter on a microsecond clock, the stretch from `repeatFrom` on repeated. */
function counter(
	points: [number, ValueKind][],
	repeats: { first: number; count: number; period: number; times: number; from: number }[] = []
) {
	return new ValueTrace(unit, {
		points: { initial: 0, times: Float64Array.from(points, ([time]) => time), repeats },
		kinds: points.map(([, kind]) => kind),
		kindOf: Uint32Array.from(points.keys())
	});
}
const up = (value: number, step: number): ValueKind => ({ value, step, lead: 0 });
/** Counts 0 to 9, a count every 4 us, for ever. */
const saw = counter(
	[
		[0, up(0, 4)],
		[40, up(0, 4)]
	],
	[{ first: 1, count: 1, period: 40, times: 1e6, from: 41 }]
);

describe('a trace of values', () => {
	test('tells its value at any time, in the repeats too', () => {
		for (const t of [0, 3, 4, 39, 40, 43, 400_003, 39_999_999]) expect([t, saw.at(t)]).toEqual([t, Math.floor((t % 40) / 4)]);
		expect(saw.top).toBe(9);
	});
	test('goes down, stands, and begins in the middle of a count', () => {
		const trace = counter([
			[10, { value: 7, step: -3, lead: 2 }],
			[20, { value: 2, step: 0, lead: 0 }]
		]);
		expect([9, 10, 11, 13, 14, 19, 20, 999].map((t) => trace.at(t))).toEqual([undefined, 7, 6, 6, 5, 4, 2, 2]);
	});
});

describe('the scene of a value', () => {
	test('is a straight ramp from afar', () => {
		// A column is 2 us, so a count is two columns: too narrow for stairs.
		const scene = valueScene(saw, 1e6, { start: 0, perColumn: 2e6, columns: 60 });
		expect(scene.kind === 'line' && scene.corners.slice(0, 3)).toEqual([
			{ x: 0, value: 0 },
			{ x: 20, value: 10 },
			{ x: 20, value: 0 }
		]);
	});
	test('is stairs from near: each count stands for four microseconds', () => {
		const scene = valueScene(saw, 1e6, { start: 12e6, perColumn: 0.5e6, columns: 20 });
		if (scene.kind !== 'line') throw new Error('no line');
		const at = (x: number) => scene.corners.filter((corner) => corner.x <= x).at(-1)!.value;
		// 12 us is count 3; a column later is half a microsecond.
		expect([0.5, 7.5, 8.5, 15.5, 16.5].map(at)).toEqual([3, 3, 4, 4, 5]);
	});
	test('keeps the span of each column where points cannot be told apart', () => {
		const scene = valueScene(saw, 1e6, { start: 0, perColumn: 200e6, columns: 50 });
		if (scene.kind !== 'spans') throw new Error('no spans');
		expect([scene.least[10], scene.most[10]]).toEqual([0, 9]);
	});
});

describe('drawing', () => {
	test('a ruler in ticks has whole multiples of 1, 2 or 5 times a power of ten', () => {
		const marks = tickMarks({ start: 0, perColumn: 1e6, columns: 1000 }, 0, 1e6 / 72, 110);
		// 110 columns are 7920 ticks.
		expect(marks.slice(0, 3).map(({ label }) => label.replaceAll('\u202f', ' '))).toEqual(['0', '10 000', '20 000']);
		expect(marks[1].x).toBeCloseTo(10_000 / 72, 9);
	});
	test('the pen writes what is drawn as SVG, moved to its place and clipped', () => {
		const pen = new SvgPen(100, 50, 'row');
		pen.save();
		pen.beginPath();
		pen.rect(0, 0, 30, 10);
		pen.clip();
		pen.fillStyle = 'url(#hatch)';
		pen.globalAlpha = 0.5;
		pen.fillRect(1, 2, 3, 4);
		pen.restore();
		pen.strokeStyle = '#123456';
		pen.setLineDash([4, 3]);
		pen.beginPath();
		pen.moveTo(0, 0);
		pen.lineTo(10, 5);
		pen.stroke();
		pen.fillText('a < b', 1, 1);
		expect(pen.elements).toEqual([
			'<clipPath id="row-clip-0"><path d="M100 50h30v10h-30Z"/></clipPath>',
			'<rect clip-path="url(#row-clip-0)" x="101" y="52" width="3" height="4" fill="url(#hatch)" fill-opacity="0.5"/>',
			'<path d="M100 50L110 55" fill="none" stroke="#123456" stroke-width="1" stroke-opacity="1" stroke-dasharray="4 3"/>',
			'<text x="101" y="51" font-size="11" fill="#000" fill-opacity="1">a &lt; b</text>'
		]);
	});
});
