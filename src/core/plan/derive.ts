import { ppmError, Rational, type Hertz, type Ppm, type Seconds } from '../exact/index.js';
import { prescaleCode, type ChannelProfile, type Prescaler, type TimerProfile } from '../part/index.js';
import { pulseOn, type Pulse } from './places.js';
import { nearestPeriod, overruledLinks } from './nearest.js';
import { ratioTable } from '../solve/index.js';
import { activeRange, activeTicks, largest, nearestActive, periodTicks, type Counting, type SteadyPwm } from '../timer/index.js';
import { planClocks, type ClockLink, type PlanClocks } from './clocks.js';
import { claimedChannels, leadersFirst, useKind } from './claims.js';
import type { Aim, Plan, PwmAim } from './document.js';
import { deriveJob, type JobDerivation, type TimerUse } from './jobs/index.js';
import { assignPins, type PinUse } from './pins.js';
import {
	readBits,
	readDuty,
	readRate,
	readTime,
	readTolerance,
	readWhole,
	wantedTicks,
	type DutyWish,
	type Field,
	type FieldProblem
} from './fields.js';

/** What an aim wishes, as far as its fields can be read. */
export interface Wish {
	hz?: Hertz;
	tolerance?: Ppm;
	duty?: DutyWish;
	bits?: number;
	/** Fields that make no sense, by name. */
	problems: Partial<Record<WishField, FieldProblem>>;
	begin?: DutyWish;
	sweep?: DutyWish;
	over?: Seconds;
}

export type WishField = 'rate' | 'tolerance' | 'duty' | 'bits' | 'begin' | 'sweep' | 'over' | 'prescale' | 'reload' | 'compare';

/** A compare and the share that it makes active. */
export interface DutyPoint {
	compare: number;
	duty: Rational;
}

/** The settings that an aim comes to, and what they give, exactly. */
export interface Settings {
	prescale: number;
	/** What the prescaler's register holds; null where there is none. */
	prescaleCode: number | null;
	reload: number;
	/** Period in ticks. */
	ticks: number;
	compare: number;
	activeTicks: number;
	tickRate: Hertz;
	hz: Hertz;
	period: Seconds;
	onTime: Seconds;
	duty: Rational;
	/** Rate against the wish. */
	ppm: Ppm;
	/** Duty against the wish, a plain difference. */
	dutyError: Rational;
	/** Wished active ticks before rounding. */
	wantedTicks: Rational;
	/** Fewest and most active ticks that a compare of the counter's width reaches. */
	leastActive: number;
	mostActive: number;
	/** The fewest ticks by which the active time can change. */
	step: number;
	/** The compare that the duty asks for, whatever is held. */
	wishedCompare: number;
	begin?: DutyPoint;
	/** Where a sweep goes, in how many steps of one compare, and the time from one to the next. */
	sweep?: DutyPoint & { steps: number; pace: Seconds };
}

export interface Derivation {
	aim: PwmAim;
	timer?: TimerProfile;
	channel?: ChannelProfile;
	/** How the timer makes pulses on the channel; left out when it cannot. */
	counting?: Counting;
	pulse?: Pulse;
	wish: Wish;
	clock: ClockLink[];
	kernel: Hertz | null;
	/** Left out when a field, the clock or a lock leaves nothing to derive from. */
	settings?: Settings;
	wave?: SteadyPwm;
	/** The aim that decides prescale and reload of the shared timer, when it is another one. */
	sharedWith?: Aim;
	/** What is held here and overruled by the aim that decides. */
	overruled: ('prescale' | 'reload')[];
	/** The aim that uses the timer in a way that cannot be shared. */
	takenBy?: Aim;
	/** The aim that decides counts in another way. */
	clashesWith?: Aim;
	use?: TimerUse;
	/** A lock that the timer cannot take. */
	lockRefused?: { link: 'prescale' | 'reload' | 'compare'; value: number; limit: number; kept?: number };
}

export interface PlanDerivation {
	plan: Plan;
	clocks: PlanClocks;
	/** The pulses, in the plan's order. */
	aims: Derivation[];
	/** The aims of all other kinds, in the plan's order. */
	jobs: JobDerivation[];
	pins: PinUse[];
}

/**
 * Derives every aim of the plan, followers after the others. The first aim on a timer that can be derived decides its
 * prescale and reload; one that cannot share stands alone. Never throws on a valid plan. `before`: a derivation that is
 * taken over when nothing of what it hangs on has changed since.
 */
export function derivePlan(plan: Plan, before?: PlanDerivation): PlanDerivation {
	if (before && before.plan.aims === plan.aims && before.plan.clock === plan.clock && before.plan.part === plan.part)
		return { ...before, plan };
	return atOnce(deriveStepwise(plan));
}

/** Does stepwise work without a rest. */
export function atOnce<T>(work: Generator<void, T, void>): T {
	for (;;) {
		const { done, value } = work.next();
		if (done) return value;
	}
}

