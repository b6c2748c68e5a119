import { expect, test } from 'vitest';
import { checkPlan } from '../check/index.js';
import { derivePlan, fernhollow, fernhollowLamp, fernhollowVane, readPlan } from './index.js';

test.each([
	['heron-32', fernhollow()],
	['sprat-8', fernhollowLamp()],
	['plover-16', fernhollowVane()]
])('the demo on %s is a valid plan, met without a finding', (part, plan) => {
	expect(plan.part.id).toBe(part);
	expect(readPlan(JSON.parse(JSON.stringify(plan)))).toEqual(plan);
	expect(checkPlan(derivePlan(plan))).toEqual([]);
});
