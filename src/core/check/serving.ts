import type { TimerProfile } from '../part/index.js';
import { kindOf, type Aim, type AimDerivation } from '../aims/index.js';
import { atOnce, deriveStepwise, leaderOf, placedOn, type Plan, type PlanDerivation } from '../plan/index.js';
import { checkPlan, type Finding } from './findings.js';

/** How one timer of the part would serve an aim. */
export interface Service {
	timer: TimerProfile;
	/** The aim as it stands now is on this timer. */
	own: boolean;
	/** The aim placed there; left out when the timer cannot do such a job at all. */
	aim?: Aim;
	derivation?: AimDerivation;
	/** What is wrong with it there, or would go wrong with others by it; none: it serves. */
	faults: Finding[];
}

/** Every timer of the part with what it would make of an aim, the plan's others standing as they are. */
export function servers(plan: Plan, aim: Aim): Service[] {
	return atOnce(serversStepwise(plan, aim));
}

/** What is wrong with an aim on whatever timer. */
const WHEREVER: ReadonlySet<string> = new Set(['output-off', 'interrupt-off', 'flag-kept', 'priority-differs']);

/** As servers, with rests: a plan of many aims takes a while on a part of many timers. `before`: the plan's own derivation, where it is at hand. */
export function* serversStepwise(plan: Plan, aim: Aim, before?: PlanDerivation): Generator<void, Service[], void> {
	const standing = checkPlan(before?.plan === plan ? before : yield* deriveStepwise(plan));
	yield;
	const now = new Set(standing.filter(({ severity }) => severity === 'fault').map(keyOf));
	const services: Service[] = [];
	for (const timer of plan.part.timers) {
		const own = timer.id === aim.timer;
		const moved = own ? aim : placedOn(aim, timer, plan);
		if (!moved) {
			services.push({ timer, own, faults: [] });
			continue;
		}
		const derived = yield* deriveStepwise({ ...plan, aims: neighbourhood(plan, moved) });
		const found = checkPlan(derived).filter(
			({ severity, aim: one, code }) => severity === 'fault' && one !== undefined && !WHEREVER.has(code)
		);
		const harmed = own ? [] : found.filter((finding) => finding.aim !== aim.id && !now.has(keyOf(finding)));
		const faults = [...found.filter((finding) => finding.aim === aim.id), ...harmed];
		const derivation = derived.aims.find((one) => one.aim.id === aim.id)!;
		services.push({ timer, own, aim: moved, derivation, faults });
		yield;
	}
	return services;
}

/** The aims that have a say in how this one comes out: those on its timer, with their leaders and all on the leaders' timers. */
function neighbourhood(plan: Plan, moved: Aim): Aim[] {
	const aims = plan.aims.map((one) => (one.id === moved.id ? moved : one));
	const timerOf = new Map(aims.map(({ id, timer }) => [id, timer]));
	const asked = kindOf(moved).asks?.(moved) ?? [];
	const timers = new Set([moved.timer, ...asked.flatMap((id) => timerOf.get(id) ?? [])]);
	for (let before = 0; before < timers.size;) {
		before = timers.size;
		for (const one of aims) if (timers.has(one.timer)) timers.add(timerOf.get(leaderOf(one) ?? '') ?? one.timer);
	}
	// Pins are given out over the whole plan, but only an aim that chose its own can take one from another.
	return aims.filter(
		(one) =>
			timers.has(one.timer) ||
			Object.keys(one.pins).length > 0 ||
			kindOf(one)
				.pins?.(one)
				.some(({ port }) => port !== undefined)
	);
}

function keyOf({ aim, code }: Finding): string {
	return `${aim} ${code}`;
}
