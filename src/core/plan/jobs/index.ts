import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import type { JobAim } from './aims.js';
import { deriveCapture } from './capture.js';
import { deriveDivided } from './divided.js';
import { deriveEncoder } from './encoder.js';
import { deriveFollower } from './follower.js';
import type { JobDerivation, Surroundings } from './job.js';
import { deriveOneShot } from './oneshot.js';
import { derivePair } from './pair.js';
import { derivePattern } from './pattern.js';
import { deriveTable } from './table.js';
import { deriveToggle } from './toggle.js';
import { deriveTick } from './tick.js';
import { deriveWidth } from './width.js';

/** Works one aim out. Never throws on a valid plan. */
export function deriveJob(plan: Plan, aim: JobAim, clocks: PlanClocks, around: Surroundings): JobDerivation {
	switch (aim.kind) {
		case 'tick':
			return deriveTick(plan, aim, clocks, around);
		case 'capture':
			return deriveCapture(plan, aim, clocks, around);
		case 'width':
			return deriveWidth(plan, aim, clocks, around);
		case 'encoder':
			return deriveEncoder(plan, aim, clocks, around);
		case 'oneshot':
			return deriveOneShot(plan, aim, clocks, around);
		case 'toggle':
			return deriveToggle(plan, aim, clocks, around);
		case 'pair':
			return derivePair(plan, aim, clocks, around);
		case 'divided':
			return deriveDivided(plan, aim, clocks, around);
		case 'follower':
			return deriveFollower(plan, aim, clocks, around);
		case 'table':
			return deriveTable(plan, aim, clocks, around);
		case 'pattern':
			return derivePattern(plan, aim, clocks, around);
	}
}

export { jobAims } from './aims.js';
export type {
	JobAim,
	JobKind,
	TickAim,
	CaptureAim,
	WidthAim,
	EncoderAim,
	OneShotAim,
	ToggleAim,
	PairAim,
	DividedAim,
	FollowerAim,
	TableAim,
	PatternAim
} from './aims.js';
export { countsEdges } from './capture.js';
export { reachOf } from './period.js';
export type {
	JobDerivation,
	JobProblem,
	JobTrouble,
	JobTable,
	Take,
	JobChart,
	StripLink,
	LinkName,
	Figure,
	Unit,
	TimerUse,
	Tradeoff,
	ReachBy,
	Surroundings
} from './job.js';
