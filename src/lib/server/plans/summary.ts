import { type Plan, PlanError, derivePlan, readPlan } from '../../../core/plan/index.js';
import { checkPlan } from '../../../core/check/index.js';
import { documentsText } from '../../text/index.js';
import { log } from '../log.js';
import { kindOf, waveOf } from '../../../core/aims/index.js';
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
		// Whatever is wrong with one plan, the others are listed.
		if (!(error instanceof PlanError)) log.error({ plan: frame.id, err: error }, 'a plan cannot be summarised');
		return {
			...frame,
			name: stored.name ?? 'unreadable plan',
			part: '',
			aims: 0,
			faults: 0,
			warnings: 0,
			wave: null,
			unreadable: error instanceof PlanError ? documentsText(error.findings) : 'this plan cannot be worked out here'
		};
	}
}

/** Three periods of the first aim with a pin that pulses, or of the first tick; null where there is neither. */
function strip({ aims }: ReturnType<typeof derivePlan>): PlanSummary['wave'] {
	const pulse = aims.find((aim) => aim.pulse)?.pulse;
	const wave = pulse ? steadyWave(waveOf(pulse), pulse.tickRate.inverse()) : null;
	if (!wave) return pulsing(aims);
	const from = wave.edgesBefore(0);
	const to = wave.edgesBefore(3 * wave.period);
	return {
		initial: wave.levelAfter(from),
		edges: Array.from({ length: to - from }, (_, i) => wave.edgeTime(from + i) / (3 * wave.period))
	};
}

/** How much of a period a mark of a tick is wide. */
const MARK = 0.06;

function pulsing(aims: ReturnType<typeof derivePlan>['aims']): PlanSummary['wave'] {
	const shares = aims.flatMap((derivation) => {
		const planned = kindOf(derivation.aim).expect(derivation);
		const [hz, high] = (['frequency', 'high'] as const).map((of) => planned.find((one) => one.of === of)?.planned);
		if (hz) return high ? high.mul(hz).toNumber() : 0.5;
		return derivation.run.interval ? MARK : [];
	});
	if (shares.length === 0) return null;
	return { initial: 1, edges: [0, 1, 2].flatMap((k) => [(k + shares[0]) / 3, (k + 1) / 3]).slice(0, -1) };
}
