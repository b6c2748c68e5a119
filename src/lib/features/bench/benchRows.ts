import { keep, kept } from '../../session/kept.js';
import type { Aim } from '../../../core/aims/index.js';
import type { Plan } from '../../../core/plan/index.js';
import type { Pen, Surface } from '../../wave/index.js';
import { paintEvents, paintPin, paintValue } from '../../wave/index.js';
import type { PredictedLane } from './prediction.svelte.js';

/** How the planned lanes are laid out: in which order, under which headings, what is folded away and what is unfolded. */
export interface Layout {
	by: 'plan' | 'group' | 'timer';
	/** Aims in an order of one's own; those that are left out follow in the plan's order. */
	order: string[];
	/** Headings that are folded. */
	folded: string[];
	/** Aims whose details are shown. */
	open: string[];
}

export const PLAIN: Layout = { by: 'plan', order: [], folded: [], open: [] };

export type PlannedRow =
	| { kind: 'head'; key: string; title: string; folded: boolean; count: number }
	/** `first`: the first of its aim; `more`: how many details the aim has. */
	| { kind: 'lane'; lane: PredictedLane; first: boolean; more: number; open: boolean };

/** Rows from top to bottom. The one heading of a plan that is not grouped stands for all of it. */
export function plannedRows(lanes: readonly PredictedLane[], plan: Plan, layout: Layout): PlannedRow[] {
	const place = new Map([...layout.order, ...plan.aims.map(({ id }) => id)].map((id, i): [string, number] => [id, i]).reverse());
	const byAim = new Map<string, PredictedLane[]>();
	for (const lane of lanes) byAim.set(lane.aim, [...(byAim.get(lane.aim) ?? []), lane]);
	const aims = plan.aims.filter(({ id }) => byAim.has(id)).sort((a, b) => place.get(a.id)! - place.get(b.id)!);
	const headOf = (aim: Aim): { key: string; title: string } => {
		if (layout.by === 'group') return { key: `group ${aim.group}`, title: aim.group || 'no group' };
		if (layout.by === 'timer') {
			const name = plan.part.timers.find((timer) => timer.id === aim.timer)?.name;
			return { key: `timer ${aim.timer}`, title: name ?? aim.timer };
		}
		return { key: 'plan', title: 'plan, predicted' };
	};
	const groups = new Map<string, { title: string; aims: string[] }>();
	for (const aim of aims) {
		const { key, title } = headOf(aim);
		const group = groups.get(key) ?? { title, aims: [] };
		group.aims.push(aim.id);
		groups.set(key, group);
	}
	return [...groups].flatMap(([key, group]): PlannedRow[] => {
		const folded = layout.folded.includes(key);
		const head: PlannedRow = { kind: 'head', key, title: group.title, folded, count: group.aims.length };
		return folded ? [head] : [head, ...group.aims.flatMap((id) => rowsOf(byAim.get(id)!, layout.open.includes(id)))];
	});
}

/** The rows of one aim's own lanes. */
function rowsOf(own: readonly PredictedLane[], open: boolean): PlannedRow[] {
	const more = own.filter(({ detail }) => detail).length;
	// An aim whose every lane is a detail shows them all.
	const shown = own.filter(({ detail }) => open || !detail || more === own.length);
	// The two outcomes of a list stand for the pin itself.
	const doubled = new Set(shown.filter(({ outcome }) => outcome).map(({ role }) => role));
	const kept = shown.filter(({ role, outcome, drawn }) => outcome !== undefined || drawn.kind !== 'level' || !doubled.has(role));
	return [...kept.filter(({ outcome }) => outcome), ...kept.filter(({ outcome }) => !outcome)].map((lane, i) => ({
		kind: 'lane',
		lane,
		first: i === 0,
		more,
		open
	}));
}

/** Pixels of a row. */
export function rowHeight(row: PlannedRow): number {
	if (row.kind === 'head') return 27;
	return row.lane.drawn.kind === 'value' ? 76 : row.lane.drawn.kind === 'events' ? 40 : 42;
}

/** All aims of the plan in the layout's own order; those that it leaves out follow. */
function orderOf(plan: Plan, { order }: Layout): string[] {
	const ids = plan.aims.map(({ id }) => id);
	return [...order.filter((id) => ids.includes(id)), ...ids.filter((id) => !order.includes(id))];
}

/** The aim moved before or behind another, as an order of one's own. */
export function reordered(plan: Plan, layout: Layout, aim: string, by: -1 | 1): Layout {
	const order = orderOf(plan, layout);
	const from = order.indexOf(aim);
	const to = from + by;
	if (from < 0 || to < 0 || to >= order.length) return layout;
	return { ...layout, order: order.with(from, order[to]).with(to, aim) };
}

/** Puts an aim in the place of another. */
export function movedTo(plan: Plan, layout: Layout, aim: string, target: string): Layout {
	if (aim === target) return layout;
	const all = orderOf(plan, layout);
	const order = all.filter((id) => id !== aim);
	return { ...layout, order: order.toSpliced(all.indexOf(target), 0, aim) };
}

export function toggled(list: readonly string[], key: string): string[] {
	return list.includes(key) ? list.filter((one) => one !== key) : [...list, key];
}

/** Paints a planned lane; beyond `until`, in seconds, nothing is predicted. */
export function paintPlannedLane(pen: Pen, lane: PredictedLane, until: number, surface: Surface): void {
	const { viewport, height } = surface;
	const [from, to] = [0, until * 1e12].map((time) => Math.min(1e6, Math.max(-10, (time - viewport.start) / viewport.perColumn)));
	pen.save();
	pen.beginPath();
	pen.rect(from, 0, to - from, height);
	pen.clip();
	const { drawn } = lane;
	if (drawn.kind === 'level') paintPin(pen, drawn.trace, lane.glitches ?? [], lane.whatIf === true, surface);
	else if (drawn.kind === 'value') paintValue(pen, drawn, surface);
	else paintEvents(pen, drawn.sets, drawn.busy, surface);
	pen.restore();
}

/** Stored layouts, one a plan, on this machine. */
export function loadLayout(plan: string): Layout {
	const read = kept(keyOf(plan));
	if (typeof read !== 'object' || read === null) return PLAIN;
	const { by, order, folded, open } = read as Partial<Layout>;
	const list = (value: unknown) => (Array.isArray(value) ? value.filter((one): one is string => typeof one === 'string') : []);
	return { by: by === 'group' || by === 'timer' ? by : 'plan', order: list(order), folded: list(folded), open: list(open) };
}

export function saveLayout(plan: string, layout: Layout): void {
	keep(keyOf(plan), layout);
}

const keyOf = (plan: string) => `nolvet-bench-${plan}`;
