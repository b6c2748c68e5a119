import { describe, expect, test } from 'vitest';
import { Rational } from '../../../core/exact/index.js';
import { StretchedTrace, ValueTrace } from '../../../core/trace/index.js';
import { plannedCsv, plannedVcd, rowsSvg, windowOf } from './benchFiles.js';
import type { PredictedLane } from './prediction.svelte.js';
import { BenchView } from './benchView.svelte.js';

/** Base cycles of a microsecond. */
const unit = Rational.parse('1e-6');
const level = (...edges: number[]) => new StretchedTrace(unit, 0, Float64Array.from(edges), []);
const lane = (role: string, drawn: PredictedLane['drawn'], more: Partial<PredictedLane> = {}): PredictedLane => ({
	aim: 'lamp',
	role,
	detail: false,
	unit,
	drawn,
	...more
});
const names = new Map([['lamp', 'the "lamp"']]);

/** A view of 1000 columns over some microseconds. */
function viewOf(from: number, to: number): BenchView {
	const view = new BenchView();
	view.width = 1000;
	view.start = from * 1e6;
	view.perColumn = ((to - from) * 1e6) / 1000;
	return view;
}

describe('files of the bench', () => {
	test('the window is exact, and begins with the plan', () => {
		const { from, to } = windowOf(viewOf(-5, 20));
		expect([from.toString(), to.toString()]).toEqual(['0/1', '1/50000']);
	});
	test('rows have what changes in the window, in order, with exact seconds', () => {
		// It stands at 7 from the fourth microsecond on, and at 3 from the twelfth.
		const counter = new ValueTrace(unit, {
			points: { initial: 0, times: Float64Array.of(0, 4, 12), repeats: [] },
			kinds: [0, 7, 3].map((value) => ({ value, step: 0, lead: 0 })),
			kindOf: Uint32Array.of(0, 1, 2)
		});
		const lanes = [
			lane('pin', { kind: 'level', trace: level(2, 5, 9, 30) }),
			lane('events', { kind: 'events', sets: [{ mark: 'update', trace: level(5, 8) }], busy: 0 }),
			lane('counter', { kind: 'value', trace: counter, lines: [], top: 7, unit: '' }),
			lane('pin', { kind: 'level', trace: level(3) }, { outcome: 'immediate', whatIf: true })
		];
		expect(plannedCsv(lanes, names, viewOf(2, 10)).trim().split('\n')).toEqual([
			'cycle,time (s to 15 places),line,value',
			`2,0.000002,"the ""lamp""",1`,
			`3,0.000003,"the ""lamp"" immediate what-if",1`,
			`4,0.000004,"the ""lamp"" counter",7`,
			`5,0.000005,"the ""lamp""",0`,
			`5,0.000005,"the ""lamp"" events",update`,
			`8,0.000008,"the ""lamp"" events",update`,
			`9,0.000009,"the ""lamp""",1`
		]);
	});
	test('rows that are too many are refused before they are made', () => {
		const edges = Float64Array.from({ length: 500_001 }, (_, i) => i);
		const long = new StretchedTrace(unit, 0, edges, []);
		expect(() => plannedCsv([lane('pin', { kind: 'level', trace: long })], names, viewOf(0, 1e6))).toThrow('more than 500000 rows');
	});
	test('a dump has the levels alone', () => {
		const lanes = [
			lane('pin', { kind: 'level', trace: level(2, 5) }),
			lane('events', { kind: 'events', sets: [{ mark: 'update', trace: level(5) }], busy: 0 })
		];
		const dump = plannedVcd(lanes, names, viewOf(0, 10), 'Dome');
		expect(dump.match(/\$var /g)).toHaveLength(1);
		expect(dump).toContain('Dome, as planned.');
	});
	test('a drawing holds every row at its place, with its name made safe', () => {
		const inks = { plan: '#075', warn: '#a60', ink: '#222', soft: '#777' } as never;
		const painted: number[] = [];
		const rows = [40, 60].map((height, i) => ({
			name: `row <${i}>`,
			height,
			paint: (pen: { fillRect(x: number, y: number, w: number, h: number): void }) => {
				painted.push(height);
				pen.fillRect(1, 2, 3, 4);
			}
		}));
		const svg = rowsSvg(rows, viewOf(0, 10), inks, '#fff', 'Bench & more');
		expect(painted).toEqual([40, 60]);
		expect(svg).toContain('<title>Bench &amp; more</title>');
		expect(svg).toContain('row &lt;1&gt;');
		// The ruler takes 24, the first row 40.
		expect([...svg.matchAll(/<svg x="170" y="(\d+)"/g)].map(([, y]) => y)).toEqual(['24', '64']);
		expect(svg).toContain('<rect x="171" y="66" width="3" height="4"');
	});
});
