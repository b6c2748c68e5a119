import { Rational, type Seconds } from '../exact/index.js';
import type { Level, LevelSource } from '../trace/index.js';

/** One line of levels that is written to a file. */
export interface EdgeLine {
	name: string;
	source: LevelSource;
}

/** The edges of several lines in the order of their times, in picoseconds; of equal times the first line's comes first. */
export function* mergedEdges(
	lines: readonly EdgeLine[],
	ends: readonly (readonly [number, number])[]
): Generator<{ time: bigint; line: number; level: Level }, void> {
	const next = ends.map(([first]) => first);
	const scales = lines.map(({ source }) => toPicoseconds(source.unit));
	const timeOf = (i: number) => (next[i] < ends[i][1] ? scales[i](lines[i].source.edgeTime(next[i])) : undefined);
	const times = lines.map((_, i) => timeOf(i));
	for (;;) {
		let best = -1;
		times.forEach((time, i) => {
			if (time !== undefined && (best < 0 || time < times[best]!)) best = i;
		});
		if (best < 0) return;
		yield { time: times[best]!, line: best, level: lines[best].source.levelAfter(next[best] + 1) };
		next[best]++;
		times[best] = timeOf(best);
	}
}

/** Edges after `from` and before `to`, as indexes; the level after the first's predecessor stands at `from`. */
export function edgesWithin(source: LevelSource, from: Seconds, to: Seconds): [number, number] {
	const first = source.edgesBefore(Number(from.div(source.unit).floor()) + 1);
	return [first, Math.max(first, source.edgesBefore(-Number(to.div(source.unit).neg().floor())))];
}

const PICO = 10n ** 12n;

/** A time as whole picoseconds, half up. */
export function picoseconds(time: Rational): bigint {
	return (2n * time.num * PICO + time.den) / (2n * time.den);
}

/** From whole units to picoseconds, half up: in plain numbers while they are exact, else in long integers. */
function toPicoseconds(unit: Seconds): (units: number) => bigint {
	const scale = unit.mul(Rational.of(PICO));
	const [up, down] = [Number(scale.num), Number(scale.den)];
	return (units) => {
		const twice = 2 * units * up + down;
		if (!(twice < 2 ** 53 && up < 2 ** 52)) return (2n * BigInt(units) * scale.num + scale.den) / (2n * scale.den);
		const whole = Math.floor(twice / (2 * down));
		// The quotient of two exact numbers may be rounded up to the next whole one.
		return BigInt(whole * 2 * down > twice ? whole - 1 : whole);
	};
}
