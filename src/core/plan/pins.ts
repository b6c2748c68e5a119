import { pinsOf, type PartProfile, type PinProfile, type TimerProfile } from '../part/index.js';
import { kindOf, type Aim } from '../aims/index.js';
import type { Plan } from './document.js';
import { channelsOf } from './claims.js';

/** What is led out. */
export interface Led {
	/** "ch1", "ch1.n", "ext"; of a port the output's or line's name. */
	what: string;
	/** What the part or the plan calls it, and whether it is the complementary output of that. */
	called: string;
	complementary: boolean;
}

/** A pin that an aim needs. */
export interface PinUse extends Led {
	aim: string;
	/** The pins that could serve. */
	offers: PinProfile[];
	/** The one that does; left out where none is free. */
	pin?: PinProfile;
	/** The plan says which; otherwise it is the first free one. */
	chosen: boolean;
	trouble?: PinTrouble;
}

export type PinTrouble = Led &
	(
		| { code: 'pin-missing'; pin: string }
		| { code: 'pin-not-led'; pin: string }
		| { code: 'pin-shared'; pin: string; other: string }
		| { code: 'pin-none' }
	);

interface Need {
	aim: Aim;
	led: Led;
	offers: PinProfile[];
	/** A pin's id, or its name. */
	wanted: string | undefined;
	/** Nobody minds when it has none. */
	optional: boolean;
}

/**
 * Gives every aim its pins: first those that are chosen, then in the plan's order the first free one each; where none is free, those before
 * it are moved to others that would serve them as well, so that as many as can have one. Empty for a part without pins.
 */
export function assignPins(plan: Plan): PinUse[] {
	if ((plan.part.pins ?? []).length === 0) return [];
	const needs = plan.aims.flatMap((aim) => needsOf(aim, plan.part));
	const taken = new Map<string, Aim>();
	const uses = needs.map((need): PinUse => ({ aim: need.aim.id, ...need.led, offers: need.offers, chosen: need.wanted !== undefined }));
	needs.forEach((need, i) => {
		if (need.wanted !== undefined) settleChosen(uses[i], need, taken);
	});
	const open = [...needs.keys()].filter((i) => needs[i].wanted === undefined);
	// Nobody has to give way to one that can do without.
	const given = matchPins(needs, [...open.filter((i) => !needs[i].optional), ...open.filter((i) => needs[i].optional)], taken);
	for (const [pin, i] of given) taken.set(pin, needs[i].aim);
	const pinOf = new Map([...given].map(([pin, i]) => [i, pin]));
	for (const i of open) settleFree(uses[i], needs[i], pinOf.get(i), taken);
	return uses;
}

/** A pin each, as far as they go: by id, whose it is. A need takes the first pin that is free or whose holder can go elsewhere. */
function matchPins(needs: readonly Need[], order: readonly number[], taken: ReadonlyMap<string, Aim>): Map<string, number> {
	const holder = new Map<string, number>();
	const led = needs.map(({ offers }) => offers.filter(({ id, ledOut }) => ledOut !== false && !taken.has(id)));
	const place = (i: number, asked: Set<string>): boolean => {
		const free = led[i].find(({ id }) => !holder.has(id));
		if (free) {
			holder.set(free.id, i);
			return true;
		}
		return led[i].some(({ id }) => {
			if (asked.has(id)) return false;
			asked.add(id);
			if (!place(holder.get(id)!, asked)) return false;
			holder.set(id, i);
			return true;
		});
	};
	for (const i of order) place(i, new Set());
	return holder;
}

function settleChosen(use: PinUse, { aim, led, offers, wanted }: Need, taken: Map<string, Aim>): void {
	const pin = offers.find(({ id, name }) => id === wanted || name === wanted);
	if (!pin) {
		use.trouble = { code: 'pin-missing', pin: wanted!, ...led };
		return;
	}
	use.pin = pin;
	const other = taken.get(pin.id);
	if (pin.ledOut === false) use.trouble = { code: 'pin-not-led', pin: pin.name, ...led };
	else if (other) use.trouble = { code: 'pin-shared', pin: pin.name, ...led, other: other.name };
	else taken.set(pin.id, aim);
}

function settleFree(use: PinUse, { led, offers, optional }: Need, given: string | undefined, taken: ReadonlyMap<string, Aim>): void {
	const able = offers.filter(({ ledOut }) => ledOut !== false);
	const pin = able.find(({ id }) => id === given);
	if (pin) use.pin = pin;
	else if (able.length > 0) {
		use.pin = able[0];
		use.trouble = { code: 'pin-shared', pin: able[0].name, ...led, other: taken.get(able[0].id)!.name };
	} else if (!optional) use.trouble = { code: 'pin-none', ...led };
}

function needsOf(aim: Aim, part: PartProfile): Need[] {
	const timer = part.timers.find(({ id }) => id === aim.timer);
	const need = (what: string, optional = false): Need => ({
		aim,
		led: ledOf(what, timer),
		offers: pinsOf(part, `${timer?.id}.${what}`),
		wanted: Object.hasOwn(aim.pins, what) ? aim.pins[what] : undefined,
		optional
	});
	const more = (kindOf(aim).pins?.(aim) ?? []).flatMap(({ what, port, optional }): Need[] => {
		if (port === undefined) return timer ? [need(what, optional)] : [];
		return port.trim() === ''
			? []
			: [{ aim, led: { what, called: what, complementary: false }, offers: part.pins ?? [], wanted: port.trim(), optional: false }];
	});
	const channels = channelsOf(aim, part).filter((id) => timer?.channels.some((channel) => channel.id === id));
	return [...channels.map((id) => need(id)), ...more];
}

/** A channel or an input by the name that the part gives it. */
function ledOf(what: string, timer: TimerProfile | undefined): Led {
	const [id, side] = what.split('.');
	const found = [...(timer?.channels ?? []), ...(timer?.inputs ?? [])].find((one) => one.id === id);
	return { what, called: found?.name ?? id, complementary: side === 'n' };
}
