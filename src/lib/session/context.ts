import { getContext, setContext } from 'svelte';
import type { RecordingShelf } from './recordings.svelte.js';
import type { PlanSession } from './session.svelte.js';

interface OpenPlan {
	session: PlanSession;
	recordings: RecordingShelf;
}

const KEY = Symbol('open plan');

export function provideOpenPlan(open: OpenPlan): void {
	setContext(KEY, open);
}

/** The plan that the layout above has opened. */
export function openPlan(): OpenPlan {
	return getContext<OpenPlan>(KEY);
}
