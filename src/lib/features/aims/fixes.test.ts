import { describe, expect, test } from 'vitest';
import { type Aim, type AimOf, freshAim } from '../../../core/aims/index.js';
import { type Plan, applyStep, derivePlan, fernhollow, invertStep, planDocument } from '../../../core/plan/index.js';
import { checkPlan, servers } from '../../../core/check/index.js';
import { shippedPart } from '../../../core/part/index.js';
import { findingText } from '../../text/index.js';
import { fixesOf } from './fixes.js';

/**
 * The mistakes of the trade, each with an aim that makes it and the same aim without it, and the press that fixes it.
 * Heron-32 runs at 72 MHz, from 8 MHz at reset.
 */
const demo = fernhollow();
const planOf = (aims: Aim[], part = demo.part, clock = demo.clock): Plan => planDocument.parse({ ...demo, part, clock, aims });
const pulse = (change: Partial<AimOf<'pwm'>>, id = 'x'): AimOf<'pwm'> => ({
	...freshAim('pwm', id, id, 'timer-d', { channel: 'ch1' }),
	rate: '1.2 kHz',
	...change
});
const leader = pulse({ timer: 'timer-b' }, 'leader');
const follower = (change: object) => freshAim('follower', 'x', 'follower', 'timer-d', { leader: 'leader', lag: '1/3', ...change });
const motor = freshAim('pair', 'motor', 'motor', 'timer-a', {});
const sprat = { part: shippedPart('sprat-8')!, clock: { source: 'crystal', core: '1' } };
const plover = { part: shippedPart('plover-16')!, clock: { main: 'crystal', side: '2' } };
const shot = (change: object) => freshAim('oneshot', 'x', 'shot', 'timer-e', { bounce: '200 us', ...change });
const capture = (change: object) => freshAim('capture', 'x', 'cups', 'timer-f', change);
const table = (change: object) => freshAim('table', 'x', 'coil', 'timer-a', change);

interface Case {
	/** Which mistake. */
	code: string;
	wrong: Aim[];
	right: Aim[];
	/** The words of its fix; left out where only a person can say. */
	fix?: string;
	on?: { part: Plan['part']; clock: Plan['clock'] };
}

