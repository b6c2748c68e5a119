import type { SimInput, SimLevel } from './system.js';

/** Inputs before a counter (timers.md 8): the filter, capture of every k-th edge, and the quadrature counter. Cost follows the edges, not the cycles. */
export interface InputFilter {
	/** Equal samples in a row that are accepted. */
	samples: number;
	/** Kernel cycles from sample to sample. */
	divide: number;
}

export interface AcceptedEdge {
	/** The kernel cycle of the acceptance. */
	cycle: number;
	level: SimLevel;
}

/** The edges that a filter lets through before kernel cycle `until`. Samples fall on kernel cycles 0, F, 2F ..; before them the input has its first level. */
export function acceptedEdges(input: SimInput, kernel: number, { samples, divide }: InputFilter, until: number): AcceptedEdge[] {
	const runs = sampledRuns(input, kernel * divide);
	const found: AcceptedEdge[] = [];
	let held = input.initial;
	runs.forEach(({ sample, level }, i) => {
		const last = sample + samples - 1;
		const next = i + 1 < runs.length ? runs[i + 1].sample : Infinity;
		if (level === held || last >= next || last * divide >= until) return;
		held = level;
		found.push({ cycle: last * divide, level });
	});
	return found;
}

/** Runs of equal samples, each with the number of its first; what lies between two samples is not seen. */
function sampledRuns({ initial, edges }: SimInput, step: number): { sample: number; level: SimLevel }[] {
	const runs: { sample: number; level: SimLevel }[] = [];
	let level = initial;
	for (let i = 0; i < edges.length; i++) {
		level = level === 1 ? 0 : 1;
		const sample = Math.ceil(edges[i] / step);
		if (runs.at(-1)?.sample === sample) runs.pop();
		if ((runs.at(-1)?.level ?? initial) !== level) runs.push({ sample, level });
	}
	return runs;
}

export interface CaptureSetting {
	kernel: number;
	prescale: number;
	width: number;
	edge: 'rise' | 'fall' | 'both';
	/** Every n-th edge of the kind. */
	every: number;
	filter: InputFilter;
}

/** Captures of a counter that runs freely from 0 at cycle 0, before base cycle `until`: pairs of the base cycle and the value held from it on. */
export function captureEdges(input: SimInput, setting: CaptureSetting, until: number): [number, number][] {
	const { kernel, prescale, width, edge, every } = setting;
	const kind = edge === 'both' ? undefined : edge === 'rise' ? 1 : 0;
	const edges = acceptedEdges(input, kernel, setting.filter, Math.ceil(until / kernel)).filter(
		({ level }) => kind === undefined || level === kind
	);
	return edges.filter((_, i) => (i + 1) % every === 0).map(({ cycle }) => [cycle * kernel, Math.floor(cycle / prescale) % 2 ** width]);
}

export interface QuadratureSetting {
	kernel: number;
	times: 1 | 2 | 4;
	/** Counts run over 0..reload. */
	reload: number;
	range: 'wrap' | 'clamp';
	start: number;
	filter: InputFilter;
}

/** The counts of a quadrature encoder before base cycle `until`: one pair of base cycle and count a change, and the last. A leading B counts up. */
export function countQuadrature(
	a: SimInput,
	b: SimInput,
	setting: QuadratureSetting,
	until: number
): { counts: [number, number][]; final: number } {
	const { kernel, times, reload, range, start, filter } = setting;
	const end = Math.ceil(until / kernel);
	const levels = [a.initial, b.initial];
	const counts: [number, number][] = [];
	let count = start;
	for (const { cycle, which, level, both } of merged(acceptedEdges(a, kernel, filter, end), acceptedEdges(b, kernel, filter, end))) {
		levels[which] = level;
		if (both) continue;
		const other = levels[1 - which];
		// An edge of A goes up when it leaves the two different, one of B when it leaves them alike.
		const up = (level !== other) === (which === 0);
		const counted = times === 4 || (which === 0 && (times === 2 || other === 0));
		if (!counted) continue;
		const next = count + (up ? 1 : -1);
		const kept = next < 0 ? (range === 'wrap' ? reload : 0) : next > reload ? (range === 'wrap' ? 0 : reload) : next;
		if (kept === count) continue;
		count = kept;
		counts.push([cycle * kernel, count]);
	}
	return { counts, final: count };
}

interface QuadratureEdge extends AcceptedEdge {
	which: 0 | 1;
	/** Both inputs change at this sample, which counts nothing. */
	both: boolean;
}

function merged(a: readonly AcceptedEdge[], b: readonly AcceptedEdge[]): QuadratureEdge[] {
	const all: QuadratureEdge[] = [];
	for (let i = 0, j = 0; i < a.length || j < b.length;) {
		const at = i < a.length ? a[i].cycle : Infinity;
		const bt = j < b.length ? b[j].cycle : Infinity;
		const both = at === bt;
		if (at <= bt) all.push({ cycle: at, level: a[i++].level, which: 0, both });
		if (bt <= at) all.push({ cycle: bt, level: b[j++].level, which: 1, both });
	}
	return all;
}
