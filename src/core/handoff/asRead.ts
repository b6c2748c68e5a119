import type { AimDerivation, AnyAim } from '../aims/index.js';
import { derivePlan, leaderOf, type Plan } from '../plan/index.js';
import type { QuantityValue } from '../registers/index.js';
import type { HandOff } from './handOff.js';
import type { HeldDump, HeldQuantity } from './held.js';
import { quantitiesOf } from './quantities.js';

/** A plan of what the registers really hold. */
export interface PlanAsRead {
	plan: Plan;
	/** Quantities that were otherwise than planned, and are now planned so. */
	taken: HeldQuantity[];
	/** Those that are not: no plan can say them, or its other settings stand against it. */
	left: HeldQuantity[];
}

/**
 * The plan with the settings that a dump holds in place of its own: prescale, reload and compare as held links, ways of counting, polarities,
 * outputs that are off, and the clock tree. Wishes, inputs, tables and what software does stay the plan's, as no register says them.
 */
export function planAsRead({ derivation }: HandOff, { quantities }: HeldDump): PlanAsRead {
	const { plan } = derivation;
	const differing = quantities.filter(({ differs }) => differs);
	if (differing.length === 0) return { plan, taken: [], left: [] };
	// What follows a timer hangs on it too: all are held where they really are.
	const aims = plan.aims.map((aim) => {
		const derived = derivation.aims.find((one) => one.aim.id === aim.id);
		return derived ? aimAsRead(plan, derived, quantities) : aim;
	});
	const changed: Plan = { ...plan, clock: clockAsRead(plan, differing), aims };
	const now = quantitiesOf(derivePlan(changed));
	const same = ({ unit, quantity, read }: HeldQuantity) => String(now.get(unit)?.get(quantity)) === String(read);
	return { plan: changed, taken: differing.filter(same), left: differing.filter((one) => !same(one)) };
}

function clockAsRead({ clock, part }: Plan, differing: readonly HeldQuantity[]): Plan['clock'] {
	const set = differing.flatMap(({ quantity, read }): [string, string][] => {
		const node = part.clock.find(({ id }) => quantity === `clock:${id}`);
		return node && (node.kind === 'select' || node.kind === 'multiply' || node.kind === 'divide') ? [[node.id, String(read)]] : [];
	});
	return { ...clock, ...Object.fromEntries(set) };
}

function aimAsRead(plan: Plan, { aim, timer, strip }: AimDerivation, quantities: readonly HeldQuantity[]): Plan['aims'][number] {
	const own = new Map(quantities.filter(({ unit }) => unit === aim.timer).map((one) => [one.quantity, one]));
	const read = (name: string): QuantityValue | undefined => own.get(name)?.read;
	const { channel } = aim as { channel?: unknown };
	const links: Record<string, QuantityValue | undefined> = {
		prescale: read('prescale') ?? product(timer?.prescaler.kind === 'chain' ? timer.prescaler.stages.length : 0, read),
		reload: read('reload'),
		compare: typeof channel === 'string' ? read(`compare:${channel}`) : undefined,
		lead: leadAsRead(plan, aim, strip.find(({ name }) => name === 'lead')?.value, quantities)
	};
	const held = strip.flatMap(({ name, holds }): [string, string][] =>
		holds && links[name] !== undefined ? [[name, String(links[name])]] : []
	);
	const turned = typeof channel === 'string' && own.get(`polarity:${channel}`)?.differs;
	const off = typeof channel === 'string' && own.get(`drive:${channel}`)?.differs && Number(read(`drive:${channel}`)) === 0;
	const mode = own.get('mode')?.differs ? String(read('mode')) : undefined;
	const { polarity } = aim as { polarity?: unknown };
	return {
		...aim,
		locks: { ...aim.locks, ...Object.fromEntries(held) },
		...(turned && (polarity === 'high' || polarity === 'low') && { polarity: polarity === 'high' ? 'low' : 'high' }),
		...(mode !== undefined && 'align' in aim && ['up', 'down', 'updown'].includes(mode) && { align: mode }),
		...(off && { enable: 'off' })
	} as Plan['aims'][number];
}

/** The compare of the leader's timer at which a follower is started: the one that was planned to be so. */
function leadAsRead(
	{ aims }: Plan,
	aim: AnyAim,
	planned: number | undefined,
	quantities: readonly HeldQuantity[]
): QuantityValue | undefined {
	const leader = aims.find(({ id }) => id === leaderOf(aim));
	return quantities.find(({ unit, quantity, planned: own }) => unit === leader?.timer && quantity.startsWith('compare:') && own === planned)
		?.read;
}

/** Of a chain of stages, when all of them were read. */
function product(stages: number, read: (name: string) => QuantityValue | undefined): number | undefined {
	const ratios = Array.from({ length: stages }, (_, k) => read(`prescale:${k + 1}`));
	return stages === 0 || ratios.includes(undefined) ? undefined : ratios.reduce<number>((all, one) => all * Number(one), 1);
}
