import { kindOf, type Aim, type AimContext, type AimDerivation, type TimerUse } from '../aims/index.js';
import { claimedChannels, leadersFirst } from './claims.js';
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
	const derived = new Map<string, AimDerivation>();
	const context = contextOf(plan, clocks, (id) => derived.get(id)?.use);
	for (const aim of leadersFirst(plan.aims)) {
		const holder = first.get(aim.timer);
		const shares = holder !== undefined && sharesWith(aim, holder);
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

/** One aim; what should be impossible is that aim's finding, and leaves the others as they are. */
function deriveAim(aim: Aim, context: AimContext): AimDerivation {
	try {
		return kindOf(aim).derive(aim, context);
	} catch (error) {
		const problem = {
			code: 'derivation-failed',
			severity: 'fault',
			reason: error instanceof Error ? error.message : String(error)
		} as const;
		return { aim, clock: [], kernel: null, fields: {}, strip: [], figures: [], formulas: [], problems: [problem], run: {} };
	}
}

function contextOf(plan: Plan, clocks: PlanClocks, useOf: AimContext['useOf']): AimContext {
	let open: PlanClocks | undefined;
	return {
		part: plan.part,
		aims: plan.aims,
		clocks,
		openRate: (node) => (open ??= planClocks(plan, { ...openGates(plan), ...plan.clock })).rate(node),
		useOf,
		claimed: claimedChannels(plan)
	};
}

/** All gates of the part's timers, open. */
function openGates({ part }: Plan): Plan['clock'] {
	return Object.fromEntries(part.timers.flatMap(({ gate }) => (gate === undefined ? [] : [[gate, 'on']])));
}

function sharesWith(aim: Aim, holder: Aim): boolean {
	const use = kindOf(aim).timerUse(aim);
	return use !== 'alone' && use === kindOf(holder).timerUse(holder);
}

function takeAway({ timer, problems }: AimDerivation, other: Aim): void {
	if (timer) problems.push({ code: 'timer-taken', severity: 'fault', timer: timer.name, other: other.name });
}
