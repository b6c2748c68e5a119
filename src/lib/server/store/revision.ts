/** An edit of a plan's or a profile's revision that is not the newest any more. */
export class StaleRevision extends Error {
	constructor(readonly revision: number) {
		super(`it stands at revision ${revision} by now`);
	}
}
