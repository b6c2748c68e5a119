import type { Hertz, Rational } from '../../exact/index.js';
import { acceptedEdges, countQuadrature } from '../../sim/index.js';
import { ValueTrace } from '../../trace/index.js';
import { figureOf, linkOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { addReading, endOf, filterOf, frameOf } from '../common/listen.js';
import type { Heard, InputLines, Readings, Replay } from '../common/replay.js';
import type { EncoderAim } from './schema.js';

/** The counts that the timer comes to, and where they are not the shaft's own (timers.md 8). */
export function listenEncoder(derivation: AimDerivation<EncoderAim>, { a, b }: InputLines, base: Hertz): Heard | undefined {
	if (!a || !b) return undefined;
	const { aim } = derivation;
	const reload = linkOf(derivation, 'reload');
	if (reload === undefined) return undefined;
	const { kernel, tickRate } = frameOf(derivation, base);
	const start = figureOf(derivation, 'start')?.toNumber() ?? 0;
	const times = Number(aim.times) as 1 | 2 | 4;
	const range = aim.ends;
	const filter = filterOf(derivation.timer!.encoder?.filters, aim.filter);
	const end = endOf([a, b], base);
	const read = countQuadrature(a, b, { kernel, times, reload, range, start, filter }, end);
	// The shaft's own place: every edge at its time, sampled without a filter on the base clock.
	const real = countQuadrature(a, b, { kernel: 1, times, reload, range, start, filter: { samples: 1, divide: 1 } }, end);
	const readings: Readings = { at: [], counts: [], truth: [], wrong: [] };
	// Within the filter's window both may differ on the way; what stays is a miscount.
	const settle = (filter.samples * filter.divide + 1) * kernel;
	let j = 0;
	let off = 0;
	read.counts.forEach(([time, count]) => {
		while (j < real.counts.length && real.counts[j][0] <= time) j++;
		const truth = j > 0 ? real.counts[j - 1][1] : start;
		const near = j > 0 && time - real.counts[j - 1][0] <= settle;
		const now = circular(count - truth, reload + 1, range === 'wrap');
		const moved = now !== off && !(near && Math.abs(now - off) <= 1);
		if (moved) {
			addReading(readings, time, count, truth, 'missed');
			off = now;
		}
	});
	addReading(readings, end, read.final, real.final, circular(read.final - real.final, reload + 1, range === 'wrap') === 0 ? '' : 'missed');
	const unit = base.inverse();
	const replay: Replay = {
		aim: aim.id,
		reads: { kind: 'position' },
		tickRate,
		edges: a.edges.length + b.edges.length,
		accepted:
			acceptedEdges(a, kernel, filter, Math.ceil(end / kernel)).length + acceptedEdges(b, kernel, filter, Math.ceil(end / kernel)).length,
		readings
	};
	return { replay, count: staircase([[0, start], ...read.counts], unit), positions: read.counts };
}

/** How far two counts are apart, the shorter way round where the range wraps. */
function circular(by: number, full: number, wraps: boolean): number {
	if (!wraps) return by;
	const rest = ((by % full) + full) % full;
	return rest > full / 2 ? rest - full : rest;
}

function staircase(points: readonly (readonly [number, number])[], unit: Rational): ValueTrace {
	const kinds = points.map(([, value]) => ({ value, step: 0, lead: 0 }));
	const times = Float64Array.from(points, ([time]) => time);
	return new ValueTrace(unit, {
		points: { initial: 0, times, repeats: [] },
		kinds,
		kindOf: Uint32Array.from(points.keys())
	});
}
