import { align, apart, recordedRow, type PlannedRow } from '../core/align/index.js';
import { steadyWave } from '../core/timer/index.js';
import { Rational } from '../core/exact/index.js';
import { StretchedTrace, type Level, type LevelSource, type StretchedColumns } from '../core/trace/index.js';
import { MOST_EDGES, type AlignAsked, type AlignedWire, type WireWave } from './benchWire.js';
import { loadLine } from './loadLine.js';

/** Planned edges of a line that does not turn round that a recording is laid on, at the most. */
const MOST = 2_000_000;
/** Layings that differ by whole turns, but for this share of one, show the same. */
const ALIKE = 0.02;

/** Lays all mapped lines of a recording on the plan together; times in units of the recording. */
export async function layRecording({ lines, ratio, budget, at }: AlignAsked): Promise<AlignedWire> {
	const traces = await Promise.all(lines.map(({ frame }) => loadLine(frame)));
	const rowsOf = (steady: boolean) =>
		lines.flatMap(({ wave }, i) => {
			const recorded = recordedRow(traces[i], 1, MOST_EDGES);
			const plan = plannedRow(wave, traces[i].unit, recorded.to - recorded.from, steady);
			return plan ? [{ plan, recorded, at: i }] : [];
		});
	const settings = { ratio, budget, glitch: 4 * budget, ...(at && { at }) };
	// Waves that turn round together may have gone on for long when the recording began; or it shows their beginning.
	const turns = new Set(lines.map(({ wave }) => turnOf(wave)));
	const ways = turns.size === 1 && !turns.has(undefined) && !at ? [false, true] : [false];
	const tried = ways.map(rowsOf).map((rows) => ({ rows, found: align(rows, settings) }));
	const costOf = ({ found }: (typeof tried)[number]) => (found.fits ? found.cost : Infinity);
	const { rows, found } = tried.reduce((best, one) => (costOf(one) < costOf(best) ? one : best));
	if (!found.fits || rows.length === 0) return { fits: false, laying: found.laying };
	const { laying, offsetKnown, ratioKnown, others } = found;
	// Whole turns apart it shows the same.
	const turn =
		ways.length > 1
			? Rational.parse([...turns][0]!)
					.div(traces[0].unit)
					.toNumber()
			: undefined;
	return {
		fits: true,
		laying,
		offsetKnown,
		ratioKnown,
		places: 1 + others.filter((other) => turn === undefined || apart(other, laying, turn) > ALIKE * turn).length,
		lines: lines.map((_, i) => {
			const line = found.lines[rows.findIndex(({ at }) => at === i)];
			return line ? { ...line, matched: line.matched.count } : null;
		})
	};
}

/** The planned wave in units of the recording, as far as the recording could show it. */
function plannedRow(wave: WireWave, unit: Rational, span: number, steady: boolean): PlannedRow | undefined {
	if (wave.kind === 'recorded') return undefined;
	if (wave.kind === 'steady') {
		const source = steadyWave(wave.setting, Rational.parse(wave.tick));
		if (!source) return undefined;
		const scale = source.unit.div(unit).toNumber();
		const first = source.edgesBefore(0);
		const count = source.edgesBefore(source.period) - first;
		return { ...row(source, first, count, scale), period: source.period * scale };
	}
	const turning = steady ? turningOf(wave.columns) : undefined;
	if (turning) {
		const { initial, offsets, period } = turning;
		const scale = Rational.parse(wave.unit).div(unit).toNumber();
		return { initial, times: offsets.map((at) => at * scale), period: period * scale };
	}
	const source = new StretchedTrace(Rational.parse(wave.unit), wave.columns.initial, wave.columns.times, wave.columns.repeats);
	const scale = source.unit.div(unit).toNumber();
	// A recording may begin before the plan does; twice its length from there on is enough to know the place of a plan that goes on alike.
	const count = Math.min(MOST, source.edgesBefore(Math.min(wave.until, (2 * span) / scale)));
	return count > 0 ? row(source, 0, count, scale) : undefined;
}

/** What a wave turns round in, in seconds as text; undefined for one that does not, or begins otherwise for long. */
function turnOf(wave: WireWave): string | undefined {
	if (wave.kind === 'recorded') return undefined;
	if (wave.kind === 'steady') {
		const source = steadyWave(wave.setting, Rational.parse(wave.tick));
		return source?.unit.mul(Rational.int(source.period)).toString();
	}
	const turning = turningOf(wave.columns);
	return turning && Rational.parse(wave.unit).mul(Rational.int(turning.period)).toString();
}

/** So many turns a wave may begin otherwise, and so often it must come again. */
const [BEGINNING, LASTING] = [4, 100];

/** The stretch of a predicted wave that comes again until its end: its edges from the wave's time 0 on, within one turn. */
function turningOf({ initial, times, repeats }: StretchedColumns): { initial: Level; offsets: number[]; period: number } | undefined {
	const last = repeats.reduce(
		(longest, one) => (longest && longest.times * longest.period >= one.times * one.period ? longest : one),
		repeats.at(0)
	);
	if (!last || last.count === 0 || last.count % 2 === 1 || last.times < LASTING || last.from > BEGINNING * last.period) return undefined;
	const edges = Array.from(times.slice(last.first, last.first + last.count));
	const offsets = edges.map((time) => time - Math.floor(time / last.period) * last.period);
	// Each edge turns the level: that of the first edge in the turn comes from how many stand before it.
	const first = offsets.indexOf(Math.min(...offsets));
	const before = last.first + first;
	const level = (before % 2 === 0 ? initial : 1 - initial) as Level;
	return { initial: level, offsets: [...offsets].sort((a, b) => a - b), period: last.period };
}

function row(source: LevelSource, first: number, count: number, scale: number): PlannedRow {
	const times = Float64Array.from({ length: count }, (_, i) => source.edgeTime(first + i) * scale);
	const levels = Uint8Array.from({ length: count }, (_, i) => source.levelAfter(first + i + 1));
	return { initial: source.levelAfter(first), times, levels };
}
