import { StretchedTrace, type LevelSource } from '../../core/trace/index.js';
import { planSystem, type PlanDerivation, type PlannedLane, type PlannedSystem } from '../../core/plan/index.js';
import { callback, predictWorker } from '../../workers/client.js';

/** An hour is shown where nothing shorter was reached. */
const SECONDS = 3600;
const REST_MS = 120;

/** A predicted line as the bench draws it. */
export interface PredictedLane extends PlannedLane {
	/** undefined: not predicted yet. */
	source: LevelSource | undefined;
}

/** The plan's prediction as the page sees it: made anew, in a worker, when the plan rests after a change. */
export class PlanPrediction {
	lanes = $state.raw<PredictedLane[]>([]);
	unplanned = $state.raw<PlannedSystem['unplanned']>([]);
	/** Seconds that are predicted. */
	reached = $state(0);
	running = $state(false);
	/** The hour was not reached: stopped, or too many edges. */
	short = $state(false);
	failed = $state('');
	private token = 0;
	private timer: ReturnType<typeof setTimeout> | undefined;

	/** Predicts a derived plan, soon; what was predicted before stays until then. */
	ask(derivation: PlanDerivation): void {
		clearTimeout(this.timer);
		this.timer = setTimeout(() => void this.predict(planSystem(derivation)), this.lanes.length > 0 ? REST_MS : 0);
	}

	/** Ends a prediction under way; what is reached is shown. */
	async stop(): Promise<void> {
		if (this.running) await predictWorker().stop();
	}

	close(): void {
		clearTimeout(this.timer);
		this.token++;
		void this.stop();
	}

	private async predict({ system, unit, lanes, unplanned }: PlannedSystem): Promise<void> {
		const mine = ++this.token;
		const rate = unit.inverse().toNumber();
		this.unplanned = unplanned;
		this.running = true;
		this.failed = '';
		try {
			const told = callback((cycles: number) => {
				if (mine === this.token) this.reached = cycles / rate;
			});
			const wire = await predictWorker().predict(system, Math.round(SECONDS * rate), told);
			if (mine !== this.token) return;
			const traces = (all: typeof wire.outputs): Partial<Record<string, LevelSource>> =>
				Object.fromEntries(all.map(([name, { initial, times, repeats }]) => [name, new StretchedTrace(unit, initial, times, repeats)]));
			const [outputs, updates] = [traces(wire.outputs), traces(wire.updates)];
			const inputOf = (name: string) => {
				const { initial, edges } = system.inputs[name];
				return new StretchedTrace(unit, initial, Float64Array.from(edges), []);
			};
			this.lanes = lanes.map((lane) => ({
				...lane,
				source:
					lane.wave ??
					(lane.output === undefined ? undefined : outputs[lane.output]) ??
					(lane.updates === undefined ? undefined : updates[lane.updates]) ??
					(lane.input === undefined ? undefined : inputOf(lane.input))
			}));
			this.reached = wire.reached / rate;
			this.short = !wire.done;
		} catch (error) {
			if (mine === this.token) this.failed = error instanceof Error ? error.message : String(error);
		} finally {
			if (mine === this.token) this.running = false;
		}
	}
}
