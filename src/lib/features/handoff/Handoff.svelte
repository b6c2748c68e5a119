<script lang="ts">
	import { untrack } from 'svelte';
	import { setStep } from '../../../core/plan/index.js';
	import { shippedPart } from '../../../core/part/index.js';
	import { proposeBinding } from '../../../core/registers/index.js';
	import { openPlan } from '../../session/context.js';
	import { registerFindingText } from '../../text/index.js';
	import CodeView from './CodeView.svelte';
	import DumpPanel from './DumpPanel.svelte';
	import { HandoffModel } from './handoff.svelte.js';
	import RegisterStrips from './RegisterStrips.svelte';
	import SetUpList from './SetUpList.svelte';

	/** From plan to registers to code, and back. */
	const { session } = openPlan();
	const model = untrack(() => new HandoffModel(session));
	let tab = $state<'code' | 'dump'>('code');
	const { of } = $derived(model);
	const shelf = $derived(shippedPart(session.plan.part.id)?.binding);

	/** Registers of the shelf's part of that name, or invented ones to begin with. */
	function takeRegisters() {
		const binding = shelf ?? proposeBinding(session.plan.part, { bits: 32, base: 0x40000000, apart: 0x400 });
		session.edit(setStep(session.plan, ['part', 'binding'], binding, 'say where registers are'));
	}
</script>

{#if !of.binding && of.findings.length === 0}
	<div class="flex h-full flex-col items-center justify-center gap-3 px-8 text-center" data-testid="handoff-empty">
		<p class="max-w-lg font-serif text-[19px]">{session.plan.part.name} does not say yet where its registers are.</p>
		<p class="max-w-lg text-[13.5px] text-soft">
			{shelf
				? 'The part of this name on the shelf does: its registers can be taken into this plan.'
				: 'A layout can be made up to begin with, and edited as the part’s text at Parts.'}
		</p>
		<button type="button" class="btn-main" onclick={takeRegisters}>{shelf ? 'Take the shelf’s registers' : 'Make up registers'}</button>
	</div>
{:else}
	<div class="grid h-full min-h-0 grid-cols-[minmax(15rem,0.85fr)_minmax(0,1.15fr)_minmax(0,1.2fr)]" data-testid="handoff">
		<section class="flex min-h-0 min-w-0 flex-col border-r" aria-label="Set-up">
			<SetUpList {model} {session} />
		</section>
		<section class="flex min-h-0 min-w-0 flex-col border-r" aria-label="Registers">
			<RegisterStrips {model} name={session.plan.name} />
		</section>
		<section class="flex min-h-0 min-w-0 flex-col" aria-label="Code and dumps">
			<div class="flex items-center gap-4 border-b px-3 py-1 text-[13px]" role="tablist">
				{#each [['code', 'Code'], ['dump', 'Read back']] as const as [id, title] (id)}
					<button
						type="button"
						role="tab"
						aria-selected={tab === id}
						class={tab === id ? 'font-bold text-accent' : 'text-soft hover:text-accent'}
						onclick={() => (tab = id)}>{title}</button
					>
				{/each}
			</div>
			{#if of.findings.length > 0}
				<ul class="max-h-32 overflow-y-auto border-b bg-fault-wash px-3 py-1.5 text-[12.5px]" data-testid="register-findings">
					{#each of.findings as finding, i (i)}
						<li><b>{finding.slice(1).join(' ')}</b>: {registerFindingText(finding)}</li>
					{/each}
				</ul>
			{/if}
			{#if tab === 'code'}<CodeView {model} />{:else}<DumpPanel {model} {session} />{/if}
		</section>
	</div>
{/if}
