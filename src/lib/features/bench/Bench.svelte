<script lang="ts">
	import { onDestroy, tick, untrack } from 'svelte';
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import { openPlan } from '../../session/context.js';
	import AimBench from './AimBench.svelte';
	import { BenchModel } from './bench.svelte.js';
	import BenchEmpty from './BenchEmpty.svelte';
	import BenchFoot from './BenchFoot.svelte';
	import BenchTools from './BenchTools.svelte';
	import CardsPanel from './CardsPanel.svelte';
	import DropZone from './DropZone.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import LaneFeeder from './LaneFeeder.svelte';
	import Measures from './Measures.svelte';
	import PlannedLabels from './PlannedLabels.svelte';
	import ReadingsPanel from './ReadingsPanel.svelte';
	import RecordedLabels from './RecordedLabels.svelte';
	import RecordingsPanel from './RecordingsPanel.svelte';
	import Ruler from './Ruler.svelte';
	import Stage from './Stage.svelte';
	import Suspects from './Suspects.svelte';
	import VerdictCard from './VerdictCard.svelte';

	const { session, recordings: shelf, check } = openPlan();
	const bench = new BenchModel(session, shelf, check);
	const { view, prediction } = bench;
	let panel = $state<RecordingsPanel>();
	const timers = $derived(session.plan.part.timers.filter(({ id }) => session.plan.aims.some(({ timer }) => timer === id)));

	$effect(() => {
		view.zeroMark = bench.marks.find(({ zero }) => zero)?.ps;
	});
	$effect(() => bench.predict());
	$effect(() => bench.align());
	$effect(() => bench.layOut());
	$effect(() => bench.suspect());
	$effect(() => {
		void view.width;
		untrack(() => view.follow());
	});
	onDestroy(() => bench.close());

	// The address names what is chosen; a finding's address leads to its list of writes.
	bench.chosen = page.url.hash.slice(1) || undefined;
	$effect(() => {
		const { hash } = page.url;
		if (hash.startsWith('#writes-')) untrack(() => ([bench.chosen, bench.tab] = [hash.slice(1), 'writes']));
	});

	/** Makes a lane or an aim the chosen one; the address names it. */
	async function choose(id: string | undefined) {
		bench.chosen = id;
		replaceState(id === undefined ? page.url.pathname : `#${id}`, {});
		await tick();
		if (id !== undefined) reveal(id);
	}

	/** Scrolls as little as brings a lane, or all lanes of an aim, into sight. */
	function reveal(id: string) {
		document.getElementById(`lane-${id}`)?.scrollIntoView({ block: 'nearest' });
		const own = [...document.querySelectorAll('[data-aim]')].filter((label) => `aim-${(label as HTMLElement).dataset.aim}` === id);
		for (const label of [own.at(-1), own[0]]) label?.scrollIntoView({ block: 'nearest' });
	}

	// So does the moment of a recording, once it lies on the plan.
	let moment = $state(Number(page.url.searchParams.get('at') ?? NaN));
	$effect(() => {
		const lane = bench.current;
		if (Number.isNaN(moment) || !lane?.laid || lane.id !== bench.chosen || view.width === 0) return;
		untrack(() => bench.showRecorded(lane, moment));
		moment = NaN;
	});

	// The lanes of the aim that an address names come into sight once they are there.
	let sought = $state(page.url.hash.slice(1));
	$effect(() => {
		if (!sought || bench.rows.length === 0) return;
		const id = `aim-${bench.aim?.id}`;
		void tick().then(() => reveal(id));
		sought = '';
	});
</script>

{#each bench.lanes as lane (lane.id)}
	<LaneFeeder {lane} {view} between={bench.between} tells={lane === bench.current} {session} />
{/each}

<div class="grid h-full grid-cols-[16.5rem_minmax(0,1fr)]">
	<aside class="min-h-0 border-r bg-well/50">
		<InTurn><RecordingsPanel bind:this={panel} {session} {shelf} lanes={prediction.lanes} onMapped={(id) => void choose(id)} /></InTurn>
	</aside>
	<div class="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[2.4rem_minmax(0,1fr)_auto]">
		<BenchTools {session} {bench} />
		<div class="relative grid min-h-0 min-w-0 grid-cols-[10.5rem_minmax(0,1fr)] grid-rows-[1.5rem_minmax(0,1fr)]">
			<div class="flex items-center border-r border-b px-1.5">
				<select
					class="w-full border-0 bg-transparent py-0 pr-6 pl-1.5 text-[11px] text-soft"
					aria-label="Ruler"
					title="What the ruler is in"
					bind:value={bench.rulerTimer}
				>
					<option value="">ruler in time</option>
					{#each timers as { id, name } (id)}<option value={id}>ticks, {name}</option>{/each}
				</select>
			</div>
			<div class="min-w-0" bind:clientWidth={view.width}>
				<Ruler {view} tickPs={bench.rulerTick && 1e12 / bench.rulerTick.toNumber()} />
			</div>
			<div class="col-span-2 min-h-0 overflow-x-hidden overflow-y-auto">
				{#if bench.lanes.length === 0 && (prediction.lanes.length === 0 || shelf.list.length > 0) && prediction.state.kind !== 'loading'}
					<BenchEmpty {session} {shelf} onBrowse={() => panel?.browse()} />
				{/if}
				<div class="grid grid-cols-[10.5rem_minmax(0,1fr)]">
					<div class="border-r">
						<RecordedLabels {bench} pinned={check.pinned} onChoose={(id) => void choose(id)} />
						<PlannedLabels
							{session}
							rows={bench.rows}
							layout={bench.layout}
							chosen={bench.aim?.id}
							onLayout={(next) => bench.setLayout(next)}
							onChoose={(id) => void choose(`aim-${id}`)}
						/>
					</div>
					<Stage {bench} onChoose={(id) => void choose(id)} />
				</div>
				<BenchFoot {prediction} />
			</div>
		</div>
		{#if bench.lower === 'cards'}
			<CardsPanel {session} {bench} />
		{:else if bench.lower === 'readings'}
			<ReadingsPanel {session} {bench} />
		{:else if bench.aim}
			{#key bench.aim.id}
				<AimBench
					{session}
					{shelf}
					{prediction}
					aim={bench.aim}
					tab={bench.tab}
					onTab={(next) => (bench.tab = next)}
					onShow={(moment) => bench.show(moment)}
					onFit={() => bench.fitAim()}
					onClose={() => void choose(undefined)}
				/>
			{/key}
		{:else if bench.current}
			<div class="grid h-[18.5rem] grid-cols-[minmax(0,0.92fr)_minmax(0,1fr)] border-t bg-card/60">
				<VerdictCard {session} lane={bench.current} lanes={bench.lanes} {view} />
				<div class="min-h-0 overflow-y-auto border-l">
					<Measures lane={bench.current} />
					{#if bench.current.mapping && bench.current.verdict && bench.current.verdict.asSet !== 'within'}
						<InTurn><Suspects {check} mapping={bench.current.mapping} href="/plan/{session.id}/check" /></InTurn>
					{/if}
				</div>
			</div>
		{/if}
	</div>
</div>

<DropZone onFiles={(files) => panel?.take(files)} />
