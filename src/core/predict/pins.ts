import { kindOf } from '../aims/index.js';
import type { Prediction } from '../sim/index.js';
import type { LevelSource } from '../trace/index.js';
import type { PlanDerivation } from '../plan/index.js';
import type { PlannedSystem } from './system.js';

/** A planned pin with its levels: of which aim, and what of it. */
export interface PinLine {
	aim: string;
	role: string;
	source: LevelSource;
}

/** Every pin that the plan drives, in the plan's order; what comes to inputs is none. */
export function pinLines({ plan }: PlanDerivation, { lanes }: PlannedSystem, { outputs }: Prediction): PinLine[] {
	const aims = new Map(plan.aims.map((aim) => [aim.id, aim]));
	return lanes.flatMap(({ aim, role, shows, detail }): PinLine[] => {
		if (detail) return [];
		const driven = shows.kind === 'level' && kindOf(aims.get(aim)!).inputs === undefined ? shows.trace : undefined;
		const source = shows.kind === 'pin' ? outputs.get(shows.output) : driven;
		return source ? [{ aim, role, source }] : [];
	});
}
