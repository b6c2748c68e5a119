<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import Choice from '../../components/Choice.svelte';
	import Num from '../../components/Num.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';
	import type { BenchModel } from './bench.svelte.js';
	import { rhythmOf } from './rhythm.js';
	import { deleteMark, exactPs, renameMark } from './marks.js';

	/** The marks of the bench: where each is, from the one that is zero and from the one before. */
	let { session, bench }: { session: PlanSession; bench: BenchModel } = $props();

	const marks = $derived(bench.marks);
	const zero = $derived(exactPs(bench.view.zero));
	let fresh = true;
	const { rhythm } = $derived(bench);
	const steady = $derived(session.plan.aims.filter(({ id }) => rhythmOf(session.derivation, id).hz !== undefined));
</script>

<div class="flex min-h-0 flex-col" data-testid="marks">
	<div class="flex items-center gap-2 border-b px-3 py-1.5">
		<h2 class="text-[13px] font-bold">Marks</h2>
		<button type="button" class="btn text-[12px]" onclick={() => bench.setMark()}>Set one (m)</button>
		<span class="ml-auto text-[11px] text-soft">n, p step</span>
	</div>
	<label class="flex items-center gap-1 border-b px-3 py-1 text-[11px] text-soft">
		degrees of
		<Choice class="max-w-36 text-[11px]" aria-label="Degrees of" bind:value={bench.degreesOf}>
			<option value="">what is chosen</option>
			{#each bench.lanes as lane (lane.id)}
				<option value={lane.id}>{lane.derivation?.aim.name ?? 'no aim'}, as recorded in {lane.recording?.name}</option>
			{/each}
			{#each steady as { id, name } (id)}<option value="aim-{id}">{name || 'unnamed aim'}, as planned</option>{/each}
		</Choice>
	</label>
	<div class="min-h-0 flex-1 overflow-y-auto px-2 py-1">
		{#if marks.length === 0}
			<p class="mt-8 px-2 text-center text-[12px] text-soft">Press a wave to place cursor A, then m: a mark stays with the plan.</p>
		{/if}
		{#each marks as mark, i (mark.id)}
			{@const at = Rational.parse(mark.at).sub(zero)}
			{@const apart = i > 0 ? Rational.parse(mark.at).sub(Rational.parse(marks[i - 1].at)) : undefined}
			<div class="border-b py-1 text-[12px]" data-testid="mark">
				<div class="flex items-center gap-1">
					<input
						class="w-24 rounded-xs border border-transparent bg-transparent px-1 py-0 font-bold hover:border-rule"
						aria-label="Name of mark {i + 1}"
						maxlength="60"
						value={mark.name}
						onfocus={() => (fresh = true)}
						oninput={(event) => {
							renameMark(session, mark.id, event.currentTarget.value, fresh);
							fresh = false;
						}}
					/>
					<button type="button" class="num underline decoration-dotted" title="Show it" onclick={() => bench.show(mark.ps * 1e-12)}
						><Num value={at} unit="s" digits={7} /></button
					>
					<button
						type="button"
						class={['ml-auto text-[11px]', mark.zero ? 'font-bold text-accent' : 'text-soft underline']}
						aria-pressed={mark.zero}
						title="Count times from here"
						onclick={() => session.set(['zero'], mark.zero ? '' : mark.id, 'set the zero')}>zero</button
					>
					<button
						type="button"
						class="text-soft hover:text-fault"
						aria-label="Delete mark {mark.name}"
						onclick={() => deleteMark(session, mark.id)}>×</button
					>
				</div>
				{#if apart && apart.sign > 0}
					<p class="pl-1 text-[11px] text-soft">
						{marks[i - 1].name} + <Num value={apart} unit="s" digits={6} />, <Num value={apart.inverse()} unit="Hz" digits={5} />
						{#if rhythm.tickRate}, <Num value={apart.mul(rhythm.tickRate)} unit="ticks" digits={6} />{/if}
						{#if rhythm.hz}, <Num value={apart.mul(rhythm.hz).mul(Rational.int(360))} unit="°" digits={5} />{/if}
					</p>
				{/if}
			</div>
		{/each}
	</div>
</div>
