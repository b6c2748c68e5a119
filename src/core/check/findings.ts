import type { Rational } from '../exact/index.js';
import type { ClockTreeError, LimitFinding } from '../part/index.js';
import { activeAtRest, type Aim, type AimDerivation, type AimTrouble, type FieldProblem } from '../aims/index.js';
import {
	atOnce,
	channelsOf,
	sharesTimer,
	type PinTrouble,
	type PinUse,
	type Plan,
	type PlanClocks,
	type PlanDerivation
} from '../plan/index.js';
import { deriveChanges, type ChangeProblem } from '../predict/index.js';
import { heldFindings, type HeldTrouble } from './held.js';

type Without<T> = T extends unknown ? Omit<T, 'severity' | 'row'> : never;
type ChangeTrouble = Without<ChangeProblem>;

/** What the checks found, as data; the wording is elsewhere. `aim`, `node` and `change` say where. */
export type Finding = { severity: 'fault' | 'warning'; aim?: string; node?: string; change?: { timer: string; row?: string } } & (
	| { code: 'field'; field: string; problem: FieldProblem }
	| { code: 'clock-broken'; why: ClockTreeError['code']; details: ClockTreeError['details'] }
	| { code: 'clock-setting'; value: string }
	| { code: 'clock-limit'; limit: 'min' | 'max'; hz: Rational; bound: Rational; why: string }
	| { code: 'channel-shared'; timer: string; channel: string; other: string }
	| ChangeTrouble
	| { code: 'glitch'; on: Rational; period: Rational; right: Rational; whole: Rational; at: Rational; count: number }
	/** A pin whose timer waits for its first start drives its active level. */
	| { code: 'active-at-rest'; timer: string; high: boolean }
	/** The clock alone may be further off than the aim allows; both in ppm. */
	| { code: 'source-loose'; ppm: Rational; tolerance: Rational; source: string }
	| HeldTrouble
	| PinTrouble
	| AimTrouble
);

/** All findings of a derived plan: the clock's first, then each aim's in the plan's order. */
export function checkPlan(derivation: PlanDerivation): Finding[] {
	return atOnce(checkStepwise(derivation));
}

/** As checkPlan, with a rest after each aim. */
export function* checkStepwise(derivation: PlanDerivation): Generator<void, Finding[], void> {
	const { plan, clocks, aims, pins } = derivation;
	const shared = sharedChannels(plan);
	const leads = pinFindings(pins);
	const ofAim = (one: AimDerivation): Finding[] => {
		const own = aimFindings(plan, one);
		const twins = shared.get(one.aim.id) ?? [];
		// A channel that cannot serve anyway has no pin to be missed, and a shared one shares its pin.
		const faulty = own.some(({ severity }) => severity === 'fault');
		const pinned = (leads.get(one.aim.id) ?? []).filter(({ code }) => (code === 'pin-none' ? !faulty : twins.length === 0));
		return [...own, ...twins, ...restFindings(derivation, one), ...sourceFindings(clocks, one), ...pinned];
	};
	const found = clockFindings(plan, clocks, aims);
	for (const one of aims) {
		yield;
		found.push(...ofAim(one));
	}
	yield;
	return [...found, ...changeFindings(derivation)];
}

/** What is wrong with the lists of writes. */
function changeFindings(derivation: PlanDerivation): Finding[] {
	if (derivation.plan.changes.length === 0) return [];
	return deriveChanges(derivation).flatMap(({ list, problems }) =>
		problems.map(({ row, ...problem }): Finding => ({ ...problem, change: { timer: list.timer, ...(row !== undefined && { row }) } }))
	);
}

/** A rate or time that no register can keep, since its clock's source does not. No tolerance at all asks for the registers alone. */
function sourceFindings(clocks: PlanClocks, { aim, timer, wishes, clock }: AimDerivation): Finding[] {
	const range = timer && clocks.ppm(timer.kernel);
	const allowed = Object.values(wishes ?? {}).flatMap(({ ppm }) => (ppm && ppm.sign > 0 ? [ppm] : []));
	if (!range || allowed.length === 0) return [];
	const [lo, hi] = range.map((end) => end.abs());
	const ppm = lo.compare(hi) > 0 ? lo : hi;
	const tolerance = allowed.reduce((least, one) => (one.compare(least) < 0 ? one : least));
	if (ppm.compare(tolerance) <= 0) return [];
	return [{ code: 'source-loose', severity: 'warning', aim: aim.id, ppm, tolerance, source: clock[0]?.node.name ?? '' }];
}

