<script lang="ts">
	import { goto } from '$app/navigation';
	import { findingKeys } from './keys.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import type { PlanCheck } from '../../session/planCheck.svelte.js';
	import { findingPlace, findingText, OUTCOME } from '../../text/index.js';
	import FindingSteps from './FindingSteps.svelte';

	let { session, check }: { session: PlanSession; check: PlanCheck } = $props();

	const findings = $derived(session.findings);
	const faults = $derived(findings.filter((f) => f.severity === 'fault').length);
	const warnings = $derived(findings.length - faults);
	const outside = $derived(session.plan.mappings.filter(({ id }) => session.verdicts.get(id) === 'outside').length);
	/** Of the check at hand, or the newest one that was kept. */
	const verdict = $derived(check.result?.verdict ?? check.past.at(0)?.verdict);
	const at = $derived(Math.min(session.findingAt, findings.length - 1));
	const shown = $derived(findings[Math.max(at, 0)]);

	function step(by: 1 | -1) {
		if (findings.length === 0) return;
		session.findingAt = at < 0 ? 0 : (at + by + findings.length) % findings.length;
		const finding = findings[session.findingAt];
		const filter = finding.code === 'field' && ['resistance', 'capacitance', 'inductance'].includes(finding.field);
		if (filter) void goto(`/plan/${session.id}/bench#aim-${finding.aim}`, { keepFocus: true });
		else if (finding.aim !== undefined) void goto(`/plan/${session.id}/aims#${finding.aim}`, { keepFocus: true });
		else if (finding.change) void goto(`/plan/${session.id}/bench#writes-${finding.change.timer}`, { keepFocus: true });
		else if (finding.node !== undefined) void goto(`/plan/${session.id}/clock#${finding.node}`, { keepFocus: true });
	}
</script>

<svelte:window
	onkeydown={(event) => {
		const by = findingKeys(event);
		if (by) step(by);
	}}
/>

<div class="flex min-w-0 flex-1 items-center gap-2" data-testid="findings-line">
	<span class="sr-only" role="status"
		>{faults}
		{faults === 1 ? 'fault' : 'faults'}, {warnings}
		{warnings === 1 ? 'warning' : 'warnings'}{#if session.findingAt >= 0 && shown}; {findingPlace(shown, session.plan)}: {findingText(
				shown
			)}{/if}</span
	>
	<FindingSteps none={findings.length === 0} onStep={step} />
	<span class={['shrink-0', faults > 0 && 'font-bold text-fault']}>{faults} {faults === 1 ? 'fault' : 'faults'}</span>
	<span class={['shrink-0', warnings > 0 && 'font-bold text-warn']}>{warnings} {warnings === 1 ? 'warning' : 'warnings'}</span>
	{#if outside > 0}<a class="shrink-0 font-bold text-fault underline" href="/plan/{session.id}/bench"
			>{outside} {outside === 1 ? 'recorded line' : 'recorded lines'} outside</a
		>{/if}
	{#if verdict && verdict !== 'within'}
		<a class={['shrink-0 underline', verdict === 'outside' ? 'font-bold text-fault' : 'text-soft']} href="/plan/{session.id}/check"
			>check: {OUTCOME[verdict].toLowerCase()}</a
		>
	{:else if verdict}
		<a class="shrink-0 text-soft underline" href="/plan/{session.id}/check">check: within</a>
	{/if}
	{#if shown}
		<span class="shrink-0 text-soft">{Math.max(at, 0) + 1} of {findings.length}</span>
		<span class="min-w-0 truncate" title={findingText(shown)}>
			<b class={shown.severity === 'fault' ? 'text-fault' : 'text-warn'}>{findingPlace(shown, session.plan)}</b>: {findingText(shown)}
		</span>
	{:else}
		<span class="text-soft"
			>{session.plan.aims.length === 0
				? 'Nothing is planned yet.'
				: outside > 0 || verdict === 'outside'
					? 'Every aim’s settings meet it.'
					: 'Every aim is met.'}</span
		>
	{/if}
</div>
