import { largest } from '../../timer/index.js';
import { misread } from './misread.js';

/** The value cut to a narrower type on its way. */
export const truncated = misread('value-truncated', 15, (held) =>
	[8, 16].filter((bits) => held > largest(bits)).map((bits) => held % 2 ** bits)
);