const CASES: Case[] = [
	{ code: 'output-off', wrong: [pulse({ enable: 'off' })], right: [pulse({})], fix: 'Enable the output' },
	{
		code: 'interrupt-off',
		wrong: [freshAim('tick', 'x', 'tick', 'timer-g', { interrupt: 'off' })],
		right: [freshAim('tick', 'x', 'tick', 'timer-g', { interrupt: 'off', notice: 'polling' })],
		fix: 'Enable the interrupt'
	},
	{ code: 'flag-kept', wrong: [table({ flag: 'kept' })], right: [table({ flag: 'cleared' })], fix: 'Clear the flag' },
	{
		code: 'priority-differs',
		wrong: [capture({ priority: '2', handler: '1' })],
		right: [capture({ priority: '1', handler: '1' })],
		fix: 'Set priority 1'
	},
	{
		code: 'updates-idle',
		wrong: [freshAim('pair', 'x', 'pair', 'timer-a', { align: 'up', updates: 'both' })],
		right: [freshAim('pair', 'x', 'pair', 'timer-a', { align: 'updown', updates: 'both' })],
		fix: 'Leave it to the timer'
	},
	// 60000 ticks are reload 59999.
	{
		code: 'held-off-by-one',
		wrong: [pulse({ tolerance: '1 ppm', locks: { reload: '60000' } })],
		right: [pulse({ locks: { reload: '59999' } })],
		fix: 'Hold 59999'
	},
	{
		code: 'held-off-by-one',
		wrong: [pulse({ tolerance: '1 ppm', rate: '12 kHz', locks: { prescale: '11', reload: '599' } })],
		right: [pulse({ rate: '12 kHz', locks: { prescale: '10', reload: '599' } })],
		fix: 'Hold 10'
	},
	// 0xEA5F with its bytes swapped is 0x5FEA.
	{
		code: 'held-bytes-swapped',
		wrong: [pulse({ locks: { prescale: '1', reload: '0x5FEA' } })],
		right: [pulse({ locks: { reload: '0xEA5F' } })],
		fix: 'Hold 59999'
	},
	// 8 MHz / 1.2 kHz is 6666.7; 36 MHz, the bus before its doubling, is 4 x 7500.
	{
		code: 'held-other-clock',
		wrong: [pulse({ locks: { prescale: '1', reload: '6666' } })],
		right: [pulse({})],
		fix: 'Let go of prescale'
	},
	{
		code: 'held-other-clock',
		wrong: [pulse({ locks: { prescale: '4', reload: '7499' } })],
		right: [pulse({ locks: { prescale: '8', reload: '7499' } })],
		fix: 'Let go of reload'
	},
	{
		code: 'locks-conflict',
		wrong: [pulse({ locks: { prescale: '3', reload: '7' } })],
		right: [pulse({ locks: { prescale: '3' } })],
		fix: 'Let go of prescale'
	},
	{
		code: 'lock-refused',
		wrong: [pulse({ locks: { reload: '65536' } })],
		right: [pulse({ locks: { reload: '59999' } })],
		fix: 'Let go of reload'
	},
	{
		code: 'lock-overruled',
		wrong: [pulse({}, 'first'), pulse({ channel: 'ch2', locks: { reload: '100' } })],
		right: [pulse({}, 'first'), pulse({ channel: 'ch2', locks: { reload: '0xEA5F' } })],
		fix: 'Let go of reload'
	},
	// 35 % of 60000 is 21000; of the 72000 before the frequency was changed, 25200.
	{
		code: 'held-compare-off',
		wrong: [pulse({ duty: '35 %', locks: { compare: '25200' } })],
		right: [pulse({ duty: '35 %', locks: { compare: '21000' } })],
		fix: 'Hold 21000'
	},
	{
		code: 'reload-shared',
		wrong: [pulse({}, 'first'), pulse({ channel: 'ch2', rate: '2 kHz' })],
		right: [pulse({}, 'first'), pulse({ channel: 'ch2' })],
		fix: 'Move to Timer A'
	},
	{
		code: 'channel-shared',
		wrong: [pulse({}, 'first'), pulse({})],
		right: [pulse({}, 'first'), pulse({ channel: 'ch2' })],
		fix: 'Move to Timer A'
	},
	{
		code: 'mode-clash',
		wrong: [pulse({}, 'first'), pulse({ channel: 'ch2', align: 'updown' })],
		right: [pulse({}, 'first'), pulse({ channel: 'ch2' })],
		fix: 'Move to Timer A'
	},
	{
		code: 'timer-taken',
		wrong: [freshAim('encoder', 'e', 'e', 'timer-d', {}), pulse({})],
		right: [freshAim('encoder', 'e', 'e', 'timer-c', {}), pulse({})],
		fix: 'Move to Timer A'
	},
	{ code: 'channel-no-pulse', wrong: [pulse({ output: '2' })], right: [pulse({ output: '1' })], fix: 'Leave it to the part' },
	{ code: 'unbuffered', wrong: [pulse({ sweep: '80 %', writes: 'immediate' })], right: [pulse({ sweep: '80 %' })], fix: 'Write buffered' },
	{ code: 'sweep-empty', wrong: [pulse({ sweep: '50 %' })], right: [pulse({ sweep: '60 %' })] },
	{ code: 'table-late', wrong: [table({ prefill: 'no' })], right: [table({})], fix: 'Fill before the start' },
	{ code: 'no-route', wrong: [leader, follower({ timer: 'timer-h' })], right: [leader, follower({})], fix: 'Move to Timer A' },
	{
		code: 'no-action',
		wrong: [pulse({ timer: 'counter-a', channel: 'out1' }, 'leader'), follower({ timer: 'counter-b', channel: 'out1', action: 'reset' })],
		right: [pulse({ timer: 'counter-a', channel: 'out1' }, 'leader'), follower({ timer: 'counter-b', channel: 'out1' })],
		on: plover
	},
	{ code: 'part-as-percent', wrong: [leader, follower({ lag: '33 %' })], right: [leader, follower({ lag: '1/3' })], fix: 'Take 1/3' },
	{ code: 'lag-below-latency', wrong: [leader, follower({ lag: '0' })], right: [leader, follower({ lag: '1 us' })] },
	{
		code: 'drifts',
		wrong: [motor, pulse({}, 'leader'), follower({ timer: 'timer-a', channel: 'ch4', leader: 'leader' })].map((aim) =>
			aim.id === 'leader' ? { ...aim, timer: 'timer-b' } : aim
		),
		right: [leader, follower({})],
		fix: 'Reset it each period'
	},
	{ code: 'capture-wraps', wrong: [capture({ lowest: '0.001 Hz', step: '50 %' })], right: [capture({})], fix: 'Count overflows' },
	{
		code: 'capture-coarse',
		wrong: [capture({ highest: '1 MHz', lowest: '100 Hz', step: '0.1 %', gate: '1 s' })],
		right: [capture({})],
		fix: 'Count edges where that is finer'
	},
	{
		code: 'gate-coarse',
		wrong: [capture({ timer: 'timer-e', method: 'gated' })],
		right: [capture({ timer: 'timer-e', method: 'gated', gate: '10 s' })]
	},
	{
		code: 'gate-full',
		wrong: [capture({ timer: 'timer-e', method: 'gated', gate: '100 s' })],
		right: [capture({ timer: 'timer-e', method: 'gated', gate: '10 s' })]
	},
	{
		code: 'width-wraps',
		wrong: [freshAim('width', 'x', 'w', 'timer-f', { longest: '10 min', step: '60 %' })],
		right: [freshAim('width', 'x', 'w', 'timer-f', {})],
		fix: 'Count overflows'
	},
	{
		code: 'filter-too-slow',
		wrong: [capture({ filter: '7', highest: '90 kHz' })],
		right: [capture({ filter: '1', highest: '90 kHz' })],
		fix: 'Take a faster filter'
	},
	{ code: 'bounce-longer', wrong: [shot({ bounce: '2 ms' })], right: [shot({ bounce: '1 ms' })] },
	{ code: 'bounce-restarts', wrong: [shot({ retrigger: 'restart' })], right: [shot({})], fix: 'Ignore further edges' },
	{
		code: 'software-late',
		wrong: [freshAim('tick', 'x', 't', 'timer-1', { mode: 'clear' })],
		right: [freshAim('tick', 'x', 't', 'timer-1', { mode: 'up' })],
		fix: 'Count up to a reload',
		on: sprat
	},
	{
		code: 'no-interrupt',
		wrong: [freshAim('tick', 'x', 't', 'core-down', { mode: 'down' })],
		right: [freshAim('tick', 'x', 't', 'core-down', { mode: 'down' })],
		fix: 'Notice it by polling'
	},
	{ code: 'not-paced', wrong: [freshAim('pattern', 'x', 'p', 'core-down', {})], right: [freshAim('pattern', 'x', 'p', 'timer-g', {})] },
	{
		code: 'pin-shared',
		wrong: [
			pulse({ pins: { ch1: 'b6' } }, 'first'),
			freshAim('pattern', 'x', 'p', 'timer-g', { lines: [{ id: 'l', name: 'l', pin: 'B6', bit: '0', levels: '01' }] })
		],
		right: [pulse({}), freshAim('pattern', 'p', 'p', 'timer-g', {})]
	},
	{ code: 'pin-missing', wrong: [pulse({ pins: { ch1: 'a0' } })], right: [pulse({ pins: { ch1: 'b6' } })], fix: 'Take a free pin' },
	{ code: 'rate-too-slow', wrong: [pulse({ rate: '0.005 Hz', bits: '8' })], right: [pulse({})], fix: 'Move to Timer B' },
	// An 8-bit counter that is held at its largest leaves one tick; the compare reaches 255 of 256.
	{
		code: 'full-duty-unreachable',
		wrong: [pulse({ locks: { reload: '65535' }, tolerance: '60 %' })],
		right: [pulse({})],
		fix: 'Hold reload 65534'
	},
	{
		code: 'no-duty-unreachable',
		wrong: [{ ...freshAim('pwm', 'x', 'x', 'timer-0', { channel: 'a' }), rate: '5 kHz', duty: '0 %' }],
		right: [{ ...freshAim('pwm', 'x', 'x', 'timer-0', { channel: 'a' }), rate: '5 kHz', duty: '1 %' }],
		on: sprat
	}
];

