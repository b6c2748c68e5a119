/** What the server tells of plans and part profiles, as the pages list and open them. */

/** The last verdict that a bench came to. */
export interface LastVerdict {
	outcome: 'within' | 'outside' | 'undecided';
	aim: string;
	recording: string;
	revision: number;
}

/** A plan as the Plans station lists it. */
export interface PlanSummary {
	id: string;
	name: string;
	part: string;
	revision: number;
	savedAt: string;
	aims: number;
	faults: number;
	warnings: number;
	verdict: LastVerdict | null;
	/** Three periods of the first derived aim as edges in shares of the strip, and the level before the first. */
	wave: { initial: number; edges: number[] } | null;
	/** Set when what is stored cannot be read. */
	unreadable?: string;
}

/** A profile on the shelf as Parts lists it. */
export interface PartSummary {
	/** A shipped profile's own id, or the store's. */
	key: string;
	shipped: boolean;
	id: string;
	name: string;
	summary: string;
	nodes: number;
	timers: number;
	pins: number;
	/** How many findings keep it from being used; 0 for a usable one. */
	findings: number;
	savedAt: string | null;
}

/** A profile as the editor opens it. */
export interface LoadedPart {
	key: string;
	shipped: boolean;
	revision: number;
	text: string;
}
