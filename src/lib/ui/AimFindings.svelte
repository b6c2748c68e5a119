<script lang="ts">
	import type { PlanSession } from '../state/session.svelte.js';
	import { findingText } from '../text/index.js';

	let { session, aim }: { session: PlanSession; aim: string } = $props();

	/** What a field says of itself stands at the field. */
	const findings = $derived(session.findings.filter((f) => f.aim === aim && f.code !== 'field'));
</script>

{#if findings.length > 0}
	<ul class="mt-2 grid gap-1 text-[13px]">
		{#each findings as finding, i (i)}
			<li class={['border-l-4 px-2 py-0.5', finding.severity === 'fault' ? 'border-fault bg-fault-wash' : 'border-warn bg-warn-wash']}>
				<b>{finding.severity === 'fault' ? 'Fault' : 'Warning'}:</b>
				{findingText(finding)}
			</li>
		{/each}
	</ul>
{/if}
