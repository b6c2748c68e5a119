import { largest } from '../timer/index.js';
import type { SimChannel, SimSequence, SimSystem, SimTimer } from '../sim/index.js';
import type { Group, Scene } from './scene.js';

/** Where a mistake sits: the register or the choice, what was planned there, and what it would hold. */
export interface Where {
	timer: string;
	channel?: string;
	what: string;
	planned: number | string;
	found: number | string;
	/** Settings of the whole clock tree, where that is as the hardware runs and not as the plan has it. */
	clock?: Record<string, string>;
}

/** A group of timers as a mistake would make it. */
export interface Changed {
	where: Where;
	system: SimSystem;
	/** Of a base cycle, where a clock is to blame; and what its source may be off by, in ppm. */
	seconds?: number;
	ppm?: readonly [number, number];
	/** Changes of several groups that are one mistake share it. */
	shared?: string;
}

/** One kind of mistake. */
export interface Mistake {
	code: string;
	/** Usual ones have small numbers. */
	usual: number;
	/** All ways in which it could have been made. */
	of(group: Group, scene: Scene): Changed[];
}

/** The system with one timer changed. */
export function withTimer(system: SimSystem, id: string, change: Partial<SimTimer>): SimSystem {
	return { ...system, timers: system.timers.map((timer) => (timer.id === id ? { ...timer, ...change } : timer)) };
}

export function withChannel(system: SimSystem, timer: SimTimer, id: string, change: Partial<SimChannel>): SimSystem {
	return withTimer(system, timer.id, { channels: timer.channels.map((one) => (one.id === id ? { ...one, ...change } : one)) });
}

/** A number register of a timer: what is counted to, what divides, and a channel's compare. */
export type Register = { name: 'reload' | 'prescale' } | { name: 'compare'; channel: string };

export function registersOf(timer: SimTimer): Register[] {
	const counted: Register[] = timer.mode === 'free' || timer.mode === 'tap' ? [] : [{ name: 'reload' }];
	const compares = timer.channels.map(({ id }): Register => ({ name: 'compare', channel: id }));
	return [...counted, { name: 'prescale' }, ...compares];
}

/** What a register holds. */
export function heldIn(timer: SimTimer, register: Register): number {
	if (register.name === 'prescale') return timer.prescale;
	if (register.name === 'compare') return timer.channels.find(({ id }) => id === register.channel)?.compare ?? 0;
	return timer.mode === 'preload' ? timer.preload : timer.mode === 'advance' ? (timer.advance ?? 0) : timer.reload;
}

/** Is it a value that the register can hold and the timer can run with? */
export function holdable(timer: SimTimer, { name }: Register, value: number): boolean {
	if (!Number.isSafeInteger(value)) return false;
	if (name === 'prescale') return value >= 1 && value <= 2 ** 32;
	return value >= (name === 'reload' && timer.mode !== 'preload' ? 1 : 0) && value <= largest(timer.width);
}

/**
 * The system with every value that goes into a register of a timer changed: the one that it begins with, those of rows and those that
 * are written. undefined where that changes nothing, or cannot be held.
 */
export function rewritten(
	system: SimSystem,
	timer: SimTimer,
	register: Register,
	change: (value: number) => number
): SimSystem | undefined {
	let same = true;
	let holds = true;
	const turn = (value: number): number => {
		const next = change(value);
		if (next !== value) same = false;
		if (!holdable(timer, register, next)) holds = false;
		return next;
	};
	const rows = (sequence: SimSequence): SimSequence => ({ ...sequence, rows: sequence.rows.map((row) => turnedRow(row, register, turn)) });
	const sequences = timer.sequences?.map(rows);
	const set = sequences?.some((one) => one.rows.some((row) => rowHas(row, register)));
	const name = register.name === 'compare' ? `compare:${register.channel}` : register.name;
	const writes = system.writes.map((write) =>
		write.timer === timer.id && write.register === name ? { ...write, value: turn(write.value) } : write
	);
	const own = set && register.name === 'compare' ? {} : ownChange(timer, register, turn);
	const next = withTimer({ ...system, writes }, timer.id, { ...own, ...(sequences && { sequences }) });
	return same || !holds ? undefined : next;
}

function ownChange(timer: SimTimer, register: Register, turn: (value: number) => number): Partial<SimTimer> {
	const value = turn(heldIn(timer, register));
	if (register.name === 'prescale') return { prescale: value };
	if (register.name === 'compare')
		return { channels: timer.channels.map((one) => (one.id === register.channel ? { ...one, compare: value } : one)) };
	if (timer.mode === 'preload') return { preload: value };
	// The first compare of an output that moves on is the step itself.
	if (timer.mode === 'advance') return { advance: value, reload: value };
	return { reload: value };
}

type Row = SimSequence['rows'][number];

function rowHas(row: Row, register: Register): boolean {
	return register.name === 'compare' ? row.compare[register.channel] !== undefined : row[register.name] !== undefined;
}

function turnedRow(row: Row, register: Register, turn: (value: number) => number): Row {
	if (!rowHas(row, register)) return row;
	if (register.name === 'compare') return { ...row, compare: { ...row.compare, [register.channel]: turn(row.compare[register.channel]) } };
	return { ...row, [register.name]: turn(row[register.name]!) };
}

/** One register changed by a rule, in every timer of a group. */
export function eachRegister(
	group: Group,
	wanted: (register: Register, timer: SimTimer) => boolean,
	values: (held: number, timer: SimTimer, register: Register) => ((value: number) => number)[]
): Changed[] {
	return group.system.timers.flatMap((timer) =>
		registersOf(timer)
			.filter((register) => wanted(register, timer))
			.flatMap((register) => {
				const held = heldIn(timer, register);
				return values(held, timer, register).flatMap((change): Changed[] => {
					const system = rewritten(group.system, timer, register, change);
					return system ? [{ where: whereOf(timer, register, held, change(held)), system }] : [];
				});
			})
	);
}

export function whereOf(timer: SimTimer, register: Register, planned: number, found: number): Where {
	return { timer: timer.id, ...(register.name === 'compare' && { channel: register.channel }), what: register.name, planned, found };
}
