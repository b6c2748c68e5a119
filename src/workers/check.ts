import { worstOf, type Outcome } from '../core/check/index.js';
import { Rational } from '../core/exact/index.js';
import { derivePlan, type Plan } from '../core/plan/index.js';
import {
	checkLog,
	checkStepwise,
	plainCheck,
	suspectWaves,
	type PlainCheck,
	type WholeCheck,
	type Witness
} from '../core/suspects/index.js';
import type { CheckWorker, LineToCheck } from './checkWire.js';
import { loadLine } from './loadLine.js';

/** Milliseconds between two looks at what the page says. */
const LOOK_MS = 40;

export const checkWork: CheckWorker = {
	async check(plan, lines, onProgress) {
		if ((await onProgress({ share: 0 })) !== 'on') return null;
		const told = teller(plan);
		let early: WholeCheck | undefined;
		const steps = checkStepwise(plan, await Promise.all(lines.map(witnessOf)), (verdicts) => (early = verdicts));
		let looked = performance.now();
		for (let step = steps.next(); ; step = steps.next()) {
			if (step.done) return { check: told(step.value), waves: suspectWaves(step.value) };
			if (!early && performance.now() - looked < LOOK_MS) continue;
			const go = await onProgress({ share: step.value, ...(early && { verdicts: told(early) }) });
			if (go !== 'on') return null;
			early = undefined;
			looked = performance.now();
		}
	}
};

/** Tells of a check with the plan's own logs beside it. */
function teller(plan: Plan): (whole: WholeCheck) => PlainCheck {
	const derivation = derivePlan(plan);
	const logs = plan.sweeps.flatMap((sweep) => checkLog(derivation, sweep, plan.instruments) ?? []);
	return (whole) => {
		const worst = (own: Outcome) =>
			worstOf([...(whole.aims.length > 0 || logs.length === 0 ? [own] : []), ...logs.map(({ outcome }) => outcome)]);
		return plainCheck(plan, whole, logs, { asSet: worst(whole.asSet), asWished: worst(whole.asWished) });
	};
}

async function witnessOf({ frame, step, raster, instrument, ...names }: LineToCheck): Promise<Witness> {
	const trace = await loadLine(frame);
	return {
		...names,
		trace,
		step: { step: Rational.parse(step), ...(raster !== undefined && { raster: Rational.parse(raster) }) },
		instrument: Rational.parse(instrument)
	};
}
