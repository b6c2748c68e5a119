/** Half of a pair of UTF-16 units without its other half, and the character that no database text can hold. */
const UNSTORABLE = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** A text as it can be stored and sent: NUL and halves of characters become U+FFFD. */
export function cleanText(text: string): string {
	// Nearly every text is clean: two quick looks say so.
	return text.isWellFormed() && !text.includes('\0') ? text : text.replace(UNSTORABLE, '\ufffd');
}

/** JSON with all its texts cleaned, names of members too; the same object where there is nothing to clean. */
export function cleaned<T>(value: T): T {
	return uncleanAt(value) ? (cleanCopy(value) as T) : value;
}

/** Where JSON first holds a text that cannot be stored; undefined where all can. */
export function uncleanAt(value: unknown): (string | number)[] | undefined {
	if (typeof value === 'string') return cleanText(value) === value ? undefined : [];
	if (value === null || typeof value !== 'object') return undefined;
	for (const [key, inner] of Object.entries(value)) {
		const place = Array.isArray(value) ? Number(key) : key;
		if (cleanText(key) !== key) return [cleanText(key)];
		const below = uncleanAt(inner);
		if (below) return [place, ...below];
	}
	return undefined;
}

function cleanCopy(value: unknown): unknown {
	if (typeof value === 'string') return cleanText(value);
	if (Array.isArray(value)) return value.map(cleanCopy);
	if (value === null || typeof value !== 'object') return value;
	return Object.fromEntries(Object.entries(value).map(([key, inner]) => [cleanText(key), cleanCopy(inner)]));
}
