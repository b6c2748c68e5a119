import { type Plan, PlanError, derivePlan, readPlan } from '../../../core/plan/index.js';
import { checkPlan } from '../../../core/check/index.js';
import { documentsText } from '../../text/index.js';
import { waveOf } from '../../../core/aims/index.js';
import { steadyWave } from '../../../core/timer/index.js';
import type { PlanSummary } from '../../session/listing.js';
import type { plans } from '../store/tables.js';

/** Derived plans by id and revision: listing again costs nothing. */
const known = new Map<string, PlanSummary>();
const MOST_KNOWN = 500;

export function summarise(row: typeof plans.$inferSelect): PlanSummary {
	const key = `${row.id} ${row.revision}`;
	const frame = { id: row.id, revision: row.revision, savedAt: row.savedAt.toISOString(), verdict: row.lastVerdict };
	const cached = known.get(key);
	if (cached) return { ...cached, ...frame };
	const summary = derived(row.document, frame);
	if (known.size >= MOST_KNOWN) known.clear();
	known.set(key, summary);
	return summary;
}

function derived(stored: Plan, frame: Pick<PlanSummary, 'id' | 'revision' | 'savedAt' | 'verdict'>): PlanSummary {
	try {
		const plan = readPlan(stored);
		const derivation = derivePlan(plan);
		const findings = checkPlan(derivation);
		const faults = findings.filter((f) => f.severity === 'fault').length;
		return {
			...frame,
			name: plan.name,
			part: plan.part.name,
			aims: plan.aims.length,
			faults,
			warnings: findings.length - faults,
			wave: strip(derivation)
		};
	} catch (error) {
		if (!(error instanceof PlanError)) throw error;
		return {
			...frame,
			name: stored.name ?? 'unreadable plan',
			part: '',
			aims: 0,
			faults: 0,
			warnings: 0,
			wave: null,
			unreadable: documentsText(error.findings)
		};
	}
}

function strip({ aims }: ReturnType<typeof derivePlan>): PlanSummary['wave'] {
	const pulse = aims.find((aim) => aim.pulse)?.pulse;
	const wave = pulse ? steadyWave(waveOf(pulse), pulse.tickRate.inverse()) : null;
	if (!wave) return null;
	const from = wave.edgesBefore(0);
	const to = wave.edgesBefore(3 * wave.period);
	return {
		initial: wave.levelAfter(from),
		edges: Array.from({ length: to - from }, (_, i) => wave.edgeTime(from + i) / (3 * wave.period))
	};
}
