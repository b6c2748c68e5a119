import { gcd, Rational, type Hertz, type Seconds } from '../exact/index.js';
import type { SimChannel, SimInput, SimOutput, SimSystem, SimTimer } from '../sim/index.js';
import { PeriodicWave } from '../trace/index.js';
import type { Counting, OutputRule } from '../timer/index.js';
import type { Derivation, PlanDerivation } from './derive.js';
import { readSpan } from './fields.js';
import { pulseOn, type Pulse } from './places.js';
import type { FollowerAim, JobDerivation, OneShotAim, PairAim, PatternAim, TableAim } from './jobs/index.js';

/** One line of the predicted picture: an output of the system by name, or a wave of its own. */
export interface PlannedLane {
	aim: string;
	/** What of the aim it shows: "pin", "main", "complementary", "updates", "trigger", or an output's or line's own name. */
	role: string;
	/** An output of the system, or the updates of one of its timers. */
	output?: string;
	updates?: string;
	wave?: PeriodicWave;
	input?: string;
}

/** Why an aim has no lane of its own. */
export interface Unplanned {
	aim: string;
	why: 'not-derived' | 'input-only';
}

/** A derived plan as a system for the simulator, on the base clock that all kernel clocks divide. */
export interface PlannedSystem {
	system: SimSystem;
	/** Seconds of a base cycle. */
	unit: Seconds;
	lanes: PlannedLane[];
	unplanned: Unplanned[];
}

/** When a one-shot's trigger comes that nobody has said anything about, in seconds. */
const FIRST_TRIGGER = Rational.ratio(1, 1000);
const BOUNCES = 6;

type Made = Derivation | JobDerivation;

/** Puts all aims that count to a reload, and the one-shots, on their timers, linked as they follow each other; every timer starts at 0 unless it is triggered. */
export function planSystem({ plan, aims, jobs, clocks }: PlanDerivation): PlannedSystem {
	const all = new Map<string, Made>([...aims, ...jobs].map((one) => [one.aim.id, one]));
	const made = plan.aims.flatMap(({ id }) => all.get(id) ?? []);
	const base = baseOf(made, plan.part.core === undefined ? null : clocks.rate(plan.part.core));
	const timers = new Map<string, SimTimer>();
	const inputs: Record<string, SimInput> = {};
	const lanes: PlannedLane[] = [];
	const unplanned: Unplanned[] = [];
	const unit = base ? base.inverse() : Rational.one;
	const builder = {
		base: base ?? Rational.one,
		core: plan.part.core === undefined ? null : clocks.rate(plan.part.core),
		timers,
		inputs,
		lanes
	};
	const leading = made.filter(({ aim }) => aim.kind !== 'follower');
	for (const one of [...leading, ...made.filter(({ aim }) => aim.kind === 'follower')]) {
		const why = base ? place(builder, one, all) : 'not-derived';
		if (why) unplanned.push({ aim: one.aim.id, why });
	}
	const order = new Map(plan.aims.map(({ id }, i) => [id, i]));
	lanes.sort((a, b) => order.get(a.aim)! - order.get(b.aim)!);
	return { system: { timers: [...timers.values()], inputs, writes: [] }, unit, lanes, unplanned };
}

interface Builder {
	base: Hertz;
	core: Hertz | null;
	timers: Map<string, SimTimer>;
	inputs: Record<string, SimInput>;
	lanes: PlannedLane[];
}

/** The rate of which every kernel clock is a part, and every dead time a whole number of cycles. */
function baseOf(derived: readonly Made[], core: Hertz | null): Hertz | undefined {
	const rates = derived.flatMap(({ kernel, timer }) => (kernel && timer ? [kernel] : []));
	for (const made of derived) if ('run' in made && made.run.dead) rates.push(made.run.dead.inverse());
	if (core) rates.push(core);
	if (rates.length === 0) return undefined;
	// Of fractions in lowest terms: the multiple of the upper parts over the divisor of the lower ones.
	const upper = rates.reduce((all, { num }) => (all * num) / gcd(all, num), 1n);
	const lower = rates.reduce((all, { den }) => gcd(all, den), 0n);
	return Rational.of(upper, lower);
}

