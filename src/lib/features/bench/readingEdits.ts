import { readPairs, sweepRelations } from '../../../core/readings/index.js';
import { type Instrument, type Plan, type Sweep, joinSteps, setStep } from '../../../core/plan/index.js';
import type { PlanSession } from '../../session/session.svelte.js';

/** Most rows that a sweep holds. */
export const MOST_ROWS = 20_000;

/** Adds an empty sweep of the first aim of which anything can be set and read; its id, undefined where there is none. */
export function addSweep(session: PlanSession): string | undefined {
	const { sweeps, aims } = session.plan;
	for (const { id: aim, name } of aims) {
		const relation = sweepRelations(session.derivation, aim)[0];
		if (!relation) continue;
		const id = crypto.randomUUID();
		const sweep: Sweep = {
			id,
			name: `sweep of ${name}`.slice(0, 120),
			aim,
			of: relation.id,
			setUnit: '',
			readUnit: '',
			error: '',
			setBy: '',
			readBy: '',
			rows: []
		};
		session.insert(['sweeps', sweeps.length], sweep, 'add a sweep');
		return id;
	}
	return undefined;
}

/** Puts the pairs of a log into a sweep, in place of its rows or behind them; units that stand over them are taken. Returns what was passed over. */
export function takeLog(
	session: PlanSession,
	id: string,
	text: string,
	taken?: [number, number],
	behind = false
): { rows: number; passed: number } {
	const at = session.plan.sweeps.findIndex((one) => one.id === id);
	const sweep = session.plan.sweeps[at];
	const { rows, units, passed } = readPairs(text, taken);
	const all = [...(behind ? sweep.rows : []), ...rows].slice(0, MOST_ROWS);
	if (rows.length > 0)
		session.set(
			['sweeps', at],
			{ ...sweep, rows: all, setUnit: units[0] || sweep.setUnit, readUnit: units[1] || sweep.readUnit },
			`take ${rows.length} rows of a log`
		);
	return { rows: rows.length, passed: passed.length + Math.max(0, rows.length - MOST_ROWS) };
}

export function addInstrument(session: PlanSession, from?: Instrument): void {
	const { instruments } = session.plan;
	const made = from ?? {
		id: crypto.randomUUID(),
		name: `instrument ${instruments.length + 1}`,
		time: '20 ppm',
		amplitude: '',
		lowest: '',
		highest: ''
	};
	session.insert(['instruments', instruments.length], made, 'add an instrument');
}

/** Takes an instrument away; what it measured stays, and states no error any more. */
export function removeInstrument(session: PlanSession, id: string): void {
	const { plan } = session;
	const step = (path: (string | number)[], value: string | undefined) => setStep(plan, path, value, '');
	const used = [
		...plan.mappings.flatMap(({ by }, i) => (by === id ? [step(['mappings', i, 'by'], undefined)] : [])),
		...plan.readings.flatMap(({ by }, i) => (by === id ? [step(['readings', i, 'by'], '')] : [])),
		...plan.sweeps.flatMap(({ setBy, readBy }, i) => [
			...(setBy === id ? [step(['sweeps', i, 'setBy'], '')] : []),
			...(readBy === id ? [step(['sweeps', i, 'readBy'], '')] : [])
		])
	];
	const at = plan.instruments.findIndex((one) => one.id === id);
	const gone = { kind: 'remove' as const, path: ['instruments', at], value: plan.instruments[at] };
	session.edit(joinSteps('delete an instrument', [...used, { label: '', parts: [gone] }]));
}

/** Is anything of the plan measured by it? */
export function usesInstrument({ mappings, readings, sweeps }: Plan, id: string): boolean {
	return (
		mappings.some(({ by }) => by === id) ||
		readings.some(({ by }) => by === id) ||
		sweeps.some(({ setBy, readBy }) => setBy === id || readBy === id)
	);
}
