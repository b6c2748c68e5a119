<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import { untrack } from 'svelte';
	import { plannedCsv, plannedVcd, rowsPng, rowsSvg } from './benchFiles.js';
	import type { PlannedRow } from './benchRows.js';
	import { fileName, saveFile } from '../../components/export.js';
	import { notices } from '../../session/notices.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import type { BenchModel } from './bench.svelte.js';
	import type { RecordedLane } from './recordedLane.svelte.js';
	import { readInks } from '../../wave/index.js';
	import { pictureRows } from './pictureRows.js';
	import CursorBar from './CursorBar.svelte';
	import Hint from '../../components/Hint.svelte';

	/** The line above the waves: cursors, ruler, jumps, zoom, and files. */
	let { session, bench }: { session: PlanSession; bench: BenchModel } = $props();

	const { view } = untrack(() => bench);
	const current = $derived(bench.current);
	const rows = $derived<PlannedRow[]>(bench.rows);
	const names = $derived(new Map(session.plan.aims.map(({ id, name }) => [id, name || 'unnamed aim'])));
	const planned = $derived(rows.flatMap((row) => (row.kind === 'lane' ? [row.lane] : [])));
	const own = $derived(fileName(session.plan.name));
	let bar: HTMLDivElement;

	/** The server writes recordings: they may be longer than a page can hold. */
	function saveRecorded(as: string, lane: RecordedLane) {
		const { recording } = lane;
		if (!recording) return;
		const [format, what] = as.split(' ');
		const [from, to] = what === 'view' ? lane.inUnits(view) : [recording.startTime, recording.endTime + 1];
		const link = document.createElement('a');
		link.href = `/api/recordings/${recording.id}/export?as=${format}&from=${from}&to=${to}`;
		link.download = '';
		link.click();
	}

	async function save(as: string) {
		const picture = pictureRows(bench.lanes, rows, names, bench.prediction.reached);
		if (picture.length === 0) return notices.fault('There is no wave to save.');
		const inks = readInks(bar);
		const paper = getComputedStyle(bar).getPropertyValue('--color-card').trim();
		try {
			if (as === 'png') {
				const blob = await rowsPng(picture, view, inks, paper);
				if (blob) saveFile(`${own}-bench.png`, blob, 'image/png');
			} else if (as === 'svg') saveFile(`${own}-bench.svg`, rowsSvg(picture, view, inks, paper, session.plan.name), 'image/svg+xml');
			else if (as === 'vcd') saveFile(`${own}-planned.vcd`, plannedVcd(planned, names, view, session.plan.name), 'text/plain');
			else if (as === 'csv') saveFile(`${own}-planned.csv`, plannedCsv(planned, names, view), 'text/csv');
			else if (current) saveRecorded(as, current);
		} catch (error) {
			if (!(error instanceof RangeError)) throw error;
			notices.fault(`What is in view has ${error.message}: zoom in, or fold lanes away, and save again.`);
		}
	}
</script>

<div class="flex items-center gap-2 border-b px-3 text-[13px]" bind:this={bar}>
	<CursorBar {view} rhythm={bench.rhythm} />
	<div class="ml-auto flex shrink-0 items-center gap-1.5">
		{#if view.cursorA !== undefined}
			<button
				type="button"
				class={['btn px-2', view.zeroAt === 'a' && 'border-accent text-accent']}
				aria-pressed={view.zeroAt === 'a'}
				onclick={() => (view.zeroAt = view.zeroAt === 'a' ? undefined : 'a')}>A = 0</button
			>
			<Hint text="Let cursor A read zero (z)" />
		{/if}
		{#if view.cursorA !== undefined && view.cursorB !== undefined && current}
			<label class="flex items-center gap-1"
				><input type="checkbox" bind:checked={bench.between} class="accent-(--color-accent)" />A to B</label
			>
		{/if}
		<span class="inline-flex items-center">
			<button type="button" class="btn rounded-r-none px-1.5" aria-label="To the one before" onclick={() => void bench.jumpBy(-1)}>‹</button
			>
			<Hint text="To the one before ( , )" />
			<Choice class="rounded-none border-x-0" aria-label="Jump to" bind:value={bench.jump}>
				<option value="edge">edge</option>
				<option value="event">event</option>
				<option value="finding">finding</option>
				{#if current}<option value="difference">differ</option>{/if}
			</Choice>
			<button
				type="button"
				class="btn rounded-l-none px-1.5"
				aria-label="To the next"
				title="To the next ( . )"
				onclick={() => void bench.jumpBy(1)}>›</button
			>
			<Hint text="To the next ( . )" />
		</span>
		<button type="button" class="btn px-2" aria-label="Zoom in" onclick={() => view.zoom(0.5, view.width / 2)}>+</button>
		<Hint text="Closer (+)" />
		<button type="button" class="btn px-2" aria-label="Zoom out" onclick={() => view.zoom(2, view.width / 2)}>−</button>
		<Hint text="Further (−)" />
		<button type="button" class="btn px-2 whitespace-nowrap" onclick={() => view.onePeriod()}>One period</button>
		<Hint text="One period of the slowest (1)" />
		<button type="button" class="btn px-2" onclick={() => view.fit()}>All</button>
		<Hint text="All of it (0)" />
		<Choice
			class="w-20"
			aria-label="Save"
			value=""
			onchange={(event) => {
				void save(event.currentTarget.value);
				event.currentTarget.value = '';
			}}
		>
			<option value="" disabled>Save …</option>
			<option value="png">picture (PNG)</option>
			<option value="svg">drawing (SVG)</option>
			<option value="vcd">planned waves in view (VCD)</option>
			<option value="csv">planned changes in view (CSV)</option>
			{#if current?.recording}
				<option value="vcd all">recording (VCD)</option>
				<option value="edges all">recording, edges (CSV)</option>
				<option value="vcd view">recording in view (VCD)</option>
				<option value="edges view">recording in view, edges (CSV)</option>
				{#if current.line?.analogue}
					<option value="samples all">recording, samples (CSV)</option>
					<option value="samples view">recording in view, samples (CSV)</option>
				{/if}
			{/if}
		</Choice>
	</div>
</div>
