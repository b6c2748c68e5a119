import { getContext, setContext } from 'svelte';
import type { PlanCheck } from './planCheck.svelte.js';
import type { RecordingShelf } from './recordings.svelte.js';
import type { PlanSession } from './session.svelte.js';

interface OpenPlan {
	session: PlanSession;
	recordings: RecordingShelf;
	/** What was recorded and read of it, held against it. */
	check: PlanCheck;
}

const KEY = Symbol('open plan');

export function provideOpenPlan(open: OpenPlan): void {
	setContext(KEY, open);
}

/** The plan that the layout above has opened. */
export function openPlan(): OpenPlan {
	return getContext<OpenPlan>(KEY);
}
