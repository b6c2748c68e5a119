import type { Hertz, Seconds } from '../../exact/index.js';
import type { SimChannel, SimInput, SimOutput, SimTimer } from '../../sim/index.js';
import { StretchedTrace, type ValueTrace } from '../../trace/index.js';
import type { Counting, OutputRule } from '../../timer/index.js';
import type { Derivation } from '../derive.js';
import type { Aim } from '../document.js';
import type { JobDerivation } from '../jobs/index.js';
import { updateAt } from '../updates.js';
import type { MadeInputs } from './inputs.js';
import type { Replay } from './replay.js';

/** What a lane draws. Names of timers, channels and outputs are those of the system. */
export type Shown =
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
	shows: Shown;
	/** Shown only where the aim is unfolded. */
	detail: boolean;
}

export type Made = Derivation | JobDerivation;

/** The system of a plan while it is put together. */
export interface Builder {
	base: Hertz;
	core: Hertz | null;
	timers: Map<string, SimTimer>;
	inputs: Record<string, SimInput>;
	lanes: PlannedLane[];
	stimuli: Map<string, MadeInputs>;
	replays: Replay[];
	stimulusOf: (aim: Aim) => MadeInputs;
	/** Is one aim alone on a timer? */
	alone: (timer: string) => boolean;
}

/** Base cycles of a time, rounded up. */
export function cyclesOf({ base }: Builder, time: Seconds): number {
	return Number(-time.mul(base).neg().floor());
}

/** The timer of an aim as the first on it decided; made at the first call. */
export function timerFor({ base, timers, alone }: Builder, made: Made): SimTimer | undefined {
	const { timer, use, aim } = made;
	if (!timer || !use) return undefined;
	const known = timers.get(timer.id);
	if (known) return known;
	// A cascade counts its leader's events; its own clock only sees them.
	const kernel = made.clock.at(-1)?.hz;
	if (!kernel) return undefined;
	const way = countingOf(made, alone(timer.id));
	if (!way) return undefined;
	const { compare, reload } = timer.buffered ?? {};
	const sim: SimTimer = {
		id: timer.id,
		kernel: Number(base.div(kernel).num),
		width: timer.width,
		prescale: use.prescale,
		repeat: 0,
		updateAt: updateAt(timer),
		oneShot: false,
		start: 0,
		buffered: {
			reload: reload !== 'never',
			compare: compare !== 'never' && !(aim.kind === 'pwm' && aim.writes === 'immediate' && compare !== 'always')
		},
		channels: [],
		...way
	};
	timers.set(timer.id, sim);
	return sim;
}

type Way = Pick<SimTimer, 'mode' | 'rule' | 'reload' | 'preload' | 'late' | 'bit' | 'advance'>;

/** How the counter of an aim counts. */
function countingOf(made: Made, alone: boolean): Way | undefined {
	const { aim, use } = made;
	const plain = { rule: 'inclusive', reload: 0, preload: 0 } as const;
	if (use!.counting) {
		const reload = use!.reload;
		return reload === undefined ? undefined : { ...plain, mode: use!.counting.mode, rule: use!.counting.rule, reload };
	}
	if (!('figures' in made)) return undefined;
	if (aim.kind === 'oneshot') {
		const reload = linkOf(made, 'reload');
		return reload === undefined ? undefined : { ...plain, mode: 'up', reload };
	}
	if (aim.kind !== 'tick') return { ...plain, mode: 'free' };
	const { interval } = made.run;
	if (!interval) return undefined;
	const { value, late } = interval;
	if (aim.mode === 'advance' && alone) return { ...plain, mode: 'advance', reload: value, advance: value };
	switch (aim.mode) {
		case 'preload':
			return { ...plain, mode: 'preload', preload: value, late };
		case 'tap':
			return { ...plain, mode: 'tap', bit: value };
		case 'clear':
			return { ...plain, mode: 'clear', reload: value, late };
		default:
			return { ...plain, mode: 'free' };
	}
}

/** A link of an aim's strip. */
export const linkOf = ({ strip }: JobDerivation, name: string) => strip.find((link) => link.name === name)?.value;

/** Ways of counting in which no register ends the count. */
const UNENDED: SimTimer['mode'][] = ['free', 'preload', 'tap'];

/** An aim's counter with the registers that matter to it, seen where the aim is unfolded. */
export function counterLane(aim: string, { id: timer, mode }: SimTimer, channel?: string): PlannedLane {
	const registers = [...(UNENDED.includes(mode) ? [] : ['reload']), ...(channel === undefined ? [] : [`compare:${channel}`])];
	return { aim, role: 'counter', shows: { kind: 'counter', timer, registers }, detail: true };
}

/** The counter and the events of an aim's timer, seen where the aim is unfolded. */
export function details({ lanes }: Builder, aim: string, timer: SimTimer, channel?: string): void {
	const shows: Shown = { kind: 'events', timer: timer.id, ...(channel !== undefined && { channel }) };
	lanes.push(counterLane(aim, timer, channel), { aim, role: 'events', shows, detail: true });
}

/** An input as a lane's levels. */
export function levelOf({ initial, edges }: SimInput, unit: Seconds): StretchedTrace {
	return new StretchedTrace(unit, initial, Float64Array.from(edges), []);
}

/** An output model as a rule of the derivation has it. */
export function outputOf(rule: OutputRule, mode: Counting['mode'], inverted: boolean): SimOutput {
	if (rule === 'below' || rule === 'above') return { model: 'level', sense: rule };
	const [on, off] = inverted ? (['low', 'high'] as const) : (['high', 'low'] as const);
	const silent = { zero: 'none', top: 'none', matchUp: 'none', matchDown: 'none' } as const;
	const frame = { model: 'action', edge: rule === 'leave' ? 'leave' : 'enter', initial: inverted ? 1 : 0, ...silent } as const;
	if (rule === 'turns') return { ...frame, matchUp: off, matchDown: on };
	return mode === 'down' ? { ...frame, top: on, matchDown: off } : { ...frame, zero: on, matchUp: off };
}

export function addChannel(timer: SimTimer, channel: SimChannel): void {
	if (!timer.channels.some(({ id }) => id === channel.id)) timer.channels.push(channel);
}

export function pinLane(aim: string, role: string, output: string): PlannedLane {
	return { aim, role, shows: { kind: 'pin', output }, detail: false };
}
