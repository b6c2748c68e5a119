import {
	checkSetup,
	kindOf,
	offersUpdates,
	readWhole,
	usualUpdates,
	type Aim,
	type AimContext,
	type AimDerivation,
	type TimerUse,
	type Updates
} from '../aims/index.js';
import { channelsOf, claimedChannels, leadersFirst, sharesTimer } from './claims.js';
import { planClocks, type PlanClocks } from './clocks.js';
import type { Plan } from './document.js';
import { assignPins, type PinUse } from './pins.js';

export interface PlanDerivation {
	plan: Plan;
	clocks: PlanClocks;
	/** Every aim, in the plan's order. */
	aims: AimDerivation[];
	pins: PinUse[];
}

/**
 * Derives every aim of the plan, followers after the others. The first aim on a timer that can be derived decides its
 * prescale and reload; one that cannot share stands alone. `before`: a derivation that is taken over when nothing of what
 * it hangs on has changed since.
 */
export function derivePlan(plan: Plan, before?: PlanDerivation): PlanDerivation {
	if (before && before.plan.aims === plan.aims && before.plan.clock === plan.clock && before.plan.part === plan.part)
		return { ...before, plan };
	return atOnce(deriveStepwise(plan));
}

/** Does stepwise work without a rest; what it tells on its way is nobody's business. */
export function atOnce<T>(work: Generator<unknown, T, void>): T {
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
	const derived = new Map<string, AimDerivation>();
	const context = contextOf(plan, clocks, derived);
	for (const aim of heardFirst(plan.aims)) {
		const holder = first.get(aim.timer);
		const shares = holder !== undefined && sharesTimer(aim, holder);
		const owner = shares ? uses.get(aim.timer) : undefined;
		const derivation = deriveAim(aim, { ...context, ...(owner && { owner }) });
		if (holder && !shares) takeAway(derivation, holder);
		derived.set(aim.id, derivation);
		if (!holder) first.set(aim.timer, aim);
		if (derivation.use && (!holder || shares) && !uses.has(aim.timer)) uses.set(aim.timer, derivation.use);
		yield;
	}
	return { plan, clocks, aims: plan.aims.flatMap(({ id }) => derived.get(id) ?? []), pins: assignPins(plan) };
}

/** Those that ask what another aim of the plan comes to stand behind all others. */
function heardFirst(aims: readonly Aim[]): Aim[] {
	const asks = (aim: Aim) => (kindOf(aim).asks?.(aim) ?? []).length > 0;
	return [...leadersFirst(aims.filter((aim) => !asks(aim))), ...aims.filter(asks)];
}

/** One aim; what should be impossible is that aim's finding, and leaves the others as they are. */
function deriveAim(aim: Aim, context: AimContext): AimDerivation {
	try {
		const derivation = kindOf(aim).derive(aim, context);
		checkSetup(kindOf(aim), derivation);
		return derivation;
	} catch (error) {
		const problem = {
			code: 'derivation-failed',
			severity: 'fault',
			reason: error instanceof Error ? error.message : String(error)
		} as const;
		return { aim, clock: [], kernel: null, fields: {}, strip: [], figures: [], formulas: [], problems: [problem], run: {} };
	}
}

function contextOf(plan: Plan, clocks: PlanClocks, derived: ReadonlyMap<string, AimDerivation>): AimContext {
	let open: PlanClocks | undefined;
	return {
		part: plan.part,
		aims: plan.aims,
		clocks,
		openRate: (node) => (open ??= planClocks(plan, { ...openGates(plan), ...plan.clock })).rate(node),
		derivationOf: (id) => derived.get(id),
		onTimer: (timer) => [...derived.values()].filter(({ aim }) => aim.timer === timer),
		channelsOf: (aim) => channelsOf(aim, plan.part),
		repeatOn: (timer) => repeatOn(plan, timer),
		updatesOn: (timer) => updatesOn(plan, timer),
		periodMover: (timer) => plan.aims.find((aim) => aim.timer === timer && kindOf(aim).movesPeriod?.(aim)),
		claimed: claimedChannels(plan)
	};
}

/** All gates of the part's timers, open. */
function openGates({ part }: Plan): Plan['clock'] {
	return Object.fromEntries(part.timers.flatMap(({ gate }) => (gate === undefined ? [] : [[gate, 'on']])));
}

/** The first aim of the plan that has a say in a timer's repeat count decides it, if the timer can do it. */
export function repeatOn({ aims, part }: Plan, timer: string): { count: number; aim?: Aim } {
	const limit = part.timers.find(({ id }) => id === timer)?.repeat ?? 0;
	const there = limit > 0 ? leadersFirst(aims.filter((aim) => aim.timer === timer)) : [];
	for (const aim of there) {
		const text = aim === there[0] || sharesTimer(aim, there[0]) ? kindOf(aim).repeat?.(aim) : undefined;
		const read = text === undefined ? undefined : readWhole(text, 0);
		if (read?.ok && read.value <= limit) return { count: read.value, aim };
	}
	return { count: 0 };
}

/** The first aim of the plan that says where a timer's up-down counting updates decides it, if the timer can do it. */
export function updatesOn({ aims, part }: Plan, timer: string): { at: Updates; aim?: Aim } {
	const profile = part.timers.find(({ id }) => id === timer);
	if (!profile) return { at: 'bottom' };
	for (const aim of leadersFirst(aims.filter((one) => one.timer === timer))) {
		const at = kindOf(aim).updates?.(aim) ?? 'auto';
		if (at !== 'auto' && offersUpdates(profile, at)) return { at, aim };
	}
	return { at: usualUpdates(profile) };
}

function takeAway({ timer, problems }: AimDerivation, other: Aim): void {
	if (timer) problems.push({ code: 'timer-taken', severity: 'fault', timer: timer.name, other: other.name });
}
