export { Simulation } from './simulation.js';
export { Predictor, groupsOf } from './steady.js';
export type { Prediction } from './steady.js';
export type { TimerStory } from './stretches.js';
export { sketchCounting } from './sketch.js';
export type { Sketch, SketchSetting } from './sketch.js';
export { EdgeRecorder } from './recorder.js';
export type { SimSink } from './recorder.js';
export { acceptedEdges, captureEdges, countQuadrature } from './inputs.js';
export type { InputFilter, CaptureSetting, QuadratureSetting, AcceptedEdge } from './inputs.js';
export { MOST_STIMULUS_EDGES, inputOf, squareTimes, sweptTimes, contactTimes, echoTimes, quadratureInputs } from './stimulus.js';
export type { Leg } from './stimulus.js';
export type {
	SimSystem,
	SimTimer,
	SimChannel,
	SimOutput,
	SimInput,
	SimWrite,
	SimSequence,
	SimPattern,
	SimLag,
	SimTrigger,
	SimSource,
	SimMode,
	SimAction,
	SimLevel,
	TriggerAction
} from './system.js';
