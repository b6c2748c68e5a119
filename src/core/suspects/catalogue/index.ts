import type { Mistake } from '../change.js';
import { bothOff } from './bothOff.js';
import { bytesSwapped } from './bytesSwapped.js';
import { centre } from './centre.js';
import { clockAtReset } from './clockAtReset.js';
import { compareOfAnother } from './compareOfAnother.js';
import { deadTimes } from './deadTime.js';
import { doubling } from './doubling.js';
import { dutyMistyped } from './dutyMistyped.js';
import { enterLeave } from './enterLeave.js';
import { factorOff } from './factorOff.js';
import { flagKept } from './flagKept.js';
import { latency } from './latency.js';
import { notRescaled } from './notRescaled.js';
import { numberBase } from './numberBase.js';
import { oneOff } from './oneOff.js';
import { otherSource } from './otherSource.js';
import { otherTrigger } from './otherTrigger.js';
import { outputOff } from './outputOff.js';
import { pacingOff } from './pacingOff.js';
import { polarity } from './polarity.js';
import { prescaleCode } from './prescaleCode.js';
import { rowDoubled } from './rowDoubled.js';
import { rowLate } from './rowLate.js';
import { rowMissing } from './rowMissing.js';
import { softwareLag } from './softwareLag.js';
import { tickDivisor } from './tickDivisor.js';
import { tickRate } from './tickRate.js';
import { timersExchanged } from './timersExchanged.js';
import { toggle } from './toggle.js';
import { transposed } from './transposed.js';
import { truncated } from './truncated.js';
import { unbuffered } from './unbuffered.js';
import { valueOfAnother } from './valueOfAnother.js';
import { wholePercents } from './wholePercents.js';

/** Every kind of mistake that is looked for (timers.md 15), the most usual first. */
export const MISTAKES: readonly Mistake[] = [
	oneOff('reload', 1, 1),
	oneOff('prescale', 1, 2),
	oneOff('reload', -1, 3),
	oneOff('prescale', -1, 4),
	bothOff(1, 5),
	prescaleCode,
	clockAtReset,
	doubling('doubling-forgotten', 8, 0.5, '2'),
	doubling('doubling-assumed', 8, 2, '1/2'),
	otherSource,
	factorOff,
	centre,
	polarity,
	bothOff(-1, 12),
	oneOff('compare', 1, 13),
	oneOff('compare', -1, 14),
	truncated,
	bytesSwapped,
	toggle,
	enterLeave,
	outputOff,
	...deadTimes,
	wholePercents,
	notRescaled,
	tickDivisor,
	valueOfAnother,
	compareOfAnother,
	timersExchanged,
	pacingOff,
	tickRate,
	transposed,
	numberBase,
	unbuffered,
	rowLate,
	rowDoubled,
	rowMissing,
	flagKept,
	otherTrigger,
	latency,
	softwareLag('software-reload-lag', 'preload', 39),
	softwareLag('software-clear-lag', 'clear', 39),
	dutyMistyped
];
