<script lang="ts">
	import type { Aim } from '../../../core/aims/index.js';
	import { duplicateAim, removeAim } from '../../session/edits.js';
	import type { PlanSession } from '../../session/session.svelte.js';

	interface Props {
		session: PlanSession;
		aim: Aim;
		/** Its working is laid open. */
		open: boolean;
		onOpen: () => void;
	}
	let { session, aim, open, onOpen }: Props = $props();
</script>

<div class="flex shrink-0 gap-1.5 pt-1.5 text-[13px]">
	<button type="button" class="btn" aria-expanded={open} onclick={onOpen}>{open ? 'Close' : 'Working'}</button>
	<button type="button" class="btn" onclick={() => duplicateAim(session, aim)}>Copy</button>
	<button type="button" class="btn" onclick={() => removeAim(session, aim)}>Delete</button>
</div>
