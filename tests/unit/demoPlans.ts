import { fernhollow, fernhollowHand, fernhollowLamp, fernhollowVane, type Plan } from '../../src/core/plan/index.js';

/** The demo plans, as tests call them. */
export const DEMO: [string, Plan][] = [
	['the dome', fernhollow()],
	['the vane', fernhollowVane()],
	['the lamp', fernhollowLamp()],
	['the hand controller', fernhollowHand()]
];
