import { ppmError, Rational, type Hertz, type Ppm, type Seconds } from '../exact/index.js';
import { prescaleCode, ratiosOf, type ChannelProfile, type Prescaler, type TimerProfile } from '../part/index.js';
import { pulseOn, type Pulse } from './places.js';
import { ratioTable, tableOf, topPeriods, type PeriodCandidate, type RatioTable } from '../solve/index.js';
import { activeRange, activeTicks, largest, nearestActive, periodTicks, type Counting, type SteadyPwm } from '../timer/index.js';
import { planClocks, type ClockLink, type PlanClocks } from './clocks.js';
import { pwmAims, type Plan, type PwmAim } from './document.js';
import { deriveJob, type JobAim, type JobDerivation } from './jobs/index.js';
import {
	readBits,
	readDuty,
	readRate,
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
	problems: Partial<Record<'rate' | 'tolerance' | 'duty' | 'bits' | 'prescale' | 'reload' | 'compare', FieldProblem>>;
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
	/** Most active ticks that a compare of the counter's width reaches. */
	mostActive: number;
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
	sharedWith?: PwmAim;
	/** A lock that the timer cannot take. */
	lockRefused?: { link: 'prescale' | 'reload' | 'compare'; value: number; limit: number };
}

export interface PlanDerivation {
	plan: Plan;
	clocks: PlanClocks;
	/** The pulses, in the plan's order. */
	aims: Derivation[];
	/** The aims of all other kinds, in the plan's order. */
	jobs: JobDerivation[];
}

/** Derives every aim of the plan. The first aim on a timer decides its prescale and reload. Never throws on a valid plan. */
export function derivePlan(plan: Plan): PlanDerivation {
	const clocks = planClocks(plan);
	const decided = new Map<string, Derivation>();
	const aims = pwmAims(plan).map((aim) => {
		const derivation = deriveAim(plan, aim, clocks, decided.get(aim.timer));
		if (derivation.settings && !decided.has(aim.timer)) decided.set(aim.timer, derivation);
		return derivation;
	});
	const jobs = plan.aims.filter((aim): aim is JobAim => aim.kind !== 'pwm').map((aim) => takenTimer(plan, deriveJob(plan, aim, clocks)));
	return { plan, clocks, aims, jobs };
}

function deriveAim(plan: Plan, aim: PwmAim, clocks: PlanClocks, owner: Derivation | undefined): Derivation {
	const timer = plan.part.timers.find((t) => t.id === aim.timer);
	const derivation: Derivation = { aim, wish: readWish(aim), clock: [], kernel: null };
	if (!timer) return derivation;
	derivation.timer = timer;
	derivation.clock = clocks.path(timer.kernel);
	derivation.kernel = clocks.rate(timer.kernel);
	const channel = timer.channels.find((c) => c.id === aim.channel);
	if (!channel) return derivation;
	derivation.channel = channel;
	const pulse = pulseOn(timer, channel);
	if (!pulse) return derivation;
	derivation.pulse = pulse;
	derivation.counting = pulse.counting;
	if (owner) derivation.sharedWith = owner.aim;

	const { kernel, wish } = derivation;
	if (!kernel || !wish.hz || !wish.duty || Object.keys(wish.problems).some((f) => ['prescale', 'reload', 'compare'].includes(f)))
		return derivation;
	const period = owner?.settings
		? { prescale: owner.settings.prescale, reload: owner.settings.reload }
		: choosePeriod(derivation, kernel, wish.hz);
	if (period) addSettings(derivation, kernel, wish.hz, wish.duty, period);
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
	if (aim.locks.prescale !== undefined) take('prescale', readWhole(aim.locks.prescale, 1));
	if (aim.locks.reload !== undefined) take('reload', readWhole(aim.locks.reload, 1));
	if (aim.locks.compare !== undefined) take('compare', readWhole(aim.locks.compare, 0));
	return wish;
}

/**
 * The best pair that has the wished resolution, if that lies within the tolerance; otherwise the best of all, so that
 * what is short is said of the nearest setting there is. A lock leaves only its own value.
 */
function choosePeriod(derivation: Derivation, kernel: Hertz, wish: Hertz): { prescale: number; reload: number } | undefined {
	const { timer, counting } = derivation;
	const table = lockedTable(derivation, timer!.prescaler);
	const reload = lockedReload(derivation);
	if (!table || reload === null) return undefined;
	const asked = { kernel, counting: counting!, wish };
	const { tolerance, bits } = derivation.wish;
	if (reload !== undefined) return topPeriods(asked, table, { keep: 1, reload }).best[0];
	if (bits !== undefined && bits <= timer!.width) {
		const fine: PeriodCandidate | undefined = topPeriods(asked, table, { keep: 1, leastTicks: 2 ** bits }).best[0];
		if (fine && (!tolerance || fine.ppm.abs().compare(tolerance) <= 0)) return fine;
	}
	return topPeriods(asked, table, { keep: 1 }).best[0];
}

function lockedTable(derivation: Derivation, prescaler: Prescaler): RatioTable | undefined {
	const { aim } = derivation;
	if (aim.locks.prescale === undefined) {
		return ratioTable(prescaler);
	}
	const locked = readWhole(aim.locks.prescale, 1);
	if (!locked.ok) return undefined;
	if (prescaleCode(prescaler, locked.value) === undefined) {
		const ratios = ratiosOf(prescaler);
		derivation.lockRefused = { link: 'prescale', value: locked.value, limit: ratios[ratios.length - 1] };
		return undefined;
	}
	return tableOf(Float64Array.of(locked.value));
}

/** undefined: no lock; null: one that does not fit. */
function lockedReload(derivation: Derivation): number | undefined | null {
	const { aim, counting } = derivation;
	if (aim.locks.reload === undefined) return undefined;
	const locked = readWhole(aim.locks.reload, 1);
	if (!locked.ok) return null;
	const limit = largest(counting!.width);
	if (locked.value <= limit) return locked.value;
	derivation.lockRefused = { link: 'reload', value: locked.value, limit };
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
		mostActive: activeRange(counting!, reload, pulse!.rule)!.most
	};
	derivation.wave = { counting: counting!, reload, compare, output: pulse!.rule, inverted: (aim.polarity === 'low') !== pulse!.inverted };
}

function chooseCompare(derivation: Derivation, reload: number, wanted: Rational): number | undefined {
	const { aim, counting, pulse } = derivation;
	if (aim.locks.compare === undefined) return nearestActive(counting!, reload, pulse!.rule, wanted)!.compare;
	const locked = readWhole(aim.locks.compare, 0);
	const limit = largest(counting!.width);
	if (locked.ok && locked.value <= limit) return locked.value;
	if (locked.ok) derivation.lockRefused = { link: 'compare', value: locked.value, limit };
	return undefined;
}

/** A job needs its timer for itself: the first aim on it has it. */
function takenTimer(plan: Plan, derivation: JobDerivation): JobDerivation {
	const { aim, timer } = derivation;
	const other = plan.aims.find((one) => one.timer === aim.timer && one.id !== aim.id);
	if (!timer || !other || plan.aims.indexOf(other) > plan.aims.indexOf(aim)) return derivation;
	return {
		...derivation,
		problems: [...derivation.problems, { code: 'timer-taken', severity: 'fault', timer: timer.name, other: other.name }]
	};
}
