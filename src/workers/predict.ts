import { type Aim, type LaneContent, type PlannedLane, type Replay, kindOf } from '../core/aims/index.js';
import { type PlannedSystem, averageTables, findGlitches, planSystem, predictScore, topOf } from '../core/predict/index.js';
import { derivePlan, type PlanDerivation } from '../core/plan/index.js';
import { groupsOf, Predictor, type Prediction, type SimSystem } from '../core/sim/index.js';
import type { StretchedTrace } from '../core/trace/index.js';
import { loadLine } from './loadLine.js';
import type {
	EventMark,
	PredictWorker,
	RecordedFrame,
	WireDrawn,
	WireLane,
	WireOutcome,
	WirePrediction,
	WireReplay
} from './predictWire.js';

/** Moments between two looks at what the page says, and in all: more edges than that no one looks at. */
const STEP = 20_000;
const MOST = 3_000_000;
/** Moments that the other outcome of a list may take, and periods that follow its last row. */
const MOST_OUTCOME = 400_000;
const AFTER_SECONDS = 0.05;

export const predictWork: PredictWorker = {
	async predict(plan, lines, seconds, onProgress) {
		// What was asked meanwhile may make this one needless.
		if ((await onProgress(0)) === 'drop') return null;
		const recorded = await traces(lines);
		const derivation = derivePlan(plan);
		const planned = planSystem(derivation, (recording, line) => recorded.get(`${recording} ${line}`));
		const until = Math.round(seconds / planned.unit.toNumber());
		const predictor = new Predictor(planned.system, planned.unit);
		let done = predictor.runTo(until, STEP);
		for (let moments = STEP; !done && moments < MOST; moments += STEP) {
			const go = await onProgress(predictor.reached * planned.unit.toNumber());
			if (go === 'drop') return null;
			if (go === 'stop') break;
			done = predictor.runTo(until, STEP);
		}
		return wirePrediction(derivation, planned, predictor, until, done);
	},
	outcomes(plan) {
		const planned = planSystem(derivePlan(plan));
		const until = endOf(planned);
		const predictor = new Predictor(planned.system, planned.unit);
		predictor.runTo(until, MOST_OUTCOME);
		const { outcomes } = bothOutcomes(planned, predictor.prediction(), Math.min(until, predictor.reached));
		return Promise.resolve({ unit: planned.unit.toString(), outcomes });
	},
	score(plan) {
		const { unit, staves, ...score } = predictScore(derivePlan(plan));
		const wire = staves.map(({ counter, ...stave }) => ({ ...stave, columns: counter.columns }));
		return Promise.resolve({ ...score, unit: unit.toString(), staves: wire });
	}
};

/** What a predictor has come to, as plain data. */
function wirePrediction(
	derivation: PlanDerivation,
	planned: PlannedSystem,
	predictor: Predictor,
	until: number,
	done: boolean
): WirePrediction {
	const prediction = predictor.prediction();
	const reached = Math.min(until, predictor.reached);
	const both = bothOutcomes(planned, prediction, reached);
	return {
		unit: planned.unit.toString(),
		reached,
		done,
		lanes: [...planned.lanes.flatMap((lane) => laneOf(lane, prediction, planned.system) ?? []), ...both.lanes],
		unplanned: planned.unplanned,
		replays: planned.replays.map(wireReplay),
		fired: firedBy(planned, prediction, derivation.plan.aims, reached),
		inputs: [...planned.inputs].map(([aim, { cut, missing }]) => ({ aim, cut, ...(missing !== undefined && { missing }) })),
		outcomes: both.outcomes,
		averages: averageTables(derivation, prediction)
	};
}

async function traces(lines: readonly RecordedFrame[]) {
	const loaded = await Promise.all(
		lines.map(async ({ recording, line, frame }) => [`${recording} ${line}`, await loadLine(frame)] as const)
	);
	return new Map(loaded);
}

