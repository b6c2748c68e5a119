export { AIM_KINDS, aimKind, aimSchema, freshAim, kindOf, relationsOf, turnedOf } from './registry.js';
export type { Reach, Relation, RelationEnd, RelationQuantity } from './common/relations.js';
export { turnedAt } from './common/turned.js';
export type { Turned } from './common/turned.js';
export type { Aim, AimKindName, AimOf } from './registry.js';
export type { AimKind, PinNeed, Software, TimerUseKind } from './common/kind.js';
export { head, ident, locks, pasted, typed } from './common/schema.js';
export type { AnyAim } from './common/schema.js';
export type { AimContext, ClockLink, ClockRates } from './common/context.js';
export type {
	AimChart,
	AimDerivation,
	AimProblem,
	AimTable,
	AimTrouble,
	CandidateEdit,
	ComparisonRow,
	Figure,
	LinkName,
	Quantified,
	ReachBy,
	Run,
	StripLink,
	TableCell,
	TimerUse,
	Tradeoff,
	Unit
} from './common/derivation.js';
export type { PlannedQuantity } from './common/expect.js';
export type { RegisterQuantities } from './common/quantities.js';
export { activeAtRest, waveOf } from './common/pulse.js';
export type { PulseSetting } from './common/pulse.js';
export { pulseChannels, pulseOn, pulsePlaces } from './common/places.js';
export type { Place, Pulse, PulseChoice } from './common/places.js';
export { nearestPeriod } from './common/nearest.js';
export { checkSetup, restPins } from './common/setup.js';
export { offersUpdates, usualUpdates } from './common/updates.js';
export type { Updates } from './common/updates.js';
export { counterLane, cyclesOf, figureOf, linkOf } from './common/build.js';
export type { LaneContent, PlannedLane, SystemBuilder, Unplanned } from './common/build.js';
export { stimulus } from './common/stimulus.js';
export type { Stimulus, StimulusKind } from './common/stimulus.js';
export type { AimInputs, InputSignals } from './common/inputs.js';
export type { InputLines, Misread, ReadingKind, Readings, Replay } from './common/replay.js';
export {
	readBits,
	readClockFactor,
	readCycles,
	readDuty,
	readFrequency,
	readInstrument,
	readOffset,
	readShift,
	readLag,
	readRate,
	readShare,
	readSpan,
	readSpeed,
	readTime,
	readTolerance,
	readTurns,
	readValue,
	readWhole,
	wantedTicks
} from './common/fields.js';
export type { DutyWish, Field, FieldProblem, LagWish } from './common/fields.js';
