import { Rational } from '../../core/exact/index.js';
import type { ClockLink } from '../../core/aims/index.js';
import type { Plan, PlanClocks } from '../../core/plan/index.js';
import { decimal, hertz } from './numbers.js';

/** "× 12" or "÷ 2": what a link of the clock does to its input; undefined where it hands it on. */
export function factorText({ node, factor }: ClockLink): string | undefined {
	if (!factor) return undefined;
	return node.kind === 'divide' ? `÷ ${decimal(factor.inverse())}` : `× ${decimal(factor)}`;
}

/** How a node's rate comes about, with the name at each number, or why it has none. `name`: what a node is called here. */
export function arithmetic(clocks: PlanClocks, id: string, name: (id: string) => string): string {
	const links = clocks.path(id);
	const last = links.at(-1);
	if (!last) return 'The clock tree has no rates.';
	if (last.unknown) return `${name(id)} is unknown: a setting before it makes no sense.`;
	if (!last.hz) return `${name(id)} is stopped: ${name(links.find((link) => !link.hz)!.node.id)} is closed.`;
	const [source, ...rest] = links;
	const terms = rest.flatMap((link) => {
		const text = factorText(link);
		const why =
			link.node.kind === 'follow'
				? `${name(link.node.id)}, since ${name(link.node.watch)} ${divides(clocks, link.node.watch)}`
				: name(link.node.id);
		return text ? [`${text} (${why})`] : [];
	});
	return `${hertz(source.hz!)} (${name(source.node.id)})${terms.map((term) => ` ${term}`).join('')} = ${hertz(last.hz)}`;
}

function divides(clocks: PlanClocks, id: string): string {
	const node = clocks.nodes.find((n) => n.id === id);
	return `divides by ${node?.kind === 'divide' ? decimal(Rational.int(node.by)) : '?'}`;
}

/** A node's own name in this plan, or the part's. */
export function nodeName(plan: Pick<Plan, 'part' | 'labels'>, id: string): string {
	const own = Object.hasOwn(plan.labels, id) ? plan.labels[id].name.trim() : '';
	return own || (plan.part.clock.find((node) => node.id === id)?.name ?? id);
}
