import { Rational } from '../../exact/index.js';
import type { Bound, Option, SearchNode } from './question.js';

/** Doubles of a product of a few dozen factors are good to far better than this. */
export const SLACK = 1e-11;

/**
 * A partial setting of the tree: rates as doubles, and exact ones worked out only where a double cannot decide.
 * NaN and null are stopped. It begins as planned. A node is set after what it hangs on, so nothing known is ever stale.
 */
export class Assignment {
	readonly rate: Float64Array;
	readonly chosen: (Option | undefined)[];
	private readonly known: (Rational | null | undefined)[];

	constructor(readonly nodes: readonly SearchNode[]) {
		this.rate = new Float64Array(nodes.length).fill(NaN);
		this.chosen = nodes.map(() => undefined);
		this.known = nodes.map(() => undefined);
		nodes.forEach((_, at) => this.asPlanned(at));
	}

	/** Sets a node as planned; a closed gate stops. */
	asPlanned(at: number): void {
		const [first] = this.nodes[at].options;
		if (this.nodes[at].kind !== 'gate' || (first && !first.changes)) return this.set(at, first);
		this.chosen[at] = undefined;
		this.known[at] = null;
		this.rate[at] = NaN;
	}

	/** Sets a node and its rate. Inputs, and what it watches, are set. */
	set(at: number, option: Option): void {
		const node = this.nodes[at];
		this.chosen[at] = option;
		this.known[at] = undefined;
		this.rate[at] = node.kind === 'source' ? node.hz.toNumber() : this.rate[node.inputs[option.pick]] * this.gain(node, option);
	}

	/** Within the node's limits, its limits included, and with what it feeds not doomed to pass theirs; a stopped one is. */
	legal(at: number): boolean {
		const { min, max, floor, ceiling } = this.nodes[at];
		const rate = this.rate[at];
		if (rate < floor * (1 - SLACK) || rate > ceiling * (1 + SLACK)) return false;
		return !(this.beyond(at, rate, min, -1) || this.beyond(at, rate, max, 1));
	}

	exact(at: number): Rational | null {
		let value = this.known[at];
		if (value === undefined) {
			value = this.work(at);
			this.known[at] = value;
		}
		return value;
	}

	/** The factor's exact value as set, whether typed or followed. */
	private work(at: number): Rational | null {
		const node = this.nodes[at];
		if (node.kind === 'source') return node.hz;
		if (Number.isNaN(this.rate[at])) return null;
		const option = this.chosen[at]!;
		const input = this.exact(node.inputs[option.pick]);
		return input && input.mul(node.kind === 'follow' ? this.followed(node) : option.factor);
	}

	private gain(node: SearchNode, option: Option): number {
		return node.kind === 'follow' ? this.followed(node).toNumber() : option.size;
	}

	private followed(node: SearchNode): Rational {
		const watched = this.chosen[node.watch]?.setting;
		return node.table.find(([value]) => watched instanceof Rational && value.equals(watched))?.[1] ?? node.otherwise;
	}

	private beyond(at: number, rate: number, bound: Bound, way: 1 | -1): boolean {
		if (!bound.exact || Number.isNaN(rate)) return false;
		const over = (rate - bound.size) * way;
		if (Math.abs(over) > SLACK * bound.size) return over > 0;
		return this.exact(at)!.compare(bound.exact) * way > 0;
	}
}
