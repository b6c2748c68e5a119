<script lang="ts">
	import { Rational, decimalText, exactText } from '../../../core/exact/index.js';
	import { csvRow } from '../../../core/formats/index.js';
	import type { Aim, Misread, Stimulus } from '../../../core/aims/index.js';
	import { fileName, saveFile } from '../../components/export.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import ReplayLog from './ReplayLog.svelte';
	import type { PlanPrediction } from './prediction.svelte.js';
	import { readingOf, truthOf, unitOf } from './readings.js';
	import { misreadText } from '../../text/index.js';
	import MoreReadings from './MoreReadings.svelte';
	import Num from '../../components/Num.svelte';

	/** What an aim reads of what comes to it: how many edges, each reading against the truth, and what was misread. */
	interface Props {
		session: PlanSession;
		prediction: PlanPrediction;
		aim: Aim;
		stimulus: Stimulus;
		onShow: (seconds: number) => void;
	}
	let { session, prediction, aim, stimulus, onShow }: Props = $props();

	/** Rows at first; a press shows as many more. */
	let most = $state(60);
	const replay = $derived(prediction.replays.find((one) => one.aim === aim.id));
	const fired = $derived(prediction.fired.find((one) => one.aim === aim.id));
	const rate = $derived(prediction.unit.inverse());
	const wrong = $derived(replay ? replay.wrong.flatMap((why, i) => (why === '' ? [] : [i])) : []);
	let only = $state(false);
	let beside = $state(false);
	const listed = $derived(replay ? (only ? wrong : Array.from(replay.at.keys())) : []);
	const shown = $derived(listed.slice(0, most));
	const kinds = $derived([...new Set(wrong.map((i) => replay!.wrong[i]))] as Misread[]);

	function save() {
		if (!replay) return;
		const unit = unitOf(replay);
		const rows = Array.from(replay.at, (at, i) =>
			csvRow([
				decimalText(Rational.int(at).mul(prediction.unit), 15),
				replay.counts[i],
				exactText(readingOf(replay, i)),
				exactText(truthOf(replay, i, prediction.unit)),
				replay.wrong[i]
			])
		);
		const head = `time (s to 15 places),counts,read (${unit || 'counts'}),true (${unit || 'counts'}),misread`;
		saveFile(`${fileName(aim.name)}-readings.csv`, [head, ...rows, ''].join('\n'), 'text/csv');
	}
</script>

<section class="flex min-h-0 flex-col border-l px-4 py-2" aria-label="Readings" data-testid="readings">
	{#if fired}
		<h2 class="text-[13px] font-bold">What it fires</h2>
		<p class="mt-1 text-[15px]">
			<b class="num">{fired.pulses}</b>
			{fired.pulses === 1 ? 'pulse' : 'pulses'} for <b class="num">{fired.edges}</b>
			{fired.edges === 1 ? 'edge' : 'edges'} that could trigger: {Math.max(0, fired.edges - fired.pulses)} fall within a pulse.
		</p>
	{:else if replay}
		<div class="flex items-baseline gap-3 text-[12.5px] whitespace-nowrap">
			<h2 class="text-[13px] font-bold">Readings</h2>
			<span
				><b class="num">{replay.edges}</b> edges, <b class="num">{replay.accepted}</b> accepted, <b class="num">{replay.at.length}</b> read,</span
			>
			<span class={wrong.length > 0 ? 'font-bold text-fault' : ''}>{wrong.length} misread</span>
			<span class="ml-auto flex items-baseline gap-2">
				{#if stimulus.kind === 'recorded'}
					<label class="flex items-center gap-1 text-soft"
						><input type="checkbox" class="accent-(--color-accent)" bind:checked={beside} />beside a log</label
					>
				{/if}
				{#if !beside}
					<label class="flex items-center gap-1 text-soft"
						><input type="checkbox" class="accent-(--color-accent)" bind:checked={only} />only those</label
					>
					<button type="button" class="text-xs underline" onclick={save}>CSV</button>
				{/if}
			</span>
		</div>
		{#if beside && stimulus.kind === 'recorded'}
			<ReplayLog {session} {prediction} {aim} {stimulus} {replay} {onShow} />
		{:else}
			{#each kinds as kind (kind)}<p class="text-[12.5px] text-fault">{misreadText(kind)}</p>{/each}
			<div class="mt-1 min-h-0 flex-1 overflow-y-auto">
				<table class="w-full text-[12px]">
					<thead class="sticky top-0 bg-paper text-left text-xs text-soft"
						><tr class="[&_th]:font-normal [&_th:not(:first-child)]:text-right"
							><th>at</th><th>counts</th><th>read</th><th>true</th><th><span class="sr-only">what is wrong</span></th></tr
						></thead
					>
					<tbody>
						{#each shown as i (i)}
							<tr class={['border-b [&_td]:py-0.5 [&_td:not(:first-child)]:text-right', replay.wrong[i] !== '' && 'bg-fault-wash']}>
								<td
									><button
										type="button"
										class="num underline decoration-dotted hover:text-accent"
										title="Show this moment"
										onclick={() => onShow(replay.at[i] / rate.toNumber())}>{(replay.at[i] / rate.toNumber()).toPrecision(6)}&#8239;s</button
									></td
								>
								<td class="num">{replay.counts[i]}</td>
								<td><Num value={readingOf(replay, i)} unit={unitOf(replay)} digits={6} /></td>
								<td><Num value={truthOf(replay, i, prediction.unit)} unit={unitOf(replay)} digits={6} /></td>
								<td class="pl-2 text-left! text-fault">{replay.wrong[i]}</td>
							</tr>
						{/each}
					</tbody>
				</table>
				<MoreReadings all={listed.length} bind:drawn={most} />
			</div>
		{/if}
	{:else}
		<p class="text-[13px] text-soft">Nothing is read: the aim is not derived yet, or nothing comes to its input.</p>
	{/if}
</section>
