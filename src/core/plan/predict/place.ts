import type { Seconds } from '../../exact/index.js';
import type { SimLag, SimOutput, SimTimer } from '../../sim/index.js';
import { StretchedTrace } from '../../trace/index.js';
import type { Derivation } from '../derive.js';
import type { FollowerAim, JobDerivation, OneShotAim, PairAim, PatternAim, TableAim } from '../jobs/index.js';
import { pulseOn, type Pulse } from '../places.js';
import {
	addChannel,
	counterLane,
	cyclesOf,
	details,
	levelOf,
	linkOf,
	outputOf,
	pinLane,
	timerFor,
	type Builder,
	type Made,
	type Shown
} from './builder.js';
import { listen } from './replay.js';

/** Why an aim has no lane of its own. */
export interface Unplanned {
	aim: string;
	why: 'not-derived' | 'no-input';
}

/** Puts an aim on its timer and gives it its lanes. */
export function place(builder: Builder, made: Made, all: ReadonlyMap<string, Made>): Unplanned['why'] | undefined {
	const { aim } = made;
	if (aim.kind === 'divided' && 'figures' in made) return divided(builder, made, aim.id);
	if (aim.kind === 'encoder' || aim.kind === 'capture' || aim.kind === 'width') return listening(builder, made as JobDerivation);
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
			return ticking(builder, timer, made as JobDerivation);
	}
}

/** The edges of one period, each after 0 and none after its end, again and again. */
function again(unit: Seconds, initial: 0 | 1, edges: readonly number[], period: number): StretchedTrace {
	const times = Math.floor(Number.MAX_SAFE_INTEGER / period / 4);
	const repeats = edges.length === 0 ? [] : [{ first: 0, count: edges.length, period, times, from: period + 1 }];
	return new StretchedTrace(unit, initial, Float64Array.from(edges), repeats);
}

/** A tick: its events, and what serving them costs. */
function ticking(builder: Builder, timer: SimTimer, made: JobDerivation): Unplanned['why'] | undefined {
	const { aim, run } = made;
	const { lanes, base, core } = builder;
	if (aim.kind !== 'tick' || !run.interval) return 'not-derived';
	const service = aim.notice === 'hardware' || !core ? undefined : made.figures.find(({ name }) => name === 'service')?.value;
	// On a counter that runs freely each tick has a compare of its own, which software moves on.
	const apart = aim.mode === 'advance' && timer.mode !== 'advance';
	const interval = run.interval.ticks * timer.prescale * timer.kernel;
	const shows: Shown = {
		kind: 'events',
		...(apart ? { own: again(base.inverse(), 0, [interval], interval) } : { timer: timer.id }),
		...(aim.notice === 'interrupt' && { interrupts: true }),
		...(service && { busy: cyclesOf(builder, service) })
	};
	lanes.push({ aim: aim.id, role: 'events', shows, detail: false });
	lanes.push(counterLane(aim.id, timer));
	return undefined;
}

/** An aim that only listens: its inputs, its counter, what it latches and reads. */
function listening(builder: Builder, made: JobDerivation): Unplanned['why'] | undefined {
	const { aim, kernel, timer } = made;
	if (!made.use || !kernel || !timer) return 'not-derived';
	const { lanes, base, stimuli } = builder;
	const inputs = builder.stimulusOf(aim);
	stimuli.set(aim.id, inputs);
	const unit = base.inverse();
	for (const [role, input] of Object.entries(inputs.lines))
		lanes.push({ aim: aim.id, role, shows: { kind: 'level', trace: levelOf(input, unit) }, detail: false });
	const heard = listen(made, inputs.lines, base, builder.core);
	if (!heard) return Object.keys(inputs.lines).length === 0 ? 'no-input' : 'not-derived';
	builder.replays.push(heard.replay);
	const { accepted, count, captures, service } = heard;
	if (accepted) lanes.push({ aim: aim.id, role: 'accepted', shows: { kind: 'level', trace: accepted }, detail: true });
	if (count) lanes.push({ aim: aim.id, role: 'count', shows: { kind: 'value', trace: count, unit: 'counts' }, detail: false });
	if (aim.kind === 'encoder' || made.use.kind !== 'free') return undefined;
	const sim = timerFor(builder, made);
	const served = captures && service ? { own: captures, interrupts: true, busy: service } : {};
	if (captures) lanes.push({ aim: aim.id, role: 'captures', shows: { kind: 'events', captures, ...served }, detail: false });
	if (sim) lanes.push(counterLane(aim.id, sim));
	return undefined;
}

