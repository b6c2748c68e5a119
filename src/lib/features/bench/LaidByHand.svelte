<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import { readLaying } from '../../../core/readings/index.js';
	import Choice from '../../components/Choice.svelte';
	import TypedField from '../../components/TypedField.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { problemText, typedTime } from '../../text/index.js';
	import type { BenchView } from './benchView.svelte.js';
	import { exactPs, shownMarks } from './marks.js';
	import type { RecordedLane } from './recordedLane.svelte.js';

	/** Lays a recording on the plan by hand: typed, by two marks or cursors, or by what triggered it. */
	let { session, lane, view }: { session: PlanSession; lane: RecordedLane; view: BenchView } = $props();

	const recording = $derived(lane.recording);
	const typed = $derived(recording && session.plan.layings[recording.id]);
	const read = $derived(typed && readLaying(typed));
	const problem = $derived(read && !read.ok ? problemText(read.problem) : undefined);

	/** Moments that can be named: the cursors, then the marks. */
	const points = $derived([
		...(view.cursorA === undefined ? [] : [{ id: 'a', name: 'cursor A', ps: view.cursorA }]),
		...(view.cursorB === undefined ? [] : [{ id: 'b', name: 'cursor B', ps: view.cursorB }]),
		...shownMarks(session).map(({ id, name, ps }) => ({ id, name, ps }))
	]);
	let [from, to] = $state(['', '']);
	const recorded = $derived(points.find(({ id }) => id === from) ?? points.at(0));
	const planned = $derived(points.find(({ id }) => id === to) ?? points.find((one) => one !== recorded));
	const triggers = $derived(recording?.lines.filter(({ firstRise }) => firstRise !== null) ?? []);
	let trigger = $state('');
	const triggered = $derived(triggers.find(({ name }) => name === trigger) ?? triggers.at(0));

	/** What it is now, as somebody would type it. */
	function lay(offset: Rational, ratio?: string) {
		if (!recording) return;
		const now = ratio ?? typed?.ratio ?? (lane.ratio === 1 ? '' : `${((lane.ratio - 1) * 1e6).toFixed(3)} ppm`);
		session.set(['layings', recording.id], { offset: typedTime(offset), ratio: now }, 'lay a recording by hand');
	}

	function type(field: 'offset' | 'ratio', text: string, first: boolean) {
		if (recording) session.set(['layings', recording.id, field], text, 'lay a recording by hand', !first);
	}
</script>

{#if recording && !typed}
	<button type="button" class="text-[12px] text-accent underline" onclick={() => lay(exactPs(lane.shiftPs))}>lay it by hand</button>
{:else if recording && typed}
	<div class="mt-1 grid gap-1 border-l-2 border-rule pl-2 text-[12.5px]" data-testid="by-hand">
		<p>
			Laid by hand: the plan’s 0 is at <TypedField
				small
				label="The recording’s time at the plan’s 0"
				value={typed.offset}
				{problem}
				onInput={(text, first) => type('offset', text, first)}
			/> of the recording, whose clock is off by <TypedField
				small
				label="What its clock is off by"
				value={typed.ratio}
				onInput={(text, first) => type('ratio', text, first)}
			/>.
			<button
				type="button"
				class="text-accent underline"
				onclick={() => session.set(['layings', recording.id], undefined, 'find a recording’s place')}>find its place instead</button
			>
		</p>
		{#if triggered}
			<p class="flex flex-wrap items-center gap-1">
				The plan’s 0 is the first rise of
				<Choice
					class="max-w-40 text-[12px]"
					aria-label="Line that triggered"
					value={triggered.name}
					onchange={(e) => (trigger = e.currentTarget.value)}
				>
					{#each triggers as { name } (name)}<option value={name}>{name}</option>{/each}
				</Choice>
				<button type="button" class="btn" onclick={() => lay(Rational.parse(recording.unit).mul(Rational.int(triggered.firstRise!)))}
					>Lay it so</button
				>
			</p>
		{/if}
		{#if recorded && planned}
			<p class="flex flex-wrap items-center gap-1">
				What was recorded at {@render point(recorded.id, (id) => (from = id))} belongs at {@render point(planned.id, (id) => (to = id))}
				<button type="button" class="btn" onclick={() => lay(exactPs(lane.shiftPs + recorded.ps - planned.ps))}>Move it</button>
			</p>
		{:else}
			<p class="text-soft">Two cursors or marks, one on a recorded edge and one where the plan has it, lay it as well.</p>
		{/if}
	</div>
{/if}

{#snippet point(value: string, take: (id: string) => void)}
	<Choice class="text-[12px]" aria-label="Cursor or mark" {value} onchange={(e) => take(e.currentTarget.value)}>
		{#each points as { id, name } (id)}<option value={id}>{name}</option>{/each}
	</Choice>
{/snippet}
