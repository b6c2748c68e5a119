<script lang="ts">
	import type { Aim, Stimulus } from '../../../core/aims/index.js';
	import { csvRow } from '../../../core/formats/index.js';
	import { layLog, MOST_READ, type Replayed } from '../../../core/readings/index.js';
	import type { WireReplay } from '../../../workers/predictWire.js';
	import { fileName, saveFile } from '../../components/export.js';
	import MoreReadings from './MoreReadings.svelte';
	import Num from '../../components/Num.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';
	import type { PlanPrediction } from './prediction.svelte.js';
	import { readingOf, replayedOf, unitOf } from './readings.js';

	/** What the firmware said that it read, beside what it would read of the recorded input as planned. */
	interface Props {
		session: PlanSession;
		prediction: PlanPrediction;
		aim: Aim;
		stimulus: Extract<Stimulus, { kind: 'recorded' }>;
		replay: WireReplay;
		onShow: (seconds: number) => void;
	}
	let { session, prediction, aim, stimulus, replay, onShow }: Props = $props();

	let most = $state(60);
	/** Software and its reader share the timer's clock; the recorder's differs from it by both errors. */
	const clock = $derived.by(() => {
		const kernel = session.derivation.aims.find((one) => one.aim.id === aim.id)?.timer?.kernel;
		const ppm = kernel ? session.derivation.clocks.ppm(kernel) : null;
		return ppm ? Math.max(...ppm.map((one) => Math.abs(one.toNumber()))) * 1e-6 : 0;
	});
	const read = $derived<Replayed>({ ...replayedOf(replay), clock });
	const laid = $derived(layLog(stimulus.log, read));
	const seconds = $derived(prediction.unit.toNumber());
	const off = $derived(laid?.rows.filter(({ agrees }) => agrees !== true) ?? []);
	let only = $state(false);
	const listed = $derived(only ? off : (laid?.rows ?? []));
	const shown = $derived(listed.slice(0, most));
	let fresh = true;

	function type(text: string) {
		session.set(['stimuli', aim.id, 'log'], text, 'set what the firmware said', !fresh);
		fresh = false;
	}

	function save() {
		const rows = (laid?.rows ?? []).map(({ reading, said, agrees }) =>
			csvRow([
				reading === undefined ? '' : (replay.at[reading] * seconds).toPrecision(12),
				reading === undefined ? '' : readingOf(replay, reading).toNumber(),
				said ?? '',
				agrees === undefined ? '' : agrees ? 'agrees' : 'differs'
			])
		);
		saveFile(`${fileName(aim.name)}-log.csv`, ['time (s),would read,log says,', ...rows, ''].join('\n'), 'text/csv');
	}
</script>

<div class="flex min-h-0 flex-1 flex-col" data-testid="replay-log">
	<textarea
		class="h-16 w-full shrink-0 resize-y rounded-xs border bg-card px-2 py-1 num text-[11.5px]"
		aria-label="What the firmware said that it read, line by line"
		placeholder="Paste what the firmware printed while this was recorded: the last number of each line counts."
		value={stimulus.log}
		onfocus={() => (fresh = true)}
		oninput={(event) => type(event.currentTarget.value)}></textarea>
	{#if laid}
		<p class="flex items-baseline gap-3 py-1 text-[12.5px] whitespace-nowrap">
			<span><b class="num">{laid.agreed}</b> as predicted,</span>
			<span class={laid.differing > 0 ? 'font-bold text-fault' : ''}>{laid.differing} otherwise,</span>
			<span class={laid.lost > 0 ? 'font-bold text-fault' : ''}>{laid.lost} not said,</span>
			<span>{laid.extra} of no reading</span>
			<label class="ml-auto flex items-center gap-1 text-soft"
				><input type="checkbox" class="accent-(--color-accent)" bind:checked={only} />only what is off</label
			>
			<button type="button" class="text-xs underline" onclick={save}>CSV</button>
		</p>
		{#if laid.left.values > 0 || laid.left.readings > 0}
			<p class="text-[11.5px] text-soft">
				{laid.left.values > 0 ? `The last ${laid.left.values} of the log’s values are left out. ` : ''}{laid.left.readings > 0
					? `Of the readings only the first ${MOST_READ} are looked at.`
					: ''}
			</p>
		{/if}
		<p class="text-[11.5px] text-soft">
			{laid.as === 'counts' && unitOf(replay) !== '' && laid.rows.some(({ said }) => said !== undefined && /^\d+$/.test(said))
				? 'Whole numbers without a unit are taken as counts.'
				: ''}
			{laid.passed.length > 0 ? `${laid.passed.length === 1 ? 'One line holds' : `${laid.passed.length} lines hold`} no number.` : ''}
		</p>
		<div class="min-h-0 flex-1 overflow-y-auto">
			<table class="w-full text-[12px]">
				<thead class="sticky top-0 bg-paper text-left text-xs text-soft"
					><tr class="[&_th]:font-normal [&_th:not(:first-child)]:text-right"
						><th>at</th><th>counts</th><th>would read</th><th>log says</th><th class="pl-2 text-left!"
							><span class="sr-only">whether they agree</span></th
						></tr
					></thead
				>
				<tbody>
					{#each shown as { reading, said, line, agrees }, i (i)}
						<tr class={['border-b [&_td]:py-0.5 [&_td:not(:first-child)]:text-right', agrees !== true && 'bg-fault-wash']}>
							<td>
								{#if reading !== undefined}<button
										type="button"
										class="num underline decoration-dotted hover:text-accent"
										title="Show this moment"
										onclick={() => onShow(replay.at[reading] * seconds)}>{(replay.at[reading] * seconds).toPrecision(6)}&#8239;s</button
									>{/if}
							</td>
							<td class="num">{reading === undefined ? '' : replay.counts[reading]}</td>
							<td
								>{#if reading !== undefined}<Num value={readingOf(replay, reading)} unit={unitOf(replay)} digits={6} />{/if}</td
							>
							<td class="num" title={line === undefined ? undefined : `line ${line}`}>{said ?? ''}</td>
							<td class="pl-2 text-left! text-fault"
								>{agrees
									? ''
									: reading === undefined
										? 'no reading'
										: said === undefined
											? 'not said'
											: replay.wrong[reading] || 'differs'}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
			<MoreReadings all={listed.length} bind:drawn={most} />
		</div>
	{:else}
		<p class="pt-1 text-[12.5px] text-soft">
			{stimulus.log.trim() === '' ? 'Nothing is pasted yet.' : 'No line of it holds a number.'}
		</p>
	{/if}
</div>
