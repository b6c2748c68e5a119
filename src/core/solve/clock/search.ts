import { MILLION, Rational, type Hertz, type Ppm } from '../../exact/index.js';
import type { ClockSettings } from '../../part/index.js';
import { Assignment, SLACK } from './assignment.js';
import { combinations, compile, type RateQuestion, type RateWish, type SearchNode } from './question.js';
import { RemainderBounds } from './rest.js';
import { routeCount, routesTo, watchedNodes, type Reach, type Route } from './route.js';

/** A complete setting of the tree that keeps all wishes that must hold, and every limit of what they touch. */
export interface RateAnswer {
	/** Every node that has a setting and runs. */
	settings: ClockSettings;
	/** Ids of the nodes that are set otherwise than planned, in the tree's order. */
	changed: string[];
	/** What each wish gets: its node's rate, and for `nearest` how far off that is. */
	met: { hz: Hertz; ppm?: Ppm }[];
}

/** Exact costs of the wishes that are as good as can be, in their order. */
interface Ranked extends RateAnswer {
	costs: Rational[];
}

export interface SearchProgress {
	/** 0..1. */
	share: number;
	/** Nodes of the search tree that were looked at. */
	looked: number;
	done: boolean;
}

/**
 * Finds the `keep` best settings for a set of wishes: those that must hold all hold; the others count in their order, the
 * relative errors of all `nearest` added up, then the fewest changes; what still ties stands in the order in which it was
 * found. A branch is left only when its best possible outcome is worse than `keep` answers that are known, so the answers
 * are proved best when the search is done. It is run in steps and can be asked for its best so far in between.
 */
export class RateSearch {
	readonly combinations: bigint;
	private readonly nodes: SearchNode[];
	private readonly wishes: readonly RateWish[];
	private readonly watched: number[];
	private readonly routes: Iterator<Route, void>;
	private readonly routeCount: number;
	private readonly assignment: Assignment;
	private readonly answers: Ranked[] = [];
	/** Which cost each wish counts in, -1 for one that must hold: all `nearest` share one, where the first of them stands. */
	private readonly slots: number[];
	/** Wished rates as doubles, and room for the least costs of a branch. */
	private readonly sizes: number[];
	private readonly least: Float64Array;
	private worst: number[] = [];
	private allExact = false;
	private route: Route | undefined;
	private rest: RemainderBounds | undefined;
	private readonly cursor: number[] = [];
	private depth = -1;
	private routesDone = 0;
	private looked = 0;
	private done = false;

	/** The part's tree must be sound. Throws RangeError for a wish on an unknown node, a rate that is not positive, or a node with too many ways to be set. */
	constructor(
		question: RateQuestion,
		private readonly keep: number
	) {
		this.nodes = compile(question);
		this.wishes = question.wishes;
		const index = new Map(this.nodes.map((node, i) => [node.id, i]));
		for (const wish of this.wishes) checkWish(wish, index);
		this.combinations = combinations(this.nodes);
		this.watched = watchedNodes(this.wishes, index);
		this.slots = costSlots(this.wishes);
		this.sizes = this.wishes.map((wish) => ('hz' in wish ? wish.hz.toNumber() : 0));
		this.least = new Float64Array(Math.max(0, ...this.slots.map((slot) => slot + 1)));
		this.assignment = new Assignment(this.nodes);
		this.routes = routesTo(this.nodes, this.watched);
		this.routeCount = routeCount(this.nodes);
	}

	/** Goes on for about `budget` nodes of the search tree. */
	step(budget: number): SearchProgress {
		for (let left = budget; left > 0 && !this.done; left--) this.advance();
		return { share: this.share(), looked: this.looked, done: this.done };
	}

	/** The best so far, the best first. */
	best(): RateAnswer[] {
		return this.answers.map(({ settings, changed, met }) => ({ settings, changed, met }));
	}

