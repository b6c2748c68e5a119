/** What this browser keeps under a name; undefined: nothing readable. */
export function kept(key: string): unknown {
	try {
		return JSON.parse(localStorage.getItem(key) ?? 'null') ?? undefined;
	} catch {
		return undefined;
	}
}

/** What does not fit into the browser's own store is only not there the next time. */
export function keep(key: string, value: object): void {
	try {
		localStorage.setItem(key, JSON.stringify(value));
	} catch {
		// As said.
	}
}
