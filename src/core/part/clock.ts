import { Rational, type Hertz, type Ppm } from '../exact/index.js';
import type { FindingDetails } from './finding.js';
import { feedersFirst } from './order.js';

/**
 * The clock tree with its settings filled in, and its resolution to exact rates (timers.md 1).
 * Nodes may come in any order; the graph has no cycle.
 */
interface NodeBase {
	id: string;
	/** Limits for the nominal output in Hz; the limit's own value is still allowed. */
	min?: Hertz;
	max?: Hertz;
}

export type SetNode = NodeBase &
	(
		| { kind: 'source'; hz: Hertz; ppmLo: Ppm; ppmHi: Ppm }
		| { kind: 'divide'; from: string; by: number }
		| { kind: 'multiply'; from: string; by: Rational }
		| { kind: 'select'; from: string[]; pick: string }
		| { kind: 'follow'; from: string; watch: string; table: [number, Rational][]; otherwise: Rational }
		| { kind: 'gate'; from: string; on: boolean }
	);

export interface NodeRate {
	/** null: stopped. */
	hz: Hertz | null;
	/** Tolerance band of the source behind it; null when stopped. */
	ppm: [Ppm, Ppm] | null;
}

export interface LimitFinding {
	node: string;
	limit: 'min' | 'max';
	hz: Hertz;
	bound: Hertz;
}

export interface ClockRates {
	rates: Map<string, NodeRate>;
	/** Sorted by node id, then limit, in code-unit order. */
	findings: LimitFinding[];
}

/** A tree that has no rates: said once, with the node that shows it. */
export class ClockTreeError extends Error {
	constructor(
		readonly code: 'cycle' | 'missing' | 'duplicate' | 'pick' | 'factor',
		readonly node: string,
		readonly details: FindingDetails = {}
	) {
		super(`${code} at clock node "${node}"`);
	}
}

const STOPPED: NodeRate = { hz: null, ppm: null };

/**
 * Exact rate and tolerance of every node. A limit passed is a finding and the rate is computed all the same.
 * Throws ClockTreeError for a duplicate id, an unknown input, a pick that is no input, a factor that is not positive, or a cycle.
 */
export function resolveClock(nodes: readonly SetNode[]): ClockRates {
	const byId = indexNodes(nodes);
	const rates = new Map<string, NodeRate>();
	const order = feedersFirst(nodes, inputsOf, (id) => {
		throw new ClockTreeError('cycle', id);
	});
	for (const node of order) rates.set(node.id, rateOf(node, byId, rates));
	const findings = nodes.flatMap((node) => limitsPassed(node, rates.get(node.id)!));
	const key = (f: LimitFinding) => `${f.node}\u0000${f.limit}`;
	findings.sort((a, b) => (key(a) < key(b) ? -1 : 1));
	return { rates, findings };
}

/** The chain of node ids from its source to `id`, through the inputs that are picked. */
export function clockPath(nodes: readonly SetNode[], id: string): string[] {
	const byId = new Map(nodes.map((node) => [node.id, node]));
	const path: string[] = [];
	for (let at: string | undefined = id; at !== undefined && !path.includes(at);) {
		path.unshift(at);
		const node = byId.get(at);
		at = node && pickedInput(node);
	}
	return path;
}

/** The input that a node takes as it is set; undefined for a source. */
export function pickedInput(node: SetNode): string | undefined {
	return node.kind === 'source' ? undefined : node.kind === 'select' ? node.pick : node.from;
}

function indexNodes(nodes: readonly SetNode[]): Map<string, SetNode> {
	const byId = new Map<string, SetNode>();
	for (const node of nodes) {
		if (byId.has(node.id)) throw new ClockTreeError('duplicate', node.id);
		byId.set(node.id, node);
	}
	for (const node of nodes) {
		for (const from of inputsOf(node)) if (!byId.has(from)) throw new ClockTreeError('missing', node.id, { input: from });
		if (node.kind === 'select' && !node.from.includes(node.pick)) throw new ClockTreeError('pick', node.id, { input: node.pick });
		if (node.kind === 'divide' && !(Number.isSafeInteger(node.by) && node.by > 0))
			throw new ClockTreeError('factor', node.id, { factor: String(node.by) });
		if (node.kind === 'multiply' && node.by.sign <= 0) throw new ClockTreeError('factor', node.id, { factor: String(node.by) });
	}
	return byId;
}

function inputsOf(node: SetNode): string[] {
	if (node.kind === 'source') return [];
	if (node.kind === 'select') return node.from;
	return node.kind === 'follow' ? [node.from, node.watch] : [node.from];
}

function rateOf(node: SetNode, byId: Map<string, SetNode>, rates: Map<string, NodeRate>): NodeRate {
	if (node.kind === 'source') return { hz: node.hz, ppm: [node.ppmLo, node.ppmHi] };
	const input = rates.get(pickedInput(node)!)!;
	if (input.hz === null || (node.kind === 'gate' && !node.on)) return STOPPED;
	return { hz: input.hz.mul(factorOf(node, byId)), ppm: input.ppm };
}

function factorOf(node: SetNode, byId: Map<string, SetNode>): Rational {
	switch (node.kind) {
		case 'divide':
			return Rational.ratio(1, node.by);
		case 'multiply':
			return node.by;
		case 'follow': {
			const watched = byId.get(node.watch)!;
			const setting = watched.kind === 'divide' ? watched.by : undefined;
			return node.table.find(([value]) => value === setting)?.[1] ?? node.otherwise;
		}
		default:
			return Rational.one;
	}
}

function limitsPassed(node: SetNode, rate: NodeRate): LimitFinding[] {
	const { hz } = rate;
	if (hz === null) return [];
	const found: LimitFinding[] = [];
	if (node.min && hz.compare(node.min) < 0) found.push({ node: node.id, limit: 'min', hz, bound: node.min });
	if (node.max && hz.compare(node.max) > 0) found.push({ node: node.id, limit: 'max', hz, bound: node.max });
	return found;
}
