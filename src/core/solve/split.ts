/** A count cut into factors that each fit a small software counter. */
export interface SplitChoice {
	/** Ascending, each 1..maxFactor. */
	factors: number[];
	product: number;
}

/**
 * The product of `factors` numbers of 1..maxFactor that is nearest to the count, a tie taking the smaller product, and of
 * its lists the lexicographically first. Throws RangeError when the count or the largest product is no safe integer.
 */
export function splitCount(count: number, maxFactor: number, factors: number): SplitChoice {
	const most = maxFactor ** factors;
	if (!Number.isSafeInteger(count) || !Number.isSafeInteger(most) || factors < 1 || maxFactor < 1)
		throw new RangeError(`${count} cannot be cut into ${factors} factors of up to ${maxFactor}`);
	const from = Math.min(most, Math.max(1, count));
	for (let away = 0; ; away++) {
		for (const product of away === 0 ? [from] : [from - away, from + away]) {
			const found = product >= 1 && product <= most ? firstList(product, 1, maxFactor, factors) : undefined;
			if (found) return { factors: found, product };
		}
	}
}

/** The lexicographically first ascending list of factors least..most with that product. */
function firstList(product: number, least: number, most: number, factors: number): number[] | undefined {
	if (factors === 1) return product >= least && product <= most ? [product] : undefined;
	// The first of ascending factors is at most the root, and what is left must fit the others.
	const start = Math.max(least, Math.ceil(product / most ** (factors - 1)));
	for (let first = start; first ** factors <= product && first <= most; first++) {
		if (product % first !== 0) continue;
		const rest = firstList(product / first, first, most, factors - 1);
		if (rest) return [first, ...rest];
	}
	return undefined;
}
