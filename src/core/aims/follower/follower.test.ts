import { describe, expect, test } from 'vitest';
import { checkPlan } from '../../check/index.js';
import { shippedPart } from '../../part/index.js';
import { derivePlan, fernhollow, type Plan } from '../../plan/index.js';
import { freshAim, type Aim, type AimOf } from '../index.js';

const demo = fernhollow();
const leader = (timer = 'timer-b', change: Partial<AimOf<'pwm'>> = {}) => freshAim('pwm', 'l', 'l', timer, { rate: '1.2 kHz', ...change });
const follower = (id: string, timer: string, change: Partial<AimOf<'follower'>>) =>
	freshAim('follower', id, id, timer, { leader: 'l', lagTolerance: '0', ...change });

function derived(aims: Aim[], part = demo.part) {
	const plan: Plan = { ...demo, part, aims };
	const derivation = derivePlan(plan);
	const codes = (id: string) => checkPlan(derivation).flatMap(({ aim, code }) => (aim === id ? [code] : []));
	const figure = (id: string, name: string) =>
		derivation.aims
			.find(({ aim }) => aim.id === id)!
			.figures.find((one) => one.name === name)
			?.value.toString();
	const fields = (id: string) => derivation.aims.find(({ aim }) => aim.id === id)!.fields;
	return { codes, figure, fields, derivation };
}

describe('a follower', () => {
	test('takes its lag in ticks of its leader, and a register’s notation as such', () => {
		// 72 MHz, 60 000 ticks: 20 000 of them are 277.8 us.
		for (const lag of ['20000 ticks', '0x4E20'])
			expect([lag, derived([leader(), follower('f', 'timer-d', { lag })]).figure('f', 'lag')]).toEqual([lag, '1/3600']);
		expect(derived([leader(), follower('f', 'timer-d', { lag: '20000' })]).fields('f').lag).toMatchObject({ reason: 'bare-number' });
	});
	test('tells its place behind the first of its chain, too', () => {
		const chain = derived([
			leader(),
			follower('f', 'timer-d', { lag: '120 deg' }),
			follower('g', 'timer-e', { leader: 'f', lag: '120 deg' })
		]);
		expect([chain.figure('g', 'lag-degrees'), chain.figure('g', 'degrees-first')]).toEqual(['120/1', '240/1']);
		expect(chain.figure('f', 'degrees-first')).toBeUndefined();
	});
	test('of a timer that follows its own is in a ring, whichever aims they are', () => {
		const ring = [
			leader('timer-d'),
			follower('f', 'timer-e', { lag: '0' }),
			freshAim('follower', 'g', 'g', 'timer-d', { leader: 'f', channel: 'ch2', lag: '0' })
		];
		expect([derived(ring).codes('f'), derived(ring).codes('g')]).toEqual([['leader-ring'], ['leader-ring']]);
	});
	test('of a gate counts for as long as the leader’s pulse really is', () => {
		// 1/3 of 4 ticks is 1 tick: the gate is open for a quarter of the period, not a third.
		const coarse = leader('timer-b', { duty: '1/3', locks: { prescale: '15000', reload: '3' } });
		expect(derived([coarse, follower('f', 'timer-d', { action: 'gate', rate: '20 kHz' })]).figure('f', 'gate-on')).toBe('1/4800');
		const none = derived([coarse, follower('f', 'timer-d', { action: 'gate', source: 'level:ch3', rate: '20 kHz' })]);
		expect(none.codes('f')).toContain('gate-never');
	});
	test('of a match that the leader drives has that compare’s lag', () => {
		const by = (lag: string) => derived([leader('timer-b', { duty: '30 %' }), follower('f', 'timer-d', { source: 'match:ch1', lag })]);
		// 18 000 ticks and a cycle.
		expect([by('30 %').figure('f', 'lag'), by('50 %').codes('f')]).toEqual(['18001/72000000', ['lag-outside']]);
		const full = derived([leader('timer-b', { duty: '100 %' }), follower('f', 'timer-d', { source: 'match:ch1' })]);
		expect(full.codes('f')).toContain('lead-unmet');
	});
	test('that is reset by a match of an up-down counter takes one of its turns', () => {
		const by = (change: Partial<AimOf<'follower'>>) =>
			derived([leader('timer-e', { align: 'updown', rate: '1 kHz' }), follower('f', 'timer-h', { action: 'reset', ...change })]);
		expect(by({ lag: '1/2', lagTolerance: '1 us' }).codes('f')).toEqual([]);
		expect(by({ lag: '1/3' }).codes('f')).toEqual(['lag-outside']);
		expect(by({ lag: '1/3', locks: { lead: '777' } }).codes('f')).toEqual(['lead-twice']);
	});
	test('says that its pin is active before it is started, unless the channel has an output that rests', () => {
		const part = structuredClone(shippedPart('heron-32')!);
		const codes = (from: typeof part) =>
			derived([leader(), follower('f', 'timer-d', { lag: '1/2', lagTolerance: '1 us' })], from).codes('f');
		expect(codes(part)).toEqual([]);
		for (const { channels } of part.timers) for (const channel of channels) channel.outputs = channel.outputs.slice(0, 1);
		expect(codes(part)).toEqual(['active-at-rest']);
	});
	test('shares its timer’s one trigger', () => {
		const both = (change: Partial<AimOf<'follower'>>) =>
			derived([
				leader(),
				follower('f', 'timer-d', { lag: '1/3', lagTolerance: '1 us' }),
				follower('g', 'timer-d', { channel: 'ch2', lag: '1/3', lagTolerance: '1 us', ...change })
			]).codes('g');
		expect(both({})).toEqual([]);
		expect(both({ lag: '2/3' })).toEqual(['lag-outside']);
		expect(both({ action: 'reset' })).toEqual(['trigger-shared']);
	});
	test('that is clocked takes no timer that others count the clock with', () => {
		const pulse = freshAim('pwm', 'p', 'p', 'timer-d', { rate: '1 kHz' });
		const clocked = follower('f', 'timer-d', { channel: 'ch2', action: 'clock', rate: '10 Hz' });
		const { codes } = derived([clocked, leader(), pulse]);
		expect([codes('p'), codes('f')]).toEqual([[], ['timer-taken']]);
	});
});

