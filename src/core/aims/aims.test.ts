import { describe, expect, test } from 'vitest';
import { checkPlan } from '../check/index.js';
import { Rational } from '../exact/index.js';
import { intervalTicks } from '../timer/index.js';
import { shippedPart } from '../part/index.js';
import { freshAim, pulsePlaces, type Aim, type AimOf } from '../aims/index.js';
import { derivePlan, fernhollow, newAim, newPlan, PLAN_VERSION, readPlan, type Plan } from '../plan/index.js';
import secondPlan from '../plan/fixtures/plan-2.json' with { type: 'json' };
import fourthPlan from '../plan/fixtures/plan-4.json' with { type: 'json' };
import thirdPlan from '../plan/fixtures/plan-3.json' with { type: 'json' };

const demo = fernhollow();
const jobOf = (id: string) => demo.aims.find((aim) => aim.id === id) as Aim;
/** The demo with one of its jobs changed, alone. */
const only = (id: string, change: object, part = demo.part, clock: Plan['clock'] = demo.clock): Plan => ({
	...demo,
	part,
	clock,
	aims: [{ ...jobOf(id), ...change }]
});
const derived = (plan: Plan) => derivePlan(plan).aims[0];
const figure = (plan: Plan, name: string) =>
	derived(plan)
		.figures.find((f) => f.name === name)
		?.value.toString();
const strip = (plan: Plan) => derived(plan).strip.map((link) => `${link.name} ${link.value}`);
const codes = (plan: Plan) =>
	checkPlan(derivePlan(plan))
		.filter((f) => f.aim !== undefined)
		.map((f) => (f.code === 'field' ? `field ${f.field}` : f.code));

describe('a tick', () => {
	const tick = (change: Partial<AimOf<'tick'>>) => only('system-tick', { timer: 'timer-g', mode: 'up', ...change });
	test('of 10 ms at 72 MHz: 720000 ticks are 11 times the counter, so 11.25 x 64000', () => {
		// 720000 = P x T with T of 65536 at the most: the largest T that divides it is 60000, with P = 12.
		expect(strip(tick({}))).toEqual(['prescale 12', 'reload 59999']);
		expect([figure(tick({}), 'period'), figure(tick({}), 'error'), figure(tick({}), 'drift')]).toEqual(['1/100', '0/1', '0/1']);
		expect([figure(tick({}), 'rate'), figure(tick({}), 'toggled')]).toEqual(['100/1', '50/1']);
		// 120 core cycles at 72 MHz, a hundred times a second.
		expect(figure(tick({}), 'load')).toBe('1/6000');
		expect(codes(tick({}))).toEqual([]);
	});
	test.each<[string, Partial<AimOf<'tick'>>, string[]]>([
		['too long for the timer', { every: '1 h' }, ['time-too-long']],
		['too short', { every: '1 ns' }, ['time-too-short']],
		['of zero', { every: '0 s' }, ['field every']],
		['below zero', { every: '-1 ms' }, ['field every']],
		['that no setting hits', { every: '1.00007 us', tolerance: '1 ppm', service: '0' }, ['time-outside', 'source-loose']],
		['served longer than it lasts', { every: '1 us' }, ['service-over-period']],
		['that takes most of the processor', { every: '2 us' }, ['service-heavy']],
		['the timer cannot count', { mode: 'tap' }, ['mode-missing']],
		['a timer that is not there', { timer: 'gone' }, ['timer-missing']],
		['a service that is no number', { service: 'long' }, ['field service']]
	])('%s', (_, change, want) => expect(codes(tick(change))).toEqual(want));
	test('hardware alone costs the processor nothing', () => {
		expect(codes(tick({ every: '1 us', notice: 'hardware' }))).toEqual([]);
		expect(figure(tick({ notice: 'hardware' }), 'load')).toBeUndefined();
	});
	test.each<[string, string, string, string, Partial<AimOf<'tick'>>, string[], string]>([
		// 12 MHz / 12 = 1 MHz: 1 ms is 1000 ticks of 2^16; software is 24 core cycles = 2 ticks late.
		['preload by software', 'sprat-8', 'timer-3', 'preload', { service: '24' }, ['prescale 1', 'preload 64538'], '1/1000'],
		['preload by hardware', 'sprat-8', 'timer-4', 'preload', { every: '100 us' }, ['prescale 1', 'preload 156'], '1/10000'],
		// 12 MHz x 1 ms = 12000 ticks, 40 cycles late.
		['clear', 'sprat-8', 'timer-1', 'clear', {}, ['prescale 1', 'compare 11959'], '1/1000'],
		['advance', 'plover-16', 'core-count', 'advance', {}, ['prescale 1', 'advance 8000'], '1/1000'],
		// 16 MHz / (P x 2 x 2^(b+1)): P = 16 / 2 .. nearest to 1 kHz is 16 MHz / (2 x 8000) by bit 11 and P = 2: 976.6 Hz.
		['tap', 'plover-16', 'tap', 'tap', { tolerance: '5 %' }, ['prescale 8', 'bit 10'], '16/15625'],
		['down', 'plover-16', 'core-down', 'down', {}, ['prescale 1', 'reload 15999'], '1/1000']
	])('%s', (_, part, timer, mode, change, links, period) => {
		const clock: Plan['clock'] = part === 'sprat-8' ? { source: 'crystal', core: '1' } : { main: 'crystal' };
		const base = { ...jobOf('system-tick'), timer, mode, every: '1 ms', service: '40', ...change } as Aim;
		const plan: Plan = { ...newPlan('x', shippedPart(part)!), clock, aims: [base] };
		expect([strip(plan)[0].startsWith('prescale'), strip(plan).at(-1)]).toEqual([true, links.at(-1)]);
		expect(figure(plan, 'period')).toBe(period);
		// The law's own formula gives the same interval for the register value.
		const { timer: used, strip: found, formulas } = derived(plan);
		const { value, ticks, late } = formulas[1].numbers;
		expect(found.at(-1)!.value).toBe(Number(value.num));
		expect(
			intervalTicks({ mode: mode as 'up', rule: used!.rule, width: used!.width, value: Number(value.num), late: Number(late.num) })
		).toBe(Number(ticks.num));
	});
});

