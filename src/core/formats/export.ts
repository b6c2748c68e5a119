import { decimalText, Rational, type Seconds } from '../exact/index.js';
import type { EdgeChunk, Level, SampleBlock } from '../trace/index.js';
import { csvRow } from './csv/writer.js';
import { dumpCode, dumpNames } from './vcd/writer.js';

/** A line of a recording that is written: its level where the writing begins, and its edges behind that as they come. */
export interface ExportLine {
	name: string;
	initial: Level;
	edges: AsyncIterable<EdgeChunk>;
	/** Of an analogue line. */
	samples?: AsyncIterable<SampleBlock>;
}

/** What is written of a recording: times in units, from `from` to before `to`. */
export interface ExportFrame {
	unit: Seconds;
	/** What an edge can be off by: times of rows are written to its last digit where that loses nothing. */
	step: Seconds;
	from: number;
	to: number;
	comment: string;
}

/** Characters that are gathered before they are given away. */
const PIECE = 1 << 16;
/** Places of a time whose unit is no power of ten. */
const PLACES = 15;
const LEVELS = ['0', '1', 'x'];

/** A recording as a value change dump, piece by piece. A unit that dumps do not know is written in picoseconds; times before zero begin at zero, which is told. */
export async function* recordingVcd(lines: readonly ExportLine[], { unit, from, to, comment }: ExportFrame): AsyncGenerator<string, void> {
	const scale = timescale(unit);
	const origin = Math.min(0, from);
	const at = (time: number) =>
		scale.exact
			? String(time - origin)
			: unit
					.mul(Rational.int(time - origin))
					.div(scale.unit)
					.roundHalfUp()
					.toString();
	const said = origin < 0 ? `${comment} Time 0 of this dump was ${decimalText(unit.mul(Rational.int(origin)), PLACES)} s.` : comment;
	const text = new Gathered();
	text.add(`$comment ${said.replaceAll('$', ' ')} $end\n$timescale ${scale.word} $end\n$scope module recording $end\n`);
	dumpNames(lines.map(({ name }) => name)).forEach((name, i) => text.add(`$var wire 1 ${dumpCode(i)} ${name} $end\n`));
	text.add(`$upscope $end\n$enddefinitions $end\n#${at(from)}\n$dumpvars\n`);
	lines.forEach(({ initial }, i) => text.add(`${LEVELS[initial]}${dumpCode(i)}\n`));
	text.add('$end\n');
	let now = at(from);
	for await (const { time, line, level } of mergedChanges(lines, from, to)) {
		const here = at(time);
		text.add(`${here === now ? '' : `#${here}\n`}${LEVELS[level]}${dumpCode(line)}\n`);
		now = here;
		if (text.full) yield text.take();
	}
	const end = at(to - 1);
	if (end !== now) text.add(`#${end}\n`);
	yield text.take();
}

/** Levels of a recording as rows of a list of edges, piece by piece: a row for each moment in which something changes, and one for either end. */
export async function* recordingEdges(lines: readonly ExportLine[], frame: ExportFrame, heading: string): AsyncGenerator<string, void> {
	const { from, to } = frame;
	const timeText = timeWriter(frame);
	const levels = lines.map(({ initial }) => LEVELS[initial]);
	const text = new Gathered();
	text.add(`${csvRow([heading, ...lines.map(({ name }) => name)])}\n`);
	let at = from;
	for await (const { time, line, level } of mergedChanges(lines, from, to)) {
		if (time !== at) {
			text.add(`${timeText(at)},${levels.join(',')}\n`);
			at = time;
			if (text.full) yield text.take();
		}
		levels[line] = LEVELS[level];
	}
	text.add(`${timeText(at)},${levels.join(',')}\n`);
	if (to - 1 > at) text.add(`${timeText(to - 1)},${levels.join(',')}\n`);
	yield text.take();
}

/** Samples of the analogue lines as rows, piece by piece: a row for each moment in which one of them has a sample, empty where another has none. */
export async function* recordingSamples(lines: readonly ExportLine[], frame: ExportFrame, heading: string): AsyncGenerator<string, void> {
	const { from, to } = frame;
	const timeText = timeWriter({ ...frame, step: frame.unit });
	const sampled = lines.filter((line): line is ExportLine & { samples: AsyncIterable<SampleBlock> } => line.samples !== undefined);
	const text = new Gathered();
	text.add(`${csvRow([heading, ...sampled.map(({ name }) => name)])}\n`);
	const heads = await Promise.all(
		sampled.map(async ({ samples }) => {
			const head = new Head(samplesOf(samples));
			await head.next();
			return head;
		})
	);
	for (;;) {
		let time = Infinity;
		for (const { value } of heads) if (value && value[0] < time) time = value[0];
		if (!(time < to)) break;
		let row = timeText(time);
		for (const head of heads) {
			const here = head.value?.[0] === time;
			row += `,${here ? sampleText(head.value![1]) : ''}`;
			if (here) await head.next();
		}
		if (time >= from) text.add(`${row}\n`);
		if (text.full) yield text.take();
	}
	yield text.take();
}

interface Change {
	time: number;
	line: number;
	level: Level;
}

/** Edges of all lines after `from` and before `to`, in the order of their times. */
async function* mergedChanges(lines: readonly ExportLine[], from: number, to: number): AsyncGenerator<Change> {
	const heads = await Promise.all(
		lines.map(async ({ edges }) => {
			const head = new Head(edgesOf(edges, from));
			await head.next();
			return head;
		})
	);
	for (;;) {
		let best = -1;
		for (let i = 0; i < heads.length; i++) {
			const { value } = heads[i];
			if (value && value[0] < to && (best < 0 || value[0] < heads[best].value![0])) best = i;
		}
		if (best < 0) return;
		const [time, level] = heads[best].value!;
		yield { time, line: best, level: level as Level };
		if (!heads[best].step()) await heads[best].next();
	}
}

/** The next of an iteration of batches; within a batch nothing is waited for. */
class Head {
	value: [number, number] | undefined;
	private batch: [number, number][] = [];
	private at = 0;

	constructor(private readonly batches: AsyncIterator<[number, number][]>) {}

	step(): boolean {
		if (this.at >= this.batch.length) return false;
		this.value = this.batch[this.at++];
		return true;
	}

	async next(): Promise<void> {
		while (!this.step()) {
			const next = await this.batches.next();
			if (next.done) {
				this.value = undefined;
				return;
			}
			this.batch = next.value;
			this.at = 0;
		}
	}
}

async function* edgesOf(chunks: AsyncIterable<EdgeChunk>, after: number): AsyncGenerator<[number, number][]> {
	for await (const { base, offsets, levels } of chunks) {
		const batch: [number, number][] = [];
		for (let i = 0; i < offsets.length; i++) if (base + offsets[i] > after) batch.push([base + offsets[i], levels[i]]);
		yield batch;
	}
}

async function* samplesOf(blocks: AsyncIterable<SampleBlock>): AsyncGenerator<[number, number][]> {
	for await (const { times, values } of blocks) yield Array.from(times, (time, i): [number, number] => [time, values[i]]);
}

/** Text that is gathered into pieces. */
class Gathered {
	private parts: string[] = [];
	private size = 0;

	get full(): boolean {
		return this.size > PIECE;
	}

	add(part: string): void {
		this.parts.push(part);
		this.size += part.length;
	}

	take(): string {
		const text = this.parts.join('');
		this.parts = [];
		this.size = 0;
		return text;
	}
}

/** A sample with as few digits as tell it apart from its neighbours. */
function sampleText(value: number): string {
	if (value !== value) return 'x';
	for (let digits = 5; digits < 9; digits++) {
		const text = value.toPrecision(digits);
		if (Math.fround(Number(text)) === value) return String(Number(text));
	}
	return String(Number(value.toPrecision(9)));
}

/** Times of rows in seconds: of units that are powers of ten by moving the point, with as many places as the step has. */
function timeWriter({ unit, step }: ExportFrame): (time: number) => string {
	const exponent = tenthsOf(unit);
	if (exponent === undefined) return (time) => decimalText(unit.mul(Rational.int(time)), PLACES);
	const places = Math.min(exponent, tenthsOf(step) ?? exponent);
	const cut = 10 ** (exponent - places);
	const whole = 10 ** exponent;
	return (time) => {
		const size = Math.abs(time);
		const sign = time < 0 ? '-' : '';
		const seconds = Math.floor(size / whole);
		const rest = size - seconds * whole;
		if (rest % cut !== 0) return `${sign}${seconds}.${String(rest).padStart(exponent, '0')}`;
		return places === 0 ? `${sign}${seconds}` : `${sign}${seconds}.${String(rest / cut).padStart(places, '0')}`;
	};
}

/** n where a unit is 10^-n, 0 to 15. */
function tenthsOf(unit: Seconds): number | undefined {
	for (let n = 0; n <= 15; n++) if (unit.num === 1n && unit.den === 10n ** BigInt(n)) return n;
	return undefined;
}

const WORDS = ['s', 'ms', 'us', 'ns', 'ps', 'fs'];

/** A timescale of a dump: 1, 10 or 100 of a known unit. */
function timescale(unit: Seconds): { word: string; unit: Seconds; exact: boolean } {
	const exponent = tenthsOf(unit);
	if (exponent === undefined) return { word: '1 ps', unit: Rational.of(1n, 10n ** 12n), exact: false };
	const word = Math.ceil(exponent / 3);
	return { word: `${10 ** (3 * word - exponent)} ${WORDS[word]}`, unit, exact: true };
}
