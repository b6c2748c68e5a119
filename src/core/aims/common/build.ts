import type { Hertz, Seconds } from '../../exact/index.js';
import type { SimChannel, SimInput, SimLag, SimOutput, SimTimer, SimWrite } from '../../sim/index.js';
import type { OutputProfile, TimerProfile } from '../../part/index.js';
import { StretchedTrace, type ValueTrace } from '../../trace/index.js';
import { plainRule } from '../../timer/index.js';
import type { AimDerivation, Figure, LinkName } from './derivation.js';
import type { InputSignals } from './inputs.js';
import type { Replay } from './replay.js';
import { pulseOn, type Pulse, type PulseChoice } from './places.js';
import type { AnyAim } from './schema.js';
import type { Updates } from './updates.js';

/** What a lane draws. Names of timers, channels and outputs are those of the system. */
export type LaneContent =
	/** A pin of the system. */
	| { kind: 'pin'; output: string }
	/** A channel's reference, before dead time and polarity. */
	| { kind: 'reference'; timer: string; channel: string }
	| { kind: 'level'; trace: StretchedTrace }
	/** A timer's counter, with the registers that are drawn as lines across it. */
	| { kind: 'counter'; timer: string; registers: string[] }
	/** A value of its own. */
	| { kind: 'value'; trace: ValueTrace; unit: string }
	/** Events of a timer, and others of its own. `busy`: base cycles that a service takes after each interrupt. */
	| {
			kind: 'events';
			timer?: string;
			channel?: string;
			interrupts?: boolean;
			busy?: number;
			captures?: StretchedTrace;
			own?: StretchedTrace;
	  };

/** One line of the predicted picture. */
export interface PlannedLane {
	aim: string;
	/** What of the aim it shows: "pin", "main", "complementary", "events", "counter", "input", or an output's or line's own name. */
	role: string;
	shows: LaneContent;
	/** Shown only where the aim is unfolded. */
	detail: boolean;
}

/** Why an aim has no lane of its own. */
export type Unplanned = 'not-derived' | 'no-input' | 'failed' | 'base-too-fine';

/** The system of a plan while it is put together. */
export interface SystemBuilder {
	base: Hertz;
	core: Hertz | null;
	timers: Map<string, SimTimer>;
	inputs: Record<string, SimInput>;
	lanes: PlannedLane[];
	signals: Map<string, InputSignals>;
	replays: Replay[];
	/** What software writes to registers while it runs. */
	writes: SimWrite[];
	/** The signals at an aim's inputs. */
	signalsOf: (aim: AnyAim) => InputSignals;
	/** What an aim of the plan comes to. */
	derivationOf: (aim: string) => AimDerivation | undefined;
	/** Period events that a timer leaves out before each update. */
	repeatOn: (timer: string) => number;
	/** Where its up-down counting updates. */
	updatesOn: (timer: string) => Updates;
	/** Is one aim alone on a timer? */
	alone: (timer: string) => boolean;
}

/** Base cycles of a time, rounded up. */
export function cyclesOf({ base }: SystemBuilder, time: Seconds): number {
	return Number(-time.mul(base).neg().floor());
}

/** How a counter counts. */
export type CountingWay = Pick<SimTimer, 'mode' | 'rule' | 'reload' | 'preload' | 'late' | 'bit' | 'advance'>;

/** A counter that runs over its whole width. */
export const FREE: CountingWay = { mode: 'free', rule: 'inclusive', reload: 0, preload: 0 };

/** The timer of an aim as the first on it decided; made at the first call. `own`: how the aim counts, where no shared period says it. */
export function timerFor(builder: SystemBuilder, derivation: AimDerivation, own?: CountingWay): SimTimer | undefined {
	const { base, timers } = builder;
	const { timer, use } = derivation;
	if (!timer || !use) return undefined;
	const known = timers.get(timer.id);
	if (known) return known;
	// A cascade counts its leader's events; its own clock only sees them.
	const kernel = derivation.clock.at(-1)?.hz;
	const way = periodWay(derivation) ?? own;
	if (!kernel || !way) return undefined;
	const { compare, reload } = timer.buffered ?? {};
	const sim: SimTimer = {
		id: timer.id,
		kernel: Number(base.div(kernel).num),
		width: timer.width,
		prescale: use.prescale,
		repeat: builder.repeatOn(timer.id),
		updateAt: builder.updatesOn(timer.id),
		oneShot: false,
		start: 0,
		buffered: {
			reload: reload !== 'never',
			compare: compare !== 'never'
		},
		channels: [],
		...way
	};
	timers.set(timer.id, sim);
	return sim;
}

/** Does a compare of the timer wait for an update, as an aim has its writes? */
export function bufferedOn({ buffered }: TimerProfile, writes: 'buffered' | 'immediate'): boolean {
	const offered = buffered?.compare ?? 'always';
	return offered === 'either' ? writes === 'buffered' : offered === 'always';
}

