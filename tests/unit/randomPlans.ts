import { AIM_KINDS, aimKind, freshAim, type AimKindName } from '../../src/core/aims/index.js';
import { profileFindings, shippedParts, type PartProfile, type TimerProfile } from '../../src/core/part/index.js';
import { countsPeriods, newPlan, placedOn, type Plan } from '../../src/core/plan/index.js';

/** Whole numbers that decide everything about a random plan; fast-check makes them, and makes them smaller where a test fails. */
export class Dice {
	private at = 0;
	constructor(private readonly rolls: readonly number[]) {}

	/** 0 .. below - 1; 0 when all dice are thrown. */
	roll(below: number): number {
		return this.at < this.rolls.length ? this.rolls[this.at++] % below : 0;
	}

	pick<T>(list: readonly T[]): T {
		return list[this.roll(list.length)];
	}

	chance(one: number, of: number): boolean {
		return this.roll(of) < one;
	}

	some<T>(list: readonly T[]): T[] {
		const kept = list.filter(() => this.chance(1, 2));
		return kept.length > 0 ? kept : [this.pick(list)];
	}
}

const OUTPUTS: TimerProfile['channels'][number]['outputs'] = [
	{ model: 'level', sense: 'below' },
	{ model: 'level', sense: 'above' },
	{ model: 'action', edge: 'enter', zero: 'high', matchUp: 'low' },
	{ model: 'action', edge: 'leave', zero: 'high', matchUp: 'low' },
	{ model: 'action', edge: 'enter', top: 'high', matchDown: 'low' },
	{ model: 'action', edge: 'leave', top: 'high', matchDown: 'low' },
	{ model: 'action', edge: 'enter', matchUp: 'low', matchDown: 'high' },
	{ model: 'action', edge: 'enter', matchUp: 'toggle', matchDown: 'toggle' },
	{ model: 'action', edge: 'leave', zero: 'low', matchUp: 'high' }
];

function randomPrescaler(dice: Dice): TimerProfile['prescaler'] {
	switch (dice.roll(4)) {
		case 0:
			return { kind: 'linear', max: dice.pick([1, 16, 256, 65_536]) };
		case 1:
			return { kind: 'ladder', steps: [1, 2, 8, 64, 256].map((ratio, code) => ({ ratio, code: code + 1 })) };
		case 2:
			return { kind: 'fixed', ratio: dice.pick([1, 2, 12]) };
		default:
			return {
				kind: 'chain',
				stages: [
					{ kind: 'ladder', steps: [1, 2, 4, 8].map((ratio, code) => ({ ratio, code })) },
					{ kind: 'linear', max: 32 }
				]
			};
	}
}

function randomTimer(dice: Dice, id: string): TimerProfile {
	const width = dice.pick([8, 10, 16]);
	const channels = ['c1', 'c2', 'c3'].map((channel) => ({
		id: channel,
		name: channel,
		outputs: dice.some(OUTPUTS),
		...(dice.chance(1, 2) && {
			complement: {
				segments: [
					{ from: 0, to: 63, base: 0, step: 1 },
					{ from: 64, to: 127, base: 64, step: 2 }
				]
			}
		}),
		...(dice.chance(2, 3) && { capture: { edges: dice.some(['rise', 'fall', 'both'] as const), every: [1, 2, 4, 8] } })
	}));
	return {
		id,
		name: id,
		kernel: dice.pick(['core', 'side']),
		prescaler: randomPrescaler(dice),
		width,
		modes: dice.some(['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear'] as const),
		rule: dice.pick(['inclusive', 'exclusive'] as const),
		preload: dice.pick(['hardware', 'software'] as const),
		tap: { from: 0, to: width - 1 },
		update: dice.some(['bottom', 'top', 'both'] as const),
		repeat: 255,
		buffered: { reload: dice.pick(['always', 'never', 'either'] as const), compare: dice.pick(['always', 'never', 'either'] as const) },
		oneShot: { retrigger: ['ignore', 'restart'] },
		channels,
		encoder: { a: 'c1', b: 'c2', times: [1, 2, 4] },
		inputs: [
			{ id: 'in', name: 'in', actions: ['start', 'reset', 'restart', 'gate', 'clock', 'capture'], latency: dice.roll(4) },
			{ id: 'ext', name: 'ext', actions: ['start', 'restart', 'clock'], latency: dice.roll(4) }
		],
		sources: ['start', 'update', ...channels.flatMap(({ id: channel }) => [`match:${channel}`, `level:${channel}`])],
		paced: ['update']
	};
}

