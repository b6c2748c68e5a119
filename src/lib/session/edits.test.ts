import { describe, expect, test } from 'vitest';
import { Rational } from '../../core/exact/index.js';
import firstPlan from '../../core/plan/fixtures/plan-1.json' with { type: 'json' };
import { atOnce, fernhollow, readPlan } from '../../core/plan/index.js';
import { freshStimulus } from '../../core/predict/index.js';
import { ratioTable } from '../../core/solve/index.js';
import { matching } from '../features/frame/commands.js';
import { addAim, duplicateAim, mapLine, removeAim } from './edits.js';
import { fileName } from '../components/export.js';
import { PlanSession } from './session.svelte.js';
import { EXACT_PPM, frontCsv, frontDots } from '../features/aims/tradeoff.js';

const open = () => new PlanSession({ id: 'p', revision: 1, savedOn: '2026-11-27', document: readPlan(firstPlan), history: [] });

describe('edits', () => {
	test('a new aim takes the next free channel and the timer’s rate, so that it is met as it stands', () => {
		const session = open();
		addAim(session);
		expect(session.plan.aims[1]).toMatchObject({ timer: 'timer-a', channel: 'ch2', rate: '1.2 kHz' });
		expect(session.findings).toEqual([]);
		addAim(session);
		addAim(session);
		expect(session.findings.map((f) => f.code)).toEqual(['channel-shared']);
	});

	test('another kind goes where it is met: to a free timer, or to one that shares', () => {
		const session = new PlanSession({ id: 'p', revision: 1, savedOn: '2026-11-27', document: fernhollow(), history: [] });
		// All timers of Heron-32 are in use; 20 kHz is what the dome motor leaves of Timer A.
		const id = addAim(session, 'pair');
		expect(session.plan.aims.at(-1)).toMatchObject({ id, kind: 'pair', timer: 'timer-a' });
		// No encoder is left: it is added all the same, and its finding says so.
		addAim(session, 'encoder');
		expect(session.findings.map((f) => f.code)).toContain('timer-taken');
		const free = new PlanSession({
			id: 'p',
			revision: 1,
			savedOn: '2026-11-27',
			document: { ...fernhollow(), aims: fernhollow().aims.slice(0, 4) },
			history: []
		});
		addAim(free, 'encoder');
		expect(free.plan.aims.at(-1)).toMatchObject({ timer: 'timer-b' });
		expect(free.findings).toEqual([]);
	});

	test('a copy stands behind its aim', () => {
		const session = open();
		addAim(session);
		const id = duplicateAim(session, session.plan.aims[0]);
		expect(session.plan.aims.map((a) => a.name)).toEqual(['dew heater A', 'dew heater A copy', 'signal 2']);
		expect(session.plan.aims[1].id).toBe(id);
	});

	test('an aim goes with its mappings, and one undo brings all back', () => {
		const session = open();
		mapLine(session, 'r1', 'a', { aim: 'heater-a' });
		mapLine(session, 'r2', 'b', { aim: 'heater-a' });
		session.set(['stimuli', 'heater-a'], freshStimulus(session.plan.aims[0], 'square'), 'an input');
		const before = session.plan;
		removeAim(session, session.plan.aims[0]);
		expect([session.plan.aims.length, session.plan.mappings.length, session.plan.stimuli]).toEqual([0, 0, {}]);
		session.undo();
		expect(session.plan).toEqual(before);
	});

	test('a line maps to one aim at most', () => {
		const session = open();
		addAim(session);
		const id = mapLine(session, 'r', 'a', { aim: 'heater-a' });
		expect(mapLine(session, 'r', 'a', { aim: session.plan.aims[1].id })).toBe(id);
		expect(session.plan.mappings.map((m) => m.aim)).toEqual([session.plan.aims[1].id]);
		expect(mapLine(session, 'r', 'a', undefined)).toBeUndefined();
		expect(session.plan.mappings).toEqual([]);
		expect(mapLine(session, 'r', 'a', undefined)).toBeUndefined();
	});
});

describe('the trade-off chart', () => {
	const wish = {
		kernel: Rational.int(72_000_000),
		counting: { mode: 'up', rule: 'inclusive', width: 16 },
		wish: Rational.int(1201)
	} as const;
	const table = ratioTable({ kind: 'linear', max: 65_536 });
	const { dots, edge, mostBits } = atOnce(frontDots(wish, table));

	test('has few enough dots to draw, all of them real settings', () => {
		expect(dots.length).toBeLessThan(5000);
		for (const { prescale, reload, ticks, ppm } of dots) {
			expect(ticks).toBe(reload + 1);
			expect(ppm).toBeCloseTo((72e6 / (prescale * ticks) / 1201 - 1) * 1e6, 4);
		}
		expect(mostBits).toBe(16);
	});

	test('its edge is what no dot beats in both', () => {
		const beaten = (a: (typeof dots)[0], b: (typeof dots)[0]) => b.ticks >= a.ticks && Math.abs(b.ppm) < Math.abs(a.ppm);
		for (const point of edge) expect(dots.some((dot) => beaten(point, dot))).toBe(false);
		const free = dots.filter((a) => !dots.some((b) => beaten(a, b)) && Math.abs(a.ppm) > EXACT_PPM);
		for (const dot of free) expect(edge.some((point) => Math.abs(point.ppm) <= Math.abs(dot.ppm) && point.ticks >= dot.ticks)).toBe(true);
	});

	test('is saved as a row for every prescale', () => {
		const rows = frontCsv(wish, table).trim().split('\n');
		expect([rows.length, rows[0], rows[1].split(',').slice(0, 3).join()]).toEqual([
			65_537,
			'prescale,reload,ticks,error (ppm)',
			'1,59949,59950'
		]);
	});
});

test('commands are found by all of their words', () => {
	const list = ['Go to Bench', 'Go to Plans', 'Aim: bench lamp'].map((name) => ({ name, run: () => {} }));
	expect(matching(list, 'BENCH go').map((c) => c.name)).toEqual(['Go to Bench']);
	expect(matching(list, '').length).toBe(3);
});

test('file names keep letters of any language and no separators', () => {
	expect([fileName('Fernhollow Observatory'), fileName('Größe / 2'), fileName('///')]).toEqual([
		'fernhollow-observatory',
		'größe-2',
		'plan'
	]);
});

test('a line is mapped to one of several lines of an aim, and to another of them in one step', () => {
	const session = open();
	mapLine(session, 'r', 'a', { aim: 'heater-a', role: 'main' });
	mapLine(session, 'r', 'a', { aim: 'heater-a', role: 'complementary' });
	expect(session.plan.mappings.map(({ role }) => role)).toEqual(['complementary']);
	session.undo();
	expect(session.plan.mappings.map(({ role }) => role)).toEqual(['main']);
	mapLine(session, 'r', 'a', { aim: 'heater-a' });
	expect(Object.hasOwn(session.plan.mappings[0], 'role')).toBe(false);
});
