import { describe, expect, test } from 'vitest';
import { Rational } from '../../core/exact/index.js';
import { applyStep, deriveChanges, derivePlan, fernhollow, type Plan } from '../../core/plan/index.js';
import { StretchedTrace } from '../../core/trace/index.js';
import { movedTo, plannedRows, PLAIN, reordered, toggled, type Layout, type PlannedRow } from './benchRows.js';
import { addListStep, addRowStep, freshList, frequencySteps, listSentence } from './changeSteps.js';
import { glitchFindings } from './foresight.js';
import { momentsOf, nextMoment, type Line } from './jumps.js';
import type { PredictedLane } from './prediction.svelte.js';
import { readingOf, truthOf, unitOf } from './readings.js';
import { changedStimulus, stimulusSentence } from './stimulusSentence.js';
import { freshStimulus } from '../../core/plan/index.js';
import type { WireReplay } from '../../workers/predict.js';

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

describe('jumps', () => {
	const line: Line = { sources: [momentsOf([30, 10, 20]), momentsOf([25])], unit: 1000, shift: 0 };
	test('go to the next moment of any source, to both sides, and stop at the ends', () => {
		expect([nextMoment([line], 10_000, 1), nextMoment([line], 20_000, 1), nextMoment([line], 30_000, 1)]).toEqual([
			20_000,
			25_000,
			undefined
		]);
		expect([nextMoment([line], 25_000, -1), nextMoment([line], 10_000, -1)]).toEqual([20_000, undefined]);
	});
});

describe('lists of writes', () => {
	const plan = applyStep(demo, addListStep(demo, 'timer-d', 'Timer D'));
	const made = () => deriveChanges(derivePlan(plan))[0];

	test('a first row is what stands there, ten milliseconds in', () => {
		const after = applyStep(plan, addRowStep(plan, made(), 'row-1'));
		expect(after.changes[0].rows).toEqual([{ id: 'row-1', at: '10 ms', rate: '1.2 kHz', prescale: '', duties: { ch1: '35 %' } }]);
		const again = applyStep(after, addRowStep(after, deriveChanges(derivePlan(after))[0], 'row-2'));
		expect(again.changes[0].rows[1]).toMatchObject({ at: '20 ms', rate: '1.2 kHz' });
	});
	test('steps of frequency go evenly and keep the duty', () => {
		const { step, problems } = frequencySteps(plan, made(), { from: '1 kHz', to: '2 kHz', count: '4', apart: '2 ms' });
		expect(problems).toEqual({});
		const { rows } = applyStep(plan, step!).changes[0];
		expect(rows.map(({ at, rate, duties }) => [at, rate, duties.ch1])).toEqual([
			['2 ms', '1 kHz', '35 %'],
			['4 ms', '1333.333 Hz', '35 %'],
			['6 ms', '1666.667 Hz', '35 %'],
			['8 ms', '2 kHz', '35 %']
		]);
	});
	test('a helper that cannot be read says which field', () => {
		const { step, problems } = frequencySteps(plan, made(), { from: 'slow', to: '2 kHz', count: '900', apart: '2' });
		expect(step).toBeUndefined();
		expect(Object.keys(problems).sort()).toEqual(['apart', 'count', 'from']);
	});
	test('the sentence asks only for what the pace needs', () => {
		const fields = (pace: 'times' | 'updates') =>
			listSentence({ ...freshList('w', 'timer-d'), pace }).flatMap((token) =>
				typeof token === 'object' && 'field' in token ? [token.field] : []
			);
		expect(fields('times')).toEqual(['apart']);
		expect(fields('updates')).toEqual(['every', 'lag', 'apart']);
	});
	test('glitches become one finding a row, of the plan’s own outcome only', () => {
		const glitch = (row: string, at: number) => ({
			aim: 'heater-a',
			channel: 'ch1',
			row,
			at,
			period: 72,
			on: 36,
			before: [72, 25] as [number, number],
			after: [72, 30] as [number, number]
		});
		const unit = Rational.ratio(1, 72_000_000);
		const found = glitchFindings(
			plan,
			[
				{ list: plan.changes[0].id, outcome: 'buffered', whatIf: false, glitches: [glitch('a', 720), glitch('a', 900), glitch('b', 1000)] },
				{ list: plan.changes[0].id, outcome: 'immediate', whatIf: true, glitches: [glitch('c', 1)] }
			],
			unit
		);
		expect(found.map((one) => one.code === 'glitch' && [one.change?.row, one.count, one.at.toString(), one.right.toString()])).toEqual([
			['a', 2, '1/100000', '1/2400000'],
			['b', 1, '1/72000', '1/2400000']
		]);
	});
});

describe('what comes in', () => {
	const wind = demo.aims.find(({ id }) => id === 'wind')!;
	test.each(['square', 'sweep', 'contact', 'recorded'] as const)('every field of a %s has its place in the sentence', (kind) => {
		const stimulus = freshStimulus(wind, kind);
		const places = stimulusSentence(wind, stimulus, []).flatMap((token) =>
			typeof token === 'string' ? [] : 'field' in token ? [token.field] : [token.choice]
		);
		// A second line is an encoder's.
		expect(places.sort()).toEqual(
			Object.keys(stimulus)
				.filter((key) => key !== 'second')
				.sort()
		);
	});
	test('another recording brings its first line', () => {
		const recording = { id: 'r', name: 'r.vcd', lines: [{ name: 'cups' }, { name: 'vane' }] } as unknown as Parameters<
			typeof stimulusSentence
		>[2][number];
		expect(changedStimulus(wind, freshStimulus(wind), 'kind', 'recorded', [recording])).toEqual({
			kind: 'recorded',
			recording: 'r',
			line: 'cups',
			second: 'vane'
		});
	});
	test('readings are worked out exactly from their counts', () => {
		const replay = (reads: WireReplay['reads']): WireReplay => ({
			aim: 'a',
			reads,
			tickRate: '1000000',
			edges: 2,
			accepted: 2,
			at: Float64Array.of(1),
			counts: Float64Array.of(400),
			truth: Float64Array.of(28_800),
			wrong: ['']
		});
		const unit = Rational.ratio(1, 72_000_000);
		const both = (reads: WireReplay['reads']) => [readingOf(replay(reads), 0), truthOf(replay(reads), 0, unit)].map(String);
		expect(both({ kind: 'rate', every: 2 })).toEqual(['5000/1', '5000/1']);
		expect(both({ kind: 'width' })).toEqual(['1/2500', '1/2500']);
		expect(both({ kind: 'gated', gate: '1/10' })).toEqual(['4000/1', '288000/1']);
		expect(unitOf(replay({ kind: 'position' }))).toBe('');
	});
});
