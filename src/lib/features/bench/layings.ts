import equal from 'fast-deep-equal/es6';
import { MILLION, Rational } from '../../../core/exact/index.js';
import type { PlanClocks } from '../../../core/plan/index.js';
import { benchWorkers } from '../../../workers/clients.js';
import { MOST_EDGES, type AlignAsked } from '../../../workers/benchWire.js';
import { LatestWork } from '../../session/work.js';
import type { RecordedLane } from './recordedLane.svelte.js';

/** Lays recordings on the plan: all mapped lines of one together, whenever one of them or the plan is another. */
export class Layings {
	private readonly works = new Map<string, { asked: AlignAsked | undefined; work: LatestWork }>();

	/** Asks for what has changed since. */
	ask(lanes: readonly RecordedLane[], clocks: PlanClocks): void {
		const byRecording = new Map<string, RecordedLane[]>();
		for (const lane of lanes) {
			const { recording, frame, planned } = lane;
			if (!recording || !frame || !planned || frame.edges > MOST_EDGES) continue;
			byRecording.set(recording.id, [...(byRecording.get(recording.id) ?? []), lane]);
		}
		for (const [id, own] of byRecording) void this.lay(id, own, askedOf(own, clocks));
	}

	close(): void {
		for (const { work } of this.works.values()) work.end();
	}

	private async lay(id: string, lanes: readonly RecordedLane[], asked: AlignAsked): Promise<void> {
		const known = this.works.get(id) ?? { asked: undefined, work: new LatestWork() };
		this.works.set(id, known);
		if (equal(known.asked, asked)) return;
		known.asked = asked;
		const signal = known.work.begin();
		try {
			const { found } = await benchWorkers.run((worker) => worker.align(asked), { signal });
			lanes.forEach((lane, at) => (lane.laid = { found, at }));
		} catch {
			if (!signal.aborted) known.asked = undefined;
		}
	}
}

function askedOf(lanes: readonly RecordedLane[], clocks: PlanClocks): AlignAsked {
	const kernels = lanes.flatMap(({ derivation }) => (derivation?.timer ? (clocks.ppm(derivation.timer.kernel) ?? []) : []));
	const bounds = kernels.length > 0 ? kernels : [Rational.zero];
	const [lo, hi] = [bounds.reduce((a, b) => (b.compare(a) < 0 ? b : a)), bounds.reduce((a, b) => (b.compare(a) > 0 ? b : a))];
	const instrument = lanes.map((lane) => lane.instrument).reduce((a, b) => (b.compare(a) > 0 ? b : a));
	const part = (ppm: Rational) => ppm.div(MILLION).toNumber();
	const [frame] = lanes.map((lane) => lane.frame!);
	const unit = Rational.parse(frame.unit).toNumber();
	const step = Math.max(...lanes.map(({ step: known }) => known?.step.toNumber() ?? 0));
	const cycle = Math.max(...lanes.map(({ planned }) => planned!.source.unit.toNumber()));
	return {
		// Lines beside each other keep their places: a steady wave of an aim alone has none.
		lines: lanes.map((lane) => ({
			frame: lane.frame!,
			wave: (lanes.length > 1 ? lane.predicted() : undefined)?.wire ?? lane.planned!.wire
		})),
		ratio: [(1 - part(instrument)) / (1 + part(hi)), (1 + part(instrument)) / (1 + part(lo))],
		budget: (step + cycle) / unit
	};
}
