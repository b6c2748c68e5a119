export { ratioTable, tableOf } from './candidates.js';
export type { PeriodWish, PeriodCandidate, RatioTable } from './candidates.js';
export { topPeriods } from './top.js';
export type { PeriodTop, TopOptions } from './top.js';
export { periodFront } from './front.js';
export type { PeriodFront } from './front.js';
export { RateSearch } from './clock/index.js';
export type { RateAnswer, RateQuestion, RateWish, SearchProgress } from './clock/index.js';