describe('what shares a timer', () => {
	const shape = (id: string, channel: string, change: Partial<AimOf<'table'>> = {}) =>
		freshAim('table', id, id, 'timer-d', { channel, carrier: '20 kHz', base: '500 Hz', ...change });
	test('cannot keep a period that another’s rows set anew', () => {
		const timed = shape('t', 'ch1', { shape: 'own', own: '0, 50 us\n1, 100 us', base: '6.666 kHz', baseTolerance: '1 %' });
		const { codes } = derived([freshAim('pwm', 'p', 'p', 'timer-d', { channel: 'ch2', rate: '20 kHz' }), timed, shape('u', 'ch3')]);
		expect([codes('p'), codes('u')]).toEqual([['period-moves'], ['period-moves']]);
	});
	test('sends one stream of words', () => {
		const pattern = (id: string) => freshAim('pattern', id, id, 'timer-g', {});
		expect(derived([pattern('a'), pattern('b')]).codes('b')).toContain('stream-taken');
	});
	test('repeats as the first pair says', () => {
		const pair = (id: string, channel: string, repeat: string) =>
			freshAim('pair', id, id, 'timer-a', { channel, rate: '20 kHz', duty: '50 %', repeat });
		const { codes, figure } = derived([pair('a', 'ch1', '3'), pair('b', 'ch2', '0')]);
		expect([codes('b'), figure('b', 'updates')]).toEqual([['repeat-shared'], '5000/1']);
	});
});
