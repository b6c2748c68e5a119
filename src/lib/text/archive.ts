/** What became of a plan or a part of an archive. */
export type Fate =
	/** It is new here. */
	| 'taken'
	/** It is here, as new or newer. */
	| 'here'
	/** It was here in an older revision, and is brought up to the archive's. */
	| 'newer'
	/** It is here, but went another way since: the archive's stands beside it as one of its own. */
	| 'beside'
	| 'refused';

/** One plan or part of an archive, as it was taken in or not. */
export interface Taken {
	what: 'plan' | 'part';
	name: string;
	fate: Fate;
	/** Recordings that came with it. */
	recordings?: number;
	reason?: string;
}

/** How the taking in of an archive ended; what was told before is here all the same. */
export interface Ended {
	ended: boolean;
	reason?: string;
	/** What the server's log calls an error that is ours. */
	id?: string;
}

const FATES: Record<Fate, string> = {
	taken: 'taken in',
	here: 'here already',
	newer: 'brought up to the archive’s revision',
	beside: 'taken in beside one that went another way',
	refused: 'not taken'
};

/** One of them in a line. */
export function takenText({ what, name, fate, recordings = 0, reason }: Taken): string {
	const along = recordings > 0 ? ` with ${recordings} ${recordings === 1 ? 'recording' : 'recordings'}` : '';
	return `${what} “${name}”: ${FATES[fate]}${along}${reason ? `: ${reason}` : ''}`;
}

/** "3 plans taken in, 1 part here already": all of them, counted. */
export function intakeText(taken: readonly Taken[]): string {
	const counts = new Map<string, { what: string; fate: Fate; count: number }>();
	for (const { what, fate } of taken) {
		const key = `${what} ${fate}`;
		counts.set(key, { what, fate, count: (counts.get(key)?.count ?? 0) + 1 });
	}
	const words = [...counts.values()].map(({ what, fate, count }) => `${count} ${what}${count === 1 ? '' : 's'} ${FATES[fate]}`);
	return words.join(', ') || 'nothing was in it';
}
