/** Codes of PostgreSQL and of the network that say: not now. */
const LATER = /^(08|53|57|25P0[234]|ECONN|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENOTFOUND)/;
const LATER_SAYS =
	/connection terminated|timeout exceeded when trying to connect|connection error and is not queryable|cannot use a pool after/i;
const FULL = /^(53100|ENOSPC|EDQUOT)$/;

/** Why the database cannot serve just now, for the one who waits; undefined where the error is another. */
export function unavailable(error: unknown): string | undefined {
	for (const one of chain(error)) {
		const { code } = one as { code?: unknown };
		if (typeof code === 'string' && FULL.test(code)) return 'the disk of the database is full: nothing of this was stored';
		if (typeof code === 'string' && LATER.test(code)) return 'the database does not answer just now; try again in a moment';
		if (LATER_SAYS.test(one.message)) return 'the database is lost or busy just now; try again in a moment';
	}
	return undefined;
}

/** What an error says without what a caller sent: a query's error holds whole documents among its parameters. */
export function reasonOf(error: unknown): { reason: string; code?: string; at?: string } {
	const innermost = [...chain(error)].at(-1);
	if (!innermost) return { reason: 'something that is no error was thrown' };
	const { code } = innermost as { code?: unknown };
	return {
		reason: `${innermost.name}: ${innermost.message.split('\n')[0].slice(0, 200)}`,
		...(typeof code === 'string' && { code }),
		at: (innermost.stack ?? '')
			.split('\n')
			.filter((line) => /^\s+at /.test(line))
			.slice(0, 6)
			.join('\n')
	};
}

function* chain(error: unknown): Generator<Error> {
	const seen = new Set<unknown>();
	for (let one = error; one instanceof Error && !seen.has(one); one = one.cause) {
		seen.add(one);
		yield one;
	}
}
