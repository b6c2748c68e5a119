import { describe, expect, test } from 'vitest';
import { AIM_KINDS, type Aim, type AimKindName, aimKind, freshAim } from '../../../../core/aims/index.js';
import { type Plan, derivePlan, newAim, newPlan } from '../../../../core/plan/index.js';
import { checkPlan } from '../../../../core/check/index.js';
import { shippedPart } from '../../../../core/part/index.js';
import { figureName, findingPlace, findingText, formulaText } from '../../../text/index.js';
import { settled, viewOf } from './index.js';

const KINDS = AIM_KINDS;
/** Edited elsewhere than in the sentence. */
/** What averages a shape is said on the bench. */
const FILTER = ['filter', 'resistance', 'capacitance', 'inductance'];
const APART = ['id', 'kind', 'note', 'group', 'pins', 'locks', 'outputs', 'lines', 'own', 'further'];
const part = shippedPart('heron-32')!;
const clock = { crystal: '12 MHz', 'loop-source': 'crystal', loop: '12', 'core-source': 'loop-out', 'bus-a': '2', sampler: '6', out: '2' };
const leader = freshAim('pwm', 'l', 'leader', 'timer-d', { channel: 'ch1' });
const empty: Plan = { ...newPlan('p', part), clock };
const led: Plan = { ...empty, aims: [leader] };
const before = (kind: AimKindName) => (kind === 'follower' ? led : empty);
const job = (kind: AimKindName, change: object = {}) => ({ ...newAim(kind, 'j', 'thing', before(kind))!, ...change });
const planOf = (aim: Aim): Plan => ({ ...empty, aims: [...before(aim.kind).aims, aim] });
const derived = (aim: Aim) => derivePlan(planOf(aim)).aims.at(-1)!;
const sentence = (aim: Aim) => {
	const plan = planOf(aim);
	return [...viewOf(aim).sentence(aim, plan), ...(viewOf(aim).more?.(aim, plan) ?? [])];
};
const settle = (aim: Aim) => settled(aim, planOf(aim));
const said = (aim: Aim) => {
	const plan = planOf(aim);
	return checkPlan(derivePlan(plan))
		.filter((f) => f.aim === 'j')
		.map((f) => `${findingPlace(f, plan)}: ${findingText(f)}`);
};