/** When the last row of all lists has long acted, in base cycles. */
function endOf({ changes, unit }: PlannedSystem): number {
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

function laneOf(lane: PlannedLane, prediction: Prediction, system: SimSystem): WireLane | undefined {
	const drawn = draw(lane.shows, prediction, system);
	return drawn && { aim: lane.aim, role: lane.role, detail: lane.detail, drawn };
}

function draw(shows: LaneContent, { outputs, timers: stories }: Prediction, { timers }: SimSystem): WireDrawn | undefined {
	const level = (trace: StretchedTrace | undefined): WireDrawn | undefined => trace && { kind: 'level', columns: trace.columns };
	switch (shows.kind) {
		case 'pin':
			return level(outputs.get(shows.output));
		case 'reference':
			return level(stories.get(shows.timer)?.references.get(shows.channel));
		case 'level':
			return level(shows.trace);
		case 'value':
			return { kind: 'value', columns: shows.trace.columns, lines: [], top: shows.trace.top, unit: shows.unit };
		case 'counter': {
			const story = stories.get(shows.timer);
			if (!story) return undefined;
			const lines = shows.registers.flatMap((name) => {
				const register = story.registers.get(name);
				return register ? [{ name, columns: register.columns, top: register.top }] : [];
			});
			const top = Math.max(
				topOf(
					timers.find(({ id }) => id === shows.timer)!,
					story.counter
				),
				...lines.map((line) => line.top)
			);
			return { kind: 'value', columns: story.counter.columns, lines, top, unit: '' };
		}
		case 'events': {
			const story = shows.timer === undefined ? undefined : stories.get(shows.timer);
			const sets: { mark: EventMark; columns: StretchedTrace['columns'] }[] = [];
			const add = (mark: EventMark, trace: StretchedTrace | undefined) =>
				trace && trace.count > 0 && sets.push({ mark, columns: trace.columns });
			const events = shows.own ?? story?.updates;
			add(shows.interrupts ? 'interrupt' : 'update', events);
			add('match', shows.channel === undefined ? undefined : story?.matches.get(shows.channel));
			add('capture', shows.captures);
			add('write', story?.writes);
			add('effect', story?.effects);
			return { kind: 'events', sets, busy: shows.busy ?? 0 };
		}
	}
}

/** Each list as the plan takes its writes, and the other way: lanes of both, with their glitches. */
function bothOutcomes(
	{ changes, variants, system, unit, lanes }: PlannedSystem,
	own: Prediction,
	until: number
): { lanes: WireLane[]; outcomes: WireOutcome[] } {
	const found: { lanes: WireLane[]; outcomes: WireOutcome[] } = { lanes: [], outcomes: [] };
	for (const variant of variants) {
		const change = changes.find(({ list }) => list.id === variant.list)!;
		const timer = system.timers.find(({ id }) => id === variant.timer)!;
		const other = predictOther(variant.system, variant.timer, unit, until);
		const ways = [
			{ prediction: own, until, outcome: variant.outcome === 'buffered' ? ('immediate' as const) : ('buffered' as const), whatIf: false },
			{ prediction: other.prediction, until: other.reached, outcome: variant.outcome, whatIf: true }
		];
		for (const way of ways) {
			const story = way.prediction.timers.get(variant.timer)!;
			const glitches = findGlitches(change, timer.kernel, story, timer.repeat, way.until);
			found.outcomes.push({ list: variant.list, outcome: way.outcome, whatIf: way.whatIf, glitches });
			for (const { aim, channel } of change.channels) {
				const pins = lanes.filter(({ aim: of, shows }) => of === aim.id && shows.kind === 'pin');
				for (const { role, shows } of pins) {
					const trace = shows.kind === 'pin' ? way.prediction.outputs.get(shows.output) : undefined;
					if (!trace) continue;
					const bad = glitches.filter((one) => one.channel === channel).map(({ at, period }): [number, number] => [at, at + period]);
					const drawn: WireDrawn = { kind: 'level', columns: trace.columns };
					found.lanes.push({ aim: aim.id, role, detail: false, outcome: way.outcome, whatIf: way.whatIf, drawn, glitches: bad });
				}
			}
		}
	}
	return found;
}

/** The group of timers that hangs on a timer, run for itself. */
function predictOther(system: SimSystem, timer: string, unit: Prediction['unit'], until: number) {
	const group = groupsOf(system).find(({ timers }) => timers.some(({ id }) => id === timer))!;
	const predictor = new Predictor(group, unit);
	predictor.runTo(until, MOST_OUTCOME);
	return { prediction: predictor.prediction(), reached: Math.min(until, predictor.reached) };
}

function wireReplay({ aim, reads, tickRate, edges, accepted, readings }: Replay): WireReplay {
	return {
		aim,
		reads: reads.kind === 'gated' ? { kind: 'gated', gate: reads.gate.toString() } : reads,
		tickRate: tickRate.toString(),
		edges,
		accepted,
		at: Float64Array.from(readings.at),
		counts: Float64Array.from(readings.counts),
		truth: Float64Array.from(readings.truth),
		wrong: readings.wrong
	};
}

/** Aims whose pin answers an input: edges that could trigger, and pulses that came of them. */
function firedBy({ inputs, lanes }: PlannedSystem, { outputs }: Prediction, aims: readonly Aim[], until: number): WirePrediction['fired'] {
	return aims.flatMap((aim) => {
		const input = inputs.get(aim.id)?.lines.input;
		const pin = lanes.find(({ aim: of, shows }) => of === aim.id && shows.kind === 'pin');
		const trace = pin?.shows.kind === 'pin' ? outputs.get(pin.shows.output) : undefined;
		if (!input || !trace) return [];
		const first = input.initial === kindOf(aim).inputs!.rest(aim) ? 0 : 1;
		const edges = Math.max(0, Math.ceil((input.edges.length - first) / 2));
		return [{ aim: aim.id, edges, pulses: Math.ceil(trace.edgesBefore(until) / 2) }];
	});
}
