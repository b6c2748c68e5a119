import type { Trace } from '../trace/index.js';
import type { RecordedRow } from './lines.js';

/** A recorded line as it is laid: its times multiplied by `scale`, its first `most` edges. */
export function recordedRow(trace: Trace, scale: number, most: number): RecordedRow {
	const count = Math.min(most, trace.count);
	const times = new Float64Array(count);
	const levels = new Uint8Array(count);
	let at = 0;
	trace.forEdges(0, count, (time, level) => {
		times[at] = time * scale;
		levels[at++] = level;
	});
	const { start, end, initial } = trace.meta;
	return { initial, times, levels, from: start * scale, to: count < trace.count ? times[count - 1] : end * scale };
}