describe.each(KINDS)('the sentence of a %s', (kind) => {
	const aim = job(kind);
	const tokens = sentence(aim);

	test('has a place for everything that the aim says', () => {
		// Some fields stand there only where they count.
		const variant = {
			...aim,
			...('action' in aim && { action: 'gate' }),
			...('method' in aim && { method: 'gated' }),
			...('legs' in aim && { legs: 'switched' })
		} as Aim;
		const all = [...tokens, ...sentence(variant)];
		// A pulse's timer and channel are one choice.
		const placesOf = (name: string) => (name === 'place' ? ['timer', 'channel'] : [name]);
		const places = new Set(
			all.flatMap((token) => (typeof token === 'string' ? [] : placesOf('field' in token ? token.field : token.choice)))
		);
		const apart = aim.kind === 'table' ? [...APART, ...FILTER] : APART;
		const keys = Object.keys(aim).filter((key) => !apart.includes(key));
		expect([...places].sort()).toEqual(keys.sort());
	});
	test('offers what is set, and only timers that can do it', () => {
		for (const token of tokens) {
			if (typeof token === 'string' || !('choice' in token)) continue;
			const value = viewOf(aim).chosen?.(aim, token.choice) ?? (aim as unknown as Record<string, string>)[token.choice];
			expect(token.options.map(([one]) => one)).toContain(value);
			if (token.choice === 'timer')
				for (const [id] of token.options) expect(aimKind(kind).serves(part.timers.find((t) => t.id === id)!)).toBe(true);
		}
	});
	test('keeps a choice that is not offered any more', () => {
		const lost = sentence({ ...aim, timer: 'gone' });
		const timers = lost.find((token) => typeof token !== 'string' && 'choice' in token && ['timer', 'place'].includes(token.choice));
		expect((timers as { options: [string, string][] }).options[0][0]).toMatch(/^gone/);
	});
	test('derives with words for every figure, column and formula', () => {
		const { figures, table, formulas, strip } = derived(aim);
		expect(figures.length).toBeGreaterThan(2);
		expect(strip.length).toBeGreaterThan(0);
		for (const { name } of [...figures, ...(table?.columns ?? [])]) expect(figureName(name)).toMatch(/^[A-Z]/);
		for (const formula of formulas) {
			const text = formulaText(formula);
			expect(text.length).toBeGreaterThan(10);
			expect(text).not.toMatch(/undefined|NaN|\[object/);
		}
	});
});

test('another timer’s channels, inputs and ways are taken where the old ones are not offered', () => {
	const moved = settle({ ...job('oneshot', { timer: 'timer-f', channel: 'ch4', input: 'ext' }) });
	expect(moved).toMatchObject({ timer: 'timer-f', channel: 'ch1', input: 'in1' });
	expect(settle(job('tick', { timer: 'timer-g', mode: 'down' }))).toMatchObject({ mode: 'up' });
	expect(settle(job('pair', { timer: 'timer-a', channel: 'ch4' }))).toMatchObject({ channel: 'ch1' });
	expect(settle(job('encoder'))).toEqual(job('encoder'));
});

describe('what is wrong with a job is said in its own numbers', () => {
	test.each<[AimKindName, object, string]>([
		[
			'tick',
			{ every: '1 h' },
			'thing: 3600 s is longer than this timer reaches: ≈59.65232 s. What would reach it: Timer B; or a cascade with Timer B; or a count to 61 in software.'
		],
		['tick', { every: '1 us' }, 'thing: Serving it takes ≈55.556 % of the processor.'],
		['tick', { timer: 'gone' }, 'thing: The part has no timer “gone”; choose one that it has.'],
		['tick', { mode: 'tap' }, 'thing: Timer A cannot count this way (tap); choose a way or a timer that it has.'],
		['tick', { service: '-4' }, 'thing: The service time: This must not be below zero; a whole number such as 59999 or 0xEA5F is wanted.'],
		['capture', { lowest: '1 kHz', highest: '10 Hz' }, 'thing: The lowest rate lies above the highest.'],
		[
			'encoder',
			{ ends: 'clamp' },
			'thing: The counter itself wraps; clamping is left to software, which must look before the other end is reached.'
		],
		['encoder', { range: '1000 turns' }, 'thing: 1024000 counts do not fit; 65536 is the most.'],
		['oneshot', { delay: '1 ns' }, 'thing: 1 ns is shorter than this timer can make: ≈13.88889 ns. A faster clock would reach it.'],
		['oneshot', { width: '5' }, 'thing: The width: A number alone does not say enough; a time such as 120 us or 2 ms is wanted.'],
		['toggle', { channel: 'x' }, 'thing: Timer A does not offer “x” for this; choose one that it does.'],
		['pair', { dead: '1 ms' }, 'thing: No dead time of 1 ms can be set; ≈46.66667 µs is the longest.'],
		['pair', { duty: '1 %' }, 'thing: The main pulse of 500 ns is no longer than the dead time of 1 µs: it never comes.'],
		['pair', { repeat: '300' }, 'thing: A repeat count of 300 cannot be set; 255 is the largest.'],
		// Held links say what they give in the unit of the wish.
		['pair', { locks: { dead: '1' } }, 'thing: The held dead time gives ≈13.88889 ns; 1 µs is wished for. Let it go.'],
		['encoder', { locks: { reload: '99' } }, 'thing: The held reload gives 100 counts; 1024 counts is wished for. Let it go.'],
		[
			'oneshot',
			{ locks: { reload: '4', compare: '9' } },
			'thing: With the held compare and reload, 1.1 ms cannot be had. Let one of them go.'
		],
		[
			'toggle',
			{ locks: { prescale: '3', reload: '9' } },
			'thing: The held prescale and reload give 1.2 MHz; 1 kHz is wished for. Let one of them go.'
		],
		['pair', { duty: '1 ms' }, 'thing: The wished duty comes to 2000 %; 0 to 100 % can be had.']
	])('%s %j', (kind, change, want) => expect(said(job(kind, change))).toContain(want));

	test('a rate between the steps of a capture names both ways out', () => {
		const text = said(job('capture', { step: '1 ppm' }))[0];
		expect(text).toMatch(/^thing: At 1 kHz one count is .* of the reading; 0\.0001 % is wished for\. More edges a capture/);
	});
	test('a timer clock that is closed is told as such', () => {
		const plan = { ...planOf(job('tick')), clock: { ...clock, 'timer-a-on': 'off' } };
		const found = checkPlan(derivePlan(plan)).map((f) => findingText(f));
		expect(found).toContain('No clock reaches Timer A: something before it is stopped.');
	});
});
