const ENDINGS: Partial<Record<Intl.LDMLPluralRule, string>> = { one: 'st', two: 'nd', few: 'rd' };

/** 2 as "2nd"; 1 as "single". */
export function ordinal(k: number): string {
	return k === 1 ? 'single' : `${k}${ENDINGS[new Intl.PluralRules('en', { type: 'ordinal' }).select(k)] ?? 'th'}`;
}

/** "a, b and c" */
export function listed(names: readonly string[]): string {
	return names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;
}
