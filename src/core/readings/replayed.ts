import { logValues } from './log.js';
import { readValueAs, type ValueUnit } from './value.js';

/** What a timer would read of a recorded input, in order: counts, and what software makes of them, in doubles. */
export interface Replayed {
	counts: ArrayLike<number>;
	values: ArrayLike<number>;
	/** What a count more or less makes of a value, by reading. */
	grain: ArrayLike<number>;
	unit: ValueUnit;
	/** The share that the plan's clock may be off by. */
	clock: number;
}

/** What a log says beside what would be read. */
export interface LaidLog {
	/** Numbers without a unit were taken as counts, or in the readings' own unit. */
	as: 'counts' | 'value';
	/** In order: a reading and the log's value for it, or either alone. */
	rows: LogRow[];
	agreed: number;
	differing: number;
	/** Readings between the first and the last that stand in the log, but not there themselves. */
	lost: number;
	/** Values of the log that no reading belongs to. */
	extra: number;
	/** Lines, from 1, that hold no value. */
	passed: number[];
	/** Values and readings behind those that are laid together at the most. */
	left: { values: number; readings: number };
}

export interface LogRow {
	/** Number of the reading. */
	reading?: number;
	/** What the log says, as it stands there, and its line from 1. */
	said?: string;
	line?: number;
	agrees?: boolean;
}

/** Values of a log, and readings, that are laid together at the most. */
export const [MOST_SAID, MOST_READ] = [2000, 10_000];

/**
 * Lays what a log says on what would be read: each value to a reading, in order, as many agreeing as can; values and readings may be lost, and
 * the log may begin and end anywhere. Agreeing: within half of the last digit that was written, a count more or less (the recorder saw the edges
 * at other moments than the timer), and what the clock may be off by. undefined: no value stands in it.
 */
export function layLog(text: string, read: Replayed): LaidLog | undefined {
	const { values, passed } = logValues(text);
	if (values.length === 0) return undefined;
	const said = values.slice(0, MOST_SAID);
	const ways = [layAs('counts', said, read), layAs('value', said, read)];
	const best = ways[1].agreed > ways[0].agreed ? ways[1] : ways[0];
	const left = { values: values.length - said.length, readings: Math.max(0, read.counts.length - MOST_READ) };
	return { ...best, passed, left };
}

function layAs(as: 'counts' | 'value', said: readonly LoggedValue[], read: Replayed): Omit<LaidLog, 'passed' | 'left'> {
	const count = Math.min(MOST_READ, read.counts.length);
	const understood = said.map(({ text }) => understand(text, as, read.unit));
	const agrees = (i: number, j: number): boolean => {
		const one = understood[i];
		if (!one) return false;
		const planned = one.counts ? read.counts[j] : read.values[j];
		const allowed = one.error + (one.counts ? 1 : read.grain[j]) + read.clock * Math.abs(planned);
		return Math.abs(one.value - planned) <= allowed * (1 + 1e-9);
	};
	const rows = chain(said.length, count, agrees).map(([i, j]): LogRow => {
		const own = i === undefined ? {} : { said: said[i].text, line: said[i].line };
		const reading = j === undefined ? {} : { reading: j };
		return { ...reading, ...own, ...(i !== undefined && j !== undefined && { agrees: agrees(i, j) }) };
	});
	const number = (of: (row: LogRow) => boolean) => rows.filter(of).length;
	return {
		as,
		rows,
		agreed: number((row) => row.agrees === true),
		differing: number((row) => row.agrees === false),
		lost: number((row) => row.said === undefined),
		extra: number((row) => row.reading === undefined)
	};
}

interface LoggedValue {
	text: string;
	line: number;
}

interface Understood {
	value: number;
	error: number;
	counts: boolean;
}

/** A number without a unit is a count, or in the readings' own unit. */
function understand(text: string, as: 'counts' | 'value', unit: ValueUnit): Understood | undefined {
	const bare = /^[-+]?[\d.]+(?:[eE][-+]?\d+)?$/.test(text);
	const whole = /^[-+]?(?:0x[0-9a-fA-F]+|\d+)$/.test(text);
	if (whole && (as === 'counts' || unit === '')) return { value: Number(text), error: 0, counts: true };
	const read = readValueAs(unit, text, bare ? unit : '', '');
	return typeof read === 'string' ? undefined : { value: read.value.toNumber(), error: read.error.toNumber(), counts: false };
}

const [PAIR, SAID, READ] = [0, 1, 2];
/** What agrees is worth two that are left over. */
const AGREED = -2;

/** Pairs in order of the least cost: one for each pair that does not agree, and for each value or reading left over between the ends of the log. */
function chain(said: number, read: number, agrees: (i: number, j: number) => boolean): [number | undefined, number | undefined][] {
	const width = read + 1;
	const came = new Uint8Array((said + 1) * width);
	let before = new Int32Array(width);
	for (let i = 1; i <= said; i++) {
		const now = new Int32Array(width);
		now[0] = i;
		came[i * width] = SAID;
		for (let j = 1; j <= read; j++) {
			const pair = before[j - 1] + (agrees(i - 1, j - 1) ? AGREED : 1);
			const alone = before[j] + 1;
			const lost = now[j - 1] + 1;
			now[j] = Math.min(pair, alone, lost);
			came[i * width + j] = now[j] === pair ? PAIR : now[j] === alone ? SAID : READ;
		}
		before = now;
	}
	let end = 0;
	// Of two ends that cost the same, the one where the last value has its reading.
	const paired = (j: number) => Number(came[said * width + j] === PAIR && j > 0);
	for (let j = 1; j <= read; j++) if (before[j] < before[end] || (before[j] === before[end] && paired(j) > paired(end))) end = j;
	const found: [number | undefined, number | undefined][] = [];
	for (let [i, j] = [said, end]; i > 0;) {
		const step = came[i * width + j];
		if (step === PAIR && j > 0) found.push([--i, --j]);
		else if (step === READ && j > 0) found.push([undefined, --j]);
		else found.push([--i, undefined]);
	}
	return found.reverse();
}
