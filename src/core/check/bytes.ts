/** A 16-bit value with its two bytes the other way round. */
export function swapBytes(value: number): number {
	return ((value & 0xff) << 8) | (value >> 8);
}
