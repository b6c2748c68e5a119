export { readPlan, planDocument, PlanError, PLAN_VERSION } from './document.js';
export type { Plan, Aim, Mapping } from './document.js';
export {
	applyStep,
	invertStep,
	mergeSteps,
	setStep,
	insertStep,
	removeStep,
	joinSteps,
	valueAt,
	stepSchema,
	StepMismatch
} from './steps.js';
export type { Step } from './steps.js';
export { recordStep, replayHistory, undoStep, redoStep, NO_HISTORY } from './history.js';
export type { History, LoadedPlan, SavedStep, StepKind } from './history.js';
export { derivePlan, countingOf } from './derive.js';
export type { Derivation, PlanDerivation, Settings, Wish } from './derive.js';
export { planClocks } from './clocks.js';
export type { ClockLink, PlanClocks } from './clocks.js';
export { readInstrument, readRate, readTolerance, readDuty, readBits, readWhole, readFrequency } from './fields.js';
export type { FieldProblem, DutyWish, Field } from './fields.js';
export { fernhollow, newPlan, newPwmAim } from './demo.js';
