<script lang="ts">
	import type { ChartConfiguration } from 'chart.js';
	import { overDecades, sweepSteps, type JudgedSweep } from '../../../core/readings/index.js';
	import { axisStyle, chartStyle } from '../../components/chartStyle.js';
	import { fileName } from '../../components/export.js';
	import { theme } from '../../session/theme.svelte.js';
	import { relationEnd } from '../../text/index.js';

	/** What was read over what was set, on the steps that the plan gives; below, how far each row is off and how far it may be. */
	let { judged, name }: { judged: JudgedSweep; name: string } = $props();

	/** Settings at which the plan's steps are drawn. */
	const POINTS = 600;
	let upper: HTMLCanvasElement;
	let lower: HTMLCanvasElement;

	$effect(() => {
		void theme.dark;
		const { relation, rows } = judged;
		const scale = { set: relation.set.unit === '%' ? 100 : 1, read: relation.reads.unit === '%' ? 100 : 1 };
		const steps = sweepSteps(judged, POINTS);
		let ended = false;
		let charts: { destroy(): void }[] = [];
		void import('chart.js/auto').then(({ default: ChartJs }) => {
			if (ended) return;
			const style = chartStyle(upper);
			const title = (end: typeof relation.set) => `${relationEnd(end.of)}${end.unit === '' ? '' : ` (${end.unit})`}`;
			const tone = (explained: boolean | undefined) => style.ink(explained === false ? '--color-fault' : '--color-ink');
			// Decades are drawn as wide as each other.
			const wide = overDecades(rows);
			const across = (text: string, named: boolean) => {
				const { title, ticks, grid } = axisStyle(style, text);
				const type = wide ? ('logarithmic' as const) : ('linear' as const);
				return { type, grid, title: { ...title, display: named }, ticks: { ...ticks, display: named } };
			};
			const options = { animation: false, maintainAspectRatio: false, plugins: { legend: { display: false } } } as const;
			const points = {
				pointBackgroundColor: rows.map(({ explained }) => tone(explained)),
				pointBorderColor: rows.map(({ explained }) => tone(explained)),
				pointStyle: rows.map(({ explained }) => (explained === false ? 'rectRot' : 'circle')) as ('circle' | 'rectRot')[],
				pointRadius: rows.length > 200 ? 1.5 : 3
			};
			const line = (data: { x: number; y: number }[], dash: number[] = []) => ({
				data,
				showLine: true,
				borderColor: style.ink('--color-accent'),
				borderWidth: 1.2,
				borderDash: dash,
				pointRadius: 0,
				stepped: relation.set.unit === '' ? (false as const) : ('after' as const)
			});
			const measured: ChartConfiguration<'scatter'> = {
				type: 'scatter',
				data: {
					datasets: [
						{ data: rows.map(({ set, read }) => ({ x: set.toNumber() * scale.set, y: read.toNumber() * scale.read })), ...points },
						line(steps.map(({ set, low }) => ({ x: set * scale.set, y: low * scale.read }))),
						line(steps.map(({ set, high }) => ({ x: set * scale.set, y: high * scale.read })))
					]
				},
				options: {
					...options,
					scales: {
						x: across('', false),
						y: { ...axisStyle(style, title(relation.reads)), type: wide ? ('logarithmic' as const) : ('linear' as const) }
					}
				}
			};
			const held = rows.filter(({ deviation }) => deviation !== undefined);
			const bound = (side: 0 | 1) =>
				held.map(({ set, budget }) => ({ x: set.toNumber() * scale.set, y: budget!.sum[side].toNumber() * scale.read }));
			const bySet = (a: { x: number }, b: { x: number }) => a.x - b.x;
			const errors: ChartConfiguration<'scatter'> = {
				type: 'scatter',
				data: {
					datasets: [
						{
							data: held.map(({ set, deviation }) => ({ x: set.toNumber() * scale.set, y: deviation!.toNumber() * scale.read })),
							...points,
							pointBackgroundColor: held.map(({ explained }) => tone(explained)),
							pointBorderColor: held.map(({ explained }) => tone(explained))
						},
						{ ...line(bound(0).sort(bySet), [4, 3]), stepped: false },
						{ ...line(bound(1).sort(bySet), [4, 3]), stepped: false }
					]
				},
				options: { ...options, scales: { x: across(title(relation.set), true), y: axisStyle(style, 'off by') } }
			};
			charts = [new ChartJs(upper, measured), new ChartJs(lower, errors)];
		});
		return () => {
			ended = true;
			charts.forEach((chart) => chart.destroy());
		};
	});

	/** Both drawings as one picture. */
	function save() {
		const picture = document.createElement('canvas');
		[picture.width, picture.height] = [Math.max(upper.width, lower.width), upper.height + lower.height];
		const pen = picture.getContext('2d')!;
		pen.fillStyle = getComputedStyle(upper).getPropertyValue('--color-card');
		pen.fillRect(0, 0, picture.width, picture.height);
		pen.drawImage(upper, 0, 0);
		pen.drawImage(lower, 0, upper.height);
		const link = document.createElement('a');
		link.href = picture.toDataURL('image/png');
		link.download = `${fileName(name)}.png`;
		link.click();
	}
</script>

<div class="relative min-h-0 flex-[5]"><canvas bind:this={upper} aria-label="{name}: read over set, and what the plan gives"></canvas></div>
<div class="relative min-h-0 flex-[4]">
	<canvas bind:this={lower} aria-label="{name}: how far each row is off, and how far it may be"></canvas>
</div>
<button type="button" class="self-end text-[11px] underline" onclick={save}>PNG</button>
