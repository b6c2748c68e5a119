<script lang="ts">
	import { marked } from 'marked';
	import { onDestroy, onMount, untrack } from 'svelte';
	import { SvelteMap } from 'svelte/reactivity';
	import { handOff } from '../../../core/handoff/index.js';
	import { fileName, saveFile } from '../../components/export.js';
	import { openPlan } from '../../session/context.js';
	import { reportMarkdown } from '../../text/index.js';
	import { readInks } from '../../wave/index.js';
	import { BenchModel } from './bench.svelte.js';
	import { rowsSvg } from './benchFiles.js';
	import { BenchView } from './benchView.svelte.js';
	import LaneFeeder from './LaneFeeder.svelte';
	import { pictureRows } from './pictureRows.js';
	import { rhythmOf } from './rhythm.js';

	/** The plan to read, to print and to file: aims with their waves, clock paths, derivations, verdicts, suspects, findings. */
	const { session, recordings, check } = openPlan();
	const bench = new BenchModel(session, recordings, check);
	/** Columns of a wave, periods that it shows, and edges where there is no period. */
	const [COLUMNS, PERIODS, EDGES] = [620, 4, 16];
	let sheet = $state<HTMLElement>();

	$effect(() => bench.predict());
	$effect(() => bench.align());
	$effect(() => {
		void [session.plan, check.lines, check.anything];
		return untrack(() => check.ask());
	});
	onMount(() => void check.loadPast());
	onDestroy(() => bench.close());

	const names = $derived(new Map(session.plan.aims.map(({ id, name }) => [id, name])));

	/** Picoseconds of an aim that are shown: a few periods, or its first edges. */
	function spanOf(aim: string): number {
		const { hz } = rhythmOf(session.derivation, aim);
		const own = bench.prediction.lanes.filter((lane) => lane.aim === aim);
		const shortest = own.flatMap(({ drawn }) => (drawn.kind === 'level' && drawn.trace.count > 1 ? [drawn.trace] : []));
		if (hz && hz.sign > 0) return (PERIODS * 1e12) / hz.toNumber();
		const ends = shortest.map((trace) => trace.edgeTime(Math.min(trace.count - 1, EDGES)) * trace.unit.toNumber() * 1e12);
		return ends.length > 0 ? 1.1 * Math.max(...ends) : bench.prediction.reached * 1e12;
	}

	const waves = $derived.by(() => {
		const drawn = new SvelteMap<string, string>();
		if (!sheet) return drawn;
		const inks = readInks(sheet);
		for (const { id, name } of session.plan.aims) {
			const lanes = bench.lanes.filter((lane) => lane.mapping?.aim === id && lane.wave);
			for (const lane of lanes) void lane.arrived;
			const rows = bench.rows.filter((row) => row.kind === 'lane' && row.lane.aim === id);
			if (rows.length + lanes.length === 0) continue;
			const view = new BenchView();
			view.width = COLUMNS;
			view.showSpan(0, Math.max(1, spanOf(id)));
			drawn.set(id, rowsSvg(pictureRows(lanes, rows, names, bench.prediction.reached), view, inks, '#ffffff', `Waves of ${name}`));
		}
		return drawn;
	});
	const registers = $derived(handOff(session.derivation));
	const ready = $derived(bench.prediction.state.kind !== 'loading' && check.state.kind !== 'loading');
	const text = $derived(
		reportMarkdown({
			plan: session.plan,
			derivation: session.derivation,
			findings: session.findings,
			revision: session.revision,
			date: new Date().toISOString().slice(0, 10),
			recordingName: (id: string) => recordings.find(id)?.name ?? id,
			waves,
			handOff: registers,
			...(check.result && { check: check.result })
		})
	);
	/** What is typed into plans is escaped where the text is made: no tag of its own can come through. */
	const html = $derived(marked.parse(text, { async: false }));
</script>

{#each bench.lanes as lane (lane.id)}
	<LaneFeeder {lane} view={bench.view} between={false} tells={false} {session} />
{/each}

<div class="h-full overflow-y-auto bg-well px-6 py-5 print:h-auto print:overflow-visible print:bg-transparent print:p-0">
	<div class="mx-auto mb-3 flex max-w-[54rem] items-center gap-3 text-[13px] print:hidden">
		<button type="button" class="btn" onclick={() => window.print()}>Print, or save as PDF</button>
		<button type="button" class="btn" onclick={() => saveFile(`${fileName(session.plan.name)}-report.md`, text, 'text/markdown')}
			>Save as Markdown</button
		>
		<a class="text-accent underline" href="/plan/{session.id}/check">back to Check</a>
		{#if !ready}<span class="text-soft" role="status">Still being worked out …</span>{/if}
	</div>
	<article
		class="sheet mx-auto max-w-[54rem] px-12 py-10 shadow print:max-w-none print:p-0 print:shadow-none"
		bind:this={sheet}
		data-testid="report"
	>
		<!-- eslint-disable-next-line svelte/no-at-html-tags -->
		{@html html}
	</article>
</div>
