<script lang="ts">
	import { csvRow } from '../../../core/formats/index.js';
	import { MILLION } from '../../../core/exact/index.js';
	import { judgeReading, type JudgedReading } from '../../../core/readings/index.js';
	import { fileName, saveFile } from '../../components/export.js';
	import Choice from '../../components/Choice.svelte';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';
	import { offerKey, readOffers } from '../../session/readOffers.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { readingText, readingTrouble, readingWord } from '../../text/index.js';
	import InstrumentChoice from './InstrumentChoice.svelte';
	import { addReading } from '../../session/edits.js';

	/** Values that somebody has read off and typed, each held against the plan and the wish. */
	let { session }: { session: PlanSession } = $props();

	const readings = $derived(session.plan.readings);
	const derivationOf = (aim: string) => session.derivation.aims.find((one) => one.aim.id === aim);
	const offered = $derived(readOffers(session.derivation));
	const judged = $derived(
		readings.map((one) =>
			judgeReading(
				derivationOf(one.aim),
				session.derivation.clocks,
				one,
				session.plan.instruments.find(({ id }) => id === one.by)
			)
		)
	);

	const set = (i: number, field: 'value' | 'error' | 'by', text: string, first = true) =>
		session.set(['readings', i, field], text, field === 'value' ? 'type a reading' : 'change a reading', !first);

	function take(i: number, key: string) {
		const found = offered.find((one) => one.key === key);
		if (found) session.set(['readings', i], { ...readings[i], aim: found.aim, of: found.of, line: found.line }, 'read something else');
	}

	const unitOf = ({ planned }: JudgedReading) => (planned.unit === 'deg' ? '°' : planned.unit);
	/** A rate and a time are off in ppm, a share and an angle in themselves. */
	const off = ({ asSet, planned }: JudgedReading) =>
		(planned.unit === 'Hz' || planned.unit === 's') && asSet.against.sign !== 0
			? { value: asSet.deviation.div(asSet.against).mul(MILLION), unit: 'ppm' }
			: { value: asSet.deviation, unit: planned.unit === 'deg' ? '°' : planned.unit };

	function save() {
		const rows = readings.map((one, i) => {
			const found = judged[i];
			const known = typeof found === 'string' ? undefined : found;
			return csvRow([
				offered.find(({ key }) => key === offerKey(one))?.name ?? '',
				one.value,
				one.error,
				session.plan.instruments.find(({ id }) => id === one.by)?.name ?? '',
				known ? known.asSet.against.toNumber() : '',
				known ? known.value.toNumber() : '',
				known ? known.planned.unit : '',
				known ? readingText(known) : readingTrouble(found as never)
			]);
		});
		const head = csvRow(['of', 'read', 'off by', 'instrument', 'planned', 'measured', 'unit', 'says']);
		saveFile(`${fileName(session.plan.name)}-readings.csv`, [head, ...rows, ''].join('\n'), 'text/csv');
	}
</script>

<div class="flex min-h-0 min-w-0 flex-col">
	<div class="flex items-center gap-3 border-b px-3 py-1.5">
		<h2 class="text-[13px] font-bold">Readings</h2>
		<button type="button" class="btn text-[12px]" disabled={offered.length === 0} onclick={() => addReading(session, offered[0])}
			>Add a reading</button
		>
		<button type="button" class="ml-auto text-xs underline" disabled={readings.length === 0} onclick={save}>CSV</button>
	</div>
	<div class="min-h-0 flex-1 overflow-auto px-3">
		{#if readings.length === 0}
			<p class="mx-auto mt-12 max-w-md text-center text-[13px] text-soft">
				Type what a meter or a log shows, with its unit. It is held against the plan like a recording.
			</p>
		{:else}
			<table class="w-full text-[12.5px]">
				<thead>
					<tr class="text-left text-[11px] text-soft [&_th]:py-1 [&_th]:pr-2 [&_th]:font-normal">
						<th>of</th><th>read</th><th title="Empty: half of the last digit">off by</th><th>instrument</th><th class="text-right"
							>planned</th
						><th class="text-right">difference</th><th></th><th></th>
					</tr>
				</thead>
				<tbody>
					{#each readings as one, i (one.id)}
						{@const found = judged[i]}
						<tr class="border-t align-baseline [&_td]:py-1 [&_td]:pr-2" data-testid="reading">
							<td>
								<Choice
									class="max-w-44 text-[12px]"
									aria-label="Reading {i + 1} is of"
									value={offerKey(one)}
									onchange={(event) => take(i, event.currentTarget.value)}
								>
									{#if !offered.some(({ key }) => key === offerKey(one))}<option value={offerKey(one)}>nothing that is planned</option>{/if}
									{#each offered as { key, name } (key)}<option value={key}>{name}</option>{/each}
								</Choice>
							</td>
							<td>
								<TypedField
									small
									least={9}
									label="Reading {i + 1}"
									value={one.value}
									problem={typeof found === 'string' && found !== 'no-value' && found !== 'nothing-planned'
										? readingTrouble(found)
										: undefined}
									onInput={(text, first) => set(i, 'value', text, first)}
								/>
							</td>
							<td
								><TypedField
									small
									least={5}
									label="What reading {i + 1} can be off by"
									value={one.error}
									onInput={(text, first) => set(i, 'error', text, first)}
								/></td
							>
							<td><InstrumentChoice {session} value={one.by} label="Instrument of reading {i + 1}" onTake={(id) => set(i, 'by', id)} /></td>
							{#if typeof found === 'string'}
								<td colspan="2"></td>
								<td class="text-[11px] leading-tight text-soft"
									>{found === 'no-value' || found === 'nothing-planned' ? readingTrouble(found) : ''}</td
								>
							{:else}
								{@const { value, unit } = off(found)}
								<td class="text-right"><Num value={found.asSet.against} unit={unitOf(found)} digits={6} /></td>
								<td class="text-right"><Num {value} {unit} digits={3} sign /></td>
								<td
									title={readingText(found)}
									class={found.beyond
										? 'text-warn'
										: found.asSet.explained && (found.asWished ?? found.asSet).within
											? ''
											: 'font-bold text-fault'}>{readingWord(found)}</td
								>
							{/if}
							<td class="text-right">
								<button
									type="button"
									class="text-soft hover:text-fault"
									aria-label="Delete reading {i + 1}"
									onclick={() => session.remove(['readings', i], 'delete a reading')}>×</button
								>
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
	</div>
</div>
