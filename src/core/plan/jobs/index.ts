import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import type { JobAim } from './aims.js';
import { deriveCapture } from './capture.js';
import { deriveEncoder } from './encoder.js';
import type { JobDerivation } from './job.js';
import { deriveOneShot } from './oneshot.js';
import { derivePair } from './pair.js';
import { deriveToggle } from './toggle.js';
import { deriveTick } from './tick.js';

/** Works one aim out. Never throws on a valid plan. */
export function deriveJob(plan: Plan, aim: JobAim, clocks: PlanClocks): JobDerivation {
	switch (aim.kind) {
		case 'tick':
			return deriveTick(plan, aim, clocks);
		case 'capture':
			return deriveCapture(plan, aim, clocks);
		case 'encoder':
			return deriveEncoder(plan, aim, clocks);
		case 'oneshot':
			return deriveOneShot(plan, aim, clocks);
		case 'toggle':
			return deriveToggle(plan, aim, clocks);
		case 'pair':
			return derivePair(plan, aim, clocks);
	}
}

export { tickAim, captureAim, encoderAim, oneShotAim, toggleAim, pairAim } from './aims.js';
export type { JobAim, JobKind, TickAim, CaptureAim, EncoderAim, OneShotAim, ToggleAim, PairAim } from './aims.js';
export type { JobDerivation, JobProblem, JobTrouble, JobTable, StripLink, Figure, StepCurve } from './job.js';
