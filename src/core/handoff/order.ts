import { readBinding, STEPS, type Access } from '../registers/index.js';
import type { HandOff } from './handOff.js';
import { stepGroups } from './residents.js';

/** What a set-up may do wrongly by the order of its steps. */
export interface OrderFinding {
	code: 'pins-early' | 'runs-early' | 'gate-late' | 'stop-late' | 'load-early' | 'flags-early' | 'flags-late' | 'global-early';
	unit: string;
	/** The step that comes too early, or too late, and what should have come before it. */
	step: string;
	before: string;
	/** Pins that it is of. */
	of: string[];
}

/** Steps that must be done before another one of the same unit, or else that happens. */
const RULES: [code: OrderFinding['code'], step: string, after: readonly string[]][] = [
	['runs-early', 'run', ['source', 'prescale', 'mode', 'buffers', 'reload', 'compares', 'inputs', 'outputs', 'triggers', 'load']],
	['load-early', 'load', ['prescale', 'reload', 'compares']],
	['flags-early', 'flags', ['load']],
	['flags-late', 'run', ['flags']],
	['global-early', 'global', ['flags']]
];

/** What a part's order of steps lets happen that nobody wants: outputs that glitch, counters that run before they are set up. */
export function orderFindings(of: HandOff): OrderFinding[] {
	const { accesses } = of;
	const writes = accesses.flatMap((access, at) => (access.do === 'read' ? [] : [{ access, at, unit: access.for[0].split('.')[0] }]));
	const stepsOf = new Map<string, Map<string, { first: number; last: number }>>();
	for (const { access, at, unit } of writes) {
		const own = stepsOf.get(unit) ?? new Map<string, { first: number; last: number }>();
		stepsOf.set(unit, own.set(access.step, { first: own.get(access.step)?.first ?? at, last: at }));
	}
	const found: OrderFinding[] = [];
	for (const [unit, steps] of stepsOf) {
		for (const [code, step, after] of RULES) {
			const own = steps.get(step);
			for (const before of after) {
				const other = steps.get(before);
				if (own && other && other.last > own.first) found.push({ code, unit, step, before, of: [] });
			}
		}
		for (const [code, step] of [
			['gate-late', 'gate'],
			['stop-late', 'stop']
		] as const) {
			const own = steps.get(step);
			const earlier = own && [...steps].find(([name, { first }]) => first < own.first && !['tree', 'gate', 'pins'].includes(name));
			if (earlier) found.push({ code, unit, step, before: earlier[0], of: [] });
		}
	}
	return [...found, ...earlyPins(of, writes)];
}

/** Pins that are switched over to a timer before it is told that they rest high: until then they may be low. */
function earlyPins({ quantities }: HandOff, writes: readonly { access: Access; at: number }[]): OrderFinding[] {
	const at = (name: string) => writes.find(({ access }) => access.for.includes(name))?.at;
	const pins = [...(quantities.get('pins') ?? [])].flatMap(([name, value]): string[] => {
		const [head, pin, more] = name.split(':');
		if (head !== 'pin' || more !== undefined || typeof value !== 'string') return [];
		const [unit, channel, end] = value.split('.');
		const told = end === undefined ? channel : `${channel}:${end}`;
		const own = quantities.get(unit);
		const high = [
			...(own?.get(`polarity:${told}`) === 'low' ? [`${unit}.polarity:${told}`] : []),
			...(own?.get(`idle:${told}`) === 1 ? [`${unit}.idle:${told}`] : [])
		];
		const switched = at(`pins.${name}`);
		return high.some((one) => switched !== undefined && (at(one) ?? -1) > switched) ? [pin] : [];
	});
	return pins.length === 0 ? [] : [{ code: 'pins-early', unit: 'pins', step: 'pins', before: 'outputs', of: pins }];
}

/**
 * A part's binding in which a step of a unit comes earlier or later by one of those that the set-up does; units that are like it keep
 * the order that they have. undefined: it is the first or the last already.
 */
export function movedStep(
	of: HandOff,
	raw: Record<string, unknown>,
	unit: string,
	step: string,
	by: 1 | -1
): Record<string, unknown> | undefined {
	const read = of.binding;
	const order = [...(read?.units.get(unit)?.order ?? STEPS)];
	const at = order.indexOf(step);
	if (!read || at < 0) return undefined;
	const done = stepGroups(of.accesses)
		.filter((group) => group.unit === unit)
		.map((group) => group.step);
	const next = done[done.indexOf(step) + by] as string | undefined;
	const cut = order.findIndex((one) => one === 'global' || one === 'run');
	const to = next === undefined ? overTheCut(order, at, cut, by) : order.indexOf(next);
	if (to === undefined || to < 0) return undefined;
	order.splice(at, 1);
	order.splice(to, 0, step);
	const units = (raw.units ?? {}) as Record<string, Record<string, unknown>>;
	const likes = Object.entries(units).filter(([id, one]) => id !== unit && one.like === unit && one.order === undefined);
	const kept = Object.fromEntries(likes.map(([id, one]) => [id, { ...one, order: [...(read.units.get(id)?.order ?? STEPS)] }]));
	const made = { ...raw, units: { ...units, ...kept, [unit]: { ...units[unit], order } } };
	return readBinding(made).findings.length === 0 ? made : undefined;
}

/** The only step of a unit goes over to what is done after all others are set up, or back. */
function overTheCut(order: readonly string[], at: number, cut: number, by: 1 | -1): number | undefined {
	if (cut < 0) return undefined;
	if (by === 1) return at < cut ? order.length - 1 : undefined;
	return at > cut ? cut : undefined;
}