/** A pin that is active while its timer waits for the first start: it follows the counter as it rests, or has its first level (timers.md 5). */
function restFindings({ aims }: PlanDerivation, { aim, timer, pulse }: AimDerivation): Finding[] {
	const waits = aims.some((one) => one.aim.timer === aim.timer && one.route?.action === 'start');
	// With dead time both outputs rest.
	const dead = aims.find((one) => one.aim.id === aim.id)?.run.dead;
	if (!waits || !timer || !pulse || dead || !activeAtRest(pulse)) return [];
	return [{ code: 'active-at-rest', severity: 'warning', aim: aim.id, timer: timer.name, high: !pulse.activeLow }];
}

/** One channel serves one aim: the first in the plan's order has it. */
function sharedChannels(plan: Plan): Map<string, Finding[]> {
	const taken = new Map<string, Aim>();
	const found = new Map<string, Finding[]>();
	for (const aim of plan.aims) {
		const timer = plan.part.timers.find(({ id }) => id === aim.timer);
		for (const id of channelsOf(aim, plan.part)) {
			const channel = timer?.channels.find((one) => one.id === id);
			if (!timer || !channel) continue;
			const other = taken.get(`${timer.id} ${id}`);
			if (!other) taken.set(`${timer.id} ${id}`, aim);
			// Where the whole timer is another's, that says it all.
			else if (sharesTimer(aim, other))
				push(found, aim.id, {
					code: 'channel-shared',
					severity: 'fault',
					aim: aim.id,
					timer: timer.name,
					channel: channel.name,
					other: other.name
				});
		}
	}
	return found;
}

function pinFindings(pins: readonly PinUse[]): Map<string, Finding[]> {
	const found = new Map<string, Finding[]>();
	for (const { aim, trouble } of pins)
		if (trouble) push(found, aim, { severity: trouble.code === 'pin-none' ? 'warning' : 'fault', aim, ...trouble });
	return found;
}

function push(found: Map<string, Finding[]>, aim: string, finding: Finding): void {
	found.set(aim, [...(found.get(aim) ?? []), finding]);
}

function clockFindings(plan: Plan, clocks: PlanClocks, aims: readonly AimDerivation[]): Finding[] {
	const found: Finding[] = [];
	if (clocks.broken)
		found.push({
			code: 'clock-broken',
			severity: 'fault',
			node: clocks.broken.node,
			why: clocks.broken.code,
			details: clocks.broken.details
		});
	for (const { node, problem } of clocks.unreadable) found.push({ code: 'field', severity: 'fault', node, field: 'setting', problem });
	for (const { node, value } of clocks.refused) found.push({ code: 'clock-setting', severity: 'fault', node, value });
	for (const limit of clocks.limits) found.push(limitFinding(limit, plan, aims));
	return found;
}

/** A limit passed on an unused branch is a warning: nothing hangs on it. */
function limitFinding({ node, limit, hz, bound }: LimitFinding, plan: Plan, aims: readonly AimDerivation[]): Finding {
	const used = aims.some((a) => a.clock.some((link) => link.node.id === node));
	const why = plan.part.clock.find((n) => n.id === node)?.[limit]?.why ?? '';
	return { code: 'clock-limit', severity: used ? 'fault' : 'warning', node, limit, hz, bound, why };
}

function aimFindings(plan: Plan, { aim, fields, problems, tradeoff, sharedWith }: AimDerivation): Finding[] {
	const unread = Object.entries(fields).map(([field, problem]): Finding => ({
		code: 'field',
		severity: 'fault',
		aim: aim.id,
		field,
		problem
	}));
	const held = tradeoff && !sharedWith ? heldFindings(plan, { aim: aim.id, timer: aim.timer, locks: aim.locks, tradeoff }) : [];
	return [...unread, ...problems.map((problem): Finding => ({ ...problem, aim: aim.id })), ...held];
}
