import { gainRange, type RateWish, type SearchNode } from './question.js';

/** What a wish can still reach from a depth of the search: its node's rate lies in anchor x gains, and within caps. */
export interface Reach {
	/** Index of the last decided node on the wished node's way, -1 before any. */
	anchor: number;
	gainLo: number;
	gainHi: number;
	capLo: number;
	capHi: number;
}

/**
 * One choice of inputs for all selects that the wished nodes hang on: the nodes that then matter, inputs first, and for
 * every depth what each watched rate can still become.
 */
export interface Route {
	/** Node indexes in the order in which they are decided. */
	order: number[];
	/** Chosen input of each active select, by node index. */
	picks: Map<number, number>;
	/** reach[depth][i] for watched node i; depth 0..order.length decided nodes. */
	reach: Reach[][];
}

/** The nodes whose rates wishes speak of: the wished node, and behind it the one that an `equal` names. */
export function watchedNodes(wishes: readonly RateWish[], index: ReadonlyMap<string, number>): number[] {
	return wishes.flatMap((wish) => (wish.kind === 'equal' ? [index.get(wish.node)!, index.get(wish.to)!] : [index.get(wish.node)!]));
}

/** All routes to the watched nodes, the planned one first. A closed gate that is held leaves none. */
export function* routesTo(nodes: readonly SearchNode[], watched: readonly number[]): Generator<Route, void> {
	const picks = new Map<number, number>();
	function* visit(waiting: readonly number[], active: ReadonlySet<number>): Generator<Route, void> {
		const at = waiting.at(-1);
		if (at === undefined) {
			yield makeRoute(
				nodes,
				watched,
				[...active].sort((a, b) => a - b),
				new Map(picks)
			);
			return;
		}
		const rest = waiting.slice(0, -1);
		const node = nodes[at];
		if (active.has(at)) yield* visit(rest, active);
		else if (node.kind === 'select') {
			for (const { pick } of node.options) {
				picks.set(at, pick);
				yield* visit([...rest, node.inputs[pick]], new Set(active).add(at));
			}
			picks.delete(at);
		} else if (node.options.length > 0) {
			const watch = node.watch >= 0 ? [node.watch] : [];
			yield* visit([...rest, ...node.inputs, ...watch], new Set(active).add(at));
		}
	}
	yield* visit(watched, new Set());
}

/** How many routes there are at the most. */
export function routeCount(nodes: readonly SearchNode[]): number {
	return nodes.reduce((product, node) => product * (node.kind === 'select' ? Math.max(1, node.options.length) : 1), 1);
}

function makeRoute(nodes: readonly SearchNode[], watched: readonly number[], order: number[], picks: Map<number, number>): Route {
	const perWay = watched.map((at) => {
		const way = wayTo(nodes, picks, at);
		const byDecided = way.map((_, decided) => reachOf(nodes, way, decided));
		byDecided.push(reachOf(nodes, way, way.length));
		const onWay = new Set(way);
		let decided = 0;
		return [byDecided[0], ...order.map((node) => byDecided[onWay.has(node) ? ++decided : decided])];
	});
	const reach = Array.from({ length: order.length + 1 }, (_, depth) => perWay.map((way) => way[depth]));
	return { order, picks, reach };
}

/** From its source to a node, through the chosen inputs. */
function wayTo(nodes: readonly SearchNode[], picks: ReadonlyMap<number, number>, at: number): number[] {
	const way: number[] = [];
	for (let i: number | undefined = at; i !== undefined; i = nodes[i].inputs[picks.get(i) ?? 0]) way.unshift(i);
	return way;
}

/** Inputs come before what they feed, so that what is decided of a way is its beginning. */
function reachOf(nodes: readonly SearchNode[], way: readonly number[], decided: number): Reach {
	const reach: Reach = { anchor: decided > 0 ? way[decided - 1] : -1, gainLo: 1, gainHi: 1, capLo: 0, capHi: Infinity };
	for (const at of way.slice(decided)) {
		const node = nodes[at];
		const [lo, hi] = node.kind === 'source' ? [1, 1] : gainRange(node);
		reach.gainLo *= lo;
		reach.gainHi *= hi;
		// What a node on the way may be at most, times what can follow it.
		reach.capLo = Math.max(reach.capLo * lo, node.floor);
		reach.capHi = Math.min(reach.capHi * hi, node.ceiling);
		if (node.kind === 'source') {
			const hz = node.hz.toNumber();
			reach.capLo = Math.max(reach.capLo, hz);
			reach.capHi = Math.min(reach.capHi, hz);
		}
	}
	return reach;
}
