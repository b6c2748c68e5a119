<script lang="ts">
	import type { Aim } from '../../core/plan/index.js';
	import { duplicateAim, removeAim } from '../state/edits.js';
	import { notices } from '../state/notices.svelte.js';
	import type { PlanSession } from '../state/session.svelte.js';

	interface Props {
		session: PlanSession;
		aim: Aim;
		/** Its working is laid open. */
		open: boolean;
		onOpen: () => void;
	}
	let { session, aim, open, onOpen }: Props = $props();

	function remove() {
		// Once it is deleted there is no aim to ask for its name.
		const name = aim.name || 'The aim';
		removeAim(session, aim);
		notices.say(`${name} was deleted.`, { label: 'Undo', run: () => session.undo() });
	}
</script>

<div class="flex shrink-0 gap-1.5 pt-1.5 text-[13px]">
	<button type="button" class="btn" aria-expanded={open} onclick={onOpen}>{open ? 'Close' : 'Working'}</button>
	<button type="button" class="btn" onclick={() => duplicateAim(session, aim)}>Copy</button>
	<button type="button" class="btn" onclick={remove}>Delete</button>
</div>
