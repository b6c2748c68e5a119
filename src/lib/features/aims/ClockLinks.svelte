<script lang="ts">
	import type { AimDerivation } from '../../../core/aims/index.js';
	import type { ClockNodeProfile } from '../../../core/part/index.js';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { clockProblem, typedClock } from '../clock/clockFields.js';
	import { nodeName } from '../../text/index.js';

	/** The way from the clock's source to an aim's timer, editable where the plan may set it. */
	let { session, derivation }: { session: PlanSession; derivation: AimDerivation } = $props();

	const { aim, clock } = $derived(derivation);
	const limits = $derived(new Set(session.findings.filter((f) => f.code === 'clock-limit').map((f) => f.node)));

	function setClock(node: ClockNodeProfile, text: string, first: boolean) {
		session.set(['clock', node.id], text, `set ${node.name}`, !first);
	}
</script>

<div class="flex flex-wrap items-stretch gap-y-1" role="group" aria-label="Clock of {aim.name}">
	{#each clock.filter((link) => link.node.kind !== 'gate' || !link.hz) as link, i (link.node.id)}
		{#if i > 0}
			<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>
		{/if}
		<div class={['flex min-w-25 flex-1 flex-col rounded-xs border bg-card px-2 py-1', limits.has(link.node.id) && 'border-fault']}>
			<a
				class="truncate text-[11px] text-soft hover:text-accent hover:underline"
				href="/plan/{session.id}/clock#{link.node.id}"
				title="{nodeName(session.plan, link.node.id)}: see it on the ladder">{nodeName(session.plan, link.node.id)}</a
			>
			<span class="flex items-baseline gap-1 text-[13px]">
				{#if link.node.kind === 'source'}
					{#if link.node.chosen}
						<TypedField
							small
							label={link.node.name}
							value={typedClock(session.plan, link.node)}
							problem={clockProblem(session.plan, link.node)}
							onInput={(text, first) => setClock(link.node, text, first)}
						/>
					{:else}
						<span class="num">fixed</span>
					{/if}
				{:else if link.node.kind === 'divide' || link.node.kind === 'multiply'}
					<span class="text-soft">{link.node.kind === 'divide' ? '÷' : '×'}</span>
					<TypedField
						small
						least={2}
						label="{link.node.name}: {link.node.kind === 'divide' ? 'divide by' : 'multiply by'}"
						value={typedClock(session.plan, link.node)}
						problem={clockProblem(session.plan, link.node)}
						onInput={(text, first) => setClock(link.node, text, first)}
					/>
				{:else if link.node.kind === 'select'}
					<select
						class="w-full min-w-0 plain-select px-0.5 py-0 text-[11.5px]"
						aria-label={link.node.name}
						value={typedClock(session.plan, link.node)}
						onchange={(event) => setClock(link.node, event.currentTarget.value, true)}
					>
						{#each link.node.from as from (from)}
							<option value={from}>{nodeName(session.plan, from)}</option>
						{/each}
					</select>
				{:else if link.factor}
					<span class="text-soft">×</span><Num value={link.factor} />
				{/if}
			</span>
			<span class="mt-auto text-[13px] leading-tight">
				{#if link.hz}<Num value={link.hz} unit="Hz" />{:else if link.unknown}<span class="text-soft">unknown</span>{:else}<span
						class="text-fault">stopped</span
					>{/if}
			</span>
		</div>
	{/each}
</div>
