<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { dumpSays, handOff, suspectedOf } from '../../../core/handoff/index.js';
	import type { PlainCheck } from '../../../core/suspects/index.js';
	import { readValueAs, type ValueUnit } from '../../../core/readings/index.js';
	import { csvRow } from '../../../core/formats/index.js';
	import Choice from '../../components/Choice.svelte';
	import { fileName, saveFile } from '../../components/export.js';
	import { openPlan } from '../../session/context.js';
	import { addReading } from '../../session/edits.js';
	import { heldDump, keptDump } from '../../session/keptDump.js';
	import { notices } from '../../session/notices.svelte.js';
	import { changedSince } from '../../session/pastChecks.js';
	import { readOffers } from '../../session/readOffers.js';
	import { damageText, listed, mistakeText, OUTCOME, readingTrouble, tellText, turnedAroundText } from '../../text/index.js';
	import { adopt } from './adopt.js';
	import AimVerdicts from './AimVerdicts.svelte';
	import CheckEmpty from './CheckEmpty.svelte';
	import DifferenceList from './DifferenceList.svelte';
	import EvidenceTable from './EvidenceTable.svelte';
	import PastChecks from './PastChecks.svelte';

	/** Why is the pin not doing it? All that was recorded and read of a plan, held against it. */
	const { session, recordings, check: model } = openPlan();

	$effect(() => {
		void [session.plan, model.lines, model.anything];
		return untrack(() => model.ask());
	});
	onMount(() => void model.loadPast());

	const TONE = { within: 'text-accent', outside: 'text-fault', undecided: 'text-soft' };
	let tab = $state<'evidence' | 'differences' | 'past'>('evidence');
	const check = $derived(model.result);
	const nameOf = (aim: string) => session.plan.aims.find(({ id }) => id === aim)?.name ?? aim;
	const off = $derived(check?.aims.filter(({ verdict }) => verdict === 'outside') ?? []);
	/** A dump that was laid beside the plan is one more witness. */
	const typedDump = keptDump(session.id);
	const dump = $derived(typedDump.text.trim() === '' ? undefined : heldDump(handOff(session.derivation), typedDump));
	const otherwise = $derived(dump?.quantities.filter(({ differs }) => differs) ?? []);
	const saysOf = (one: Parameters<typeof suspectedOf>[1]) => dump && dumpSays(dump, suspectedOf(session.plan, one));
	const leading = $derived(check?.suspects.find(({ explains }) => explains));
	const possible = $derived(
		(check?.suspects ?? [])
			.flatMap(({ explains, codes, where, about, ties }) => (explains ? [{ codes, where }, ...ties].map((one) => ({ ...one, about })) : []))
			.filter((one) => saysOf(one)?.word !== 'contradicts')
	);
	const first = $derived(possible.find((one) => saysOf(one)?.word === 'holds') ?? possible.at(0));
	/** What is said of it all in one sentence. */
	const sentence = $derived.by(() => {
		if (!check) return '';
		const who = off.length > 0 ? `${listed(off.map(({ name }) => name))} ${off.length === 1 ? 'is' : 'are'} outside.` : '';
		const why =
			model.state.kind === 'loading'
				? ''
				: first
					? `${mistakeText(first.codes)}: that explains it${saysOf(first) ? ', and the dump agrees' : ''}.`
					: check.suspects.length > 0
						? 'No mistake known here explains it.'
						: '';
		return [who, why].filter((text) => text !== '').join(' ') || 'Every line does what was wished.';
	});
	/** Times whose ticks are others than planned. */
	const turned = $derived((check?.turned ?? []).filter(({ ticks: [least, most], planned }) => planned < least || planned > most));
	const before = $derived(model.past.at(1));
	const changed = $derived(model.past[0] && before ? changedSince(model.past[0], before) : []);

	/** Quantities of a dump that are named at the head. */
	const MOST_OTHERWISE = 3;

	type Row = PlainCheck['evidence']['rows'][number];

	type Place = { recording: string; line: string; aim: string };

	function show({ recording, line, aim }: Place, row?: Row, at?: number) {
		if (row && !model.isPinned(row)) model.pin(row);
		const mapping = session.plan.mappings.find((one) => one.recording === recording && one.line === line && one.aim === aim);
		const moment = at === undefined ? '' : `?at=${at}`;
		void goto(`/plan/${session.id}/bench${moment}#${mapping?.id ?? `aim-${aim}`}`);
	}

	function take(row: Row) {
		const aim = check?.evidence.columns.find(
			({ aim: one }) => session.plan.aims.find(({ id }) => id === one)?.timer === row.where[0]?.timer
		)?.aim;
		const adoption = adopt(session.plan, row, aim);
		if (!adoption) {
			notices.say('There is nothing in the plan that this would change.');
			return;
		}
		session.edit(adoption.step);
		const said = {
			clock: 'The plan’s clock is now as the pins show it.',
			mapping: 'The two channels are mapped the other way round.',
			note: 'Noted on the aim, for the firmware.'
		};
		notices.say(said[adoption.kind], { label: 'Undo', run: () => void session.undo() });
	}

	const offered = $derived(readOffers(session.derivation));
	let readOf = $state('');
	let typed = $state('');
	/** Why what was typed cannot be held against it; it stays where it stands. */
	let problem = $state('');
	const chosen = $derived(offered.find(({ key }) => key === readOf) ?? offered.at(0));

	/** One reading is enough: it stands beside the recordings. */
	function addTyped(event: SubmitEvent) {
		event.preventDefault();
		if (!chosen || typed.trim() === '') return;
		const read = readValueAs(chosen.planned.unit as ValueUnit, typed, '', '');
		problem = typeof read === 'string' ? readingTrouble(read) : '';
		if (problem !== '') return;
		addReading(session, chosen, typed.trim());
		typed = '';
	}

	function save() {
		if (!check) return;
		const { columns, rows } = check.evidence;
		const head = csvRow(['suspect', ...columns.map(({ aim, role, of }) => `${nameOf(aim)} ${role} ${of}`)]);
		const lines = rows.map(({ codes, cells }) =>
			csvRow([codes.length === 0 ? 'the plan as it stands' : codes.join(' + '), ...cells.map((cell) => cell ?? '')])
		);
		saveFile(`${fileName(session.plan.name)}-evidence.csv`, [head, ...lines, ''].join('\n'), 'text/csv');
	}
