import { expect, test } from 'vitest';
import { swapBytes } from './bytes.js';

test.each([
	[0x12, 8, 0x12],
	[0x5208, 16, 0x0852],
	[0x010203, 24, 0x030201],
	[0x01020304, 32, 0x04030201],
	[0xff000000, 32, 0xff],
	// 12 bits lie in two bytes.
	[0x123, 12, 0x2301]
])('%i of %i bits, the bytes the other way round', (value, width, want) => expect(swapBytes(value, width)).toBe(want));