/** Base cycles of a time, rounded up. */
function cyclesOf({ base }: Builder, time: Seconds): number {
	return Number(-time.mul(base).neg().floor());
}

function place(builder: Builder, made: Made, all: ReadonlyMap<string, Made>): Unplanned['why'] | undefined {
	const { aim } = made;
	if (aim.kind === 'divided' && 'figures' in made) return divided(builder, made, aim.id);
	if (aim.kind === 'encoder' || aim.kind === 'capture' || aim.kind === 'width') return 'input-only';
	const timer = timerFor(builder, made);
	if (!timer) return 'not-derived';
	switch (aim.kind) {
		case 'pwm':
			return pulse(builder, timer, made as Derivation);
		case 'toggle':
			return toggle(builder, timer, made as JobDerivation);
		case 'pair':
			return pair(builder, timer, made as JobDerivation, aim);
		case 'table':
			return table(builder, timer, made as JobDerivation, aim);
		case 'pattern':
			return pattern(builder, timer, made as JobDerivation, aim);
		case 'oneshot':
			return oneShot(builder, timer, made as JobDerivation, aim);
		case 'follower':
			return follower(builder, timer, made as JobDerivation, aim, all);
		default:
			builder.lanes.push({ aim: aim.id, role: 'updates', updates: timer.id });
			return undefined;
	}
}

/** The timer of an aim as the first on it decided; made at the first call. */
function timerFor({ base, timers }: Builder, made: Made): SimTimer | undefined {
	const { timer, use } = made;
	if (!timer || !use) return undefined;
	const known = timers.get(timer.id);
	if (known) return known;
	// A cascade counts its leader's events; its own clock only sees them.
	const kernel = made.clock.at(-1)?.hz;
	if (!kernel) return undefined;
	const counting = use.counting ?? freely(made);
	const reload = use.reload ?? reloadOf(made);
	if (!counting || reload === undefined) return undefined;
	const sim: SimTimer = {
		id: timer.id,
		kernel: Number(base.div(kernel).num),
		width: timer.width,
		prescale: use.prescale,
		mode: counting.mode,
		rule: counting.rule,
		reload,
		preload: 0,
		repeat: 0,
		updateAt: timer.update?.[0] ?? 'bottom',
		oneShot: false,
		start: 0,
		buffered: { reload: timer.buffered?.reload !== 'never', compare: timer.buffered?.compare !== 'never' },
		channels: []
	};
	timers.set(timer.id, sim);
	return sim;
}

/** Ticks without a reload are shown by a counter that has their interval. */
function freely({ aim, timer }: Made): Counting | undefined {
	if (aim.kind !== 'tick' && aim.kind !== 'oneshot') return undefined;
	return { mode: 'up', rule: 'inclusive', width: timer!.width };
}

function reloadOf(made: Made): number | undefined {
	if (!('figures' in made)) return undefined;
	if (made.aim.kind === 'oneshot') return made.strip.find(({ name }) => name === 'reload')?.value;
	const { interval } = made.run;
	return interval && interval.ticks - 1;
}

const linkOf = ({ strip }: JobDerivation, name: string) => strip.find((link) => link.name === name)?.value;

/** An output model as a rule of the derivation has it. */
function outputOf(rule: OutputRule, mode: Counting['mode'], inverted: boolean): SimOutput {
	if (rule === 'below' || rule === 'above') return { model: 'level', sense: rule };
	const [on, off] = inverted ? (['low', 'high'] as const) : (['high', 'low'] as const);
	const silent = { zero: 'none', top: 'none', matchUp: 'none', matchDown: 'none' } as const;
	const frame = { model: 'action', edge: rule === 'leave' ? 'leave' : 'enter', initial: inverted ? 1 : 0, ...silent } as const;
	if (rule === 'turns') return { ...frame, matchUp: off, matchDown: on };
	return mode === 'down' ? { ...frame, top: on, matchDown: off } : { ...frame, zero: on, matchUp: off };
}

