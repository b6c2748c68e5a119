<script lang="ts">
	import { setStep } from '../../../core/plan/index.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { hex, orderFindingText, stepText } from '../../text/index.js';
	import type { Access } from '../../../core/registers/index.js';
	import type { HandoffModel } from './handoff.svelte.js';
	import { movedStep, orderFindings, stepGroups } from '../../../core/handoff/index.js';

	/** The set-up in its order, each step with its reason. */
	let { model, session }: { model: HandoffModel; session: PlanSession } = $props();

	const groups = $derived(stepGroups(model.of.accesses));
	const findings = $derived(orderFindings(model.of));
	/** Lets a step come before or after its neighbour: the part's order, as this plan has it. */
	function move(unit: string, step: string, by: 1 | -1) {
		const raw = session.plan.part.binding;
		const moved = raw && movedStep(model.of, raw, unit, step, by);
		if (moved)
			session.edit(setStep(session.plan, ['part', 'binding'], moved as never, `set up ${step} of ${unit} ${by < 0 ? 'earlier' : 'later'}`));
	}
	const isLit = (access: Access) => access.for.some((name) => model.lit.includes(name));
	const told = (access: Access) => {
		if (access.do === 'read') return 'read';
		const whole = access.mask === 2 ** access.bits - 1;
		const value = hex(access.value, access.bits);
		return access.do === 'wait' ? `wait for ${value}` : whole ? value : `${value} of ${hex(access.mask, access.bits)}`;
	};
</script>

<h2 class="border-b px-3 py-1 text-[13px] font-bold">
	Set-up <span class="font-normal text-soft">{model.of.accesses.length} accesses in {groups.length} steps</span>
</h2>
{#each findings as finding, i (i)}
	<p class="border-b px-3 py-1 text-[12px] text-warn" data-testid="order-finding">{orderFindingText(finding)}.</p>
{/each}
<ol class="min-h-0 flex-1 overflow-y-auto py-1 text-[12px]" data-testid="set-up">
	{#each groups as { unit, step, accesses }, i (i)}
		<li class="group px-3 pb-1.5">
			<p class="flex gap-2 leading-snug">
				<span class="w-5 shrink-0 text-right num text-soft">{i + 1}</span>
				<span><b>{unit}</b> <span class="text-soft">{stepText(step)}</span></span>
				<span class="ml-auto flex gap-1 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
					{#each [[-1, 'earlier', '↑'], [1, 'later', '↓']] as const as [by, way, sign] (way)}
						<button
							type="button"
							class="rounded-xs px-1 text-soft hover:bg-well hover:text-accent"
							aria-label="{step} of {unit} {way}"
							title="set up {way}"
							onclick={() => move(unit, step, by)}>{sign}</button
						>
					{/each}
				</span>
			</p>
			{#each accesses as access, j (j)}
				{#if access.do !== 'read'}
					<button
						type="button"
						class={[
							'ml-7 block w-[calc(100%-1.75rem)] truncate rounded-xs px-1 text-left num text-[11.5px]',
							isLit(access) ? 'bg-accent-wash text-accent' : 'hover:bg-well'
						]}
						title="{access.for.join(', ')} at {hex(access.address)}"
						onmouseenter={() => model.light(access.for)}
						onfocus={() => model.light(access.for)}
						onclick={() => model.light(access.for)}>{access.reg.split('.')[1]} {access.do === 'wait' ? '' : '← '}{told(access)}</button
					>
				{/if}
			{/each}
		</li>
	{:else}
		<li class="px-3 py-2 text-soft">Nothing is set up yet: no aim is worked out.</li>
	{/each}
</ol>
