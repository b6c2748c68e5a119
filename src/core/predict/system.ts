import { gcd, Rational, type Hertz, type Seconds } from '../exact/index.js';
import type { SimSystem, SimTimer } from '../sim/index.js';
import {
	kindOf,
	restPins,
	type AimDerivation,
	type AnyAim,
	type InputSignals,
	type PlannedLane,
	type Replay,
	type Stimulus,
	type SystemBuilder,
	type Unplanned
} from '../aims/index.js';
import { leaderOf, repeatOn, updatesOn, type PlanDerivation } from '../plan/index.js';
import { deriveChanges, type DerivedChanges } from './changes.js';
import { freshStimulus, inputSignals, type RecordedLines } from './inputs.js';

/** The other way in which a list of writes could be taken: buffered where it is not, or the other way round. */
export interface Variant {
	list: string;
	timer: string;
	outcome: 'buffered' | 'immediate';
	system: SimSystem;
}

/** A derived plan as a system for the simulator, on the base clock that all kernel clocks divide. */
export interface PlannedSystem {
	system: SimSystem;
	/** Seconds of a base cycle. */
	unit: Seconds;
	lanes: PlannedLane[];
	/** Aims without a lane, and why. */
	unplanned: { aim: string; why: Unplanned }[];
	/** Signals at inputs, by aim. */
	inputs: Map<string, InputSignals>;
	/** What listening aims read of them. */
	replays: Replay[];
	changes: DerivedChanges[];
	variants: Variant[];
}

const NOTHING_RECORDED: RecordedLines = () => undefined;

/** An hour of a faster clock has more cycles than plain numbers count exactly. */
const FINEST = Rational.of(2n ** 53n, 3600n);

/** Puts every aim on its timer, linked as they follow each other, with what comes from outside; every timer starts at 0 unless it is triggered. */
export function planSystem(derivation: PlanDerivation, recorded: RecordedLines = NOTHING_RECORDED): PlannedSystem {
	return systemWith(derivation, (aim, stimulus, base) => inputSignals(aim, stimulus, base, recorded));
}

/** The timers alone, as they are set, with nothing that comes from outside. */
export function planTimers(derivation: PlanDerivation): SimSystem {
	return systemWith(derivation, (_, stimulus) => ({ stimulus, lines: {}, problems: {}, cut: false })).system;
}

type Signals = (aim: AnyAim, stimulus: Stimulus, base: Hertz) => InputSignals;

function systemWith(derivation: PlanDerivation, signals: Signals): PlannedSystem {
	const { plan, aims } = derivation;
	const base = baseOf(derivation);
	const fine = base !== undefined && base.compare(FINEST) > 0;
	const builder = builderOf(derivation, base && !fine ? base : Rational.one, signals);
	const follows = ({ aim }: AimDerivation) => leaderOf(aim) !== undefined;
	const unplanned: PlannedSystem['unplanned'] = [];
	for (const one of [...aims.filter((one) => !follows(one)), ...aims.filter(follows)]) {
		// A timer that another aim uses in a way that cannot be shared does only what that one says.
		const taken = one.problems.some(({ code }) => code === 'timer-taken' || code === 'mode-clash');
		const why = fine ? 'base-too-fine' : base && !taken ? buildAim(builder, one) : 'not-derived';
		if (why) unplanned.push({ aim: one.aim.id, why });
	}
	const order = new Map(plan.aims.map(({ id }, i) => [id, i]));
	const lanes = builder.lanes.sort((a, b) => order.get(a.aim)! - order.get(b.aim)!);
	const changes = deriveChanges(derivation);
	const system: SimSystem = {
		timers: [...builder.timers.values()],
		inputs: builder.inputs,
		writes: builder.writes.filter(({ timer }) => builder.timers.has(timer))
	};
	for (const change of changes) applyChanges(builder, system, change);
	system.writes.sort((a, b) => a.at - b.at);
	return {
		system,
		unit: builder.base.inverse(),
		lanes,
		unplanned,
		inputs: builder.signals,
		replays: builder.replays,
		changes,
		variants: changes.flatMap((change) => variantOf(system, change))
	};
}

/** Puts one aim into the system; what should be impossible leaves the others as they are. */
function buildAim(builder: SystemBuilder, derivation: AimDerivation): Unplanned | undefined {
	try {
		const why = kindOf(derivation.aim).build(builder, derivation);
		restPins(builder, derivation);
		return why;
	} catch {
		return 'failed';
	}
}

