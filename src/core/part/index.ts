export { resolveClock, clockPath, ClockTreeError } from './clock.js';
export type { SetNode, NodeRate, ClockRates, LimitFinding } from './clock.js';
export { ratiosOf, prescaleCode } from './prescaler.js';
export type { Prescaler } from './prescaler.js';
export { partProfile, factorAllowed, PROFILE_VERSION } from './profile.js';
export type { PartProfile, ClockNodeProfile, TimerProfile, ChannelProfile } from './profile.js';
export { setClock } from './settings.js';
export type { ClockSettings, SettingFinding } from './settings.js';
export { SHELF, shippedPart } from './shelf.js';
