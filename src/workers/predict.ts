import type { LaneContent, PlannedLane, Replay } from '../core/aims/index.js';
import {
	type PlannedSystem,
	averageTables,
	firedPulses,
	listOutcomes,
	planOutcomes,
	planSystem,
	predictScore,
	topOf
} from '../core/predict/index.js';
import { derivePlan, type PlanDerivation } from '../core/plan/index.js';
import { Predictor, type Prediction, type SimSystem } from '../core/sim/index.js';
import type { StretchedTrace } from '../core/trace/index.js';
import { loadLine } from './loadLine.js';
import type { EventMark, PredictWorker, RecordedFrame, WireDrawn, WireLane, WirePrediction, WireReplay } from './predictWire.js';

/** Moments between two looks at what the page says, and in all: more edges than that no one looks at. */
const STEP = 20_000;
const MOST = 3_000_000;

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
		const { unit, outcomes } = planOutcomes(derivePlan(plan));
		return Promise.resolve({ unit: unit.toString(), outcomes });
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
	const { lines, outcomes } = listOutcomes(planned, prediction, reached);
	const both = lines.map(({ trace, ...line }): WireLane => ({ ...line, detail: false, drawn: { kind: 'level', columns: trace.columns } }));
	return {
		unit: planned.unit.toString(),
		reached,
		done,
		lanes: [...planned.lanes.flatMap((lane) => laneOf(lane, prediction, planned.system) ?? []), ...both],
		unplanned: planned.unplanned,
		replays: planned.replays.map(wireReplay),
		fired: firedPulses(derivation, planned, prediction, reached),
		inputs: [...planned.inputs].map(([aim, { cut, missing }]) => ({ aim, cut, ...(missing !== undefined && { missing }) })),
		outcomes,
		averages: averageTables(derivation, prediction)
	};
}

async function traces(lines: readonly RecordedFrame[]) {
	const loaded = await Promise.all(
		lines.map(async ({ recording, line, frame }) => [`${recording} ${line}`, await loadLine(frame)] as const)
	);
	return new Map(loaded);
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
		wrong: readings.wrong,
		...(readings.over && readings.came && { over: Float64Array.from(readings.over), came: Float64Array.from(readings.came) })
	};
}
