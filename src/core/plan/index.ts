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
	moveStep,
	valueAt,
	stepSchema,
	StepMismatch
} from './steps.js';
export type { Step } from './steps.js';
export { recordStep, replayHistory, undoStep, redoStep, NO_HISTORY } from './history.js';
export type { History, LoadedPlan, SavedStep, StepKind } from './history.js';
export { derivePlan, deriveStepwise, atOnce } from './derive.js';
export { pulseOn, pulsePlaces } from './places.js';
export type { Pulse, PulseChoice, Place } from './places.js';
export type { Derivation, PlanDerivation, Settings, Wish, WishField, DutyPoint } from './derive.js';
export { planQuestion } from './wishes.js';
export type { PlanQuestion } from './wishes.js';
export { deriveJob, countsEdges, reachOf } from './jobs/index.js';
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
	PatternAim,
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
	ReachBy
} from './jobs/index.js';
export { newJob, freshJob, placedOn, canDo, channelsFor } from './newJob.js';
export { channelsOf, useKind } from './claims.js';
export * from './predict/index.js';
export type { ChangeList, ChangeRow, Stimulus, StimulusKind } from './running.js';
export { assignPins } from './pins.js';
export type { PinUse, PinTrouble } from './pins.js';
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
	readTurns,
	readLag,
	readShare,
	readSpan,
	readValue
} from './fields.js';
export type { FieldProblem, DutyWish, LagWish, Field } from './fields.js';
export { fernhollow, fernhollowLamp, fernhollowVane, newPlan, newPwmAim } from './demo.js';
