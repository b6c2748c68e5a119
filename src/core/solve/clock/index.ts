export { RateSearch } from './search.js';
export type { RateAnswer, SearchProgress } from './search.js';
export type { RateQuestion, RateWish } from './question.js';
