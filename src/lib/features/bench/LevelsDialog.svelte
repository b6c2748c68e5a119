<script lang="ts">
	import { untrack } from 'svelte';
	import type { Chart } from 'chart.js';
	import { readTime } from '../../../core/aims/index.js';
	import { Rational } from '../../../core/exact/index.js';
	import { notices } from '../../session/notices.svelte.js';
	import type { RecordedLine, Recording, RecordingShelf } from '../../session/recordings.svelte.js';
	import { theme } from '../../session/theme.svelte.js';
	import { quantityText } from '../../text/index.js';
	import { axisStyle, chartStyle } from '../../components/chartStyle.js';
	import Dialog from '../../components/Dialog.svelte';
	import TypedField from '../../components/TypedField.svelte';

	/** Where an analogue line is cut into levels, on the histogram of its samples; what is typed acts at once. */
	interface Props {
		recording: Recording;
		line: RecordedLine;
		shelf: RecordingShelf;
		onClose: () => void;
	}
	let { recording, line, shelf, onClose }: Props = $props();

	let open = $state(true);
	let canvas = $state<HTMLCanvasElement>();
	const slicing = $derived(line.slicing!);
	const known = $derived(line.analogue!);
	const own = untrack(() => ({
		threshold: short(line.slicing!.threshold),
		hysteresis: short(line.slicing!.hysteresis),
		follow: line.slicing!.follow === undefined ? '' : `${line.slicing!.follow} s`
	}));
	let typed = $state(own);

	/** Volts, or whatever the samples are in; a prefix and a V may stand behind. */
	const read = (text: string) => {
		const [, number, prefix] = /^(.*?)\s*([mµuk]?)V?$/.exec(text.trim()) ?? [];
		const value = Rational.tryParse((number ?? '').replace(',', '.'));
		return value ? value.toNumber() * ({ m: 1e-3, u: 1e-6, µ: 1e-6, k: 1e3 }[prefix] ?? 1) : undefined;
	};
	const seconds = (text: string) => {
		const time = readTime(text);
		return time.ok && time.value.sign > 0 ? time.value.toNumber() : undefined;
	};
	const problems = $derived({
		threshold: read(typed.threshold) === undefined ? 'A value such as 1.65 is wanted.' : undefined,
		hysteresis: (read(typed.hysteresis) ?? -1) < 0 ? 'A value of 0 or more is wanted.' : undefined,
		follow:
			typed.follow.trim() !== '' && seconds(typed.follow) === undefined
				? 'A time such as 5 ms is wanted, or nothing for a threshold that stands.'
				: undefined
	});

	let timer: ReturnType<typeof setTimeout> | undefined;
	function type(field: keyof typeof typed, text: string) {
		typed = { ...typed, [field]: text };
		clearTimeout(timer);
		if (Object.values(problems).every((problem) => problem === undefined)) timer = setTimeout(() => void cut(), 250);
	}

	async function cut() {
		const follow = typed.follow.trim() === '' ? undefined : seconds(typed.follow);
		try {
			await shelf.cut(recording.id, line.number, {
				threshold: read(typed.threshold),
				hysteresis: read(typed.hysteresis),
				...(follow !== undefined && { follow })
			});
		} catch (error) {
			notices.fault(`${line.name} could not be cut anew: ${error instanceof Error ? error.message : String(error)}.`);
		}
	}

	function asFound() {
		typed = { threshold: short((slicing.low + slicing.high) / 2), hysteresis: short((slicing.high - slicing.low) / 10), follow: '' };
		void cut();
	}

	function short(value: number): string {
		return String(Number(value.toPrecision(6)));
	}

	$effect(() => {
		void theme.dark;
		const { histogram } = known;
		const { threshold, hysteresis } = slicing;
		const on = canvas;
		if (!on) return;
		let ended = false;
		let chart: Chart | undefined;
		void import('chart.js/auto').then(({ default: ChartJs }) => {
			if (ended) return;
			const style = chartStyle(on);
			const width = (histogram.to - histogram.from) / histogram.counts.length;
			const most = Math.max(...histogram.counts);
			const bar = (x: number) => [
				{ x, y: 0.8 },
				{ x, y: most }
			];
			const mark = (label: string, x: number, dash: number[]) => ({
				type: 'line' as const,
				label,
				data: bar(x),
				borderColor: style.ink('--color-accent'),
				borderWidth: 1.5,
				borderDash: dash,
				pointRadius: 0
			});
			chart = new ChartJs(on, {
				type: 'scatter',
				data: {
					datasets: [
						{
							type: 'line',
							label: 'samples',
							data: histogram.counts.map((count, i) => ({ x: histogram.from + (i + 0.5) * width, y: Math.max(0.8, count) })),
							stepped: 'middle',
							borderColor: style.ink('--color-ink'),
							backgroundColor: style.ink('--color-grid'),
							fill: true,
							borderWidth: 1,
							pointRadius: 0
						},
						mark('threshold', threshold, [6, 4]),
						mark('up beyond', threshold + hysteresis, [1, 4]),
						mark('down below', threshold - hysteresis, [1, 4])
					]
				},
				options: {
					animation: false,
					maintainAspectRatio: false,
					plugins: { legend: { display: false } },
					scales: {
						x: { type: 'linear', ...axisStyle(style, 'value') },
						y: { type: 'logarithmic', ...axisStyle(style, 'samples') }
					}
				}
			});
		});
		return () => {
			ended = true;
			chart?.destroy();
		};
	});
</script>

<Dialog bind:open label="Levels of {line.name}" size="lg" {onClose}>
	<div class="text-[13px]" data-testid="levels">
		<h2 class="font-serif text-xl">Levels of {line.name} <span class="font-sans text-[12px] text-soft">{recording.name}</span></h2>
		<p class="mt-2 text-[15px] leading-loose [word-spacing:0.12em]">
			It is high above <TypedField
				value={typed.threshold}
				label="Threshold"
				problem={problems.threshold}
				onInput={(text) => type('threshold', text)}
			/>
			give or take <TypedField
				value={typed.hysteresis}
				label="Hysteresis"
				problem={problems.hysteresis}
				onInput={(text) => type('hysteresis', text)}
			/>; the threshold follows the middle of the last
			<TypedField
				value={typed.follow}
				label="Time that the threshold follows"
				problem={problems.follow}
				onInput={(text) => type('follow', text)}
			/>
			(nothing: it stands).
		</p>
		<p class="text-[12px] text-soft">
			Found at <span class="num">{short(slicing.low)}</span> and <span class="num">{short(slicing.high)}</span>, among
			{known.samples.toLocaleString('en')} samples from <span class="num">{short(known.least)}</span> to
			<span class="num">{short(known.most)}</span>. That makes <b class="num text-ink">{line.edges.toLocaleString('en')}</b>
			{line.edges === 1 ? 'edge' : 'edges'}{line.step ? `, known to ${quantityText(Rational.parse(line.step), 's', 3)}` : ''}.
		</p>
		<div class="mt-2 h-60 rounded-xs border bg-card p-1"><canvas bind:this={canvas} aria-label="How often which value comes"></canvas></div>
		<div class="mt-3 flex gap-3">
			<button type="button" class="btn-main" onclick={() => (open = false)}>Done</button>
			<button type="button" class="btn" onclick={asFound}>As found</button>
		</div>
	</div>
</Dialog>
