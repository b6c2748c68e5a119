<script lang="ts">
	import { goto } from '$app/navigation';
	import type { PlanSession } from '../state/session.svelte.js';
	import { findingPlace, findingText } from '../text/index.js';
	import Glyph from './Glyph.svelte';

	let { session }: { session: PlanSession } = $props();

	const findings = $derived(session.findings);
	const faults = $derived(findings.filter((f) => f.severity === 'fault').length);
	const warnings = $derived(findings.length - faults);
	const at = $derived(Math.min(session.findingAt, findings.length - 1));
	const shown = $derived(findings[Math.max(at, 0)]);

	function step(by: 1 | -1) {
		if (findings.length === 0) return;
		session.findingAt = at < 0 ? 0 : (at + by + findings.length) % findings.length;
		const finding = findings[session.findingAt];
		if (finding.aim !== undefined) void goto(`/plan/${session.id}/aims#${finding.aim}`);
		else if (finding.node !== undefined) void goto(`/plan/${session.id}/clock#${finding.node}`);
	}
</script>

<svelte:window
	onkeydown={(event) => {
		const typing = event.target instanceof HTMLElement && event.target.matches('input, textarea, select');
		if (typing || (event.key !== '[' && event.key !== ']')) return;
		event.preventDefault();
		step(event.key === ']' ? 1 : -1);
	}}
/>

<div class="flex min-w-0 flex-1 items-center gap-2" data-testid="findings-line">
	<button
		type="button"
		class="hover:text-accent"
		disabled={findings.length === 0}
		aria-label="Previous finding"
		title="Previous finding ( [ )"
		onclick={() => step(-1)}><Glyph name="previous" size={16} /></button
	>
	<button
		type="button"
		class="hover:text-accent"
		disabled={findings.length === 0}
		aria-label="Next finding"
		title="Next finding ( ] )"
		onclick={() => step(1)}><Glyph name="next" size={16} /></button
	>
	<span class={['shrink-0', faults > 0 && 'font-bold text-fault']}>{faults} {faults === 1 ? 'fault' : 'faults'}</span>
	<span class={['shrink-0', warnings > 0 && 'font-bold text-warn']}>{warnings} {warnings === 1 ? 'warning' : 'warnings'}</span>
	{#if shown}
		<span class="shrink-0 text-soft">{Math.max(at, 0) + 1} of {findings.length}</span>
		<span class="min-w-0 truncate" title={findingText(shown)}>
			<b class={shown.severity === 'fault' ? 'text-fault' : 'text-warn'}>{findingPlace(shown, session.plan)}</b>: {findingText(shown)}
		</span>
	{:else}
		<span class="text-soft">Every aim is met.</span>
	{/if}
</div>
