/** The clock ladder's geometry: every node on one vertical logarithmic ruler of frequency. Plain numbers, for the eye. */
export interface LadderNode {
	id: string;
	/** Ids that it can take its clock or its factor from. */
	feeders: readonly string[];
	/** Rate as planned and at reset; null: stopped or unknown. */
	hz: number | null;
	reset: number | null;
	min: number | undefined;
	max: number | undefined;
	/** Height of its label; greater weight is shown first where there is no room for all. */
	height: number;
	weight: number;
}

export interface Rung {
	id: string;
	/** Left end of the rung, and its height; undefined y: stopped. */
	x: number;
	y: number | undefined;
	resetY: number | undefined;
	minY: number | undefined;
	maxY: number | undefined;
	/** Top and bottom of its label; undefined where it has no room. */
	labelY: number | undefined;
	labelEnd: number | undefined;
}

/**
 * A ruler that is logarithmic in stretches of one measure; where no node is for more than a decade it is broken.
 * Knots from the bottom up: log10 of a frequency, and its height.
 */
export interface Scale {
	logs: number[];
	ys: number[];
	/** Top and bottom of every break. */
	breaks: [number, number][];
	top: number;
	bottom: number;
}

export interface Ladder {
	scale: Scale;
	rungs: Map<string, Rung>;
	/** Distance from column to column, and all of them together. */
	pitch: number;
	width: number;
}

const LEAST_PITCH = 112;
const LEFT = 58;
/** A scale of fewer decades would make small differences look large. */
const LEAST_DECADES = 1.5;
/** Emptiness beyond which the ruler is broken, what is kept around nodes, and how far a limit may lie to be taken in, in decades. */
const GAP = 1.1;
const MARGIN = 0.09;
const LIMIT_REACH = 0.5;
const BREAK = 24;

/**
 * Lays the ladder out in a box. Columns are the longest way from a source, so that nothing moves sideways while rates
 * change. `fixed` keeps a scale, as while a rung is dragged.
 */
export function layLadder(nodes: readonly LadderNode[], width: number, height: number, fixed?: Scale): Ladder {
	const columns = columnsOf(nodes);
	const count = Math.max(1, ...columns.values()) + 1;
	const pitch = Math.max(LEAST_PITCH, (width - LEFT - 8) / count);
	const scale = fixed ?? scaleFor(nodes, 40, height - 16);
	const at = (hz: number | null | undefined) => (hz === null || hz === undefined || !(hz > 0) ? undefined : yOf(scale, hz));
	const rungs = new Map<string, Rung>();
	for (const { id, hz, reset, min, max } of nodes)
		rungs.set(id, {
			id,
			x: LEFT + pitch * columns.get(id)!,
			y: at(hz),
			resetY: at(reset),
			minY: inside(scale, min),
			maxY: inside(scale, max),
			labelY: undefined,
			labelEnd: undefined
		});
	const byColumn = new Map<number, LadderNode[]>();
	for (const node of nodes) {
		const column = columns.get(node.id)!;
		const others = byColumn.get(column);
		if (others) others.push(node);
		else byColumn.set(column, [node]);
	}
	for (const column of byColumn.values()) placeLabels(column, rungs, scale);
	return { scale, rungs, pitch, width: LEFT + pitch * count + 8 };
}

export function yOf({ logs, ys }: Scale, hz: number): number {
	return between(logs, ys, Math.log10(hz));
}

export function hzAt({ logs, ys }: Scale, y: number): number {
	return (
		10 **
		between(
			ys.map((one) => -one),
			logs,
			-y
		)
	);
}

/** Straight between the knots of ascending xs, and held at the ends. */
function between(xs: readonly number[], values: readonly number[], x: number): number {
	const last = xs.length - 1;
	if (x <= xs[0]) return values[0];
	if (x >= xs[last]) return values[last];
	const i = xs.findIndex((one) => one > x);
	return values[i - 1] + ((x - xs[i - 1]) / (xs[i] - xs[i - 1])) * (values[i] - values[i - 1]);
}

