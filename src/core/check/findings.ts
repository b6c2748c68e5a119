import { Rational } from '../exact/index.js';
import type { LimitFinding } from '../part/index.js';
import { ratioTable } from '../solve/index.js';
import type { Derivation, FieldProblem, JobDerivation, JobTrouble, Plan, PlanClocks, PlanDerivation } from '../plan/index.js';
import { periodGrid } from '../timer/index.js';

/** What the checks found, as data; the wording is elsewhere. `aim` and `node` say where. */
export type Finding = { severity: 'fault' | 'warning'; aim?: string; node?: string } & (
	| { code: 'field'; field: string; problem: FieldProblem }
	| { code: 'clock-broken'; detail: string }
	| { code: 'clock-setting'; value: string }
	| { code: 'clock-limit'; limit: 'min' | 'max'; hz: Rational; bound: Rational; why: string }
	| { code: 'kernel-stopped'; timer: string }
	| { code: 'timer-missing'; timer: string }
	| { code: 'channel-missing'; timer: string; channel: string }
	| { code: 'channel-no-pulse'; timer: string; channel: string }
	| { code: 'channel-shared'; timer: string; channel: string; other: string }
	| { code: 'reload-shared'; other: string; hz: Rational; wish: Rational }
	| { code: 'lock-refused'; link: 'prescale' | 'reload' | 'compare'; value: number; limit: number }
	| { code: 'rate-too-slow'; wish: Rational; lowest: Rational }
	| { code: 'rate-too-fast'; wish: Rational; highest: Rational }
	| { code: 'rate-outside'; ppm: Rational; tolerance: Rational; hz: Rational; wish: Rational }
	| { code: 'bits-short'; bits: number; wanted: number; ticks: number }
	| { code: 'duty-over-period'; wanted: Rational; ticks: number }
	| { code: 'duty-below-zero'; wanted: Rational }
	| { code: 'duty-coarse'; error: Rational; step: Rational }
	| { code: 'full-duty-unreachable'; most: number; ticks: number }
	| JobTrouble
);

/** All findings of a derived plan: the clock's first, then each aim's in the plan's order. */
export function checkPlan({ plan, clocks, aims, jobs }: PlanDerivation): Finding[] {
	const taken = new Map<string, string>();
	const pulses = new Map(aims.map((derivation) => [derivation.aim.id, derivation]));
	const others = new Map(jobs.map((derivation) => [derivation.aim.id, derivation]));
	const ofAim = (id: string) => {
		const [pulse, job] = [pulses.get(id), others.get(id)];
		return pulse ? aimFindings(pulse, taken) : job ? jobFindings(job) : [];
	};
	return [...clockFindings(plan, clocks, [...aims, ...jobs]), ...plan.aims.flatMap(({ id }) => ofAim(id))];
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

function jobFindings({ aim, fields, problems }: JobDerivation): Finding[] {
	const unread = Object.entries(fields).map(([field, problem]): Finding => ({
		code: 'field',
		severity: 'fault',
		aim: aim.id,
		field,
		problem
	}));
	return [...unread, ...problems.map((problem): Finding => ({ ...problem, aim: aim.id }))];
}

function aimFindings(derivation: Derivation, taken: Map<string, string>): Finding[] {
	const { aim, timer, channel, wish } = derivation;
	const at = { aim: aim.id };
	const found: Finding[] = [];
	for (const [field, problem] of Object.entries(wish.problems)) found.push({ code: 'field', severity: 'fault', ...at, field, problem });
	if (!timer) return [...found, { code: 'timer-missing', severity: 'fault', ...at, timer: aim.timer }];
	if (!channel) return [...found, { code: 'channel-missing', severity: 'fault', ...at, timer: timer.name, channel: aim.channel }];
	if (!derivation.pulse)
		return [...found, { code: 'channel-no-pulse', severity: 'fault', ...at, timer: timer.name, channel: channel.name }];
	const key = `${timer.id} ${channel.id}`;
	const other = taken.get(key);
	if (other !== undefined)
		found.push({ code: 'channel-shared', severity: 'fault', ...at, timer: timer.name, channel: channel.name, other });
	else taken.set(key, aim.name);
	const unknown = derivation.clock.some((link) => link.unknown);
	if (!derivation.kernel && !unknown) found.push({ code: 'kernel-stopped', severity: 'fault', ...at, timer: timer.name });
	if (derivation.lockRefused) found.push({ code: 'lock-refused', severity: 'fault', ...at, ...derivation.lockRefused });
	return [...found, ...rateFindings(derivation), ...dutyFindings(derivation)];
}

function rateFindings({ aim, timer, counting, kernel, wish, settings, sharedWith }: Derivation): Finding[] {
	if (!settings || !wish.hz || !kernel) return [];
	const at = { aim: aim.id };
	const tolerance = wish.tolerance ?? Rational.zero;
	if (settings.ppm.abs().compare(tolerance) <= 0) return [];
	if (sharedWith) return [{ code: 'reload-shared', severity: 'fault', ...at, other: sharedWith.name, hz: settings.hz, wish: wish.hz }];
	const { step, uMin, uMax } = periodGrid(counting!);
	const { ratios } = ratioTable(timer!.prescaler);
	const lowest = kernel.div(Rational.int(step * uMax).mul(Rational.int(ratios[ratios.length - 1])));
	const highest = kernel.div(Rational.int(step * uMin).mul(Rational.int(ratios[0])));
	if (wish.hz.compare(lowest) < 0) return [{ code: 'rate-too-slow', severity: 'fault', ...at, wish: wish.hz, lowest }];
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
	return found;
}
