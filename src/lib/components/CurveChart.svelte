<script lang="ts">
	import { untrack } from 'svelte';
	import type { Chart } from 'chart.js';
	import type { AimChart, CandidateEdit } from '../../core/aims/index.js';
	import { csvRow } from '../../core/formats/index.js';
	import { saveFile, fileName } from './export.js';
	import { theme } from '../session/theme.svelte.js';
	import { nextTurn } from '../session/slices.js';
	import { curveLabel, curveWords } from '../text/index.js';
	import { chartStyle } from './chartStyle.js';
	import { curveConfig, pointsOf } from './curveConfig.js';

	interface Props {
		chart: AimChart;
		name: string;
		/** A candidate was pressed. */
		onTake?: (take: CandidateEdit) => void;
		/** It has a column to itself. */
		tall?: boolean;
	}
	let { chart: shown, name, onTake, tall = false }: Props = $props();

	let canvas: HTMLCanvasElement;
	const says = $derived(curveWords(shown.code, shown.unit));

	/** Curves alone are only given new points; a chart with more in it is made anew. */
	const bare = $derived(!shown.edits && shown.wanted === undefined && !shown.range ? `${shown.code} ${shown.series.length}` : undefined);
	let live: { chart: Chart<'line'>; key: string | undefined } | undefined;

	$effect(() => {
		const { series } = shown;
		if (live === undefined || live.key === undefined || live.key !== bare) return;
		live.chart.data.datasets.forEach((set, i) => (set.data = pointsOf(series[i].points)));
		live.chart.update('none');
	});

	$effect(() => {
		void theme.dark;
		const key = bare;
		const drawn = key === undefined ? shown : untrack(() => shown);
		const taken = onTake;
		let ended = false;
		let destroy: (() => void) | undefined;
		// Each chart in a task of its own: several at once would hold the page up.
		void Promise.all([import('chart.js/auto'), nextTurn()]).then(([{ default: Chart }]) => {
			if (ended) return;
			const chart = new Chart<'line'>(canvas, curveConfig(drawn, chartStyle(canvas), taken));
			live = { chart, key };
			destroy = () => {
				live = undefined;
				chart.destroy();
			};
		});
		return () => {
			ended = true;
			destroy?.();
		};
	});

	function csv() {
		const rows = shown.series.flatMap((one) => one.points.map(([at, value]) => csvRow([curveLabel(one), at, value])));
		saveFile(`${fileName(name)}-${shown.code}.csv`, [csvRow(['curve', says.x, says.y]), ...rows, ''].join('\n'), 'text/csv');
	}

	function png() {
		canvas.toBlob((blob) => blob && saveFile(`${fileName(name)}-${shown.code}.png`, blob, 'image/png'));
	}
</script>

<div class="mb-1 flex gap-3 text-xs">
	<b class="text-soft">{says.title}</b>
	<button type="button" class="ml-auto underline" onclick={png}>PNG</button>
	<button type="button" class="underline" onclick={csv}>CSV</button>
</div>
<div class={['mb-2 rounded-xs border bg-card p-1', tall ? 'h-88' : 'h-60']}>
	<canvas bind:this={canvas} aria-label="{says.title}: {shown.series.map(curveLabel).join(', ')}"></canvas>
</div>