/** Marks of the ruler: the decades with their labels, and between them 2 to 9. */
export function ladderMarks(scale: Scale): { y: number; label: string | undefined }[] {
	const marks: { y: number; label: string | undefined }[] = [];
	// Stretches and breaks take turns: knots 0 and 1, 2 and 3, ..
	for (let k = 0; k + 1 < scale.logs.length; k += 2) {
		const [low, high] = [scale.logs[k], scale.logs[k + 1]];
		for (let decade = Math.floor(low); decade <= high; decade++) {
			for (let step = 1; step < 10; step++) {
				const exponent = decade + Math.log10(step);
				if (exponent < low - 1e-9 || exponent > high + 1e-9) continue;
				const named = step === 1 || (high - low < 2.2 && (step === 2 || step === 5));
				marks.push({ y: yOf(scale, 10 ** exponent), label: named ? markLabel(decade, step) : undefined });
			}
		}
	}
	return marks;
}

function markLabel(decade: number, step: number): string {
	const units = ['Hz', 'kHz', 'MHz', 'GHz'];
	const unit = Math.min(3, Math.max(0, Math.floor(decade / 3)));
	const rest = decade - 3 * unit;
	return rest > 3 || rest < 0 ? `${step}e${decade} Hz` : `${step * 10 ** rest} ${units[unit]}`;
}

/** Longest way from a source, by a stack of its own: trees may be thousands deep. */
function columnsOf(nodes: readonly LadderNode[]): Map<string, number> {
	const byId = new Map(nodes.map((node) => [node.id, node]));
	const columns = new Map<string, number>();
	const open = new Set<string>();
	for (const { id } of nodes) {
		const stack = [id];
		while (stack.length > 0) {
			const at = stack[stack.length - 1];
			const feeders = (byId.get(at)?.feeders ?? []).filter((from) => byId.has(from));
			// A cycle has no longest way; where one closes it counts as nothing.
			const waiting = open.has(at) ? [] : feeders.filter((from) => !columns.has(from) && !open.has(from));
			open.add(at);
			if (waiting.length > 0) stack.push(...waiting);
			else {
				stack.pop();
				if (!columns.has(at)) columns.set(at, Math.max(-1, ...feeders.map((from) => columns.get(from) ?? -1)) + 1);
			}
		}
	}
	return columns;
}

function scaleFor(nodes: readonly LadderNode[], top: number, bottom: number): Scale {
	const groups = stretches(nodes);
	const decades = groups.reduce((sum, [low, high]) => sum + high - low, 0);
	const measure = (bottom - top - BREAK * (groups.length - 1)) / decades;
	const scale: Scale = { logs: [], ys: [], breaks: [], top, bottom };
	let y = bottom;
	groups.forEach(([low, high], i) => {
		if (i > 0) {
			scale.breaks.push([y - BREAK, y]);
			y -= BREAK;
		}
		scale.logs.push(low, high);
		scale.ys.push(y, (y -= measure * (high - low)));
	});
	return scale;
}

/** The stretches of log10 f that have nodes in them, with the limits that lie near, from the lowest up. */
function stretches(nodes: readonly LadderNode[]): [number, number][] {
	const usable = (hz: number | null | undefined): hz is number => typeof hz === 'number' && hz > 0 && Number.isFinite(hz);
	const logs = nodes
		.flatMap(({ hz, reset }) => [hz, reset])
		.filter(usable)
		.map(Math.log10)
		.sort((a, b) => a - b);
	if (logs.length === 0) return [[3, 9]];
	const groups: [number, number][] = [];
	for (const log of logs) {
		const last = groups.at(-1);
		if (last && log - last[1] < GAP) last[1] = log;
		else groups.push([log, log]);
	}
	const limits = nodes
		.flatMap(({ min, max }) => [min, max])
		.filter(usable)
		.map(Math.log10);
	const wide = groups.map(([low, high]): [number, number] => {
		const near = limits.filter((log) => log > low - LIMIT_REACH && log < high + LIMIT_REACH);
		return [Math.min(low, ...near) - MARGIN, Math.max(high, ...near) + MARGIN];
	});
	const missing = LEAST_DECADES - wide.reduce((sum, [low, high]) => sum + high - low, 0);
	if (missing > 0) wide[0][0] -= missing;
	return joined(wide);
}

/** Stretches that have come to overlap are one. */
function joined(groups: readonly [number, number][]): [number, number][] {
	const all: [number, number][] = [];
	for (const [low, high] of groups) {
		const last = all.at(-1);
		if (last && low <= last[1]) last[1] = Math.max(last[1], high);
		else all.push([low, high]);
	}
	return all;
}