	private advance(): void {
		if (!this.route && !this.nextRoute()) {
			this.done = true;
			return;
		}
		const { order } = this.route!;
		if (this.depth === order.length) {
			this.leaf();
			this.depth--;
			return;
		}
		if (this.depth < 0) {
			this.route = undefined;
			this.routesDone++;
			return;
		}
		const at = order[this.depth];
		const node = this.nodes[at];
		const pick = this.route!.picks.get(at);
		const option =
			pick === undefined
				? node.options[this.cursor[this.depth]++]
				: node.options.find((o) => o.pick === pick && this.cursor[this.depth]++ === 0);
		if (!option) {
			this.depth--;
			return;
		}
		this.looked++;
		this.assignment.set(at, option);
		if (!this.assignment.legal(at) || !this.canImprove(this.depth + 1)) return;
		this.depth++;
		this.cursor[this.depth] = 0;
	}

	private nextRoute(): boolean {
		const next = this.routes.next();
		if (next.done) return false;
		this.route = next.value;
		this.rest = new RemainderBounds(this.nodes, next.value);
		for (let at = 0; at < this.nodes.length; at++) this.assignment.asPlanned(at);
		this.depth = 0;
		this.cursor[0] = 0;
		return true;
	}

	/** Can anything below this depth still be an answer? */
	private canImprove(depth: number): boolean {
		const reach = this.route!.reach[depth];
		const { slots, least } = this;
		least.fill(0);
		for (let i = 0, w = 0; i < this.wishes.length; i++, w++) {
			const wish = this.wishes[i];
			const [lo, hi] = this.span(reach[w]);
			if (lo > hi * (1 + SLACK)) return false;
			if (wish.kind === 'equal') {
				const [otherLo, otherHi] = this.span(reach[++w]);
				if (lo > otherHi * (1 + SLACK) || otherLo > hi * (1 + SLACK)) return false;
			} else if (wish.kind === 'exactly' || wish.kind === 'multiple') {
				if (!holdsWithin(wish.kind, this.sizes[i], lo, hi)) return false;
			} else least[slots[i]] += leastCost(wish.kind, this.sizes[i], lo, hi);
		}
		if (this.answers.length < this.keep) return true;
		for (let slot = 0; slot < least.length; slot++) {
			const known = this.worst[slot];
			const slack = SLACK * (Math.abs(known) + 1);
			if (least[slot] > known + slack) return false;
			if (least[slot] < known - slack) return true;
		}
		// Only where nothing can be better by less than a double tells do fewer changes decide.
		return !this.allExact || this.changesSoFar(depth) <= this.answers[this.keep - 1].changed.length;
	}

	private span({ anchor, gainLo, gainHi, capLo, capHi }: Reach): [number, number] {
		if (anchor < 0) return [capLo, capHi];
		const rate = this.assignment.rate[anchor];
		return [Math.max(rate * gainLo, capLo), Math.min(rate * gainHi, capHi)];
	}

	private changesSoFar(depth: number): number {
		const { order } = this.route!;
		let count = 0;
		for (let i = 0; i < depth; i++) if (this.assignment.chosen[order[i]]!.changes) count++;
		return count;
	}

	/** All watched nodes are decided: the exact check, the rest of the tree, and the answer's place. */
	private leaf(): void {
		const rates = this.watched.map((at) => this.assignment.exact(at)!);
		const costs: Rational[] = [];
		const met: RateAnswer['met'] = [];
		for (let i = 0, w = 0; i < this.wishes.length; i++, w++) {
			const wish = this.wishes[i];
			const hz = rates[w];
			const held =
				wish.kind === 'equal'
					? hz.equals(rates[++w])
					: wish.kind === 'exactly'
						? hz.equals(wish.hz)
						: wish.kind !== 'multiple' || hz.div(wish.hz).isInteger;
			if (!held) return;
			const off = wish.kind === 'nearest' ? hz.sub(wish.hz).div(wish.hz) : undefined;
			const slot = this.slots[i];
			if (off) costs[slot] = (costs[slot] ?? Rational.zero).add(off.abs());
			else if (wish.kind === 'highest') costs[slot] = hz.neg();
			else if (wish.kind === 'lowest') costs[slot] = hz;
			met.push(off ? { hz, ppm: off.mul(MILLION) } : { hz });
		}
		const before = this.changesSoFar(this.route!.order.length);
		if (!this.enters(costs, before)) return;
		const more = this.rest!.complete(this.assignment);
		if (more === undefined || !this.enters(costs, before + more)) return;
		this.insert({ costs, met, ...this.settings() });
	}

