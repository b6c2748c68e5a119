import type { Mistake } from '../change.js';
import { clockMistakes } from './clocks.js';
import { dutyMistakes } from './duties.js';
import { misreads } from './misread.js';
import { oneOffs } from './oneOff.js';
import { compareOfAnother, timersExchanged, valueOfAnother } from './others.js';
import { prescaleCode } from './prescaleCode.js';
import { runningMistakes } from './running.js';
import { shapeMistakes } from './shapes.js';
import { triggerMistakes } from './triggers.js';

/** Every kind of mistake that is looked for (timers.md 15). */
export const MISTAKES: readonly Mistake[] = [
	...oneOffs,
	prescaleCode,
	...clockMistakes,
	...misreads,
	valueOfAnother,
	compareOfAnother,
	timersExchanged,
	...shapeMistakes,
	...dutyMistakes,
	...runningMistakes,
	...triggerMistakes
];