function inside(scale: Scale, hz: number | undefined): number | undefined {
	if (hz === undefined || !(hz > 0)) return undefined;
	const log = Math.log10(hz);
	const k = scale.logs.findIndex((knot) => knot >= log);
	// Past the ends or in a break: no honest place for a cap.
	return k % 2 === 1 ? yOf(scale, hz) : undefined;
}

/** Air between a rung and the labels above and below it. */
const ABOVE = 3;
const BELOW = 6;

/** A stretch of a column without a rung, and the labels in it: those of rungs further up first. */
interface Space {
	from: number;
	to: number;
	used: number;
	boxes: { id: string; height: number; wanted: number; rung: number }[];
}

/**
 * Labels sit on their rungs and never over one: each goes into the space above its own, or into the nearest that has room. Where there is none
 * for all the weightiest stay.
 */
function placeLabels(column: readonly LadderNode[], rungs: Map<string, Rung>, { top, bottom }: Scale): void {
	const heightOf = ({ id }: LadderNode) => rungs.get(id)!.y;
	const there = column.filter((node) => heightOf(node) !== undefined);
	const ys = [...new Set(there.map((node) => heightOf(node)!))].sort((a, b) => a - b);
	const spaces = [...ys, undefined].map((y, i): Space => {
		const from = i === 0 ? top - 36 : ys[i - 1] + BELOW;
		return { from, to: y === undefined ? bottom + 36 : y - ABOVE, used: 0, boxes: [] };
	});
	const byWeight = [...there].sort((a, b) => b.weight - a.weight);
	for (const node of byWeight) {
		const rung = ys.indexOf(heightOf(node)!);
		const space = nearestSpace(spaces, rung, node.height);
		if (space === undefined) continue;
		// Below its rung a label hangs on it, otherwise it stands on it.
		const wanted = space > rung ? ys[rung] + BELOW : ys[rung] - ABOVE - node.height;
		spaces[space].used += node.height;
		spaces[space].boxes.push({ id: node.id, height: node.height, wanted, rung });
	}
	for (const { from, to, boxes } of spaces) {
		const order = new Map(there.map(({ id }, i) => [id, i]));
		boxes.sort((a, b) => a.rung - b.rung || order.get(a.id)! - order.get(b.id)!);
		spread(boxes, from, to).forEach((labelY, i) => {
			const rung = rungs.get(boxes[i].id)!;
			rung.labelY = labelY;
			rung.labelEnd = labelY + boxes[i].height;
		});
	}
}

/** The space with room that is nearest to the one above a rung, the one below before those further off. */
function nearestSpace(spaces: readonly Space[], rung: number, height: number): number | undefined {
	const fits = (i: number) => i >= 0 && i < spaces.length && spaces[i].to - spaces[i].from - spaces[i].used >= height;
	for (let off = 0; off < spaces.length; off++) for (const i of off === 0 ? [rung] : [rung + off, rung - off]) if (fits(i)) return i;
	return undefined;
}

/** Tops of boxes in order, as near to where they are wanted as lets none overlap: those that meet are moved as one. */
function spread(boxes: readonly { wanted: number; height: number }[], least: number, most: number): number[] {
	const blocks: { start: number; sum: number; count: number; height: number }[] = [];
	for (const { wanted, height } of boxes) {
		blocks.push({ start: wanted, sum: wanted, count: 1, height });
		for (let last = blocks.length - 1; last > 0 && blocks[last - 1].start + blocks[last - 1].height > blocks[last].start; last--) {
			const [above, below] = blocks.splice(last - 1, 2);
			const sum = above.sum + below.sum - below.count * above.height;
			const count = above.count + below.count;
			blocks.push({ start: sum / count, sum, count, height: above.height + below.height });
		}
	}
	const tops: number[] = [];
	let at = 0;
	for (const { start, count, height } of blocks) {
		let y = Math.min(most - height, Math.max(least, start));
		for (let i = 0; i < count; i++, at++) {
			tops.push(y);
			y += boxes[at].height;
		}
	}
	// Held inside, blocks may have met again: from the bottom up, then from the top down.
	for (let i = boxes.length - 1, floor = most; i >= 0; i--) floor = tops[i] = Math.min(tops[i], floor - boxes[i].height);
	for (let i = 0, limit = least; i < boxes.length; i++) {
		tops[i] = Math.max(tops[i], limit);
		limit = tops[i] + boxes[i].height;
	}
	return tops;
}
