import { Rational, type Hertz } from '../../exact/index.js';
import {
	factorAt,
	factorCount,
	feedersFirst,
	feedersOf,
	readFactor,
	type ClockNodeProfile,
	type ClockSetting,
	type PartProfile,
	type SetNode
} from '../../part/index.js';

/** A rate asked of a clock node. `exactly`, `multiple` and `equal` must hold; the others are as good as can be. */
export type RateWish = { node: string } & (
	{ kind: 'exactly' | 'nearest' | 'multiple'; hz: Hertz } | { kind: 'equal'; to: string } | { kind: 'highest' | 'lowest' }
);

export interface RateQuestion {
	part: PartProfile;
	/** The tree as it stands, in the part's order. */
	planned: readonly SetNode[];
	/** The weightiest first. */
	wishes: readonly RateWish[];
	/** Nodes whose setting stays as planned. */
	held: ReadonlySet<string>;
}

/** One way to set a node. Of a select, `pick` is the input's index; of all others `factor` is what the input is multiplied by. */
export interface Option {
	setting: ClockSetting;
	factor: Rational;
	size: number;
	pick: number;
	/** True when it is not as planned. */
	changes: boolean;
}

/** A node compiled for the search; nodes are known by their index, inputs come before what they feed. */
export interface SearchNode {
	id: string;
	kind: ClockNodeProfile['kind'];
	inputs: number[];
	/** Index of the divide node that decides a `follow` node's factor, -1 for others. */
	watch: number;
	/** Ways to set it, the planned one first, then by distance from it. A source, a `follow` and a fixed node have one. */
	options: Option[];
	table: [Rational, Rational][];
	otherwise: Rational;
	min: Bound;
	max: Bound;
	/** What its rate must lie within, so that what it always feeds can keep its own limits too; as doubles. */
	floor: number;
	ceiling: number;
	/** Rate of a source. */
	hz: Rational;
}

export interface Bound {
	exact: Hertz | undefined;
	size: number;
}

/** Most options of one node that the search takes on. */
const MOST_OPTIONS = 100_000;

/** The nodes in an order in which inputs come first. Throws RangeError when one node has too many ways to be set. */
export function compile({ part, planned, held }: RateQuestion): SearchNode[] {
	const set = new Map(planned.map((node) => [node.id, node]));
	const index = new Map<string, number>();
	const nodes: SearchNode[] = [];
	for (const profile of feedersFirst(part.clock, feedersOf, refuseCycle)) {
		index.set(profile.id, nodes.length);
		nodes.push(compileNode(profile, set.get(profile.id)!, held.has(profile.id), index));
	}
	tighten(nodes);
	return nodes;
}

/** Limits handed up from what a node feeds through a divider, a multiplier or a follower: those run whenever it runs. */
function tighten(nodes: readonly SearchNode[]): void {
	for (const node of [...nodes].reverse()) {
		if (node.kind !== 'divide' && node.kind !== 'multiply' && node.kind !== 'follow') continue;
		const input = nodes[node.inputs[0]];
		const [lo, hi] = gainRange(node);
		input.floor = Math.max(input.floor, node.floor / hi);
		input.ceiling = Math.min(input.ceiling, node.ceiling / lo);
	}
}

/** The least and the largest factor that a node can apply. */
export function gainRange(node: SearchNode): [number, number] {
	const followed = [...node.table.map(([, factor]) => factor), node.otherwise].map((f) => f.toNumber());
	const sizes = node.kind === 'follow' ? followed : node.options.map((o) => o.size);
	return sizes.reduce(([lo, hi], size) => [Math.min(lo, size), Math.max(hi, size)], [Infinity, 0]);
}

/** How many complete settings there are, gates apart. */
export function combinations(nodes: readonly SearchNode[]): bigint {
	return nodes.reduce((product, node) => product * BigInt(node.kind === 'gate' ? 1 : node.options.length), 1n);
}

function compileNode(profile: ClockNodeProfile, set: SetNode, held: boolean, index: Map<string, number>): SearchNode {
	const inputs = profile.kind === 'source' ? [] : profile.kind === 'select' ? profile.from : [profile.from];
	const follow = profile.kind === 'follow' ? profile : undefined;
	return {
		id: profile.id,
		kind: profile.kind,
		inputs: inputs.map((id) => index.get(id)!),
		watch: follow ? index.get(follow.watch)! : -1,
		options: optionsOf(profile, set, held),
		table: follow ? follow.table.map(([value, factor]) => [Rational.int(value), Rational.parse(factor)]) : [],
		otherwise: follow ? Rational.parse(follow.otherwise) : Rational.one,
		min: bound(set.min, 0),
		max: bound(set.max, Infinity),
		floor: set.min?.toNumber() ?? 0,
		ceiling: set.max?.toNumber() ?? Infinity,
		hz: set.kind === 'source' ? set.hz : Rational.zero
	};
}

function bound(exact: Hertz | undefined, none: number): Bound {
	return { exact, size: exact ? exact.toNumber() : none };
}

function optionsOf(profile: ClockNodeProfile, set: SetNode, held: boolean): Option[] {
	const plain: Option = { setting: true, factor: Rational.one, size: 1, pick: 0, changes: false };
	if (profile.kind === 'gate') {
		const on = set.kind === 'gate' && set.on;
		return held && !on ? [] : [{ ...plain, changes: !on }];
	}
	if (profile.kind === 'select') {
		const picked = set.kind === 'select' ? set.pick : profile.reset;
		const all = profile.from.map((id, pick): Option => ({ ...plain, setting: id, pick, changes: id !== picked }));
		return held ? all.filter((o) => !o.changes) : all.sort((a, b) => Number(a.changes) - Number(b.changes));
	}
	if (profile.kind !== 'divide' && profile.kind !== 'multiply') return [plain];
	const planned = set.kind === 'divide' ? Rational.int(set.by) : set.kind === 'multiply' ? set.by : readFactor(profile.reset);
	const count = held ? 1 : factorCount(profile.by);
	if (count > MOST_OPTIONS) throw new RangeError(`"${profile.id}" has ${count} factors: hold its setting to search the rest`);
	const values = held ? [planned] : Array.from({ length: count }, (_, i) => factorAt(profile.by, i));
	const all = values.map((value): Option => {
		const factor = profile.kind === 'divide' ? value.inverse() : value;
		return { setting: value, factor, size: factor.toNumber(), pick: 0, changes: !value.equals(planned) };
	});
	const middle = planned.toNumber();
	const away = (o: Option) => Math.abs((o.setting as Rational).toNumber() - middle);
	return all.sort((a, b) => Number(a.changes) - Number(b.changes) || away(a) - away(b) || a.size - b.size);
}

function refuseCycle(id: string): never {
	throw new RangeError(`the clock of "${id}" comes back to itself`);
}
