<script lang="ts">
	import { untrack } from 'svelte';
	import { Rational } from '../../../core/exact/index.js';
	import { type ChangeProblem, type DerivedRow, deriveChanges } from '../../../core/predict/index.js';
	import type { FieldProblem } from '../../../core/aims/index.js';
	import { type ChangeList, type ChangeRow, removeStep } from '../../../core/plan/index.js';
	import { addListStep, addRowStep, freshSteps, frequencySteps, listSentence, type StepProblems, type StepWish } from './changeSteps.js';
	import { offerUndo } from '../../session/edits.js';
	import type { PlanPrediction } from './prediction.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { findingText, problemText } from '../../text/index.js';
	import Num from '../../components/Num.svelte';
	import Sentence from '../../components/Sentence.svelte';
	import TypedField from '../../components/TypedField.svelte';

	/** What software writes to a timer while it runs, row by row, and what becomes of it with and without buffers. */
	interface Props {
		session: PlanSession;
		prediction: PlanPrediction;
		/** The timer's id. */
		timer: string;
		onShow: (seconds: number) => void;
	}
	let { session, prediction, timer, onShow }: Props = $props();

	const at = $derived(session.plan.changes.findIndex((list) => list.timer === timer));
	const list = $derived(at < 0 ? undefined : session.plan.changes[at]);
	const made = $derived(list && deriveChanges(session.derivation)[at]);
	const name = $derived(session.plan.part.timers.find(({ id }) => id === timer)?.name ?? timer);
	const outcomes = $derived(prediction.outcomes.filter((one) => one.list === list?.id));
	let wish = $state<StepWish>(untrack(() => freshSteps(session.plan, timer)));
	let wishProblems = $state.raw<StepProblems>({});

	const said = $derived((made?.problems ?? []).filter((one) => one.code !== 'change-field'));

	function fieldProblem(field: string, row?: string): FieldProblem | undefined {
		const found = made?.problems.find((one) => one.code === 'change-field' && one.field === field && one.row === row);
		return found?.code === 'change-field' ? found.problem : undefined;
	}

	function set(path: (string | number)[], text: string, first: boolean) {
		session.set(['changes', at, ...path], text, `set writes to ${name}`, !first);
	}

	function addRow() {
		if (!made || !list) return;
		const number = Math.max(0, ...list.rows.map(({ id }) => Number(id.slice(4)) || 0)) + 1;
		session.edit(addRowStep(session.plan, made, `row-${number}`));
	}

	function makeSteps() {
		if (!made) return;
		const { step, problems } = frequencySteps(session.plan, made, wish);
		wishProblems = problems;
		if (step) session.edit(step);
	}

	function remove() {
		if (at < 0) return;
		session.edit(removeStep(session.plan, ['changes', at], `remove the writes to ${name}`));
		offerUndo(session, `The writes to ${name} are removed.`);
	}

	function textOf(problem: ChangeProblem): string {
		const { row, ...rest } = problem;
		const place = row === undefined ? '' : `Row ${(list?.rows.findIndex(({ id }) => id === row) ?? 0) + 1}: `;
		return place + findingText({ ...rest, change: { timer } });
	}

	/** The fields of a row, each with its place in it. */
	function cellsOf({ pace }: ChangeList, { at, rate, prescale, duties }: ChangeRow) {
		const time = { field: 'at', path: ['at'], value: at, label: 'Time' };
		return [
			...(pace === 'times' ? [time] : []),
			{ field: 'rate', path: ['rate'], value: rate, label: 'Rate' },
			{ field: 'prescale', path: ['prescale'], value: prescale, label: 'Prescale' },
			...(made?.channels ?? []).map(({ channel, aim: { name } }) => ({
				field: `duty ${channel}`,
				path: ['duties', channel],
				value: duties[channel] ?? '',
				label: `Duty of ${name || channel}`
			}))
		];
	}

	const comesTo = (row: DerivedRow, channel: string) => Rational.ratio(row.active[channel], Math.max(1, row.ticks));
</script>

