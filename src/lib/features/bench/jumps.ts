import { lowerBound, type LevelSource } from '../../../core/trace/index.js';
import { unitPs } from '../../session/recordings.svelte.js';
import type { RecordedLane } from './recordedLane.svelte.js';
import type { PredictedLane } from './prediction.svelte.js';
import type { BenchView } from './benchView.svelte.js';

/** Moments of a lane that cursors snap to and jumps go to: its unit, and its own time at plan time 0, in picoseconds. */
export interface Line {
	sources: (Pick<LevelSource, 'edgesBefore' | 'edgeTime'> & { readonly count: number })[];
	unit: number;
	shift: number;
}

export type JumpKind = 'edge' | 'event' | 'finding' | 'difference';

const REACH = 7;

/** A recording's edges. */
export function recordedLine(lane: RecordedLane | undefined): Line | undefined {
	const held = lane?.trace ?? lane?.near;
	if (!lane || !held) return undefined;
	return { sources: [held], unit: held.unit.toNumber() * 1e12, shift: lane.shiftPs };
}

/** Where a recorded line is not as planned: edges that are off, missing, or not planned. */
export function differencesOf(lane: RecordedLane | undefined): Line | undefined {
	const { laid, recording } = lane ?? {};
	const line = laid?.found.fits ? laid.found.lines[laid.at] : null;
	if (!lane || !recording || !line) return undefined;
	const unit = unitPs(recording);
	return { sources: [momentsOf([...line.off.map(([, edge]) => edge), ...line.missing, ...line.extra])], unit, shift: lane.shiftPs };
}

/** A predicted lane's edges, the points of its value, or its events. */
export function plannedLine(lane: PredictedLane): Line {
	const { drawn } = lane;
	const sources =
		drawn.kind === 'level' ? [drawn.trace] : drawn.kind === 'value' ? [drawn.trace.points] : drawn.sets.map(({ trace }) => trace);
	return { sources, unit: lane.unit.toNumber() * 1e12, shift: 0 };
}

/** The moment of the line within a few pixels of x, or the time at x itself. */
export function snapTime(line: Line | undefined, view: BenchView, x: number): number {
	const time = view.timeAt(x);
	if (!line) return Math.round(time);
	const near = line.sources.flatMap((source) => {
		const next = source.edgesBefore((time + line.shift) / line.unit);
		return [next - 1, next].filter((e) => e >= 0 && e < source.count).map((e) => source.edgeTime(e) * line.unit - line.shift);
	});
	const best = near.sort((p, q) => Math.abs(p - time) - Math.abs(q - time))[0];
	return best !== undefined && Math.abs(view.xOf(best) - x) <= REACH ? best : Math.round(time);
}

/** The next moment of any of the sources to one side of a time; undefined beyond the last. */
export function nextMoment(lines: readonly Line[], from: number, by: 1 | -1): number | undefined {
	const found = lines.flatMap(({ sources, unit, shift }) =>
		sources.flatMap((source) => {
			// Half a unit keeps what is rounded from being met again.
			const at = (from + shift) / unit + by / 2;
			const edge = by > 0 ? source.edgesBefore(at) : source.edgesBefore(at) - 1;
			return edge >= 0 && edge < source.count ? [source.edgeTime(edge) * unit - shift] : [];
		})
	);
	if (found.length === 0) return undefined;
	return by > 0 ? Math.min(...found) : Math.max(...found);
}

/** A sorted list of moments as a source. */
export function momentsOf(times: readonly number[]): Line['sources'][number] {
	const sorted = [...times].sort((a, b) => a - b);
	return {
		count: sorted.length,
		edgesBefore: (t) => lowerBound(sorted, sorted.length, t),
		edgeTime: (i) => sorted[i]
	};
}
