import type { SimSequence, SimTimer } from '../../sim/index.js';
import { withTimer, type Changed, type Mistake } from '../change.js';
import type { Group } from '../scene.js';

const fed = ({ system }: Group) => system.timers.filter(({ sequences, pattern }) => (sequences?.length ?? 0) > 0 || pattern);

function choice(timer: SimTimer, what: string, planned: string | number, found: string | number) {
	return { timer: timer.id, what, planned, found };
}

function rowed(
	{ system }: Group,
	timer: SimTimer,
	found: string,
	change: (rows: SimSequence['rows']) => SimSequence['rows'] | undefined
): Changed[] {
	const sequences = timer.sequences?.flatMap((one) => {
		const rows = change(one.rows);
		return rows ? [{ ...one, rows }] : [];
	});
	if (!sequences || sequences.length !== timer.sequences?.length || sequences.length === 0) return [];
	return [{ where: choice(timer, 'rows', 'as planned', found), system: withTimer(system, timer.id, { sequences }) }];
}

/** A compare written at once that should wait for the update, or the other way round. */
const unbuffered: Mistake = {
	code: 'written-unbuffered',
	usual: 32,
	of: (group) =>
		group.system.timers
			.filter(({ sequences, id }) => sequences !== undefined || group.system.writes.some(({ timer }) => timer === id))
			.map((timer) => {
				const to = !(timer.buffered.compare && timer.buffered.reload);
				const channels = timer.channels.map((channel) => ({ ...channel, buffered: to }));
				const sequences = timer.sequences?.map((one) => ({ ...one, prefill: one.prefill && to }));
				return {
					where: choice(timer, 'buffered', to ? 'no' : 'yes', to ? 'yes' : 'no'),
					system: withTimer(group.system, timer.id, { channels, buffered: { reload: to, compare: to }, ...(sequences && { sequences }) })
				};
			})
};

/** Every row comes one period later than planned: nothing was filled in ahead. */
const late: Mistake = {
	code: 'table-row-late',
	usual: 33,
	of: (group) =>
		fed(group).flatMap((timer): Changed[] => {
			const sequences = timer.sequences?.map((one) =>
				one.prefill ? { ...one, prefill: false } : { ...one, rows: [one.rows.at(-1)!, ...one.rows.slice(0, -1)] }
			);
			return sequences ? [{ where: choice(timer, 'rows', 0, 1), system: withTimer(group.system, timer.id, { sequences }) }] : [];
		})
};

const doubled: Mistake = {
	code: 'table-row-doubled',
	usual: 34,
	of: (group) => fed(group).flatMap((timer) => rowed(group, timer, 'first twice', (rows) => [rows[0], ...rows]))
};

/** Rows that are tried as the one left out: the ends, where loops go wrong, and all of short tables. */
const SHORT = 64;

const missing: Mistake = {
	code: 'table-row-missing',
	usual: 35,
	of: (group) =>
		fed(group).flatMap((timer) => {
			const rows = timer.sequences?.[0]?.rows.length ?? 0;
			const all = rows <= SHORT ? Array.from({ length: rows }, (_, i) => i) : [0, 1, rows - 2, rows - 1];
			return all.flatMap((at) =>
				rowed(group, timer, String(at), (list) => (list.length > 1 ? list.filter((_, i) => i !== at) : undefined))
			);
		})
};

/** Rows or words never come: what should pace them is not enabled. */
const pacing: Mistake = {
	code: 'pacing-off',
	usual: 28,
	of: (group) =>
		fed(group).map((timer) => {
			const { pattern, sequences } = timer;
			const first = sequences?.map((one) => ({ ...one, rows: one.rows.slice(0, 1), loop: false }));
			return {
				where: choice(timer, 'pacing', 'on', 'off'),
				system: withTimer(group.system, timer.id, {
					...(first && { sequences: first }),
					...(pattern && { pattern: { ...pattern, words: [] } })
				})
			};
		})
};

/** The flag stays set after the first event: software writes one row more and no other. */
const flagKept: Mistake = {
	code: 'flag-not-cleared',
	usual: 36,
	of: (group) =>
		fed(group).flatMap((timer) => {
			const kept = timer.sequences?.map((one) => ({ ...one, rows: one.rows.slice(0, 2), loop: false }));
			return kept
				? [{ where: choice(timer, 'flag', 'cleared', 'kept'), system: withTimer(group.system, timer.id, { sequences: kept }) }]
				: [];
		})
};

export const runningMistakes: Mistake[] = [unbuffered, late, doubled, missing, pacing, flagKept];