	private enters(costs: readonly Rational[], changes: number): boolean {
		return this.answers.length < this.keep || compare(costs, changes, this.answers[this.keep - 1]) < 0;
	}

	private insert(answer: Ranked): void {
		let at = this.answers.length;
		while (at > 0 && compare(answer.costs, answer.changed.length, this.answers[at - 1]) < 0) at--;
		this.answers.splice(at, 0, answer);
		if (this.answers.length > this.keep) this.answers.pop();
		if (this.answers.length < this.keep) return;
		const { costs } = this.answers[this.keep - 1];
		this.worst = costs.map((cost) => cost.toNumber());
		this.allExact = !this.wishes.some(({ kind }) => kind === 'highest' || kind === 'lowest') && costs.every((cost) => cost.sign === 0);
	}

	private settings(): Pick<RateAnswer, 'settings' | 'changed'> {
		const settings: ClockSettings = {};
		const changed: string[] = [];
		this.nodes.forEach((node, at) => {
			const option = this.assignment.chosen[at];
			if (!option || node.kind === 'source' || node.kind === 'follow') return;
			settings[node.id] = option.setting;
			if (option.changes) changed.push(node.id);
		});
		return { settings, changed };
	}

	/** Routes that are done, and of the one under way what its first two choices have seen. */
	private share(): number {
		if (this.done) return 1;
		let part = 0;
		let size = 1;
		const order = this.route?.order ?? [];
		for (let depth = 0; depth <= this.depth && depth < order.length && size > 1e-4; depth++) {
			const ways = this.route!.picks.has(order[depth]) ? 1 : this.nodes[order[depth]].options.length;
			part += (size * Math.max(0, this.cursor[depth] - 1)) / ways;
			size /= ways;
		}
		return Math.min(1, (this.routesDone + part) / this.routeCount);
	}
}

/** Negative when costs and changes stand before those of `other`. */
function compare(costs: readonly Rational[], changes: number, other: Ranked): number {
	for (let i = 0; i < costs.length; i++) {
		const order = costs[i].compare(other.costs[i]);
		if (order !== 0) return order;
	}
	return changes - other.changed.length;
}

function holdsWithin(kind: 'exactly' | 'multiple', hz: number, lo: number, hi: number): boolean {
	const low = lo * (1 - SLACK);
	const high = hi * (1 + SLACK);
	return kind === 'exactly' ? low <= hz && hz <= high : Math.max(1, Math.ceil(low / hz)) * hz <= high;
}

function leastCost(kind: RateWish['kind'], hz: number, lo: number, hi: number): number {
	if (kind === 'highest') return -hi;
	if (kind === 'lowest') return lo;
	return lo > hz ? (lo - hz) / hz : hi < hz ? (hz - hi) / hz : 0;
}

function costSlots(wishes: readonly RateWish[]): number[] {
	let count = 0;
	let nearest: number | undefined;
	return wishes.map(({ kind }) => {
		if (kind === 'nearest') return (nearest ??= count++);
		return kind === 'highest' || kind === 'lowest' ? count++ : -1;
	});
}

function checkWish(wish: RateWish, index: ReadonlyMap<string, number>): void {
	for (const id of wish.kind === 'equal' ? [wish.node, wish.to] : [wish.node])
		if (!index.has(id)) throw new RangeError(`there is no clock node "${id}"`);
	if ('hz' in wish && wish.hz.sign <= 0) throw new RangeError('a wished rate must be above zero');
}
