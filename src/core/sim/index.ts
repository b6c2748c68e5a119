export { Simulation } from './simulation.js';
export { Predictor, groupsOf } from './steady.js';
export type { Prediction } from './steady.js';
export { EdgeRecorder } from './recorder.js';
export type { SimSink } from './recorder.js';
export { acceptedEdges, captureEdges, countQuadrature } from './inputs.js';
export type { InputFilter, CaptureSetting, QuadratureSetting, AcceptedEdge } from './inputs.js';
export type {
	SimSystem,
	SimTimer,
	SimChannel,
	SimOutput,
	SimInput,
	SimWrite,
	SimSequence,
	SimPattern,
	SimTrigger,
	SimSource,
	SimMode,
	SimAction,
	SimLevel,
	TriggerAction
} from './system.js';