describe('a captured rate', () => {
	const capture = (change: Partial<AimOf<'capture'>>) => only('wind', change);
	test('takes the roundest tick near the smallest prescale that reaches the lowest rate', () => {
		// 72 MHz / P / 65535 <= 2 Hz from P = 550 on; 576 makes a tick of 8 us, of which one count at 200 Hz is 0.16 %.
		expect(strip(capture({}))).toEqual(['prescale 576', 'every 1']);
		expect(figure(capture({}), 'step-high')).toBe('1/625');
		expect(codes(capture({}))).toEqual([]);
	});
	test('takes more edges where one is too coarse', () => {
		expect(strip(capture({ lowest: '10 kHz', highest: '100 kHz', step: '0.05 %' }))).toEqual(['prescale 1', 'every 4']);
		expect(derived(capture({})).table!.rows.map((row) => row.chosen)).toEqual([true, false, false, false]);
		expect(derived(capture({})).charts![0].series.length).toBe(4);
	});
	test.each<[string, Partial<AimOf<'capture'>>, string[]]>([
		['below what any prescale reaches', { lowest: '0.001 Hz', step: '50 %' }, ['capture-wraps']],
		['finer than any count', { step: '1 ppm' }, ['capture-coarse']],
		['faster than the processor serves', { highest: '2 MHz', lowest: '1 MHz', step: '50 %', every: '1' }, ['capture-service']],
		['a range the wrong way round', { lowest: '1 kHz', highest: '10 Hz' }, ['range-reversed']],
		['an edge choice that is not offered', { every: '3' }, ['place-missing']],
		['a channel that is not there', { channel: 'gone' }, ['place-missing']],
		['a step without a unit', { step: '2' }, ['field step']]
	])('%s', (_, change, want) => expect(codes(capture(change))).toEqual(want));
	test('a range too wide for one choice of edges is cut at switch-over points that overlap', () => {
		// P = 55 reaches 20 Hz; one edge keeps 0.1 % up to 1309 Hz, two up to 2618 Hz.
		const wide = capture({ lowest: '20 Hz', highest: '2 kHz', step: '0.1 %' });
		expect(codes(wide)).toEqual([]);
		expect(strip(wide)).toEqual(['prescale 55', 'every 1']);
		const rows = derived(wide)
			.table!.rows.filter((row) => row.chosen)
			.map((row) => row.values.map(String));
		expect(rows.map(([every, , , up, down]) => [every, up, down])).toEqual([
			['1/1', '14400/11', 'null'],
			['2/1', '28800/11', '12600/11']
		]);
		// Coming down, the larger count is left where the smaller still keeps the step: 1145 Hz lies below 1309 Hz.
		expect(codes(capture({ lowest: '20 Hz', highest: '20 kHz', step: '0.1 %' }))).toEqual(['capture-coarse']);
	});
	test('with overflows counted there is no lowest', () => {
		expect(strip(capture({ lowest: '0.001 Hz', overflows: 'counted' }))[0]).toBe('prescale 1');
		expect(codes(capture({ lowest: '0.001 Hz', overflows: 'counted' }))).toEqual([]);
	});
});

