export { readPlan, planDocument, pwmAims, PlanError, PLAN_VERSION } from './document.js';
export type { Plan, Aim, PwmAim, Mapping, ClockWish } from './document.js';
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
export { derivePlan } from './derive.js';
export { pulseOn, pulsePlaces } from './places.js';
export type { Pulse, Place } from './places.js';
export type { Derivation, PlanDerivation, Settings, Wish } from './derive.js';
export { planQuestion } from './wishes.js';
export type { PlanQuestion } from './wishes.js';
export { deriveJob } from './jobs/index.js';
export type {
	JobAim,
	JobKind,
	TickAim,
	CaptureAim,
	EncoderAim,
	OneShotAim,
	ToggleAim,
	PairAim,
	JobDerivation,
	JobProblem,
	JobTrouble,
	JobTable,
	StripLink,
	Figure,
	StepCurve
} from './jobs/index.js';
export { newJob, canDo, pairChannels, pulseChannels, toggleChannels } from './newJob.js';
export { planClocks } from './clocks.js';
export type { ClockLink, PlanClocks } from './clocks.js';
export {
	readInstrument,
	readRate,
	readTolerance,
	readDuty,
	readBits,
	readWhole,
	readFrequency,
	readClockFactor,
	readTime,
	readTurns
} from './fields.js';
export type { FieldProblem, DutyWish, Field } from './fields.js';
export { fernhollow, fernhollowLamp, fernhollowVane, newPlan, newPwmAim } from './demo.js';
