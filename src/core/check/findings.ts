import { Rational } from '../exact/index.js';
import type { LimitFinding } from '../part/index.js';
import { ratioTable } from '../solve/index.js';
import {
	channelsOf,
	deriveChanges,
	reachOf,
	useKind,
	type Aim,
	type ChangeProblem,
	type Derivation,
	type FieldProblem,
	type JobDerivation,
	type JobTrouble,
	type PinTrouble,
	type PinUse,
	type Plan,
	type PlanClocks,
	type PlanDerivation,
	type ReachBy
} from '../plan/index.js';
import { periodGrid } from '../timer/index.js';
import { heldFindings, type HeldTrouble } from './held.js';

type Without<T> = T extends unknown ? Omit<T, 'severity' | 'row'> : never;
type ChangeTrouble = Without<ChangeProblem>;

/** What the checks found, as data; the wording is elsewhere. `aim`, `node` and `change` say where. */
export type Finding = { severity: 'fault' | 'warning'; aim?: string; node?: string; change?: { timer: string; row?: string } } & (
	| { code: 'field'; field: string; problem: FieldProblem }
	| { code: 'clock-broken'; detail: string }
	| { code: 'clock-setting'; value: string }
	| { code: 'clock-limit'; limit: 'min' | 'max'; hz: Rational; bound: Rational; why: string }
	| { code: 'channel-missing'; timer: string; channel: string }
	| { code: 'channel-no-pulse'; timer: string; channel: string; open: boolean }
	| { code: 'channel-shared'; timer: string; channel: string; other: string }
	| { code: 'rate-too-slow'; wish: Rational; lowest: Rational; reach: ReachBy[] }
	| { code: 'rate-too-fast'; wish: Rational; highest: Rational }
	| { code: 'rate-outside'; ppm: Rational; tolerance: Rational; hz: Rational; wish: Rational }
	| { code: 'bits-short'; bits: number; wanted: number; ticks: number }
	| { code: 'duty-over-period'; wanted: Rational; ticks: number }
	| { code: 'duty-below-zero'; wanted: Rational }
	| { code: 'duty-coarse'; error: Rational; step: Rational }
	| { code: 'full-duty-unreachable'; most: number; ticks: number }
	| { code: 'no-duty-unreachable'; least: number; ticks: number }
	| { code: 'sweep-empty' }
	| ChangeTrouble
	| { code: 'glitch'; on: Rational; period: Rational; right: Rational; whole: Rational; at: Rational; count: number }
	| HeldTrouble
	| PinTrouble
	| JobTrouble
);

/** All findings of a derived plan: the clock's first, then each aim's in the plan's order. */
export function checkPlan(derivation: PlanDerivation): Finding[] {
	const { plan, clocks, aims, jobs, pins } = derivation;
	const pulses = new Map(aims.map((derivation) => [derivation.aim.id, derivation]));
	const others = new Map(jobs.map((derivation) => [derivation.aim.id, derivation]));
	const shared = sharedChannels(plan);
	const leads = pinFindings(pins);
	const ofAim = (id: string): Finding[] => {
		const [pulse, job] = [pulses.get(id), others.get(id)];
		const own = pulse ? aimFindings(plan, pulse) : job ? jobFindings(plan, job) : [];
		const twins = shared.get(id) ?? [];
		// A channel that cannot serve anyway has no pin to be missed, and a shared one shares its pin.
		const faulty = own.some(({ severity }) => severity === 'fault');
		const pinned = (leads.get(id) ?? []).filter(({ code }) => (code === 'pin-none' ? !faulty : twins.length === 0));
		return [...own, ...twins, ...pinned];
	};
	return [...clockFindings(plan, clocks, [...aims, ...jobs]), ...plan.aims.flatMap(({ id }) => ofAim(id)), ...changeFindings(derivation)];
}

