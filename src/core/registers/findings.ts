/** What a binding, a plan or a dump has wrong, its place behind the code (handoff.md 8). */
export type RegisterFinding = [code: string, ...details: (string | number)[]];

export type BindingFault = 'bad-shape' | 'unknown-name' | 'circle' | 'outside' | 'unaligned' | 'overlap' | 'no-fit' | 'order';

/** Each once, sorted element by element: numbers by size, texts by code units. */
export function sortedFindings(findings: readonly RegisterFinding[]): RegisterFinding[] {
	const known = new Map(findings.map((one) => [JSON.stringify(one), one]));
	return [...known.values()].sort((a, b) => {
		for (let i = 0; i < Math.min(a.length, b.length); i++) {
			const order = compare(a[i], b[i]);
			if (order !== 0) return order;
		}
		return a.length - b.length;
	});
}

function compare(a: string | number, b: string | number): number {
	if (typeof a !== typeof b) return typeof a === 'number' ? -1 : 1;
	return a < b ? -1 : a > b ? 1 : 0;
}

/** Faults of a binding: the first that is found of each place. */
export class Faults {
	private readonly byPlace = new Map<string, BindingFault>();

	add(fault: BindingFault, place: string): void {
		if (!this.byPlace.has(place)) this.byPlace.set(place, fault);
	}

	at(place: string): boolean {
		return this.byPlace.has(place);
	}

	get any(): boolean {
		return this.byPlace.size > 0;
	}

	get all(): RegisterFinding[] {
		return sortedFindings([...this.byPlace].map(([place, fault]): RegisterFinding => [fault, place]));
	}
}

/** Thrown while one place is read: the first fault of it ends its reading. */
export class Fault extends Error {
	constructor(readonly fault: BindingFault) {
		super(fault);
	}
}

/** Reads one place; undefined where it has a fault, which is noted. */
export function reading<T>(faults: Faults, place: string, read: () => T): T | undefined {
	try {
		return read();
	} catch (error) {
		if (!(error instanceof Fault)) throw error;
		faults.add(error.fault, place);
		return undefined;
	}
}

export function wants(holds: boolean, fault: BindingFault): asserts holds {
	if (!holds) throw new Fault(fault);
}

/** A value that must be there. */
export function wanted<T>(value: T | undefined, fault: BindingFault = 'bad-shape'): T {
	if (value === undefined) throw new Fault(fault);
	return value;
}