/** An empty system on a base clock. */
function builderOf({ plan, aims, clocks }: PlanDerivation, base: Hertz, signals: Signals): SystemBuilder {
	const byId = new Map(aims.map((one) => [one.aim.id, one]));
	const known = new Map(plan.aims.map((aim) => [aim.id, aim]));
	return {
		base,
		core: coreOf(plan, clocks),
		timers: new Map(),
		inputs: {},
		lanes: [],
		signals: new Map(),
		replays: [],
		writes: [],
		derivationOf: (aim) => byId.get(aim),
		repeatOn: (timer) => repeatOn(plan, timer).count,
		updatesOn: (timer) => updatesOn(plan, timer).at,
		alone: (timer) => plan.aims.filter((aim) => aim.timer === timer).length === 1,
		signalsOf: ({ id }) => signals(known.get(id)!, plan.stimuli[id] ?? freshStimulus(known.get(id)!), base)
	};
}

function coreOf({ part }: PlanDerivation['plan'], { rate }: PlanDerivation['clocks']): Hertz | null {
	return part.core === undefined ? null : rate(part.core);
}

/** Lets a list's rows be written, in base cycles of core cycles. */
function applyChanges(
	{ base, core }: SystemBuilder,
	system: SimSystem,
	{ list, timer, rows, begin, lag, apart, every }: DerivedChanges
): void {
	const sim = system.timers.find(({ id }) => id === timer?.id);
	if (!sim || !begin || rows.length === 0) return;
	const cycles = (count: number) => (core ? Number(Rational.int(count).mul(base).div(core).roundHalfUp()) : count);
	const first = list.order === 'reload-first';
	if (list.pace === 'updates') {
		const { prescale, reload, compares } = begin;
		sim.sequences = [
			{
				rows: [{ compare: compares, reload, prescale }, ...rows.map(({ writes }) => writes)],
				loop: list.loop === 'yes',
				lag: cycles(lag),
				prefill: false,
				every,
				apart: cycles(apart),
				reloadFirst: first
			}
		];
		return;
	}
	for (const { at, writes } of rows) {
		const compares = Object.entries(writes.compare).map(([id, value]): [string, number] => [`compare:${id}`, value]);
		const period = [['reload', writes.reload] as const, ['prescale', writes.prescale] as const].flatMap(
			([register, value]): [string, number][] => (value === undefined ? [] : [[register, value]])
		);
		const start = Number(at!.mul(base).roundHalfUp());
		(first ? [...period, ...compares] : [...compares, ...period]).forEach(([register, value], i) =>
			system.writes.push({ at: start + i * cycles(apart), timer: sim.id, register, value })
		);
	}
}

function variantOf({ timers, inputs, writes }: SimSystem, { list, rows }: DerivedChanges): Variant[] {
	const timer = timers.find(({ id }) => id === list.timer);
	if (!timer || rows.length === 0) return [];
	const to = !(timer.buffered.reload && timer.channels.every(({ buffered }) => buffered ?? timer.buffered.compare));
	const channels = timer.channels.map((channel) => ({ ...channel, buffered: to }));
	const flipped: SimTimer = { ...timer, channels, buffered: { reload: to, compare: to } };
	return [
		{
			list: list.id,
			timer: timer.id,
			outcome: to ? 'buffered' : 'immediate',
			// The others only matter as far as they trigger it.
			system: { timers: timers.map((one) => (one === timer ? flipped : one)), inputs, writes }
		}
	];
}

/** The rate of which every kernel clock is a part, and every dead time a whole number of cycles. */
function baseOf({ plan, aims, clocks }: PlanDerivation): Hertz | undefined {
	const rates = aims.flatMap(({ kernel, timer }) => (kernel && timer ? [kernel] : []));
	for (const { run } of aims) if (run.dead && run.dead.sign > 0) rates.push(run.dead.inverse());
	const core = coreOf(plan, clocks);
	if (core) rates.push(core);
	if (rates.length === 0) return undefined;
	// Of fractions in lowest terms: the multiple of the upper parts over the divisor of the lower ones.
	const upper = rates.reduce((all, { num }) => (all * num) / gcd(all, num), 1n);
	const lower = rates.reduce((all, { den }) => gcd(all, den), 0n);
	return Rational.of(upper, lower);
}
