import { pickedInput } from '../../core/part/index.js';
import type { PlanClocks } from '../../core/plan/index.js';

/** What hangs on each node through the inputs that are picked, itself included; and the way up to its source. */
export class ClockBranches {
	private readonly children = new Map<string, string[]>();
	private readonly parents = new Map<string, string[]>();

	constructor(clocks: PlanClocks) {
		for (const node of clocks.nodes) {
			const input = pickedInput(node);
			const from = [...(input === undefined ? [] : [input]), ...(node.kind === 'follow' ? [node.watch] : [])];
			this.parents.set(node.id, from);
			for (const id of from) this.children.set(id, [...(this.children.get(id) ?? []), node.id]);
		}
	}

	/** A node with all that hangs on it. */
	behind(id: string): Set<string> {
		return closure(id, this.children);
	}

	/** A node with all that it comes from. */
	before(id: string): Set<string> {
		return closure(id, this.parents);
	}
}

function closure(id: string, next: ReadonlyMap<string, string[]>): Set<string> {
	const found = new Set([id]);
	for (const at of found) for (const other of next.get(at) ?? []) found.add(other);
	return found;
}
