import type { Assignment } from './assignment.js';
import type { Option, SearchNode } from './question.js';
import type { Route } from './route.js';

/**
 * The nodes that no wish hangs on but that hang on a decided one: they must stay within their limits too. Finds the
 * settings for them that change the fewest, or that there are none. What was found for the same rates is remembered.
 */
export class RemainderBounds {
	/** Node indexes, inputs first, in groups that have nothing to do with each other: each is searched alone. */
	private readonly groups: number[][];
	/** Decided nodes that feed them. */
	private readonly feeders: number[];
	/** Which nodes hang on a decided one as set; only those must be legal. */
	private readonly touched: boolean[];
	private readonly found = new Map<string, (Option | undefined)[] | null>();

	constructor(
		private readonly nodes: readonly SearchNode[],
		route: Route
	) {
		const decided = new Set(route.order);
		const reachable = new Set(decided);
		const order: number[] = [];
		const feeders = new Set<number>();
		nodes.forEach((node, at) => {
			const inputs = node.watch >= 0 ? [...node.inputs, node.watch] : node.inputs;
			if (decided.has(at) || !inputs.some((i) => reachable.has(i))) return;
			reachable.add(at);
			order.push(at);
			for (const i of inputs) if (decided.has(i)) feeders.add(i);
		});
		this.feeders = [...feeders];
		this.touched = nodes.map((_, at) => decided.has(at));
		this.groups = grouped(nodes, order);
	}

	/** Sets the rest in `assignment` with the fewest changes. Returns how many, or undefined when no setting is legal. */
	complete(assignment: Assignment): number | undefined {
		const key = this.feeders.map((at) => `${assignment.exact(at)} ${String(assignment.chosen[at]?.setting)}`).join(';');
		let best = this.found.get(key);
		if (best === undefined) {
			best = this.searchAll(assignment);
			this.found.set(key, best);
		}
		if (best === null) return undefined;
		this.groups.flat().forEach((at, i) => this.apply(assignment, at, best[i]));
		return best.filter((option) => option?.changes).length;
	}

	private apply(assignment: Assignment, at: number, option: Option | undefined): void {
		const { inputs, watch } = this.nodes[at];
		this.touched[at] = this.touched[inputs[option?.pick ?? 0]] || (watch >= 0 && this.touched[watch]);
		if (option) assignment.set(at, option);
		else assignment.asPlanned(at);
	}

	private searchAll(assignment: Assignment): (Option | undefined)[] | null {
		const all: (Option | undefined)[] = [];
		for (const group of this.groups) {
			const best = this.search(group, assignment);
			if (!best) return null;
			all.push(...best);
		}
		return all;
	}

	private search(group: readonly number[], assignment: Assignment): (Option | undefined)[] | null {
		const chosen: (Option | undefined)[] = [];
		let best: (Option | undefined)[] | null = null;
		let fewest = Infinity;
		const visit = (depth: number, changes: number): void => {
			if (changes >= fewest) return;
			const at = group[depth];
			if (at === undefined) {
				best = [...chosen];
				fewest = changes;
				return;
			}
			// A gate stays as it is: opening or closing one is no way to keep within a limit.
			const node = this.nodes[at];
			const options = node.kind === 'gate' ? [undefined] : node.options;
			for (const option of options) {
				const more = changes + (option?.changes ? 1 : 0);
				if (more >= fewest) break;
				this.apply(assignment, at, option);
				if (this.touched[at] && !assignment.legal(at)) continue;
				chosen[depth] = option;
				visit(depth + 1, more);
			}
		};
		visit(0, 0);
		return best;
	}
}

/** Nodes that feed or watch one another stand in one group. */
function grouped(nodes: readonly SearchNode[], order: readonly number[]): number[][] {
	const groupOf = new Map<number, number[]>();
	for (const at of order) {
		const { inputs, watch } = nodes[at];
		const merged = new Set([...inputs, watch].flatMap((i) => groupOf.get(i) ?? []));
		merged.add(at);
		const group = [...merged].sort((a, b) => a - b);
		for (const member of group) groupOf.set(member, group);
	}
	return [...new Set(groupOf.values())];
}
