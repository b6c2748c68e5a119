<script lang="ts">
	import type { PlanSession } from '../../session/session.svelte.js';

	/** What to do where nothing was recorded or read yet. */
	let { session }: { session: PlanSession } = $props();
</script>

<div class="mx-auto mt-16 max-w-md text-center">
	<p class="font-serif text-lg">Nothing was recorded or read yet.</p>
	<p class="mt-1 text-soft">
		{session.plan.aims.length === 0
			? 'A plan comes first: then what its pins do can be held against it.'
			: 'Map a recorded line on the bench, or type there what somebody read: here stands why a pin is not doing what it should.'}
	</p>
	<a class="mt-4 inline-block btn-main" href="/plan/{session.id}/{session.plan.aims.length === 0 ? 'aims' : 'bench'}"
		>{session.plan.aims.length === 0 ? 'Add an aim' : 'Go to the bench'}</a
	>
</div>
