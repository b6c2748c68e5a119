import { Rational } from '../../../core/exact/index.js';
import type { Averaged, Outcome } from '../../../core/predict/index.js';
import type { Plan } from '../../../core/plan/index.js';
import { StretchedTrace, ValueTrace } from '../../../core/trace/index.js';
import { predictWorkers, progress } from '../../../workers/clients.js';
import type { EventMark, RecordedFrame, WireLane, WirePrediction, WireReplay } from '../../../workers/predictWire.js';
import { frameOf, type RecordingShelf } from '../../session/recordings.svelte.js';
import { failedState, LatestWork, type WorkState } from '../../session/work.js';

/** An hour is shown where nothing shorter was reached. */
const SECONDS = 3600;
const REST_MS = 120;

/** What a predicted lane draws. */
export type Drawn =
	| { kind: 'level'; trace: StretchedTrace }
	| { kind: 'value'; trace: ValueTrace; lines: { name: string; trace: ValueTrace }[]; top: number; unit: string }
	| { kind: 'events'; sets: { mark: EventMark; trace: StretchedTrace }[]; busy: number };

/** A predicted line as the bench draws it. */
export interface PredictedLane extends Omit<WireLane, 'drawn'> {
	drawn: Drawn;
	/** Seconds of its base cycle. */
	unit: Rational;
}

/** The plan's prediction as the page sees it: made anew, in a worker, when the plan rests after a change. */
export class PlanPrediction {
	lanes = $state.raw<PredictedLane[]>([]);
	unplanned = $state.raw<WirePrediction['unplanned']>([]);
	replays = $state.raw<WireReplay[]>([]);
	fired = $state.raw<WirePrediction['fired']>([]);
	inputs = $state.raw<WirePrediction['inputs']>([]);
	outcomes = $state.raw<Outcome[]>([]);
	averages = $state.raw<Averaged[]>([]);
	/** Seconds of a base cycle. */
	unit = $state.raw(Rational.one);
	/** Seconds that are predicted, or so far. */
	reached = $state(0);
	/** Base cycles that the lanes are predicted for. */
	until = $state.raw(0);
	/** Stopped: the hour was not reached, because it was stopped or for too many edges. */
	state = $state.raw<WorkState>({ kind: 'idle' });
	private readonly work = new LatestWork();
	private stopping = false;
	private timer: ReturnType<typeof setTimeout> | undefined;

	/** Predicts a plan, soon; what was predicted before stays until then. */
	ask(plan: Plan, shelf: RecordingShelf): void {
		clearTimeout(this.timer);
		const lines = recordedLines(plan, shelf);
		this.timer = setTimeout(() => void this.predict(plan, lines), this.lanes.length > 0 ? REST_MS : 0);
	}

	/** Ends a prediction under way; what is reached is shown. */
	stop(): void {
		this.stopping = true;
	}

	/** Gives up whatever is under way. */
	close(): void {
		clearTimeout(this.timer);
		this.work.end();
	}

	private async predict(plan: Plan, lines: RecordedFrame[]): Promise<void> {
		const signal = this.work.begin();
		this.stopping = false;
		this.state = { kind: 'loading' };
		const told = (seconds: number) => (this.reached = seconds);
		const go = () => (signal.aborted ? 'drop' : this.stopping ? 'stop' : 'on');
		try {
			const wire = await predictWorkers.run((worker, heard) => worker.predict(plan, lines, SECONDS, progress(heard, told, go)), { signal });
			if (wire) this.take(wire);
		} catch (error) {
			this.state = failedState(error, signal) ?? this.state;
		}
	}

	private take(wire: WirePrediction): void {
		const unit = Rational.parse(wire.unit);
		this.unit = unit;
		this.lanes = wire.lanes.map(({ drawn, ...lane }) => ({ ...lane, unit, drawn: drawnOf(drawn, unit) }));
		this.unplanned = wire.unplanned;
		this.replays = wire.replays;
		this.fired = wire.fired;
		this.inputs = wire.inputs;
		this.outcomes = wire.outcomes;
		this.averages = wire.averages;
		this.reached = wire.reached * unit.toNumber();
		this.until = wire.reached;
		this.state = { kind: wire.done ? 'ready' : 'stopped' };
	}
}

function drawnOf(drawn: WireLane['drawn'], unit: Rational): Drawn {
	const level = ({ initial, times, repeats }: StretchedTrace['columns']) => new StretchedTrace(unit, initial, times, repeats);
	switch (drawn.kind) {
		case 'level':
			return { kind: 'level', trace: level(drawn.columns) };
		case 'value': {
			const lines = drawn.lines.map(({ name, columns }) => ({ name, trace: new ValueTrace(unit, columns) }));
			return { ...drawn, trace: new ValueTrace(unit, drawn.columns), lines };
		}
		case 'events':
			return { ...drawn, sets: drawn.sets.map(({ mark, columns }) => ({ mark, trace: level(columns) })) };
	}
}

/** The recorded lines that the plan's stimuli name, as far as they are on the shelf. */
function recordedLines(plan: Plan, shelf: RecordingShelf): RecordedFrame[] {
	return Object.values(plan.stimuli).flatMap((stimulus) => {
		if (stimulus.kind !== 'recorded') return [];
		const recording = shelf.find(stimulus.recording);
		return [stimulus.line, stimulus.second].flatMap((name) => {
			const line = recording?.lines.find((one) => one.name === name);
			return recording && line ? [{ recording: recording.id, line: name, frame: frameOf(recording, line) }] : [];
		});
	});
}
