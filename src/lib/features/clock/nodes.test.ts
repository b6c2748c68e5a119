import { describe, expect, test } from 'vitest';
import { Rational } from '../../../core/exact/index.js';
import { type Plan, fernhollow, planClocks, planQuestion } from '../../../core/plan/index.js';
import { nodeName, arithmetic } from '../../text/index.js';
import { aimsByKernel, aimsOn, draggedText, frequencyText, neighbours, settable, steppedText } from './nodes.js';
import { ClockBranches } from '../../session/clockBranches.js';
import { clockProblem, typedClock } from './clockFields.js';

/** The demo with its first aim alone, on Timer A. */
const plan: Plan = {
	...fernhollow(),
	aims: fernhollow()
		.aims.slice(0, 1)
		.map((aim) => ({ ...aim, timer: 'timer-a' }))
};
const clocks = planClocks(plan);
const node = (id: string) => plan.part.clock.find((n) => n.id === id)!;
const named = (id: string) => nodeName(plan, id);
const withClock = (clock: Plan['clock']): Plan => ({ ...plan, clock: { ...plan.clock, ...clock } });

describe('steps of a node', () => {
	test.each<[string, 1 | -1, string | undefined]>([
		['crystal', 1, '13 MHz'],
		['crystal', -1, '11 MHz'],
		['slow', 1, '33.768 kHz'],
		['rc', 1, undefined],
		['loop', 1, '13'],
		['loop', -1, '11'],
		// A smaller divisor is a higher rate.
		['loop-out', 1, '1'],
		['loop-out', -1, '3'],
		['bus-a', 1, '1'],
		['bus-b', 1, undefined],
		['sampler', -1, '8'],
		['core-source', 1, 'crystal'],
		['core-source', -1, undefined],
		['timer-b-on', 1, 'on'],
		['timer-b-on', -1, undefined],
		['timers-a', 1, undefined]
	])('%s by %i', (id, way, want) => expect(steppedText(clocks, node(id), way)).toBe(want));

	test('a list that is not in order steps to the next larger or smaller all the same', () => {
		const odd = { ...node('bus-a'), by: [8, 1, 4, 2], reset: 2 } as Parameters<typeof steppedText>[1];
		expect([steppedText(clocks, odd, 1), steppedText(clocks, odd, -1)]).toEqual(['1', '4']);
	});
});

describe('dragging a node', () => {
	test.each<[string, number, string | undefined]>([
		// 144 MHz by 1 to 8: 50 MHz is nearest to a third.
		['loop-out', 50e6, '3'],
		['loop-out', 1e3, '8'],
		['loop', 200e6, '17'],
		['crystal', 7.7777e6, '7.78 MHz'],
		['core-source', 9e6, 'rc'],
		['core-source', 60e6, 'loop-out'],
		['rc', 1e6, undefined],
		['timers-a', 1e6, undefined],
		['loop', NaN, undefined]
	])('%s to %d Hz', (id, hz, want) => expect(draggedText(clocks, node(id), hz)).toBe(want));

	test('the tie between two factors takes the larger', () => {
		expect(draggedText(clocks, node('bus-b'), 72e6 / 3)).toBe('4');
	});
});

describe('the branches of a node', () => {
	const branches = new ClockBranches(clocks);
	test('followers are what takes its clock as it is set', () => {
		expect([...branches.behind('bus-a')].sort()).toEqual([
			'bus-a',
			'timer-b-on',
			'timer-c-on',
			'timer-d-on',
			'timer-e-on',
			'timer-g-on',
			'timers-a'
		]);
		expect(branches.behind('rc').has('core')).toBe(false);
	});
	test('the way leads to its source', () => expect([...branches.before('loop')]).toEqual(['loop', 'loop-in', 'loop-source', 'crystal']));
	test('aims hang on all that leads to their timer', () => {
		expect(aimsOn(plan, branches.behind('crystal')).map((aim) => aim.id)).toEqual(['heater-a']);
		expect(aimsOn(plan, branches.behind('bus-a'))).toEqual([]);
		expect([...aimsByKernel(plan).keys()]).toEqual(['timer-a-on']);
	});
	test('neighbours are told with the timers at a node', () => {
		expect(neighbours(plan.part, 'bus-b')).toEqual({ from: ['core'], to: ['timers-b', 'sampler'], timers: [] });
		expect(neighbours(plan.part, 'timer-a-on').timers).toEqual(['Timer A']);
	});
});