/** A part of three timers that offer whatever the dice say, each wired to both others. */
export function randomPart(dice: Dice): PartProfile {
	const timers = ['one', 'two', 'three'].map((id) => randomTimer(dice, id));
	const part: PartProfile = {
		version: 3,
		id: 'random',
		name: 'Random',
		summary: '',
		clock: [
			{
				id: 'source',
				name: 'source',
				kind: 'source',
				hz: dice.pick(['8000000', '12000000', '32768']),
				ppm: { lo: '0', hi: '0' },
				chosen: true
			},
			{ id: 'core', name: 'core', kind: 'divide', from: 'source', by: [1, 2, 3, 4], reset: dice.pick([1, 2, 3]) },
			{ id: 'side', name: 'side', kind: 'divide', from: 'core', by: [1, 2, 3], reset: dice.pick([1, 2, 3]) }
		],
		core: 'core',
		timers,
		wiring: timers.flatMap((from) =>
			timers
				.filter((to) => to !== from)
				.map((to) => ({ from: { timer: from.id, sources: from.sources! }, to: { timer: to.id, input: 'in' } }))
		)
	};
	const wrong = profileFindings(part);
	if (wrong.length > 0) throw new Error(`the random part is none: ${JSON.stringify(wrong[0])}`);
	return part;
}

/** Fields of each kind that are drawn anew, from words that make sense; what is left out stays as a fresh aim says. */
const WORDS: { [K in AimKindName]: (dice: Dice, hz: string) => object } = {
	pwm: (dice, rate) => ({
		rate,
		duty: dutyOf(dice),
		align: dice.pick(['auto', 'auto', 'up', 'down', 'updown']),
		polarity: dice.pick(['high', 'low']),
		bits: dice.pick(['0', '4 bits'])
	}),
	pair: (dice, rate) => ({
		rate,
		duty: dutyOf(dice),
		dead: `${dice.roll(40)} us`,
		repeat: dice.pick(['0', '0', '1', '3']),
		align: dice.pick(['auto', 'auto', 'up', 'down', 'updown']),
		updates: dice.pick(['auto', 'auto', 'bottom', 'top', 'both'])
	}),
	toggle: (_, rate) => ({ rate }),
	follower: (dice, rate) => ({
		rate,
		duty: dutyOf(dice),
		action: dice.pick(['start', 'reset', 'reset', 'gate', 'clock']),
		lag: dice.pick(['0', '1/3', '90 deg', '25 %', '2/3'])
	}),
	table: (dice, carrier) => ({
		carrier,
		base: `${(1 + dice.roll(5)) * 1}`,
		writes: dice.pick(['buffered', 'immediate']),
		prefill: dice.pick(['yes', 'no']),
		lag: dice.pick(['0', '5']),
		wave: dice.pick(['full', 'half']),
		align: dice.pick(['auto', 'auto', 'up', 'updown']),
		updates: dice.pick(['auto', 'auto', 'top', 'both']),
		shape: dice.pick(['sine', 'triangle', 'trapezoid'])
	}),
	tick: (dice, every) => ({
		every,
		mode: dice.pick(['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear']),
		service: dice.pick(['0', '7', '40'])
	}),
	divided: (dice, every) => ({
		every,
		mode: dice.pick(['up', 'down', 'updown', 'advance']),
		frame: '1 s',
		outputs: [
			{ id: 'a', name: 'a', pin: '', width: `${1 + dice.roll(90)} ms` },
			{ id: 'b', name: 'b', pin: '', width: `${1 + dice.roll(900)} ms` }
		]
	}),
	oneshot: (dice) => ({
		delay: `${1 + dice.roll(500)} us`,
		width: `${1 + dice.roll(900)} us`,
		edge: dice.pick(['rise', 'fall']),
		each: dice.pick(['pulse', 'toggle']),
		retrigger: dice.pick(['ignore', 'restart'])
	}),
	pattern: (dice, rate) => ({
		rate,
		least: '0',
		most: dice.pick(['0', '3']),
		lines: ['x', 'y'].map((name, bit) => ({
			id: name,
			name,
			pin: '',
			bit: String(bit),
			levels: Array.from({ length: 2 + dice.roll(6) }, () => dice.roll(2)).join('')
		}))
	}),
	capture: (dice) => ({
		method: dice.pick(['capture', 'gated', 'switched']),
		every: dice.pick(['auto', '2']),
		overflows: dice.pick(['counted', 'not-counted'])
	}),
	width: (dice) => ({ level: dice.pick(['high', 'low']), overflows: dice.pick(['counted', 'not-counted']) }),
	encoder: (dice) => ({ times: dice.pick(['1', '2', '4']), ends: dice.pick(['wrap', 'clamp']), cycles: dice.pick(['16', '100']) })
};

