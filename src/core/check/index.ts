export { checkPlan } from './findings.js';
export type { Finding } from './findings.js';
export { judge } from './verdict.js';
export type { Verdict, QuantityVerdict, Budget, Evidence } from './verdict.js';
export { findSuspects } from './suspects.js';
export type { Suspect } from './suspects.js';
