import type { Hertz, Ppm } from '../exact/index.js';
import {
	clockPath,
	pickedInput,
	ClockTreeError,
	resolveClock,
	setClock,
	type ClockSettings,
	type LimitFinding,
	type PartProfile,
	type SetNode,
	type SettingFinding
} from '../part/index.js';
import type { Plan } from './document.js';
import { readClockFactor, readFrequency, type ClockLink, type ClockRates, type FieldProblem } from '../aims/index.js';

/** The plan's clock tree, resolved. */
export interface PlanClocks extends ClockRates {
	ppm: (node: string) => [Ppm, Ppm] | null;
	limits: LimitFinding[];
	refused: SettingFinding[];
	unreadable: { node: string; problem: FieldProblem }[];
	/** The tree as set, and the settings that were typed and could be read. */
	nodes: readonly SetNode[];
	values: ClockSettings;
	/** True when a setting at the node or before it makes no sense. */
	unknown: (node: string) => boolean;
	/** Set when the tree itself is broken; all rates are then null. */
	broken?: ClockTreeError;
}

/**
 * Resolves the plan's part with its settings; `settings` overrides what the plan says ({} = as at reset). A gate that the
 * timer of an aim needs is open unless the settings say otherwise; with `gates` "as-set" it stands as at reset. Never throws.
 */
export function planClocks(plan: Plan, settings: Plan['clock'] = plan.clock, gates: 'as-needed' | 'as-set' = 'as-needed'): PlanClocks {
	const { values, unreadable } = readSettings(plan.part, settings);
	if (gates === 'as-needed') for (const id of neededGates(plan)) values[id] ??= true;
	const { nodes, findings: refused } = setClock(plan.part, values);
	try {
		const { rates, findings: limits } = resolveClock(nodes);
		const unclear = new Set(unreadable.map(({ node }) => node));
		const unknown = unclear.size > 0 ? unclearBehind(nodes, unclear) : () => false;
		const hz = (id: string) => (unknown(id) ? null : (rates.get(id)?.hz ?? null));
		const path = (id: string): ClockLink[] => {
			const ids = clockPath(nodes, id);
			return ids.map((at, i) => ({ ...linkOf(plan.part, settings, at, hz(at), i > 0 ? hz(ids[i - 1]) : null), unknown: unknown(at) }));
		};
		const known = limits.filter(({ node }) => !unknown(node));
		return { rate: hz, ppm: (id) => rates.get(id)?.ppm ?? null, path, limits: known, refused, unreadable, nodes, values, unknown };
	} catch (error) {
		if (!(error instanceof ClockTreeError)) throw error;
		const none = { rate: () => null, ppm: () => null, path: () => [], limits: [], unknown: () => true };
		return { ...none, refused, unreadable, nodes, values, broken: error };
	}
}

/** Gates on the way to the kernel clocks that aims hang on. */
function neededGates(plan: Plan): string[] {
	const used = new Set(plan.aims.map((aim) => aim.timer));
	return plan.part.timers.flatMap((timer) => (used.has(timer.id) && timer.gate !== undefined ? [timer.gate] : []));
}

/** Nodes whose chosen way to their source leads through an unclear one, each walked once. */
function unclearBehind(nodes: readonly SetNode[], unclear: ReadonlySet<string>): (id: string) => boolean {
	const byId = new Map(nodes.map((node) => [node.id, node]));
	const known = new Map<string, boolean>();
	return (id) => {
		const way: string[] = [];
		let at: string | undefined = id;
		let verdict = false;
		for (; at !== undefined;) {
			const settled = known.get(at);
			verdict = settled ?? unclear.has(at);
			if (settled !== undefined || verdict) break;
			way.push(at);
			const node = byId.get(at);
			at = node && pickedInput(node);
		}
		for (const step of way) known.set(step, verdict);
		return verdict;
	};
}

function linkOf(part: PartProfile, settings: Plan['clock'], id: string, hz: Hertz | null, input: Hertz | null): ClockLink {
	const node = part.clock.find((n) => n.id === id)!;
	const link: ClockLink = { node, hz, unknown: false };
	if (['divide', 'multiply', 'follow'].includes(node.kind) && hz && input) link.factor = hz.div(input);
	if (Object.hasOwn(settings, id)) link.typed = settings[id];
	return link;
}

function readSettings(part: PartProfile, settings: Plan['clock']): { values: ClockSettings; unreadable: PlanClocks['unreadable'] } {
	const values: ClockSettings = {};
	const unreadable: PlanClocks['unreadable'] = [];
	for (const node of part.clock) {
		const typed = Object.hasOwn(settings, node.id) ? settings[node.id] : undefined;
		if (typed === undefined) continue;
		if (node.kind === 'select') values[node.id] = typed;
		else if (node.kind === 'gate') values[node.id] = typed === 'on';
		else if (node.kind !== 'follow') {
			const found = node.kind === 'source' ? readFrequency(typed) : readClockFactor(typed);
			if (found.ok) values[node.id] = found.value;
			else unreadable.push({ node: node.id, problem: found.problem });
		}
	}
	return { values, unreadable };
}