describe.each(CASES)('$code', ({ code, wrong, right, fix, on = demo }) => {
	const part = code === 'no-interrupt' ? withoutInterrupts(on.part) : on.part;
	const plan = planOf(wrong, part, on.clock);
	const found = checkPlan(derivePlan(plan)).filter((finding) => finding.code === code && finding.aim === 'x');
	test('is found, in words without a gap', () => {
		expect(checkPlan(derivePlan(plan)).map((finding) => finding.code)).toContain(code);
		expect(found.length).toBe(1);
		expect(findingText(found[0])).toMatch(/^[A-Z0-9“−≈].*[.?]$/);
		expect(findingText(found[0])).not.toMatch(/undefined|NaN|\[object/);
	});
	test('is not found where all is well', () => {
		expect(checkPlan(derivePlan(planOf(right, on.part, on.clock))).map((finding) => finding.code)).not.toContain(code);
	});
	test(fix === undefined ? 'is left to a person' : 'is mended by one press, and undone by another', () => {
		const fixes = fixesOf(plan, found[0]);
		if (fix === undefined) {
			expect(fixes.filter(({ text }) => !text.startsWith('Move'))).toEqual([]);
			return;
		}
		const press = fixes.find(({ text }) => text === fix);
		expect(fixes.map(({ text }) => text)).toContain(fix);
		const mended = applyStep(plan, press!.step);
		const left = checkPlan(derivePlan(mended)).filter((finding) => finding.aim === 'x');
		expect(left.map((finding) => finding.code)).not.toContain(code);
		expect(applyStep(mended, invertStep(press!.step))).toEqual(plan);
	});
});

function withoutInterrupts(part: Plan['part']): Plan['part'] {
	return { ...part, timers: part.timers.map((timer) => (timer.id === 'core-down' ? { ...timer, interrupts: [] } : timer)) };
}

describe('which timers could serve', () => {
	const reasons = (plan: Plan, id: string) =>
		Object.fromEntries(
			servers(
				plan,
				plan.aims.find((aim) => aim.id === id)!
			).map(({ timer, own, aim, faults }) => [
				timer.id,
				own ? 'here' : !aim ? 'cannot' : faults.length === 0 ? 'serves' : `${faults[0].aim}: ${faults[0].code}`
			])
		);
	test('every timer of the part has an answer', () => {
		expect(reasons(demo, 'azimuth')).toEqual({
			'timer-a': 'azimuth: timer-taken',
			'timer-b': 'here',
			'timer-c': 'heater-c: timer-taken',
			'timer-d': 'azimuth: timer-taken',
			'timer-e': 'shutter: timer-taken',
			'timer-f': 'cannot',
			'timer-g': 'cannot',
			'timer-h': 'cannot',
			'core-down': 'cannot'
		});
	});
	test('one that would push another aim out is told with that aim', () => {
		// The heater stands before the wind cups, and would have Timer F first.
		expect(reasons(demo, 'heater-a')['timer-f']).toBe('wind: timer-taken');
	});
	test('a free one serves', () => {
		const alone = planOf([demo.aims.find(({ id }) => id === 'azimuth') as Aim]);
		expect(reasons(alone, 'azimuth')).toMatchObject({ 'timer-a': 'serves', 'timer-c': 'serves', 'timer-f': 'cannot' });
	});
});
