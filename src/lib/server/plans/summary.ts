import { PlanError, deriveStepwise, type Plan, type PlanDerivation } from '../../../core/plan/index.js';
import { checkStepwise } from '../../../core/check/index.js';
import { documentsText } from '../../text/index.js';
import { log } from '../log.js';
import { kindOf, waveOf } from '../../../core/aims/index.js';
import { steadyWave } from '../../../core/timer/index.js';
import type { PlanSummed } from '../../session/listing.js';
import { inSlices } from '../../session/slices.js';
import { reasonOf } from '../store/trouble.js';
import { readStored } from './read.js';

/** What Plans lists of a stored document, worked out between other requests. */
export async function summarise(id: string, stored: string): Promise<PlanSummed> {
	try {
		const plan = readStored(stored);
		const { derivation, findings } = (await inSlices(checked(plan)))!;
		const faults = findings.filter((f) => f.severity === 'fault').length;
		const { name, part, aims } = plan;
		return { name, part: part.name, aims: aims.length, faults, warnings: findings.length - faults, wave: strip(derivation) };
	} catch (error) {
		// Whatever is wrong with one plan, the others are listed.
		if (!(error instanceof PlanError)) log.error({ plan: id, ...reasonOf(error) }, 'a plan cannot be summarised');
		const unreadable = error instanceof PlanError ? documentsText(error.findings) : 'this plan cannot be worked out here';
		return { ...EMPTY, name: (JSON.parse(stored) as Plan).name ?? 'unreadable plan', unreadable };
	}
}

function* checked(plan: Plan) {
	const derivation = yield* deriveStepwise(plan);
	yield;
	return { derivation, findings: yield* checkStepwise(derivation) };
}

/** What is listed of a plan that was not worked out. */
export const EMPTY: Omit<PlanSummed, 'name'> = { part: '', aims: 0, faults: 0, warnings: 0, wave: null };

/** Three periods of the first aim with a pin that pulses, or of the first tick; null where there is neither. */
function strip({ aims }: PlanDerivation): PlanSummed['wave'] {
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

function pulsing(aims: PlanDerivation['aims']): PlanSummed['wave'] {
	const shares = aims.flatMap((derivation) => {
		const planned = kindOf(derivation.aim).expect(derivation);
		const [hz, high] = (['frequency', 'high'] as const).map((of) => planned.find((one) => one.of === of)?.planned);
		if (hz) return high ? high.mul(hz).toNumber() : 0.5;
		return derivation.run.interval ? MARK : [];
	});
	if (shares.length === 0) return null;
	return { initial: 1, edges: [0, 1, 2].flatMap((k) => [(k + shares[0]) / 3, (k + 1) / 3]).slice(0, -1) };
}
