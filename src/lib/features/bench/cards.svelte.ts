import { readTime } from '../../../core/aims/index.js';
import { cardOf } from '../../../core/measure/index.js';
import type { BenchCard } from '../../../core/plan/index.js';
import type { CardAsked, WireCard } from '../../../workers/benchWire.js';
import { benchWorkers } from '../../../workers/clients.js';
import { unitPs } from '../../session/recordings.svelte.js';
import { failedState, LatestWork, type WorkState } from '../../session/work.js';
import type { ShownMark } from './marks.js';
import type { BenchView } from './benchView.svelte.js';
import type { RecordedLane } from './recordedLane.svelte.js';

/** Why a card shows nothing. */
export type CardTrouble = 'no-lane' | 'no-other' | 'no-marks' | 'no-limit' | 'no-samples' | 'other-unit' | 'too-many';

/** One card at work: what it asks, and what came of it. */
export class CardWork {
	state = $state.raw<WorkState>({ kind: 'idle' });
	found = $state.raw<WireCard>();
	trouble = $state.raw<CardTrouble>();
	private asked = '';
	private scene: CardAsked | undefined;
	private readonly work = new LatestWork();

	/** Measures when anything that it hangs on has changed. */
	ask(card: BenchCard, lanes: readonly RecordedLane[], marks: readonly ShownMark[], view: BenchView): void {
		const asked = askedOf(card, lanes, marks, view);
		this.trouble = typeof asked === 'string' ? asked : undefined;
		if (typeof asked === 'string') {
			this.found = undefined;
			this.asked = '';
			this.work.end();
			return;
		}
		const key = JSON.stringify(asked);
		if (key === this.asked) return;
		this.asked = key;
		this.scene = asked;
		void this.measure(asked);
	}

	/** When the next of its values begins, in units of its line; undefined where there is none on that side. */
	async step(time: number, by: 1 | -1): Promise<number | undefined> {
		const { scene } = this;
		return scene && ((await benchWorkers.run((worker) => worker.cardStep(scene, time, by))) ?? undefined);
	}

	close(): void {
		this.work.end();
	}

	private async measure(asked: CardAsked): Promise<void> {
		const signal = this.work.begin();
		this.state = { kind: 'loading' };
		try {
			const found = await benchWorkers.run((worker) => worker.card(asked), { signal });
			this.found = found ?? undefined;
			this.trouble = found ? undefined : 'too-many';
			this.state = { kind: 'ready' };
		} catch (error) {
			if (!signal.aborted) this.asked = '';
			this.state = failedState(error, signal) ?? this.state;
		}
	}
}

function askedOf(card: BenchCard, lanes: readonly RecordedLane[], marks: readonly ShownMark[], view: BenchView): CardAsked | CardTrouble {
	const { pair, limit: limited, samples } = cardOf(card.of);
	const lane = lanes.find(({ id }) => id === card.lane);
	if (!lane?.frame || !lane.recording) return 'no-lane';
	if (samples && !lane.line?.analogue) return 'no-samples';
	const other = pair ? lanes.find(({ id }) => id === card.other) : undefined;
	if (pair && !other?.frame) return 'no-other';
	// Lines of two recordings have two clocks: they cannot be held against each other to the unit.
	if (other && other.recording?.id !== lane.recording.id) return 'other-unit';
	const unit = unitPs(lane.recording);
	let limit = 0;
	if (limited) {
		const read = readTime(card.limit);
		if (!read.ok || read.value.sign <= 0) return 'no-limit';
		limit = (read.value.toNumber() * 1e12) / unit;
	}
	const { startTime, endTime } = lane.recording;
	const whole = { start: startTime, end: endTime + 1 };
	const inside = (from: number, to: number) => ({
		start: (Math.min(from, to) + lane.shiftPs) / unit,
		end: (Math.max(from, to) + lane.shiftPs) / unit
	});
	const asked = { of: card.of, line: lane.frame, ...(other?.frame && { other: other.frame }), limit };
	if (card.over === 'all') return { ...asked, window: whole };
	if (card.over === 'view') return { ...asked, window: inside(view.start, view.start + view.width * view.perColumn) };
	const [from, to] = [card.from, card.to].map((id) => marks.find((mark) => mark.id === id));
	if (!from || !to) return 'no-marks';
	return { ...asked, window: inside(from.ps, to.ps) };
}
