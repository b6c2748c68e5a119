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
import type { CheckProgress, CheckWorker, LineToCheck } from './checkWire.js';
import { loadLine } from './loadLine.js';
import type { Go } from './pool.js';

/** Milliseconds between two looks at what the page says. */
const LOOK_MS = 40;

export const checkWork: CheckWorker = {
	async check(plan, lines, onProgress) {
		if ((await onProgress({ share: 0 })) !== 'on') return null;
		const told = teller(plan);
		const page = new Asked(onProgress);
		let early: WholeCheck | undefined;
		const steps = checkStepwise(plan, await Promise.all(lines.map(witnessOf)), (verdicts) => (early = verdicts));
		let looked = performance.now();
		for (let step = steps.next(); ; step = steps.next()) {
			if (step.done) return { check: told(step.value), waves: suspectWaves(step.value) };
			if (performance.now() - looked < LOOK_MS) continue;
			if ((await page.answer()) !== 'on') return null;
			if (!page.waits) {
				page.tell({ share: step.value, ...(early && { verdicts: told(early) }) });
				early = undefined;
			}
			looked = performance.now();
		}
	}
};

/** A page that is told how far a check is, and draws it in its own time: nobody waits for its answer. */
class Asked {
	/** It has not answered yet. */
	waits = false;
	private said: Go = 'on';

	constructor(private readonly onProgress: (told: CheckProgress) => Go | Promise<Go>) {}

	tell(told: CheckProgress): void {
		this.waits = true;
		const heard = (go: Go) => {
			this.waits = false;
			if (this.said === 'on') this.said = go;
		};
		// A page that has gone needs no answer any more.
		Promise.resolve(this.onProgress(told)).then(heard, () => heard('drop'));
	}

	/** What it said last, once its messages were let in. */
	async answer(): Promise<Go> {
		await new Promise((resolve) => setTimeout(resolve));
		return this.said;
	}
}

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