function pulse(builder: Builder, timer: SimTimer, { aim, pulse: made, settings }: Derivation): Unplanned['why'] | undefined {
	const { lanes } = builder;
	if (!made || !settings) return 'not-derived';
	const output = outputOf(made.rule, made.counting.mode, made.inverted);
	addChannel(timer, { id: aim.channel, compare: settings.compare, output, inverted: aim.polarity === 'low' });
	lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}

function toggle(builder: Builder, timer: SimTimer, made: JobDerivation): Unplanned['why'] | undefined {
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
	builder.lanes.push(pinLane(made.aim.id, 'pin', `${timer.id}.${made.aim.channel}`));
	details(builder, made.aim.id, timer, made.aim.channel);
	return undefined;
}

/** What the channel of a job makes of its compare. */
function pulseOf(made: JobDerivation, channel: string): Pulse | undefined {
	const profile = made.timer!.channels.find(({ id }) => id === channel);
	return profile && pulseOn(made.timer!, profile);
}

function pair(builder: Builder, timer: SimTimer, made: JobDerivation, aim: PairAim): Unplanned['why'] | undefined {
	const compare = linkOf(made, 'compare');
	const { base, lanes } = builder;
	const { dead } = made.run;
	const rule = pulseOf(made, aim.channel);
	if (compare === undefined || !dead || !rule) return 'not-derived';
	const cycles = Number(dead.mul(base).roundHalfUp()) / timer.kernel;
	const output = outputOf(rule.rule, rule.counting.mode, rule.inverted);
	addChannel(timer, { id: aim.channel, compare, output, dead: cycles, inverted: false });
	timer.repeat = linkOf(made, 'repeat') ?? 0;
	const name = `${timer.id}.${aim.channel}`;
	lanes.push(
		{ aim: aim.id, role: 'reference', shows: { kind: 'reference', timer: timer.id, channel: aim.channel }, detail: true },
		pinLane(aim.id, 'main', name),
		pinLane(aim.id, 'complementary', `${name}.n`)
	);
	details(builder, aim.id, timer, aim.channel);
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
		builder.lanes.push(pinLane(aim.id, aim.second === '' ? 'pin' : id, `${timer.id}.${id}`));
	}
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}

function pattern(builder: Builder, timer: SimTimer, made: JobDerivation, aim: PatternAim): Unplanned['why'] | undefined {
	const { words } = made;
	const { lag, lagMost } = made.run;
	if (!words || !lag || timer.pattern) return 'not-derived';
	const bits = (mask: number) => Array.from({ length: 32 }, (_, bit) => bit).filter((bit) => Math.floor(mask / 2 ** bit) % 2 === 1);
	timer.pattern = {
		words: words.map(({ set, clear }) => ({ set: bits(set), clear: bits(clear) })),
		loop: aim.loop === 'yes',
		lag: lagOf(builder, lag, lagMost),
		initial: []
	};
	for (const line of aim.lines) builder.lanes.push(pinLane(aim.id, line.name, `${timer.id}.p${Number(line.bit)}`));
	details(builder, aim.id, timer);
	return undefined;
}

/** A delay of software that may be a range. */
function lagOf(builder: Builder, least: Seconds, most: Seconds | undefined): SimLag {
	const [from, to] = [cyclesOf(builder, least), cyclesOf(builder, most ?? least)];
	return from === to ? from : { least: from, most: to };
}

/** A one-shot with what comes at its trigger. */
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
	const stimulus = builder.stimulusOf(aim);
	builder.stimuli.set(aim.id, stimulus);
	const input = stimulus.lines.input ?? { initial: aim.edge === 'rise' ? 0 : 1, edges: [] };
	builder.inputs[name] = input;
	addChannel(timer, { id: aim.channel, compare, output: { model: 'level', sense: 'above' }, inverted: false });
	const trace = levelOf(input, builder.base.inverse());
	builder.lanes.push({ aim: aim.id, role: 'trigger', shows: { kind: 'level', trace }, detail: false });
	builder.lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
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
	builder.lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}

/** Pulses counted by software: each high from the frame's first tick on. */
function divided({ lanes, base }: Builder, made: JobDerivation, aim: string): Unplanned['why'] | undefined {
	const { interval, counted } = made.run;
	const frame = linkOf(made, 'factors');
	if (!interval || frame === undefined || !counted) return 'not-derived';
	const tick = interval.seconds.mul(base).toNumber();
	for (const { name, ticks } of counted) {
		const edges = ticks > 0 && ticks < frame ? [ticks * tick, frame * tick] : [];
		const trace = again(base.inverse(), ticks > 0 ? 1 : 0, edges, frame * tick);
		lanes.push({ aim, role: name, shows: { kind: 'level', trace }, detail: false });
	}
	return undefined;
}
