import type { SimSequence, SimTimer } from '../../sim/index.js';
import { type Changed, withTimer } from '../change.js';
import type { Group } from '../scene.js';

export const fed = ({ system }: Group) => system.timers.filter(({ sequences, pattern }) => (sequences?.length ?? 0) > 0 || pattern);

export function choice(timer: SimTimer, what: string, planned: string | number, found: string | number) {
	return { timer: timer.id, what, planned, found };
}

export function rowed(
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
