const SCALES: Record<string, bigint> = { k: 1024n, m: 1024n ** 2n, g: 1024n ** 3n, t: 1024n ** 4n };

/** A number of the format: decimal, 0x, # or 0b for binary, with k, m, g or t behind for powers of 1024; leading zeros are not octal. */
export function readSvdNumber(text: string): bigint | undefined {
	const match = /^\+?(?:0x([0-9a-f]+)|(?:#|0b)([01]+)|(\d+))([kmgt])?$/i.exec(text.trim());
	if (!match) return undefined;
	const digits = match[1] !== undefined ? `0x${match[1]}` : match[2] !== undefined ? `0b${match[2]}` : match[3].replace(/^0+(?=\d)/, '');
	return BigInt(digits) * (match[4] === undefined ? 1n : SCALES[match[4].toLowerCase()]);
}

/** What stands for the `%s` of a repeated element, by its `dim` and `dimIndex`; undefined: they do not go together. */
export function indices(count: number, index: string | undefined): string[] | undefined {
	if (index === undefined) return Array.from({ length: count }, (_, i) => String(i));
	const range = /^\s*(\d+|[A-Za-z])\s*-\s*(\d+|[A-Za-z])\s*$/.exec(index);
	const all = range ? between(range[1], range[2]) : index.split(',').map((one) => one.trim());
	return all.length === count && all.every((one) => /^[A-Za-z0-9_]+$/.test(one)) ? all : undefined;
}

const MOST_INDICES = 100_000;

function between(from: string, to: string): string[] {
	const numbers = /^\d+$/.test(from) && /^\d+$/.test(to);
	const [first, last] = numbers ? [Number(from), Number(to)] : [from.charCodeAt(0), to.charCodeAt(0)];
	if (last < first || last - first > MOST_INDICES) return [];
	return Array.from({ length: last - first + 1 }, (_, i) => (numbers ? String(first + i) : String.fromCharCode(first + i)));
}