</script>

{#if !model.anything}
	<CheckEmpty {session} />
{:else}
	<div class="grid h-full min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)]" data-testid="check">
		<header class="border-b bg-card px-4 py-2">
			<div class="flex items-baseline gap-4">
				{#if check}
					<h2 class={['font-serif text-[26px] leading-tight font-semibold', TONE[check.verdict]]} data-testid="plan-verdict">
						{OUTCOME[check.verdict]}
					</h2>
					<p class="text-[13px] whitespace-nowrap">
						as set <b class={TONE[check.as_set]}>{OUTCOME[check.as_set].toLowerCase()}</b>, as wished
						<b class={TONE[check.verdict]}>{OUTCOME[check.verdict].toLowerCase()}</b>
					</p>
					<p class="min-w-0 flex-1 truncate text-[14px]" data-testid="why" title={sentence}>{sentence}</p>
				{:else}
					<p class="flex-1 text-soft">
						{model.state.kind === 'failed' ? model.state.reason : model.state.kind === 'stopped' ? 'Stopped.' : 'Checking …'}
					</p>
				{/if}
				{#if model.state.kind === 'loading'}
					<progress class="meter h-2 w-28" max="1" value={model.share} aria-label="Looking for suspects"></progress>
					<button type="button" class="btn" onclick={() => model.stop()}>Stop</button>
				{:else}
					<button type="button" class="btn" onclick={() => model.again()}>Check again</button>
				{/if}
			</div>
			{#if check && (check.damage.length > 0 || changed.length > 0 || dump)}
				<p class="text-[12.5px] text-soft">
					{#if dump}
						<span class="mr-3" data-testid="dump-says">
							A <a class="text-accent underline" href="/plan/{session.id}/handoff">dump of registers</a> lies beside:
							{#if otherwise.length === 0}all that it holds is as planned.{:else}{listed(
									otherwise
										.slice(0, MOST_OTHERWISE)
										.map(({ unit, quantity, planned, read }) => `${unit} ${quantity} is ${read}, ${planned} was planned`)
								)}{otherwise.length > MOST_OTHERWISE ? `, and ${otherwise.length - MOST_OTHERWISE} more` : ''}.{/if}
						</span>
					{/if}
					{#each check.damage as one, i (i)}<span class="mr-3 text-warn">{damageText(one)}.</span>{/each}
					{#if changed.length > 0}
						Since the check before: {listed(
							changed.map(
								({ name, from, to }) =>
									`${name} ${from === undefined ? 'new,' : `from ${OUTCOME[from].toLowerCase()} to`} ${OUTCOME[to].toLowerCase()}`
							)
						)}.
					{/if}
				</p>
			{/if}
		</header>
		{#if check}
			<div class="grid min-h-0 grid-cols-[minmax(20rem,2fr)_minmax(0,3fr)]">
				<section class="flex min-h-0 min-w-0 flex-col border-r" aria-label="Aims">
					<AimVerdicts
						{check}
						recordingName={(id) => recordings.find(id)?.name ?? ''}
						href={(aim) => {
							const mapping = session.plan.mappings.find((one) => one.aim === aim.id);
							return `/plan/${session.id}/bench#${mapping?.id ?? `aim-${aim.id}`}`;
						}}
					/>
					<form class="flex flex-wrap items-center gap-2 border-t bg-card px-3 py-1.5 text-[12.5px]" onsubmit={addTyped}>
						<label class="flex items-center gap-1.5">
							Somebody read
							<input
								class="w-28 rounded-xs border bg-paper px-1.5 py-0.5"
								placeholder="23.8 Hz"
								bind:value={typed}
								oninput={() => (problem = '')}
								aria-label="A reading, with its unit"
								aria-invalid={problem !== ''}
							/>
						</label>
						<label class="flex min-w-0 items-center gap-1.5">
							of
							<Choice
								class="max-w-56 text-[12px]"
								aria-label="What was read"
								value={chosen?.key ?? ''}
								onchange={(event) => (readOf = event.currentTarget.value)}
							>
								{#each offered as { key, name } (key)}<option value={key}>{name}</option>{/each}
							</Choice>
						</label>
						<button type="submit" class="btn" disabled={typed.trim() === ''}>Hold it against the plan</button>
						{#if problem !== ''}<p class="w-full text-fault" role="alert">{problem}</p>{/if}
					</form>
				</section>
				<section class="flex min-h-0 min-w-0 flex-col" aria-label="Evidence">
					<div class="flex items-center border-b px-3 py-1 text-[13px]">
						<div class="flex gap-4" role="tablist">
							{#each [['evidence', 'Evidence'], ['differences', `Differences (${check.differences.length})`], ['past', 'Past checks']] as [id, name] (id)}
								<button
									type="button"
									role="tab"
									aria-selected={tab === id}
									class={tab === id ? 'font-bold text-accent' : 'text-soft hover:text-accent'}
									onclick={() => (tab = id as typeof tab)}>{name}</button
								>
							{/each}
						</div>
						<span class="ml-auto flex gap-3 text-[12px] text-accent">
							<button type="button" class="underline" onclick={save}>evidence as CSV</button>
							<a class="underline" href="/plan/{session.id}/report">report</a>
						</span>
					</div>
					{#if tab === 'evidence'}
						<EvidenceTable
							{check}
							{nameOf}
							recordingName={(id) => recordings.find(id)?.name ?? id}
							onShow={show}
							isPinned={(row) => model.isPinned(row)}
							onPin={(row) => model.pin(row)}
							onAdopt={take}
							{saysOf}
						/>
						<div class="max-h-32 overflow-y-auto border-t bg-card px-3 py-1.5 text-[12.5px]" data-testid="tell">
							{#if leading && leading.ties.length > 0}
								<p>
									{tellText(leading.tell, 0) ||
										'No longer recording of these lines would tell the first from the others: their clocks cover the difference.'}
								</p>
							{/if}
							{#each turned as one, i (i)}
								<p class="text-soft">{nameOf(one.aim)}: {turnedAroundText({ ...one, tick: one.tick_s, line: 0 })}.</p>
							{:else}
								{#if !first}<p class="text-soft">
										{check.suspects.length === 0
											? 'The plan as it stands explains all that was measured: there is no one to suspect.'
											: 'Nothing known here explains it; the nearest are listed.'}
									</p>{/if}
							{/each}
						</div>
					{:else if tab === 'differences'}
						<DifferenceList
							{check}
							{nameOf}
							recordingName={(id) => recordings.find(id)?.name ?? id}
							byHand={(id) => session.plan.layings[id] !== undefined}
							onShow={(one) => show(one, undefined, one.at_s)}
						/>
					{:else}
						<PastChecks past={model.past} />
					{/if}
				</section>
			</div>
		{/if}
	</div>
{/if}
