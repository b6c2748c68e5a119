import { kindOf } from '../aims/index.js';
import type { PlanDerivation } from '../plan/index.js';
import { groupsOf, Predictor, type Prediction, type SimSystem } from '../sim/index.js';
import type { StretchedTrace } from '../trace/index.js';
import { findGlitches, type Glitch } from './glitches.js';
import { planSystem, type PlannedSystem, type Variant } from './system.js';

/** Moments that the other outcome of a list may take, and the time that follows its last row. */
const MOST_OUTCOME = 400_000;
const AFTER_SECONDS = 0.05;

/** What becomes of a list of writes, taken as the plan says or, `whatIf`, the other way. */
export interface Outcome {
	list: string;
	outcome: Variant['outcome'];
	whatIf: boolean;
	glitches: Glitch[];
}

/** A pin as one outcome of a list drives it; `glitches`: stretches, from and to, that belong to no setting. */
export interface OutcomeLine {
	aim: string;
	role: string;
	outcome: Variant['outcome'];
	whatIf: boolean;
	trace: StretchedTrace;
	glitches: [number, number][];
}

/** Each list of writes as the plan takes it, and the other way, over so many base cycles: with its glitches, and the pins of both. */
export function listOutcomes(planned: PlannedSystem, own: Prediction, until: number): { lines: OutcomeLine[]; outcomes: Outcome[] } {
	const found: { lines: OutcomeLine[]; outcomes: Outcome[] } = { lines: [], outcomes: [] };
	for (const variant of planned.variants) {
		const other = predictOther(variant.system, variant.timer, planned.unit, until);
		const usual = variant.outcome === 'buffered' ? ('immediate' as const) : ('buffered' as const);
		for (const way of [
			{ prediction: own, until, outcome: usual, whatIf: false },
			{ prediction: other.prediction, until: other.reached, outcome: variant.outcome, whatIf: true }
		]) {
			const { outcome, lines } = oneWay(planned, variant, way);
			found.outcomes.push(outcome);
			found.lines.push(...lines);
		}
	}
	return found;
}

/** The outcomes of all lists of a plan, over the time that they take, and the unit that their times are in. */
export function planOutcomes(derivation: PlanDerivation): { unit: PlannedSystem['unit']; outcomes: Outcome[] } {
	const planned = planSystem(derivation);
	const until = endOfLists(planned);
	const predictor = new Predictor(planned.system, planned.unit);
	predictor.runTo(until, MOST_OUTCOME);
	const { outcomes } = listOutcomes(planned, predictor.prediction(), Math.min(until, predictor.reached));
	return { unit: planned.unit, outcomes };
}

/** An aim whose pin answers an input: edges that could trigger, and pulses that came of them within so many base cycles. */
export interface Fired {
	aim: string;
	edges: number;
	pulses: number;
}

export function firedPulses({ plan }: PlanDerivation, { inputs, lanes }: PlannedSystem, { outputs }: Prediction, until: number): Fired[] {
	return plan.aims.flatMap((aim) => {
		const input = inputs.get(aim.id)?.lines.input;
		const pin = lanes.find(({ aim: of, shows }) => of === aim.id && shows.kind === 'pin');
		const trace = pin?.shows.kind === 'pin' ? outputs.get(pin.shows.output) : undefined;
		if (!input || !trace) return [];
		const first = input.initial === kindOf(aim).inputs!.rest(aim) ? 0 : 1;
		const edges = Math.max(0, Math.ceil((input.edges.length - first) / 2));
		return [{ aim: aim.id, edges, pulses: Math.ceil(trace.edgesBefore(until) / 2) }];
	});
}

function oneWay(
	{ changes, system, lanes }: PlannedSystem,
	variant: Variant,
	way: { prediction: Prediction; until: number; outcome: Variant['outcome']; whatIf: boolean }
): { outcome: Outcome; lines: OutcomeLine[] } {
	const change = changes.find(({ list }) => list.id === variant.list)!;
	const timer = system.timers.find(({ id }) => id === variant.timer)!;
	const { prediction, until, outcome, whatIf } = way;
	const glitches = findGlitches(change, timer.kernel, prediction.timers.get(variant.timer)!, until);
	const lines = change.channels.flatMap(({ aim, channel }) => {
		const bad = glitches.filter((one) => one.channel === channel).map(({ at, period }): [number, number] => [at, at + period]);
		return lanes.flatMap(({ aim: of, role, shows }): OutcomeLine[] => {
			const trace = of === aim.id && shows.kind === 'pin' ? prediction.outputs.get(shows.output) : undefined;
			return trace ? [{ aim: aim.id, role, outcome, whatIf, trace, glitches: bad }] : [];
		});
	});
	return { outcome: { list: variant.list, outcome, whatIf, glitches }, lines };
}

/** The group of timers that hangs on a timer, run for itself. */
function predictOther(system: SimSystem, timer: string, unit: Prediction['unit'], until: number) {
	const group = groupsOf(system).find(({ timers }) => timers.some(({ id }) => id === timer))!;
	const predictor = new Predictor(group, unit);
	predictor.runTo(until, MOST_OUTCOME);
	return { prediction: predictor.prediction(), reached: Math.min(until, predictor.reached) };
}

/** When the last row of all lists has long acted, in base cycles. */
function endOfLists({ changes, unit }: PlannedSystem): number {
	const last = changes.reduce((most, { rows, begin, every, list }) => {
		const at = rows.at(-1)?.at?.toNumber() ?? 0;
		const rowsTime =
			list.pace === 'updates' && begin && rows.length > 0
				? (rows.length + 1) * every * Math.max(...rows.map(({ hz }) => 1 / hz.toNumber()))
				: 0;
		return Math.max(most, at, 2 * rowsTime);
	}, 0);
	return Math.round((last + AFTER_SECONDS) / unit.toNumber());
}
