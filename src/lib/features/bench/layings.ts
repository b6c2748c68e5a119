import equal from 'fast-deep-equal/es6';
import { MILLION, Rational } from '../../../core/exact/index.js';
import type { PlanClocks } from '../../../core/plan/index.js';
import { benchWorkers } from '../../../workers/clients.js';
import { MOST_EDGES, type AlignAsked, type WireWave } from '../../../workers/benchWire.js';
import { LatestWork } from '../../session/work.js';
import type { RecordedLane } from './recordedLane.svelte.js';

/** What of a lane its recording is laid on, and where it is told how. */
export interface LaidOn {
	/** `alone`: no other line of its recording is laid with it. */
	wire(lane: RecordedLane, alone: boolean): WireWave | undefined;
	/** What its clock may be off by, in ppm. */
	ppm(lane: RecordedLane, clocks: PlanClocks): readonly [Rational, Rational] | undefined;
	put(lane: RecordedLane, laid: NonNullable<RecordedLane['laid']>): void;
}

const planPpm = ({ derivation }: RecordedLane, clocks: PlanClocks) =>
	(derivation?.timer && clocks.ppm(derivation.timer.kernel)) ?? undefined;

/** On the plan as it stands. Lines beside each other keep their places: a steady wave of an aim alone has none. */
export const ON_PLAN: LaidOn = {
	wire: (lane, alone) => ((alone ? undefined : lane.predicted()) ?? lane.planned)?.wire,
	ppm: planPpm,
	put: (lane, laid) => (lane.laid = laid)
};

/** On what the pinned suspect would show. */
export const ON_SUSPECT: LaidOn = {
	wire: ({ suspected }) => suspected?.wire,
	ppm: (lane, clocks) => {
		const own = lane.suspected?.ppm;
		return own ? [inPpm(own[0]), inPpm(own[1])] : planPpm(lane, clocks);
	},
	put: (lane, laid) => (lane.suspectLaid = laid)
};

const inPpm = (ppm: number) => Rational.parse(ppm.toFixed(6));

/** Lays recordings on something: all mapped lines of one together, whenever one of them or what they are laid on is another. */
export class Layings {
	private readonly works = new Map<string, { asked: AlignAsked | undefined; work: LatestWork }>();

	constructor(private readonly on: LaidOn) {}

	/** Asks for what has changed since. */
	ask(lanes: readonly RecordedLane[], clocks: PlanClocks): void {
		const byRecording = new Map<string, RecordedLane[]>();
		for (const lane of lanes) {
			const { recording, frame } = lane;
			if (!recording || !frame || !this.on.wire(lane, true) || frame.edges > MOST_EDGES) continue;
			byRecording.set(recording.id, [...(byRecording.get(recording.id) ?? []), lane]);
		}
		for (const [id, own] of byRecording) void this.lay(id, own, this.askedOf(own, clocks));
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
			lanes.forEach((lane, at) => this.on.put(lane, { found, at }));
		} catch {
			if (!signal.aborted) known.asked = undefined;
		}
	}

	private askedOf(lanes: readonly RecordedLane[], clocks: PlanClocks): AlignAsked {
		const sources = lanes.flatMap((lane) => this.on.ppm(lane, clocks) ?? []);
		const bounds = sources.length > 0 ? sources : [Rational.zero];
		const [lo, hi] = [bounds.reduce((a, b) => (b.compare(a) < 0 ? b : a)), bounds.reduce((a, b) => (b.compare(a) > 0 ? b : a))];
		const instrument = lanes.map((lane) => lane.instrument).reduce((a, b) => (b.compare(a) > 0 ? b : a));
		const part = (ppm: Rational) => ppm.div(MILLION).toNumber();
		const unit = Rational.parse(lanes[0].frame!.unit).toNumber();
		const step = Math.max(...lanes.map(({ step: known }) => known?.step.toNumber() ?? 0));
		const cycle = Math.max(...lanes.map(({ planned }) => planned?.source.unit.toNumber() ?? 0));
		return {
			lines: lanes.map((lane) => ({ frame: lane.frame!, wave: this.on.wire(lane, lanes.length === 1)! })),
			ratio: [(1 - part(instrument)) / (1 + part(hi)), (1 + part(instrument)) / (1 + part(lo))],
			budget: (step + cycle) / unit,
			...(lanes[0].hand && { at: { offset: lanes[0].hand.offset.toNumber() / unit, ratio: lanes[0].hand.ratio.toNumber() } })
		};
	}
}