/** What is wrong with the lists of writes. */
function changeFindings(derivation: PlanDerivation): Finding[] {
	if (derivation.plan.changes.length === 0) return [];
	return deriveChanges(derivation).flatMap(({ list, problems }) =>
		problems.map(({ row, ...problem }): Finding => ({ ...problem, change: { timer: list.timer, ...(row !== undefined && { row }) } }))
	);
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
			else if (useKind(aim) === useKind(other) && useKind(aim) !== 'alone')
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

function clockFindings(plan: Plan, clocks: PlanClocks, aims: readonly Pick<Derivation, 'clock'>[]): Finding[] {
	const found: Finding[] = [];
	if (clocks.broken) found.push({ code: 'clock-broken', severity: 'fault', node: clocks.broken.node, detail: clocks.broken.message });
	for (const { node, problem } of clocks.unreadable) found.push({ code: 'field', severity: 'fault', node, field: 'setting', problem });
	for (const { node, value } of clocks.refused) found.push({ code: 'clock-setting', severity: 'fault', node, value });
	for (const limit of clocks.limits) found.push(limitFinding(limit, plan, aims));
	return found;
}

/** A limit passed on an unused branch is a warning: nothing hangs on it. */
function limitFinding({ node, limit, hz, bound }: LimitFinding, plan: Plan, aims: readonly Pick<Derivation, 'clock'>[]): Finding {
	const used = aims.some((a) => a.clock.some((link) => link.node.id === node));
	const why = plan.part.clock.find((n) => n.id === node)?.[limit]?.why ?? '';
	return { code: 'clock-limit', severity: used ? 'fault' : 'warning', node, limit, hz, bound, why };
}

function jobFindings(plan: Plan, { aim, fields, problems, tradeoff, sharedWith }: JobDerivation): Finding[] {
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

function aimFindings(plan: Plan, derivation: Derivation): Finding[] {
	const { aim, timer, channel, wish, takenBy, clashesWith, overruled, sharedWith } = derivation;
	const at = { aim: aim.id };
	const found: Finding[] = [];
	for (const [field, problem] of Object.entries(wish.problems)) found.push({ code: 'field', severity: 'fault', ...at, field, problem });
	if (!timer) return [...found, { code: 'timer-missing', severity: 'fault', ...at, timer: aim.timer }];
	if (!channel) return [...found, { code: 'channel-missing', severity: 'fault', ...at, timer: timer.name, channel: aim.channel }];
	if (!derivation.pulse) {
		const open = aim.align === 'auto' && aim.output === 'auto';
		return [...found, { code: 'channel-no-pulse', severity: 'fault', ...at, timer: timer.name, channel: channel.name, open }];
	}
	if (takenBy) found.push({ code: 'timer-taken', severity: 'fault', ...at, timer: timer.name, other: takenBy.name });
	if (clashesWith) found.push({ code: 'mode-clash', severity: 'fault', ...at, timer: timer.name, other: clashesWith.name });
	if (overruled.length > 0 && sharedWith)
		found.push({ code: 'lock-overruled', severity: 'warning', ...at, links: overruled, other: sharedWith.name });
	const unknown = derivation.clock.some((link) => link.unknown);
	if (!derivation.kernel && !unknown) found.push({ code: 'kernel-stopped', severity: 'fault', ...at, timer: timer.name });
	if (derivation.lockRefused) found.push({ code: 'lock-refused', severity: 'fault', ...at, ...derivation.lockRefused });
	return [...found, ...rateFindings(plan, derivation), ...dutyFindings(derivation), ...runFindings(derivation)];
}

function rateFindings(plan: Plan, derivation: Derivation): Finding[] {
	const { aim, timer, counting, kernel, wish, settings, sharedWith } = derivation;
	if (!settings || !wish.hz || !kernel) return [];
	const at = { aim: aim.id };
	const tolerance = wish.tolerance ?? Rational.zero;
	if (settings.ppm.abs().compare(tolerance) <= 0) return [];
	if (sharedWith) return [{ code: 'reload-shared', severity: 'fault', ...at, other: sharedWith.name, hz: settings.hz, wish: wish.hz }];
	const links = (['prescale', 'reload'] as const).filter((link) => aim.locks[link] !== undefined);
	if (links.length > 0) {
		const tradeoff = { counting: counting!, kernel, wish: wish.hz, tolerance, now: settings };
		return [
			{ code: 'locks-conflict', severity: 'fault', ...at, links, got: settings.hz, wish: wish.hz, unit: 'Hz' },
			...heldFindings(plan, { aim: aim.id, timer: aim.timer, locks: aim.locks, tradeoff })
		];
	}
	const { step, uMin, uMax } = periodGrid(counting!);
	const { ratios } = ratioTable(timer!.prescaler);
	const lowest = kernel.div(Rational.int(step * uMax).mul(Rational.int(ratios[ratios.length - 1])));
	const highest = kernel.div(Rational.int(step * uMin).mul(Rational.int(ratios[0])));
	if (wish.hz.compare(lowest) < 0) {
		const reach = reachOf(plan, timer!, wish.hz.inverse(), lowest.inverse());
		return [{ code: 'rate-too-slow', severity: 'fault', ...at, wish: wish.hz, lowest, reach }];
	}
	if (wish.hz.compare(highest) > 0) return [{ code: 'rate-too-fast', severity: 'fault', ...at, wish: wish.hz, highest }];
	return [{ code: 'rate-outside', severity: 'fault', ...at, ppm: settings.ppm, tolerance, hz: settings.hz, wish: wish.hz }];
}

function dutyFindings({ aim, wish, settings }: Derivation): Finding[] {
	if (!settings) return [];
	const at = { aim: aim.id };
	const { ticks, wantedTicks: wanted } = settings;
	const found: Finding[] = [];
	const bits = Math.log2(ticks);
	if (wish.bits !== undefined && ticks < 2 ** wish.bits)
		found.push({ code: 'bits-short', severity: 'fault', ...at, bits, wanted: wish.bits, ticks });
	if (wanted.compare(Rational.int(ticks)) > 0) found.push({ code: 'duty-over-period', severity: 'fault', ...at, wanted, ticks });
	else if (wanted.sign < 0) found.push({ code: 'duty-below-zero', severity: 'fault', ...at, wanted });
	else if (wish.bits !== undefined) {
		const half = Rational.ratio(1, 2 ** (wish.bits + 1));
		if (settings.dutyError.abs().compare(half) > 0)
			found.push({ code: 'duty-coarse', severity: 'fault', ...at, error: settings.dutyError, step: half });
	}
	if (settings.mostActive < ticks)
		found.push({ code: 'full-duty-unreachable', severity: 'warning', ...at, most: settings.mostActive, ticks });
	if (settings.leastActive > 0 && wanted.sign === 0)
		found.push({ code: 'no-duty-unreachable', severity: 'fault', ...at, least: settings.leastActive, ticks });
	if (aim.locks.compare !== undefined && settings.compare !== settings.wishedCompare) {
		const wished = wanted.div(Rational.int(ticks));
		const held = { held: settings.compare, compare: settings.wishedCompare, duty: settings.duty, wished };
		if (!settings.dutyError.equals(Rational.zero)) found.push({ code: 'held-compare-off', severity: 'warning', ...at, ...held });
	}
	return found;
}

/** What changes while the timer runs: how its compare is written. */
function runFindings({ aim, timer, settings, wish }: Derivation): Finding[] {
	const at = { aim: aim.id };
	const found: Finding[] = [];
	const offered = timer!.buffered?.compare ?? 'always';
	const changes = aim.sweep.trim() !== '';
	if (offered === (aim.writes === 'buffered' ? 'never' : 'always')) {
		if (changes || aim.writes === 'immediate')
			found.push({
				code: 'cannot-buffer',
				severity: aim.writes === 'immediate' ? 'fault' : 'warning',
				...at,
				timer: timer!.name,
				writes: aim.writes
			});
	} else if (changes && aim.writes === 'immediate') found.push({ code: 'unbuffered', severity: 'warning', ...at });
	if (settings?.sweep?.steps === 0 && wish.sweep) found.push({ code: 'sweep-empty', severity: 'warning', ...at });
	return found;
}
