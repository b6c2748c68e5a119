import { describe, expect, test } from 'vitest';
import { Rational } from '../../../core/exact/index.js';
import { type Plan, fernhollow } from '../../../core/plan/index.js';
import { StretchedTrace } from '../../../core/trace/index.js';
import { movedTo, plannedRows, PLAIN, reordered, toggled, type Layout, type PlannedRow } from './benchRows.js';
import type { PredictedLane } from './prediction.svelte.js';

const demo = fernhollow();
const trace = new StretchedTrace(Rational.one, 0, Float64Array.of(3, 9), []);
const lane = (aim: string, role: string, more: Partial<PredictedLane> = {}): PredictedLane => ({
	aim,
	role,
	detail: false,
	unit: Rational.one,
	drawn: { kind: 'level', trace },
	...more
});
const lanes = [
	lane('heater-a', 'pin'),
	lane('heater-a', 'events', { detail: true, drawn: { kind: 'events', sets: [], busy: 0 } }),
	lane('heater-b', 'pin'),
	lane('dome-motor', 'main'),
	lane('dome-motor', 'complementary'),
	lane('system-tick', 'events', { detail: true, drawn: { kind: 'events', sets: [], busy: 0 } })
];
const said = (rows: PlannedRow[]) =>
	rows.map((row) => (row.kind === 'head' ? `[${row.title}]` : `${row.first ? '+' : ''}${row.lane.aim} ${row.lane.role}`));

describe('rows of the bench', () => {
	test('pins alone, then what an aim unfolds; an aim of details alone shows them', () => {
		expect(said(plannedRows(lanes, demo, PLAIN))).toEqual([
			'[plan, predicted]',
			'+heater-a pin',
			'+heater-b pin',
			'+dome-motor main',
			'dome-motor complementary',
			'+system-tick events'
		]);
		expect(said(plannedRows(lanes, demo, { ...PLAIN, open: ['heater-a'] })).slice(0, 3)).toEqual([
			'[plan, predicted]',
			'+heater-a pin',
			'heater-a events'
		]);
	});
	test('grouped by timer, one folded', () => {
		const rows = plannedRows(lanes, demo, { ...PLAIN, by: 'timer', folded: ['timer timer-a'] });
		expect(said(rows)).toEqual([
			'[Timer D]',
			'+heater-a pin',
			'[Timer H]',
			'+heater-b pin',
			'[Timer A]',
			'[Core down timer]',
			'+system-tick events'
		]);
	});
	test('both outcomes of a list stand for the pin', () => {
		const both = [lane('heater-a', 'pin', { outcome: 'buffered' }), lane('heater-a', 'pin', { outcome: 'immediate', whatIf: true })];
		const rows = plannedRows([...lanes, ...both], demo, { ...PLAIN, open: ['heater-a'] });
		const own = rows.flatMap((row) => (row.kind === 'lane' && row.lane.aim === 'heater-a' ? [row.lane.outcome ?? row.lane.role] : []));
		expect(own).toEqual(['buffered', 'immediate', 'events']);
	});
	test('an order of one’s own outlives aims that come and go', () => {
		const down = reordered(demo, PLAIN, 'heater-a', 1);
		expect(said(plannedRows(lanes, demo, down)).slice(1, 3)).toEqual(['+heater-b pin', '+heater-a pin']);
		const last: Layout = movedTo(demo, down, 'system-tick', 'heater-b');
		expect(said(plannedRows(lanes, demo, last))[1]).toBe('+system-tick events');
		const fewer: Plan = { ...demo, aims: demo.aims.filter(({ id }) => id !== 'heater-b') };
		expect(said(plannedRows(lanes, fewer, last))).not.toContain('+heater-b pin');
		expect(reordered(demo, PLAIN, 'heater-a', -1)).toBe(PLAIN);
		expect(toggled(toggled([], 'x'), 'x')).toEqual([]);
	});
});
