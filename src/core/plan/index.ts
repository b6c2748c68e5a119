export { readPlan, planDocument, PlanError, PLAN_VERSION } from './document.js';
export type { Plan, Mapping, ClockWish, BenchMark, BenchCard, Instrument, Reading, Sweep } from './document.js';
export { mendTwins, upgradeDocument, upgradeStep } from './migrations.js';
export {
	applyStep,
	invertStep,
	mergeSteps,
	setStep,
	insertStep,
	removeStep,
	joinSteps,
	moveStep,
	valueAt,
	stepSchema,
	StepMismatch
} from './steps.js';
export type { Step } from './steps.js';
export { beforeSteps, keepSame, mergePlans, rebaseSteps, stepBetween } from './merge.js';
export type { Clash, Merge, Side } from './merge.js';
export { recordStep, replayHistory, undoStep, redoStep, NO_HISTORY } from './history.js';
export type { History, LoadedPlan, SavedRevision, SavedStep, StepKind } from './history.js';
export { derivePlan, deriveStepwise, atOnce, repeatOn, updatesOn } from './derive.js';
export type { PlanDerivation } from './derive.js';
export { planQuestion } from './wishes.js';
export type { PlanQuestion } from './wishes.js';
export { newAim, placedOn } from './place.js';
export { placesOf, readTypedAim } from './typed.js';
export type { TypedAim } from './typed.js';
export { channelsOf, countsPeriods, leaderOf, sharesTimer } from './claims.js';
export type { ChangeList, ChangeRow } from './changes.js';
export { assignPins } from './pins.js';
export type { Led, PinUse, PinTrouble } from './pins.js';
export { planClocks } from './clocks.js';
export type { PlanClocks } from './clocks.js';
export { fernhollow, fernhollowHand, fernhollowLamp, fernhollowVane, newPlan } from './demo.js';
