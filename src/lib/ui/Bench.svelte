<script lang="ts">
	import { SvelteMap } from 'svelte/reactivity';
	import { onDestroy, tick, untrack } from 'svelte';
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import type { Suspect } from '../../core/check/index.js';
	import { openPlan } from '../state/context.js';
	import { BenchLane } from '../state/lane.svelte.js';
	import { edgesCsv, lanesPicture } from '../state/benchFiles.js';
	import { fileName, saveFile } from '../state/export.js';
	import { notices } from '../state/notices.svelte.js';
	import { PlanPrediction } from '../state/prediction.svelte.js';
	import { BenchView } from '../state/view.svelte.js';
	import { Rational } from '../../core/exact/index.js';
	import { seconds, suspectText } from '../text/index.js';
	import CursorBar from './CursorBar.svelte';
	import DropZone from './DropZone.svelte';
	import LaneFeeder from './LaneFeeder.svelte';
	import Measures from './Measures.svelte';
	import Suspects from './Suspects.svelte';
	import RecordingsPanel from './RecordingsPanel.svelte';
	import Ruler from './Ruler.svelte';
	import Stage from './Stage.svelte';
	import VerdictCard from './VerdictCard.svelte';

	const { session, recordings: shelf } = openPlan();
	const view = new BenchView();
	const kept = new SvelteMap<string, BenchLane>();

	let chosen = $state<string | undefined>(page.url.hash.slice(1) || undefined);
	let between = $state(false);
	let pinned = $state.raw<{ lane: string; code: Suspect['code'] } | undefined>();
	const prediction = new PlanPrediction();
	let unfolded = $state(true);
	let panel: RecordingsPanel;
	let stage = $state<HTMLDivElement>();

	/** Mappings whose recording is here; a recording that was put away keeps its mapping for when it comes back. */
	const ids = $derived(session.plan.mappings.filter((m) => shelf.find(m.recording)).map((m) => m.id));
	const lanes = $derived(ids.map(laneOf));
	const current = $derived(lanes.find((lane) => lane.id === chosen) ?? lanes[0]);
	const suspect = $derived(current && pinned?.lane === current.id ? current.suspects.find((s) => s.code === pinned?.code) : undefined);

	function laneOf(id: string): BenchLane {
		return untrack(() => {
			const known = kept.get(id) ?? new BenchLane(session, shelf, id);
			kept.set(id, known);
			return known;
		});
	}

	$effect(() => prediction.ask(session.derivation));
	onDestroy(() => prediction.close());

	const planned = $derived(unfolded ? prediction.lanes : []);
	const names = $derived(new Map(session.plan.aims.map(({ id, name }) => [id, name || 'unnamed aim'])));
	const beginnings = $derived(prediction.unplanned.filter(({ why }) => why === 'not-derived').length);
	/** The first planned line that has a rhythm, in picoseconds. */
	const rhythm = $derived.by(() => {
		const source = prediction.lanes.find((lane) => lane.source && lane.role !== 'trigger')?.source;
		if (!source) return undefined;
		try {
			return (source.edgeTime(2) - source.edgeTime(0)) * source.unit.toNumber() * 1e12;
		} catch {
			return undefined;
		}
	});

	$effect(() => {
		const extents = lanes.map((lane) => lane.extent).filter((e) => e !== undefined);
		if (extents.length === 0 && prediction.reached > 0) untrack(() => view.setExtent(0, prediction.reached * 1e12, rhythm));
		if (extents.length === 0) return;
		const [from, to] = [Math.min(...extents.map((e) => e[0])), Math.max(...extents.map((e) => e[1]))];
		const period = lanes.find((lane) => lane.derivation?.settings)?.derivation?.settings?.period.toNumber();
		untrack(() => view.setExtent(from, to, period && period * 1e12));
	});

	$effect(() => {
		void view.width;
		untrack(() => view.follow());
	});

	/** Makes a lane the current one; the address names it. */
	async function choose(id: string) {
		chosen = id;
		replaceState(`#${id}`, {});
		await tick();
		document.getElementById(`lane-${id}`)?.scrollIntoView({ block: 'nearest' });
	}

	async function savePicture() {
		if (!stage) return;
		const blob = await lanesPicture(
			stage,
			lanes.map((lane) => `${lane.derivation?.aim.name ?? ''}: ${lane.recording?.name ?? ''}`),
			view
		);
		if (blob) saveFile(`${fileName(session.plan.name)}-bench.png`, blob, 'image/png');
		else notices.fault('There is no wave to save.');
	}

	function saveData() {
		if (current?.trace)
			saveFile(`${fileName(current.line?.name ?? 'line')}.csv`, edgesCsv(current.trace, current.line?.name ?? 'level'), 'text/csv');
	}
