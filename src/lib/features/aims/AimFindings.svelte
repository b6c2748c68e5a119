<script lang="ts">
	import type { Finding } from '../../../core/check/index.js';
	import { fixesOf, type Fix } from './fixes.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { findingText } from '../../text/index.js';

	let { session, aim }: { session: PlanSession; aim: string } = $props();

	/** What a field says of itself stands at the field. */
	const findings = $derived(session.findings.filter((f) => f.aim === aim && f.code !== 'field'));
	const REST_MS = 200;
	/** A fix may want every timer tried: they follow when the keys rest. */
	let fixes = $state.raw(new Map<Finding, Fix[]>());

	$effect(() => {
		const { plan } = session;
		const asked = findings;
		if (asked.length === 0) return;
		const timer = setTimeout(() => (fixes = new Map(asked.map((finding) => [finding, fixesOf(plan, finding)]))), REST_MS);
		return () => clearTimeout(timer);
	});
</script>

{#if findings.length > 0}
	<ul class="mt-2 grid gap-1 text-[13px]">
		{#each findings as finding, i (i)}
			<li class={['border-l-4 px-2 py-0.5', finding.severity === 'fault' ? 'border-fault bg-fault-wash' : 'border-warn bg-warn-wash']}>
				<b>{finding.severity === 'fault' ? 'Fault' : 'Warning'}:</b>
				{findingText(finding)}
				{#each fixes.get(finding) ?? [] as fix (fix.text)}
					<button type="button" class="ml-1.5 btn px-1.5 py-0 text-[12.5px]" onclick={() => session.edit(fix.step)}>{fix.text}</button>
				{/each}
			</li>
		{/each}
	</ul>
{/if}