describe('an encoder', () => {
	const encoder = (change: Partial<AimOf<'encoder'>>) => only('azimuth', change);
	test('of 4096 cycles at all edges counts 16384 a turn', () => {
		expect(strip(encoder({}))).toEqual(['times 4', 'reload 16383']);
		// 6 rpm is a tenth of a turn a second: 1638.4 edges, 610 us apart.
		expect([figure(encoder({}), 'edge-spacing'), figure(encoder({}), 'filter-window')]).toEqual(['5/8192', '1/9000000']);
		expect(codes(encoder({}))).toEqual([]);
	});
	test.each<[string, Partial<AimOf<'encoder'>>, string[]]>([
		['more counts than fit', { timer: 'timer-c', range: '5 turns' }, ['counts-do-not-fit']],
		['a range of no whole count', { range: '1/3 turns' }, ['counts-not-whole']],
		['a filter slower than the edges', { filter: '7', speed: '30000 rpm' }, ['filter-too-slow']],
		['clamping, which is software', { ends: 'clamp' }, ['software-clamp']],
		['a timer without one', { timer: 'timer-g' }, ['cannot-job']],
		['a filter that is not there', { filter: '99' }, ['place-missing']],
		['a speed that is none', { speed: '6 kg' }, ['field speed']]
	])('%s', (_, change, want) => expect(codes(encoder(change))).toEqual(want));
	test('a range in degrees is one in turns', () => expect(figure(encoder({ range: '90 deg' }), 'counts')).toBe('4096/1'));
});

describe('a one-shot', () => {
	const shot = (change: Partial<AimOf<'oneshot'>>) => only('shutter', change);
	test('takes the finest prescale that meets delay and width, though a finer one holds them', () => {
		// 20.5 ms x 72 MHz = 1476000 ticks: 23 is the first with 65536 or fewer; 24 makes 36000 and 1440000 cycles whole ticks.
		const [prescale, compare, reload] = strip(shot({}));
		expect(prescale).toBe('prescale 24');
		expect([compare, reload]).toEqual(['compare 1500', 'reload 61499']);
		expect(figure(shot({}), 'latency')).toBe('1/36000000');
		expect(codes(shot({}))).toEqual([]);
	});
	test.each<[string, Partial<AimOf<'oneshot'>>, string[]]>([
		['longer than the timer reaches', { width: '10 min' }, ['time-too-long']],
		['a delay below a tick', { delay: '1 ns' }, ['time-too-short']],
		['a delay of nothing', { delay: '0 us' }, ['field delay']],
		['a number without a unit', { width: '20' }, ['field width']],
		['an input that is not there', { input: 'gone' }, ['place-missing']],
		['a timer without a channel for it', { timer: 'timer-g' }, ['place-missing']],
		['a width the steps miss', { width: '1.000003 ms', delay: '60 ms', tolerance: '1 ppm' }, ['time-outside', 'source-loose']]
	])('%s', (_, change, want) => expect(codes(shot(change))).toEqual(want));
	test('its table holds a row for every doubling, the one taken, and all that meet the wish', () => {
		const { rows } = derived(shot({})).table!;
		expect(rows.filter((row) => row.chosen).map((row) => row.values[0]!.toString())).toEqual(['24/1']);
		const exact = rows.filter(({ values }) => values[3] instanceof Rational && values[3].sign === 0);
		// Divisors of 36000 and of 1440000 from 24 on, as far as they are listed.
		expect(exact.slice(0, 4).map(({ values }) => values[0]!.toString())).toEqual(['24/1', '25/1', '30/1', '32/1']);
	});
});