describe('what is said of a node', () => {
	test('its arithmetic, with the reason of a doubling', () => {
		expect(arithmetic(clocks, 'timers-a', named)).toBe(
			'12 MHz (Crystal) ÷ 1 (Loop input) × 12 (Loop) ÷ 2 (Loop output) ÷ 1 (Core) ÷ 2 (Bus A) × 2 (Timers on bus A, since Bus A divides by 2) = 72 MHz'
		);
	});
	test('a stopped one names what is closed, an unknown one says so', () => {
		expect(arithmetic(clocks, 'timer-b-on', named)).toBe('Timer B clock is stopped: Timer B clock is closed.');
		expect(arithmetic(planClocks(withClock({ loop: 'many' })), 'core', named)).toBe('Core is unknown: a setting before it makes no sense.');
	});
	test('its own name in this plan comes first', () => {
		const renamed = { ...plan, labels: { core: { name: 'CPU', note: '' }, loop: { name: '  ', note: 'n' } } };
		expect([nodeName(renamed, 'core'), nodeName(renamed, 'loop'), nodeName(renamed, 'gone')]).toEqual(['CPU', 'Loop', 'gone']);
	});
	test('its field holds what was typed, or the reset setting', () => {
		expect([
			typedClock(plan, node('loop')),
			typedClock(plan, node('loop-in')),
			typedClock(plan, node('slow')),
			typedClock(plan, node('timers-a'))
		]).toEqual(['12', '1', '32.768 kHz', '']);
		expect(clockProblem(withClock({ loop: '99' }), node('loop'))).toBe('Not offered here; 8 to 72 is.');
		expect(clockProblem(withClock({ loop: '-1' }), node('loop'))).toContain('above zero');
		expect(clockProblem(withClock({ crystal: '1e30 Hz' }), node('crystal'))).toBeUndefined();
		expect(clockProblem(plan, node('core-source'))).toBeUndefined();
	});
	test('frequencies are written as one types them, exactly', () => {
		expect([
			frequencyText(Rational.parse('12345678')),
			frequencyText(Rational.parse('1500')),
			frequencyText(Rational.parse('1/3'))
		]).toEqual(['12.345678 MHz', '1.5 kHz', '1/3 Hz']);
	});
	test('one factor alone leaves nothing to set', () =>
		expect(['core-eighth', 'rc', 'loop', 'timers-a'].map((id) => settable(node(id)))).toEqual([false, false, true, false]));
});

describe('gates', () => {
	test('open for an aim’s timer, unless the plan says otherwise', () => {
		const hz = (doc: Plan) => planClocks(doc).rate('timer-a-on')?.toNumber() ?? null;
		expect(hz(plan)).toBe(72e6);
		expect(hz({ ...plan, aims: [] })).toBeNull();
		expect(hz(withClock({ 'timer-a-on': 'off' }))).toBeNull();
		expect(planClocks(plan, {}, 'as-set').rate('timer-a-on')).toBeNull();
	});
});

describe('planQuestion', () => {
	test('takes the wishes that make sense and says what is wrong with the others', () => {
		const wish = (id: string, more: object) => ({ id, node: 'core', kind: 'nearest' as const, value: '48 MHz', ...more });
		const wishes = [
			wish('a', {}),
			wish('b', { value: 'soon' }),
			wish('c', { node: 'gone' }),
			wish('d', { kind: 'equal', value: 'core' }),
			wish('e', { kind: 'highest', value: '' }),
			wish('f', { value: '850 us' })
		];
		const { question, problems } = planQuestion({ ...plan, wishes: wishes, held: ['loop'] });
		expect(question.wishes.map((w) => w.kind)).toEqual(['nearest', 'highest', 'nearest']);
		expect([...problems]).toEqual([
			['b', { reason: 'no-number', expected: 'rate' }],
			['c', 'no-node'],
			['d', 'own-node']
		]);
		expect(question.held.has('loop')).toBe(true);
	});
});
