export { periodTicks, periodGrid, updateRate, largest } from './period.js';
export type { Mode, Rule, Counting } from './period.js';
export { intervalTicks } from './interval.js';
export type { Interval } from './interval.js';
export { nearestDuty, nearestActive, activeTicks, activeRange } from './duty.js';
export type { OutputRule, DutyChoice } from './duty.js';
export { steadyWave } from './shape.js';
export type { SteadyPwm } from './shape.js';