</script>

{#each lanes as lane (lane.id)}
	<LaneFeeder {lane} {view} {between} tells={lane === current} {session} />
{/each}

<div class="grid h-full grid-cols-[16.5rem_minmax(0,1fr)]">
	<aside class="min-h-0 border-r bg-well/50">
		<RecordingsPanel bind:this={panel} {session} {shelf} onMapped={(id) => void choose(id)} />
	</aside>
	<div class="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[2.4rem_minmax(0,1fr)_auto]">
		<div class="flex items-center gap-2 border-b px-3 text-[13px]">
			<CursorBar {view} lane={current} />
			<div class="ml-auto flex shrink-0 items-center gap-1.5">
				{#if view.cursorA !== undefined}
					<button
						type="button"
						class={['btn px-2', view.zeroAt === 'a' && 'border-accent text-accent']}
						aria-pressed={view.zeroAt === 'a'}
						title="Let cursor A read zero (z)"
						onclick={() => (view.zeroAt = view.zeroAt === 'a' ? undefined : 'a')}>A = 0</button
					>
				{/if}
				{#if view.cursorA !== undefined && view.cursorB !== undefined}
					<label class="flex items-center gap-1"
						><input type="checkbox" bind:checked={between} class="accent-(--color-accent)" />only A to B</label
					>
				{/if}
				<button type="button" class="btn px-2" title="Closer (+)" aria-label="Zoom in" onclick={() => view.zoom(0.5, view.width / 2)}
					>+</button
				>
				<button type="button" class="btn px-2" title="Further (−)" aria-label="Zoom out" onclick={() => view.zoom(2, view.width / 2)}
					>−</button
				>
				<button type="button" class="btn px-2" title="All of it (0)" onclick={() => view.fit()}>All</button>
				<button
					type="button"
					class="btn px-2"
					disabled={lanes.length === 0}
					title="Save the waves as a picture"
					onclick={() => void savePicture()}>PNG</button
				>
				<button type="button" class="btn px-2" disabled={!current?.trace} title="Save the chosen line’s edges" onclick={saveData}
					>CSV</button
				>
			</div>
		</div>
		<div class="relative grid min-h-0 min-w-0 grid-cols-[10.5rem_minmax(0,1fr)] grid-rows-[1.5rem_minmax(0,1fr)]">
			<div class="flex items-center gap-2.5 border-r border-b px-3 text-[11px] text-soft">
				<span class="inline-flex items-center gap-1"
					><i
						class="inline-block h-2.5 w-4 border border-accent bg-[repeating-linear-gradient(135deg,var(--color-accent)_0_1px,transparent_1px_4px)]"
					></i>plan</span
				>
				<span class="inline-flex items-center gap-1"><i class="inline-block h-0.5 w-4 bg-ink"></i>bench</span>
				<span class="inline-flex items-center gap-1"><i class="inline-block h-2.5 w-3 bg-fault/50"></i>differ</span>
			</div>
			<div class="min-w-0" bind:clientWidth={view.width}><Ruler {view} /></div>
			<div class="col-span-2 min-h-0 overflow-x-hidden overflow-y-auto">
				{#if lanes.length === 0 && (prediction.lanes.length === 0 || shelf.list.length > 0)}
					<div class="mx-auto mt-16 max-w-md text-center">
						<p class="font-serif text-lg">Nothing is held against the plan yet.</p>
						<p class="mt-1 text-soft">
							{shelf.list.length === 0
								? 'Drop a recording anywhere here, then say which line shows which aim.'
								: 'Say on the left which recorded line shows which aim.'}
						</p>
						{#if shelf.list.length === 0}<button type="button" class="mt-4 btn-main" onclick={() => panel.browse()}>Add a recording</button
							>{/if}
					</div>
				{/if}
				<div class="grid grid-cols-[10.5rem_minmax(0,1fr)]">
					<div class="border-r">
						{#each lanes as lane (lane.id)}
							<button
								type="button"
								id="lane-{lane.id}"
								class={[
									'flex h-[5.6rem] w-full flex-col justify-center border-b px-3 text-left',
									current === lane ? 'bg-accent-wash' : 'hover:bg-card'
								]}
								aria-pressed={current === lane}
								onclick={() => void choose(lane.id)}
								data-testid="lane-label"
							>
								<span class="w-full truncate text-[13px] font-bold">{lane.derivation?.aim.name ?? 'aim deleted'}</span>
								<span class="w-full truncate text-[11px] text-soft">{lane.recording?.name}</span>
								<span class={['text-[12px]', lane.verdict?.outcome === 'outside' ? 'font-bold text-fault' : 'text-accent']}>
									{lane.failed ? 'not loaded' : lane.verdict ? lane.verdict.outcome : '…'}
								</span>
							</button>
							{#if suspect && current === lane}
								<div class="border-b px-3 py-2 text-[11px] leading-snug" style:height="4.4rem">
									<b class="text-warn">What if:</b>
									{suspectText(suspect.code)}
								</div>
							{/if}
						{/each}
						{#if prediction.lanes.length > 0}
							<button
								type="button"
								class="flex h-[1.7rem] w-full items-center gap-1 px-3 text-left text-[11px] text-soft hover:text-accent"
								aria-expanded={unfolded}
								onclick={() => (unfolded = !unfolded)}
								title="Every planned pin as the timers will drive it, from their start at 0"
								data-testid="planned-head">{unfolded ? '▾' : '▸'} plan, predicted</button
							>
						{/if}
						{#each planned as lane, i (i)}
							<div
								class={['flex h-[2.6rem] flex-col justify-center border-b px-3 leading-tight', i === 0 && 'border-t']}
								data-testid="planned-label"
							>
								<a class="truncate text-[12.5px] font-semibold hover:text-accent hover:underline" href="/plan/{session.id}/aims#{lane.aim}"
									>{names.get(lane.aim)}</a
								>
								<span class="truncate text-[10.5px] text-soft">{lane.role}</span>
							</div>
						{/each}
					</div>
					<Stage
						bind:element={stage}
						{view}
						{lanes}
						{current}
						{suspect}
						onChoose={(id) => void choose(id)}
						{planned}
						reached={prediction.reached}
					/>
				</div>
				{#if prediction.failed}
					<p class="px-3 py-1 text-[12px] text-fault">The plan could not be predicted: {prediction.failed}</p>
				{:else if prediction.running && prediction.lanes.length === 0}
					<p class="px-3 py-1 text-[12px] text-soft">
						Predicting … <button type="button" class="underline" onclick={() => void prediction.stop()}>Stop</button>
					</p>
				{:else if unfolded && prediction.lanes.length > 0}
					<p class="px-3 py-1 text-[11px] text-soft" data-testid="planned-foot">
						Predicted to the cycle for {seconds(
							Rational.int(Math.round(prediction.reached * 1000)).div(Rational.int(1000)),
							5
						)}{prediction.short ? ', as far as edges were counted' : ''}.{beginnings > 0 ? ` ${beginnings} aims are not derived yet.` : ''}
					</p>
				{/if}
			</div>
		</div>
		{#if current}
			<div class="grid h-[18.5rem] grid-cols-[minmax(0,0.92fr)_minmax(0,1fr)] border-t bg-card/60">
				<VerdictCard {session} lane={current} />
				<div class="min-h-0 overflow-y-auto border-l">
					<Measures lane={current} />
					{#if current.verdict?.outcome === 'outside'}
						<Suspects
							lane={current}
							pinned={suspect?.code}
							onPin={(code) => (pinned = code && current ? { lane: current.id, code } : undefined)}
						/>
					{/if}
				</div>
			</div>
		{/if}
	</div>
</div>

<DropZone onFiles={(files) => void panel.take(files)} />