function addChannel(timer: SimTimer, channel: SimChannel): void {
	if (!timer.channels.some(({ id }) => id === channel.id)) timer.channels.push(channel);
}

function pulse({ lanes }: Builder, timer: SimTimer, { aim, pulse: made, settings }: Derivation): Unplanned['why'] | undefined {
	if (!made || !settings) return 'not-derived';
	const output = outputOf(made.rule, made.counting.mode, made.inverted);
	addChannel(timer, { id: aim.channel, compare: settings.compare, output, inverted: aim.polarity === 'low' });
	lanes.push({ aim: aim.id, role: 'pin', output: `${timer.id}.${aim.channel}` });
	return undefined;
}

function toggle({ lanes }: Builder, timer: SimTimer, made: JobDerivation): Unplanned['why'] | undefined {
	const compare = linkOf(made, 'compare');
	if (compare === undefined || made.aim.kind !== 'toggle') return 'not-derived';
	const output: SimOutput = {
		model: 'action',
		edge: 'enter',
		initial: 0,
		zero: 'none',
		top: 'none',
		matchUp: 'toggle',
		matchDown: 'toggle'
	};
	addChannel(timer, { id: made.aim.channel, compare, output, inverted: false });
	lanes.push({ aim: made.aim.id, role: 'pin', output: `${timer.id}.${made.aim.channel}` });
	return undefined;
}

/** What the channel of a job makes of its compare. */
function pulseOf(made: JobDerivation, channel: string): Pulse | undefined {
	const profile = made.timer!.channels.find(({ id }) => id === channel);
	return profile && pulseOn(made.timer!, profile);
}

function pair({ base, lanes }: Builder, timer: SimTimer, made: JobDerivation, aim: PairAim): Unplanned['why'] | undefined {
	const compare = linkOf(made, 'compare');
	const { dead } = made.run;
	const rule = pulseOf(made, aim.channel);
	if (compare === undefined || !dead || !rule) return 'not-derived';
	const cycles = Number(dead.mul(base).roundHalfUp()) / timer.kernel;
	const output = outputOf(rule.rule, rule.counting.mode, rule.inverted);
	addChannel(timer, { id: aim.channel, compare, output, dead: cycles, inverted: false });
	timer.repeat = linkOf(made, 'repeat') ?? 0;
	const name = `${timer.id}.${aim.channel}`;
	lanes.push({ aim: aim.id, role: 'main', output: name }, { aim: aim.id, role: 'complementary', output: `${name}.n` });
	return undefined;
}

function table(builder: Builder, timer: SimTimer, made: JobDerivation, aim: TableAim): Unplanned['why'] | undefined {
	const { rows, lag } = made.run;
	const rule = pulseOf(made, aim.channel);
	if (!rows || !rule || !lag || timer.sequence) return 'not-derived';
	timer.sequence = {
		rows,
		loop: true,
		lag: cyclesOf(builder, lag),
		prefill: aim.prefill === 'yes' && aim.writes === 'buffered'
	};
	if (aim.writes === 'immediate') timer.buffered = { ...timer.buffered, compare: made.timer!.buffered?.compare === 'always' };
	for (const id of [aim.channel, ...(aim.second === '' ? [] : [aim.second])]) {
		addChannel(timer, { id, compare: 0, output: outputOf(rule.rule, rule.counting.mode, rule.inverted), inverted: false });
		builder.lanes.push({ aim: aim.id, role: aim.second === '' ? 'pin' : id, output: `${timer.id}.${id}` });
	}
	return undefined;
}