/** As derivePlan, with a rest after each aim: for a page that has other things to do in between. */
export function* deriveStepwise(plan: Plan): Generator<void, PlanDerivation, void> {
	const clocks = planClocks(plan);
	const first = new Map<string, Aim>();
	const uses = new Map<string, TimerUse>();
	const byAim = new Map<string, TimerUse>();
	const claimed = claimedChannels(plan);
	const pulses = new Map<string, Derivation>();
	const jobs = new Map<string, JobDerivation>();
	const useOf = (id: string) => byAim.get(id);
	for (const aim of leadersFirst(plan.aims)) {
		const holder = first.get(aim.timer);
		const shares = holder !== undefined && useKind(holder) === useKind(aim) && useKind(aim) !== 'alone';
		const owner = shares ? uses.get(aim.timer) : undefined;
		const takenBy = shares ? undefined : holder;
		const derivation =
			aim.kind === 'pwm' ? deriveAim(plan, aim, clocks, owner) : deriveJob(plan, aim, clocks, { useOf, claimed, ...(owner && { owner }) });
		if (takenBy) takeAway(derivation, takenBy);
		if (isPulse(derivation)) pulses.set(aim.id, derivation);
		else jobs.set(aim.id, derivation);
		if (!holder) first.set(aim.timer, aim);
		if (derivation.use) byAim.set(aim.id, derivation.use);
		if (derivation.use && !takenBy && !uses.has(aim.timer)) uses.set(aim.timer, derivation.use);
		yield;
	}
	const inOrder = <T>(of: Map<string, T>) => plan.aims.flatMap(({ id }) => of.get(id) ?? []);
	return { plan, clocks, aims: inOrder(pulses), jobs: inOrder(jobs), pins: assignPins(plan) };
}

function isPulse(derivation: Derivation | JobDerivation): derivation is Derivation {
	return derivation.aim.kind === 'pwm';
}

function takeAway(derivation: Derivation | JobDerivation, other: Aim): void {
	if (isPulse(derivation)) derivation.takenBy = other;
	else if (derivation.timer)
		derivation.problems.push({ code: 'timer-taken', severity: 'fault', timer: derivation.timer.name, other: other.name });
}

function deriveAim(plan: Plan, aim: PwmAim, clocks: PlanClocks, owner: TimerUse | undefined): Derivation {
	const timer = plan.part.timers.find((t) => t.id === aim.timer);
	const derivation: Derivation = { aim, wish: readWish(aim), clock: [], kernel: null, overruled: [] };
	if (!timer) return derivation;
	derivation.timer = timer;
	derivation.clock = clocks.path(timer.kernel);
	derivation.kernel = clocks.rate(timer.kernel);
	const channel = timer.channels.find((c) => c.id === aim.channel);
	if (!channel) return derivation;
	derivation.channel = channel;
	const pulse = pulseOn(timer, channel, aim);
	if (!pulse) return derivation;
	derivation.pulse = pulse;
	derivation.counting = pulse.counting;
	if (owner) derivation.sharedWith = owner.aim;
	if (owner && owner.counting?.mode !== pulse.counting.mode) derivation.clashesWith = owner.aim;

	const { kernel, wish } = derivation;
	if (!kernel || !wish.hz || !wish.duty || Object.keys(wish.problems).some((f) => ['prescale', 'reload', 'compare'].includes(f)))
		return derivation;
	if (derivation.clashesWith) return derivation;
	const shared = owner?.reload === undefined ? undefined : { prescale: owner.prescale, reload: owner.reload };
	if (shared) derivation.overruled = overruledLinks(aim.locks, shared);
	const period = shared ?? choosePeriod(derivation, kernel, wish.hz);
	if (period) addSettings(derivation, kernel, wish.hz, wish.duty, period);
	if (derivation.settings) derivation.use = owner ?? { aim, kind: 'period', counting: pulse.counting, ...period! };
	return derivation;
}

function readWish(aim: PwmAim): Wish {
	const wish: Wish = { problems: {} };
	const take = <T>(name: keyof Wish['problems'], field: Field<T>): T | undefined => {
		if (!field.ok) wish.problems[name] = field.problem;
		return field.ok ? field.value : undefined;
	};
	wish.hz = take('rate', readRate(aim.rate));
	wish.tolerance = take('tolerance', readTolerance(aim.tolerance, wish.hz));
	wish.duty = take('duty', readDuty(aim.duty));
	wish.bits = take('bits', readBits(aim.bits));
	if (aim.begin.trim() !== '') wish.begin = take('begin', readDuty(aim.begin));
	if (aim.sweep.trim() !== '') {
		wish.sweep = take('sweep', readDuty(aim.sweep));
		wish.over = take('over', readTime(aim.over));
	}
	if (aim.locks.prescale !== undefined) take('prescale', readWhole(aim.locks.prescale, 1));
	if (aim.locks.reload !== undefined) take('reload', readWhole(aim.locks.reload, 1));
	if (aim.locks.compare !== undefined) take('compare', readWhole(aim.locks.compare, 0));
	return wish;
}

