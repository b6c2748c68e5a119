<script lang="ts">
	import type { RecordingShelf } from '../../session/recordings.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';

	/** What to do where there is no wave yet, or none to hold against the plan. */
	let { session, shelf, onBrowse }: { session: PlanSession; shelf: RecordingShelf; onBrowse: () => void } = $props();
</script>

<div class="mx-auto mt-16 max-w-md text-center">
	{#if session.plan.aims.length === 0}
		<p class="font-serif text-lg">Nothing is planned yet.</p>
		<p class="mt-1 text-soft">Every pin of an aim is drawn here as the timers will drive it, and recordings are held against it.</p>
		<a class="mt-4 inline-block btn-main" href="/plan/{session.id}/aims">Add an aim</a>
	{:else}
		<p class="font-serif text-lg">Nothing is held against the plan yet.</p>
		<p class="mt-1 text-soft">
			{shelf.list.length === 0
				? 'Drop a recording anywhere here, then say which line shows which aim.'
				: 'Say on the left which recorded line shows which aim.'}
		</p>
		{#if shelf.list.length === 0}<button type="button" class="mt-4 btn-main" onclick={onBrowse}>Add a recording</button>{/if}
	{/if}
</div>
