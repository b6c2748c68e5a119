import { swapBytes } from '../../check/index.js';
import { largest } from '../../timer/index.js';
import { misread } from './misread.js';

/** Low and high bytes the other way round. */
export const bytesSwapped = misread('bytes-swapped', 16, (held, width) =>
	width > 8 ? [...new Set([swapBytes(held, width), swapBytes(held, 16)])].filter((one) => one !== held && one <= largest(width)) : []
);