/** The best pair of the wished resolution, or of all. A lock leaves only its own value. */
function choosePeriod(derivation: Derivation, kernel: Hertz, wish: Hertz): { prescale: number; reload: number } | undefined {
	const { timer, counting } = derivation;
	const prescale = lockedPrescale(derivation, timer!.prescaler);
	const reload = lockedReload(derivation);
	if (prescale === null || reload === null) return undefined;
	const { tolerance, bits } = derivation.wish;
	const fine = bits !== undefined && bits <= timer!.width ? { leastTicks: 2 ** bits, tolerance } : undefined;
	return nearestPeriod({ kernel, counting: counting!, wish }, timer!.prescaler, { prescale, reload }, fine);
}

/** undefined: no lock; null: one that the prescaler does not offer. */
function lockedPrescale(derivation: Derivation, prescaler: Prescaler): number | undefined | null {
	const { aim } = derivation;
	if (aim.locks.prescale === undefined) return undefined;
	const locked = readWhole(aim.locks.prescale, 1);
	if (!locked.ok) return null;
	if (prescaleCode(prescaler, locked.value) !== undefined) return locked.value;
	derivation.lockRefused = { link: 'prescale', value: locked.value, limit: ratioTable(prescaler).ratios.at(-1)! };
	return null;
}

/** undefined: no lock; null: one that does not fit. */
function lockedReload(derivation: Derivation): number | undefined | null {
	const { aim, counting } = derivation;
	if (aim.locks.reload === undefined) return undefined;
	const locked = readWhole(aim.locks.reload, 1);
	if (!locked.ok) return null;
	const limit = largest(counting!.width);
	if (locked.value <= limit) return locked.value;
	derivation.lockRefused = { link: 'reload', value: locked.value, limit, kept: locked.value % (limit + 1) };
	return null;
}

function addSettings(
	derivation: Derivation,
	kernel: Hertz,
	wish: Hertz,
	duty: DutyWish,
	{ prescale, reload }: { prescale: number; reload: number }
): void {
	const { timer, pulse, counting, aim } = derivation;
	const ticks = periodTicks(counting!, reload)!;
	const tickRate = kernel.div(Rational.int(prescale));
	const wanted = wantedTicks(duty, tickRate, ticks);
	const compare = chooseCompare(derivation, reload, wanted);
	if (compare === undefined) return;
	const active = activeTicks(counting!, reload, pulse!.rule, compare)!;
	const hz = tickRate.div(Rational.int(ticks));
	const whole = Rational.int(ticks);
	const range = activeRange(counting!, reload, pulse!.rule)!;
	derivation.settings = {
		prescale,
		prescaleCode: prescaleCode(timer!.prescaler, prescale) ?? null,
		reload,
		ticks,
		compare,
		activeTicks: active,
		tickRate,
		hz,
		period: hz.inverse(),
		onTime: Rational.int(active).div(tickRate),
		duty: Rational.ratio(active, ticks),
		ppm: ppmError(hz, wish),
		dutyError: Rational.int(active).sub(wanted).div(whole),
		wantedTicks: wanted,
		leastActive: range.least,
		mostActive: range.most,
		step: counting!.mode === 'updown' ? 2 : 1,
		wishedCompare: nearestActive(counting!, reload, pulse!.rule, wanted)!.compare
	};
	addSweep(derivation, derivation.settings);
	derivation.wave = { counting: counting!, reload, compare, output: pulse!.rule, inverted: (aim.polarity === 'low') !== pulse!.inverted };
}

/** The start's compare, and the way of a sweep. */
function addSweep({ counting, pulse, wish }: Derivation, settings: Settings): void {
	const { reload, ticks, tickRate, compare } = settings;
	const point = (duty: DutyWish): DutyPoint => {
		const found = nearestActive(counting!, reload, pulse!.rule, wantedTicks(duty, tickRate, ticks))!;
		return { compare: found.compare, duty: found.duty };
	};
	if (wish.begin) settings.begin = point(wish.begin);
	if (!wish.sweep || !wish.over) return;
	const end = point(wish.sweep);
	const steps = Math.abs(end.compare - compare);
	settings.sweep = { ...end, steps, pace: steps === 0 ? wish.over : wish.over.div(Rational.int(steps)) };
}

function chooseCompare(derivation: Derivation, reload: number, wanted: Rational): number | undefined {
	const { aim, counting, pulse } = derivation;
	if (aim.locks.compare === undefined) return nearestActive(counting!, reload, pulse!.rule, wanted)!.compare;
	const locked = readWhole(aim.locks.compare, 0);
	const limit = largest(counting!.width);
	if (locked.ok && locked.value <= limit) return locked.value;
	if (locked.ok) derivation.lockRefused = { link: 'compare', value: locked.value, limit, kept: locked.value % (limit + 1) };
	return undefined;
}