/** A fresh job of a kind on Heron-32 at 72 MHz, changed. */
const fresh = (kind: 'toggle' | 'pair', change: object): Plan => ({
	...demo,
	aims: [{ ...newAim(kind, 'n', 'new', { ...demo, aims: [] })!, ...change }]
});

describe('a clock by toggling', () => {
	const toggle = (change: Partial<AimOf<'toggle'>>) => fresh('toggle', change);
	test('of 1 kHz changes every 36000 ticks', () => {
		expect(strip(toggle({}))).toEqual(['prescale 1', 'reload 35999', 'compare 35999']);
		expect([figure(toggle({}), 'rate'), figure(toggle({}), 'half')]).toEqual(['1000/1', '1/2000']);
		expect(codes(toggle({}))).toEqual([]);
	});
	test.each<[string, Partial<AimOf<'toggle'>>, string[]]>([
		['too slow', { rate: '1 mHz' }, ['time-too-long']],
		['too fast', { rate: '72 MHz' }, ['time-too-short']],
		['between two settings', { rate: '11 MHz', tolerance: '100 ppm' }, ['time-outside']],
		['a channel that is not there', { channel: 'gone' }, ['place-missing']],
		['a rate that is none', { rate: '35 %' }, ['field rate']]
	])('%s', (_, change, want) => expect(codes(toggle(change))).toEqual(want));
	test('a timer without such an output says so', () => {
		const part = shippedPart('plover-16')!;
		const aim = { ...newAim('toggle', 'n', 'new', newPlan('x', part))!, timer: 'core-count', channel: 'due' } as Aim;
		expect(codes({ ...newPlan('x', part), aims: [aim] })).toEqual(['cannot-job']);
	});
});

describe('a complementary pair', () => {
	const pair = (change: Partial<AimOf<'pair'>>) => fresh('pair', change);
	test('of 20 kHz with 1 us between: 72 cycles are code 66 of the second segment', () => {
		// 3600 ticks; segment 64..127 has base 64 and steps of 4: 64 + 2 x 4 = 72.
		expect(strip(pair({}))).toEqual(['prescale 1', 'reload 3599', 'compare 1800', 'dead 72']);
		expect(derived(pair({})).strip.at(-1)!.register!.value).toBe(66);
		// Half of 50 us less 1 us each; 2 us of 50 are dead.
		expect(['main', 'complementary', 'dead-share'].map((name) => figure(pair({}), name))).toEqual(['3/125000', '3/125000', '1/25']);
		expect(codes(pair({}))).toEqual([]);
	});
	test('a wish between two codes takes the longer', () => expect(figure(pair({ dead: '1.01 us' }), 'dead')).toBe('19/18000000'));
	test('with a repeat count updates come less often', () => {
		expect(figure(pair({ repeat: '3' }), 'updates')).toBe('5000/1');
		expect(strip(pair({ repeat: '3' })).at(-1)).toBe('repeat 3');
	});
	test.each<[string, Partial<AimOf<'pair'>>, string[]]>([
		['a main pulse shorter than the dead time', { duty: '1 %' }, ['swallowed']],
		['a complementary one', { duty: '99 %' }, ['swallowed']],
		['a dead time that no code has', { dead: '1 ms' }, ['dead-too-long']],
		['a repeat count beyond the register', { repeat: '256' }, ['repeat-refused']],
		['an on-time longer than the period', { duty: '1 ms on' }, ['duty-outside']],
		['a channel without a complement', { channel: 'ch4' }, ['place-missing']],
		['a dead time without a unit', { dead: '5' }, ['field dead']],
		['a duty over 100 %', { duty: '120 %' }, ['field duty']]
	])('%s', (_, change, want) => expect(codes(pair(change))).toEqual(want));
	test('0 % leaves the main pin low without a word: nothing was swallowed', () => expect(codes(pair({ duty: '0 %' }))).toEqual([]));
});