/** The count to a reload that an aim has chosen or shares. */
function periodWay({ use }: AimDerivation): CountingWay | undefined {
	if (!use?.counting || use.reload === undefined) return undefined;
	return { ...FREE, mode: use.counting.mode, rule: use.counting.rule, reload: use.reload };
}

/** A link of an aim's strip. */
export function linkOf({ strip }: AimDerivation, name: LinkName): number | undefined {
	return strip.find((link) => link.name === name)?.value;
}

/** A figure of an aim. */
export function figureOf({ figures }: AimDerivation, name: string): Figure['value'] | undefined {
	return figures.find((figure) => figure.name === name)?.value;
}

/** Ways of counting in which no register ends the count. */
const UNENDED: SimTimer['mode'][] = ['free', 'preload', 'tap'];

/** An aim's counter with the registers that matter to it, seen where the aim is unfolded. */
export function counterLane(aim: string, { id: timer, mode }: SimTimer, channel?: string): PlannedLane {
	const registers = [...(UNENDED.includes(mode) ? [] : ['reload']), ...(channel === undefined ? [] : [`compare:${channel}`])];
	return { aim, role: 'counter', shows: { kind: 'counter', timer, registers }, detail: true };
}

/** The counter and the events of an aim's timer, seen where the aim is unfolded. */
export function details({ lanes }: SystemBuilder, aim: string, timer: SimTimer, channel?: string): void {
	const shows: LaneContent = { kind: 'events', timer: timer.id, ...(channel !== undefined && { channel }) };
	lanes.push(counterLane(aim, timer, channel), { aim, role: 'events', shows, detail: true });
}

/** An input as a lane's levels. */
export function levelOf({ initial, edges }: SimInput, unit: Seconds): StretchedTrace {
	return new StretchedTrace(unit, initial, Float64Array.from(edges), []);
}

/** An output model as a pulse's rule has it. */
export function outputOf({ rule, counting: { mode }, initial }: Pulse): SimOutput {
	if (rule === 'below' || rule === 'above') return { model: 'level', sense: rule };
	const plain = plainRule(rule);
	const [on, off] = plain === rule ? (['high', 'low'] as const) : (['low', 'high'] as const);
	const silent = { zero: 'none', top: 'none', matchUp: 'none', matchDown: 'none' } as const;
	const frame = {
		model: 'action',
		edge: plain === 'leave' ? 'leave' : 'enter',
		initial: initial ?? (plain === rule ? 0 : 1),
		...silent
	} as const;
	if (plain === 'turns') return { ...frame, matchUp: off, matchDown: on };
	return mode === 'down' ? { ...frame, top: on, matchDown: off } : { ...frame, zero: on, matchUp: off };
}

/** An output of actions as its profile has it; what it leaves out does nothing. */
export function actionOutput({ edge, initial, zero, top, matchUp, matchDown }: Extract<OutputProfile, { model: 'action' }>): SimOutput {
	const does = (action: Extract<OutputProfile, { model: 'action' }>['zero']) => action ?? 'none';
	return {
		model: 'action',
		edge,
		initial: initial ?? 0,
		zero: does(zero),
		top: does(top),
		matchUp: does(matchUp),
		matchDown: does(matchDown)
	};
}

export function addChannel(timer: SimTimer, channel: SimChannel): void {
	if (!timer.channels.some(({ id }) => id === channel.id)) timer.channels.push(channel);
}

export function pinLane(aim: string, role: string, output: string): PlannedLane {
	return { aim, role, shows: { kind: 'pin', output }, detail: false };
}

/** What a channel makes of its compare. */
export function pulseOf({ timer }: AimDerivation, channel: string, align: PulseChoice['align'] = 'auto'): Pulse | undefined {
	const profile = timer?.channels.find(({ id }) => id === channel);
	return profile && pulseOn(timer!, profile, { align, output: 'auto' });
}

/** The edges of one period, each after 0 and none after its end, for ever. */
export function repeated(unit: Seconds, initial: 0 | 1, edges: readonly number[], period: number): StretchedTrace {
	const times = Math.floor(Number.MAX_SAFE_INTEGER / period / 4);
	const repeats = edges.length === 0 ? [] : [{ first: 0, count: edges.length, period, times, from: period + 1 }];
	return new StretchedTrace(unit, initial, Float64Array.from(edges), repeats);
}

/** A delay of software that may be a range. */
export function lagOf(builder: SystemBuilder, least: Seconds, most: Seconds | undefined): SimLag {
	const [from, to] = [cyclesOf(builder, least), cyclesOf(builder, most ?? least)];
	return from === to ? from : { least: from, most: to };
}