function pattern(builder: Builder, timer: SimTimer, made: JobDerivation, aim: PatternAim): Unplanned['why'] | undefined {
	const { words } = made;
	const { lag } = made.run;
	if (!words || !lag || timer.pattern) return 'not-derived';
	const bits = (mask: number) => Array.from({ length: 32 }, (_, bit) => bit).filter((bit) => Math.floor(mask / 2 ** bit) % 2 === 1);
	timer.pattern = {
		words: words.map(({ set, clear }) => ({ set: bits(set), clear: bits(clear) })),
		loop: aim.loop === 'yes',
		lag: cyclesOf(builder, lag),
		initial: []
	};
	for (const line of aim.lines) builder.lanes.push({ aim: aim.id, role: line.name, output: `${timer.id}.p${Number(line.bit)}` });
	return undefined;
}

/** A one-shot with a trigger that comes once and bounces as long as the aim says. */
function oneShot(builder: Builder, timer: SimTimer, made: JobDerivation, aim: OneShotAim): Unplanned['why'] | undefined {
	const compare = linkOf(made, 'compare');
	const profile = made.timer!.inputs?.find(({ id }) => id === aim.input);
	if (compare === undefined || !profile) return 'not-derived';
	timer.oneShot = true;
	timer.start = 'trigger';
	const name = `${aim.id}.trigger`;
	timer.trigger = {
		from: { input: name, edge: aim.edge },
		action: aim.retrigger === 'restart' ? 'restart' : 'start',
		latency: profile.latency
	};
	const bounce = readSpan(aim.bounce);
	builder.inputs[name] = bouncing(builder, aim.edge, bounce.ok ? bounce.value : Rational.zero);
	addChannel(timer, { id: aim.channel, compare, output: { model: 'level', sense: 'above' }, inverted: false });
	builder.lanes.push({ aim: aim.id, role: 'trigger', input: name }, { aim: aim.id, role: 'pin', output: `${timer.id}.${aim.channel}` });
	return undefined;
}

/** A contact that closes once, and bounces for a while. */
function bouncing(builder: Builder, edge: 'rise' | 'fall', bounce: Seconds): SimInput {
	const first = cyclesOf(builder, FIRST_TRIGGER);
	const span = cyclesOf(builder, bounce);
	const edges = [first];
	if (span > 2 * BOUNCES) for (let i = 1; i <= 2 * BOUNCES; i++) edges.push(first + Math.round((span * i) / (2 * BOUNCES)));
	return { initial: edge === 'rise' ? 0 : 1, edges };
}

function follower(
	builder: Builder,
	timer: SimTimer,
	made: JobDerivation,
	aim: FollowerAim,
	all: ReadonlyMap<string, Made>
): Unplanned['why'] | undefined {
	const { route } = made;
	const compare = linkOf(made, 'compare');
	const rule = pulseOf(made, aim.channel);
	const leader = all.get(aim.leader);
	const leading = leader?.timer && builder.timers.get(leader.timer.id);
	if (!route || compare === undefined || !rule || !leading) return 'not-derived';
	addChannel(timer, { id: aim.channel, compare, output: outputOf(rule.rule, rule.counting.mode, rule.inverted), inverted: false });
	timer.trigger = { from: { timer: leading.id, event: route.source }, action: aim.action, latency: route.latency };
	if (aim.action === 'start') timer.start = 'trigger';
	const lead = linkOf(made, 'lead');
	if (lead !== undefined) addChannel(leading, { id: route.source.slice(6), compare: lead, output: { model: 'none' }, inverted: false });
	builder.lanes.push({ aim: aim.id, role: 'pin', output: `${timer.id}.${aim.channel}` });
	return undefined;
}

/** Pulses counted by software: each high from the frame's first tick on. */
function divided({ lanes }: Builder, made: JobDerivation, aim: string): Unplanned['why'] | undefined {
	const { interval, counted } = made.run;
	const frame = linkOf(made, 'factors');
	if (!interval || frame === undefined || !counted) return 'not-derived';
	for (const { name, ticks } of counted) {
		const edges = ticks > 0 && ticks < frame;
		const wave = new PeriodicWave(interval.seconds, frame, edges ? [0, ticks] : [], edges ? [1, 0] : [], ticks > 0 ? 1 : 0);
		lanes.push({ aim, role: name, wave });
	}
	return undefined;
}