function dutyOf(dice: Dice): string {
	return dice.pick(['0 %', '100 %', '50 %', '1/3', `${dice.roll(101)} %`, `${1 + dice.roll(200)} us`, `${1 + dice.roll(100)} us off`]);
}

/** A rate, as typed, that most timers come near. */
function rateOf(dice: Dice): string {
	return `${dice.pick([40, 100, 250, 777, 1000, 1200, 4000, 9999])} Hz`;
}

/** The shipped parts as they are set in the demo plans, and a random one now and then. */
export function randomPlan(dice: Dice, part: PartProfile | undefined, kinds: readonly AimKindName[] = AIM_KINDS): Plan {
	const clocks: Record<string, Plan['clock']> = {
		'heron-32': {
			crystal: '12 MHz',
			'loop-source': 'crystal',
			loop: '12',
			'core-source': 'loop-out',
			'bus-a': '2',
			sampler: '6',
			out: '2'
		},
		'sprat-8': { source: 'crystal', core: '1' },
		'plover-16': { main: 'crystal', side: '2' }
	};
	const used = part ?? randomPart(dice);
	let plan: Plan = { ...newPlan('random', used), clock: clocks[used.id] ?? {} };
	const count = 1 + dice.roll(3);
	const rate = rateOf(dice);
	for (let i = 0; i < count; i++) {
		const kind = dice.pick(kinds);
		const able = used.timers.filter((timer) => aimKind(kind).serves(timer));
		if (able.length === 0) continue;
		// Where features meet is where numbers go wrong: half of the aims join one that is there.
		const joined = able.filter((timer) => plan.aims.some((aim) => aim.timer === timer.id));
		const timer = dice.pick(joined.length > 0 && dice.chance(1, 2) ? joined : able);
		const leader = plan.aims.find((aim) => countsPeriods(aim) && aim.timer !== timer.id);
		if (aimKind(kind).leader && !leader) continue;
		const change = {
			...WORDS[kind](dice, dice.chance(2, 3) ? rate : rateOf(dice)),
			...(leader && aimKind(kind).leader && { leader: leader.id })
		};
		const aim = placedOn(freshAim(kind, `aim-${i}`, `aim ${i}`, timer.id, change), timer, plan);
		if (aim) plan = { ...plan, aims: [...plan.aims, { ...aim, ...change, ...('mode' in aim && { mode: dice.pick(timer.modes) }) }] };
	}
	return plan;
}

export const SHIPPED = shippedParts();
