/** What the server tells of plans and part profiles, as the pages list and open them. */

/** The last verdict that a bench came to. */
export interface LastVerdict {
	outcome: 'within' | 'outside' | 'undecided';
	aim: string;
	/** Aims of the same outcome besides that one. */
	more?: number;
	recording: string;
	revision: number;
}

/** What is worked out of a plan for the list. */
export interface PlanSummed {
	name: string;
	part: string;
	aims: number;
	faults: number;
	warnings: number;
	/** Three periods of the first derived aim as edges in shares of the strip, and the level before the first. */
	wave: { initial: number; edges: number[] } | null;
	/** Set when what is stored cannot be read. */
	unreadable?: string;
}

/** A plan as the Plans station lists it. */
export interface PlanSummary extends PlanSummed {
	id: string;
	revision: number;
	savedAt: string;
	verdict: LastVerdict | null;
	/** Not worked out yet for this revision: what stands here is empty or of an older one. */
	pending: boolean;
}

/** What is worked out of a profile for the list. */
export interface PartSummed {
	id: string;
	name: string;
	summary: string;
	nodes: number;
	timers: number;
	pins: number;
	/** How many findings keep it from being used; 0 for a usable one. */
	findings: number;
}

/** A profile on the shelf as Parts lists it. */
export interface PartSummary extends PartSummed {
	/** A shipped profile's own id, or the store's. */
	key: string;
	shipped: boolean;
	savedAt: string | null;
	pending: boolean;
}

/** A profile as the editor opens it. */
export interface LoadedPart {
	key: string;
	shipped: boolean;
	revision: number;
	text: string;
}
