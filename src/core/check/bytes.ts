/** A value of so many bits with its bytes the other way round. */
export function swapBytes(value: number, width: number): number {
	const count = Math.ceil(width / 8);
	let swapped = 0;
	for (let i = 0; i < count; i++) swapped += (Math.floor(value / 256 ** i) % 256) * 256 ** (count - 1 - i);
	return swapped;
}