describe('jobs and their timers', () => {
	test('a second aim on the timer of a job that shares nothing is told', () => {
		const twin = { ...jobOf('azimuth'), id: 'second', name: 'second' };
		expect(codes({ ...demo, aims: [jobOf('azimuth'), twin] })).toEqual(['timer-taken']);
	});
	test('two captures share a freely counting timer and its prescale, each with a channel of its own', () => {
		const second = { ...jobOf('wind'), id: 'second', name: 'second', lowest: '100 Hz', highest: '200 Hz', step: '1 %' } as AimOf<'capture'>;
		expect(codes({ ...demo, aims: [jobOf('wind'), second] })).toContain('channel-shared');
		const plan = { ...demo, aims: [jobOf('wind'), { ...second, channel: 'ch2' }] };
		expect(codes(plan)).toEqual([]);
		const shared = derivePlan(plan).aims[1];
		// Alone it would take 72 MHz / 100 Hz / 65535, so 11; the first has 550.
		expect([shared.sharedWith?.name, shared.strip[0].value]).toEqual(['wind cups', 576]);
	});
	test('a pulse and a capture do not share one', () => {
		const pulse = { ...freshAim('pwm', 'p', 'pulse', 'timer-f', { channel: 'ch2' }), rate: '20 kHz' };
		expect(codes({ ...demo, aims: [jobOf('wind'), pulse] })).toEqual(['timer-taken']);
	});
	const KINDS = ['tick', 'capture', 'width', 'encoder', 'oneshot', 'toggle', 'pair', 'divided', 'follower', 'table', 'pattern'] as const;
	test('a fresh one of every kind is met as it stands, on every part that can do it', () => {
		for (const part of ['heron-32', 'plover-16', 'sprat-8'].map((id) => shippedPart(id)!))
			for (const kind of KINDS) {
				const place = kind === 'follower' ? pulsePlaces(part)[0] : undefined;
				const led = place ? [freshAim('pwm', 'l', 'leader', place.timer.id, { channel: place.channel.id })] : [];
				const plan: Plan = { ...newPlan('x', part), aims: led };
				const job = newAim(kind, 'n', 'new', plan);
				if (!job) continue;
				const found = checkPlan(derivePlan({ ...plan, aims: [...led, job] })).filter((f) => f.aim === 'n' && f.severity === 'fault');
				expect([part.id, kind, found.map((f) => f.code)]).toEqual([part.id, kind, []]);
			}
	});
	test('a plan of version 2 is read as it was, with its pulses', () => {
		const read = readPlan(secondPlan);
		expect([secondPlan.version, read.version]).toEqual([2, PLAN_VERSION]);
		expect(read.aims.map(({ id, name, timer }) => [id, name, timer])).toEqual(
			secondPlan.aims.map(({ id, name, timer }) => [id, name, timer])
		);
		expect(read.clock).toEqual(secondPlan.clock);
	});
	test('a plan of version 4 keeps every word; its shapes get a filter, and nothing comes from outside', () => {
		const read = readPlan(fourthPlan);
		for (const [i, aim] of fourthPlan.aims.entries()) expect(read.aims[i]).toMatchObject(aim);
		expect([fourthPlan.version, read.version, read.stimuli, read.changes]).toEqual([4, PLAN_VERSION, {}, []]);
		expect(read.aims.find(({ kind }) => kind === 'table')).toMatchObject({ filter: 'rc', resistance: '1 kOhm', capacitance: '1 uF' });
	});
	test('a plan of version 3 keeps every word, and what it did not say is as it was meant', () => {
		const read = readPlan(thirdPlan);
		for (const [i, aim] of thirdPlan.aims.entries()) expect(read.aims[i]).toMatchObject(aim);
		expect(read.aims[0]).toMatchObject({ align: 'auto', output: 'auto', sweep: '', group: '', pins: {} });
		expect(codes(read)).toEqual([]);
	});
});
