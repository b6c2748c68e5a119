<script lang="ts">
	import { goto } from '$app/navigation';
	import { planAsRead } from '../../../core/handoff/index.js';
	import { dumpText } from '../../../core/formats/index.js';
	import Choice from '../../components/Choice.svelte';
	import { call } from '../../session/api.js';
	import { attempt } from '../../session/attempt.js';
	import { keepDump, keptDump } from '../../session/keptDump.js';
	import { notices } from '../../session/notices.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { dumpTroubleText, registerFindingText } from '../../text/index.js';
	import type { HandoffModel } from './handoff.svelte.js';

	/** A dump laid on the plan: what the timers would really do. */
	let { model, session }: { model: HandoffModel; session: PlanSession } = $props();

	const held = $derived(model.held);
	const troubles = $derived(held?.dump.troubles ?? []);
	const said = $derived(held?.quantities.filter(({ read }) => read !== undefined) ?? []);
	const differing = $derived(said.filter(({ differs }) => differs));
	const EXAMPLE =
		'TOPVAL = 0x0000EA5F\n0x40001400: 0x00000001 0x00000000\nor drop a file: words, a hex dump, records that begin with : or S, plain bytes';
	let all = $state(false);

	/** What the registers really hold, as a plan beside this one: with its recordings, and the dump to go on with. */
	const takeAsPlan = () =>
		attempt('The plan could not be made', async () => {
			if (!held) return;
			const asRead = planAsRead(model.of, held);
			const name = `${session.plan.name} as read`.slice(0, 120);
			const { id } = await call<{ id: string }>('POST', `/api/plans/${session.id}/copy`, { name, document: asRead.plan });
			keepDump(id, keptDump(session.id));
			await goto(`/plan/${id}/handoff`);
			notices.say(
				`${asRead.taken.length === 1 ? 'One quantity is' : `${asRead.taken.length} quantities are`} planned as read.${left(asRead.left.length)}`
			);
		});
	const left = (count: number) => (count === 0 ? '' : ` ${count === 1 ? 'One stays' : `${count} stay`} otherwise: a plan cannot say it.`);
	const shown = $derived(all ? said : differing);
	/** Of what a dump cannot say only what stands in it. */
	const findings = $derived(held?.back.findings.filter(([code]) => code !== 'missing' && code !== 'write-only') ?? []);

	async function take(files: FileList | null) {
		const file = files?.[0];
		if (!file) return;
		model.dumpText = dumpText(new Uint8Array(await file.arrayBuffer()));
		model.keepDump();
	}
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
	class="flex min-h-0 flex-1 flex-col px-3 py-1.5 text-[12.5px]"
	ondragover={(event) => event.preventDefault()}
	ondrop={(event) => {
		event.preventDefault();
		void take(event.dataTransfer?.files ?? null);
	}}
>
	<textarea
		class="h-32 w-full shrink-0 resize-y rounded-xs border bg-card px-2 py-1 num text-[11.5px]"
		aria-label="A dump of registers"
		placeholder={EXAMPLE}
		bind:value={model.dumpText}
		oninput={() => model.keepDump()}></textarea>
	<div class="flex flex-wrap items-center gap-3 py-1">
		<label class="btn cursor-pointer"
			>Open a file <input type="file" class="sr-only" onchange={(event) => void take(event.currentTarget.files)} /></label
		>
		<label class="flex items-center gap-1"
			>begins at <input
				class="w-28 rounded-xs border bg-paper px-1 py-0 num"
				placeholder="0x40001400"
				bind:value={model.base}
				oninput={() => model.keepDump()}
				aria-label="Address of the first byte"
			/></label
		>
		<label class="flex items-center gap-1"
			><input type="checkbox" class="accent-(--color-accent)" bind:checked={model.hexWords} onchange={() => model.keepDump()} />words
			without 0x are hexadecimal</label
		>
		{#if model.grouped || troubles.some(({ trouble }) => trouble === 'grouped')}
			<label class="flex items-center gap-1"
				>groups are <Choice
					class="text-[12px]"
					value={model.grouped ?? ''}
					onchange={({ currentTarget: { value } }) => {
						model.grouped = value === 'bytes' || value === 'words' ? value : undefined;
						model.keepDump();
					}}
				>
					<option value="">not known</option>
					<option value="bytes">bytes as they lie in memory</option>
					<option value="words">words, the lowest byte last</option>
				</Choice></label
			>
		{/if}
	</div>
	{#each troubles.slice(0, 5) as { line, trouble }, i (i)}<p class="text-warn">Line {line}: {dumpTroubleText(trouble)}.</p>{/each}
	{#if troubles.length > 5}<p class="text-warn">And {troubles.length - 5} more lines that are not taken.</p>{/if}
	{#if held && held.dump.parts.length > 0}
		<p class="py-1" data-testid="read-back">
			<b>{said.length}</b> quantities can be read,
			<b class={differing.length > 0 ? 'text-fault' : ''}>{differing.length}</b>
			{differing.length === 1 ? 'is' : 'are'} otherwise than planned.
			{#if differing.length > 0}<button
					type="button"
					class="ml-2 text-accent underline"
					title="A copy of this plan whose settings are held as they were read"
					onclick={() => void takeAsPlan()}>take it as a plan of its own</button
				>{/if}
			<label class="ml-2 inline-flex items-center gap-1 text-soft"
				><input type="checkbox" class="accent-(--color-accent)" bind:checked={all} />all of them</label
			>
		</p>
		<div class="min-h-0 flex-1 overflow-y-auto">
			<table class="w-full text-[12px]">
				<thead class="sticky top-0 bg-paper text-left text-soft"
					><tr class="border-b [&_th]:font-normal"><th>quantity</th><th>planned</th><th>read</th></tr></thead
				>
				<tbody>
					{#each shown as { unit, quantity, planned, read, differs } (`${unit}.${quantity}`)}
						<tr
							class={['border-b', differs && 'bg-fault-wash', model.lit.includes(`${unit}.${quantity}`) && 'text-accent']}
							onmouseenter={() => model.light([`${unit}.${quantity}`])}
						>
							<td>{unit} <b>{quantity}</b></td>
							<td class="num">{planned ?? ''}</td>
							<td class="num">{read}</td>
						</tr>
					{:else}
						<tr><td colspan="3" class="py-1 text-soft">What could be read is as planned.</td></tr>
					{/each}
				</tbody>
			</table>
			{#each findings as finding, i (i)}
				<p class="pt-1 text-warn"><b>{finding.slice(1).join(' ')}</b>: {registerFindingText(finding)}</p>
			{/each}
			<p class="pt-1 text-soft">
				{held.back.findings.filter(([code]) => code === 'missing').length} registers are not in the dump. It cannot say: registers that can only
				be written, which of a buffer and the value in force it shows, and how a running counter goes on.
			</p>
		</div>
	{:else if model.dumpText.trim() === ''}
		<p class="text-soft">Paste what a debugger shows, or drop a file: it is laid on the registers beside, and told quantity by quantity.</p>
	{/if}
</div>