<div class="flex h-full min-h-0 flex-col px-4 py-1" data-testid="changes">
	{#if !list}
		<div class="m-auto max-w-md text-center text-[13.5px]">
			<p>Nothing is written to {name} while it runs.</p>
			<p class="mt-1 text-soft">A list says what software writes when: steps of frequency, new duties, another prescale.</p>
			<button type="button" class="mt-3 btn-main" onclick={() => session.edit(addListStep(session.plan, timer, name))}
				>Add a list of writes</button
			>
		</div>
	{:else}
		<div class="flex items-start gap-3">
			<Sentence
				small
				tokens={listSentence(list)}
				{name}
				valueOf={(key) => String((list as unknown as Record<string, unknown>)[key] ?? '')}
				problems={Object.fromEntries(['every', 'lag', 'apart'].map((field) => [field, fieldProblem(field)]))}
				onType={(key, text, first) => set([key], text, first)}
				onChoose={(key, value) => set([key], value, true)}
			/>
			<button type="button" class="mt-1 btn shrink-0 px-2 py-0.5 text-[12.5px]" onclick={addRow}>Add a row</button>
			<button type="button" class="mt-1 btn shrink-0 px-2 py-0.5 text-[12.5px]" onclick={remove}>Remove the list</button>
		</div>
		<div class="flex flex-wrap items-baseline gap-x-5 gap-y-0.5 text-[12.5px]" data-testid="outcomes">
			{#each outcomes as outcome (outcome.outcome)}
				<span class={outcome.whatIf ? 'text-soft' : 'font-semibold'}>
					{outcome.outcome === 'buffered' ? 'Buffered' : 'Written at once'}{outcome.whatIf ? ' (what if)' : ''}:
					{#if outcome.glitches.length === 0}<span class="text-accent">every period is right</span>{:else}
						<button
							type="button"
							class="text-fault underline"
							title="Show the first"
							onclick={() => onShow(outcome.glitches[0].at * prediction.unit.toNumber())}
							>{outcome.glitches.length}
							{outcome.glitches.length === 1 ? 'period' : 'periods'} wrong, the first at {(
								outcome.glitches[0].at *
								prediction.unit.toNumber() *
								1000
							).toPrecision(6)}&#8239;ms</button
						>{/if}
				</span>
			{/each}
			{#each said as problem, i (i)}
				<span class={problem.severity === 'fault' ? 'text-fault' : 'text-warn'}>{textOf(problem)}</span>
			{/each}
		</div>
		<div class="mt-1 min-h-0 flex-1 overflow-auto">
			<table class="w-full text-[12.5px]">
				<thead class="sticky top-0 z-10 bg-paper text-xs text-soft"
					><tr class="text-left [&_th]:pr-3 [&_th]:font-normal">
						<th><span class="sr-only">row</span></th>{#if list.pace === 'times'}<th>at</th>{/if}<th>rate or period</th><th>prescale</th
						>{#each made?.channels ?? [] as channel (channel.channel)}<th>duty of {channel.aim.name || channel.channel}</th>{/each}<th
							>comes to</th
						><th><span class="sr-only">actions</span></th></tr
					></thead
				>
				<tbody>
					{#each list.rows as row, i (row.id)}
						{@const found = made?.rows.find((one) => one.row.id === row.id)}
						<tr class="border-b [&_td]:py-0.5 [&_td]:pr-3">
							<td class="num text-soft">{i + 1}</td>
							{#each cellsOf(list, row) as one (one.field)}
								{@const problem = fieldProblem(one.field, row.id)}
								<td
									><TypedField
										small
										label="{one.label} of row {i + 1}"
										value={one.value}
										least={6}
										problem={problem && problemText(problem)}
										onInput={(text, first) => set(['rows', i, ...one.path], text, first)}
									/></td
								>
							{/each}
							<td class="min-w-40">
								{#if found}
									<Num value={found.hz} unit="Hz" digits={6} />{#each made?.channels ?? [] as { channel } (channel)}, <Num
											value={comesTo(found, channel)}
											unit="%"
											digits={5}
										/>{/each}
									<span class="num text-[11.5px] text-soft">
										reload {found.reload}{#each Object.values(found.writes.compare) as compare, k (k)}, compare {compare}{/each}</span
									>
								{/if}
							</td>
							<td
								><button
									type="button"
									class="px-1 text-soft hover:text-fault"
									aria-label="Remove row {i + 1}"
									onclick={() => session.edit(removeStep(session.plan, ['changes', at, 'rows', i], 'remove a row of writes'))}>×</button
								></td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
		<form
			class="flex flex-wrap items-baseline gap-1.5 border-t pt-1 font-serif text-[14px] text-soft"
			onsubmit={(event) => {
				event.preventDefault();
				makeSteps();
			}}
		>
			Steps of frequency, each keeping its duty: from
			{#each [['from', 'to', 'First rate of the steps'], ['to', 'in', 'Last rate of the steps'], ['count', list.pace === 'times' ? 'steps, one every' : 'steps', 'How many steps'], ...(list.pace === 'times' ? [['apart', '', 'Time between two steps'] as const] : [])] as const as [key, after, label] (key)}
				{@const problem = wishProblems[key]}
				<TypedField
					small
					{label}
					value={wish[key]}
					problem={problem && problemText(problem)}
					onInput={(text) => {
						wish[key] = text;
						wishProblems = {};
					}}
				/>
				{after}
			{/each}
			<button type="submit" class="btn px-2 py-0 font-sans text-[12.5px]"
				>{list.rows.length > 0 ? 'Make these the rows' : 'Make the rows'}</button
			>
		</form>
	{/if}
</div>
