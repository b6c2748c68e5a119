<script lang="ts">
	import TabItem from 'flowbite-svelte/TabItem.svelte';
	import Tabs from 'flowbite-svelte/Tabs.svelte';
	import { type Aim, type AimOf, kindOf } from '../../../core/aims/index.js';
	import { countsPeriods } from '../../../core/plan/index.js';
	import { stimulusKinds } from '../../../core/predict/index.js';
	import type { PlanPrediction } from './prediction.svelte.js';
	import type { RecordingShelf } from '../../session/recordings.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import AveragedPanel from './AveragedPanel.svelte';
	import ChangesPanel from './ChangesPanel.svelte';
	import StimulusPanel from './StimulusPanel.svelte';

	/** What belongs to a planned aim on the bench: what comes to its inputs, what is written while it runs, what a filter makes of it. */
	interface Props {
		session: PlanSession;
		shelf: RecordingShelf;
		prediction: PlanPrediction;
		aim: Aim;
		tab: string;
		onTab: (tab: string) => void;
		onShow: (seconds: number) => void;
		/** Brings all of the aim's own time into view. */
		onFit: () => void;
		onClose: () => void;
	}
	let { session, shelf, prediction, aim, tab, onTab, onShow, onFit, onClose }: Props = $props();

	const tabs = $derived<[string, string][]>([
		...(stimulusKinds(aim).length > 0 ? [['input', 'What comes in'] satisfies [string, string]] : []),
		...(kindOf(aim).feedsUpdates ? [['averaged', 'Averaged'] satisfies [string, string]] : []),
		...(countsPeriods(aim) && !kindOf(aim).feedsUpdates ? [['writes', 'Written while it runs'] satisfies [string, string]] : [])
	]);
	const shown = $derived(tabs.find(([key]) => key === tab)?.[0] ?? tabs[0]?.[0]);
</script>

<section
	class="relative grid h-[18.5rem] grid-rows-[2.1rem_minmax(0,1fr)] border-t bg-card/60"
	aria-label="{aim.name || 'Aim'} on the bench"
	data-testid="aim-bench"
>
	{#if tabs.length === 0}
		<div class="flex items-center gap-3 border-b px-4">{@render head()}{@render ends()}</div>
		<p class="m-auto max-w-md text-center text-[13.5px] text-soft">
			Nothing comes to this aim from outside, and nothing is written to its timer while it runs.
		</p>
	{:else}
		<Tabs
			divider={false}
			class="items-center gap-3 space-x-0 border-b pr-72 pl-[14.5rem]"
			classes={{
				content: 'm-0 min-h-0 rounded-none bg-transparent p-0 dark:bg-transparent',
				active: 'border-accent bg-transparent p-0 font-semibold text-accent dark:bg-transparent dark:text-accent'
			}}
		>
			{#each tabs as [key, text] (key)}
				<TabItem
					bind:open={() => shown === key, (open) => open && onTab(key)}
					{key}
					title={text}
					class="h-full"
					inactiveClass="border-transparent text-soft hover:bg-transparent hover:text-accent dark:text-soft dark:hover:bg-transparent dark:hover:text-accent"
					classes={{ button: 'h-full border-b-2 px-1 text-[13px] font-normal' }}
				>
					{#if key === 'input'}
						<StimulusPanel {session} {shelf} {prediction} {aim} {onShow} />
					{:else if key === 'averaged'}
						<AveragedPanel {session} {prediction} aim={aim as AimOf<'table'>} />
					{:else}
						<ChangesPanel {session} {prediction} timer={aim.timer} {onShow} />
					{/if}
				</TabItem>
			{/each}
		</Tabs>
		<div class="pointer-events-none absolute top-1 left-4 w-50">{@render head()}</div>
		<div class="absolute top-1 right-4 flex items-center gap-3">{@render ends()}</div>
	{/if}
</section>

{#snippet head()}<b class="block truncate font-serif text-[16px]">{aim.name || 'unnamed aim'}</b>{/snippet}
{#snippet ends()}
	<button type="button" class="ml-auto text-[12.5px] underline hover:text-accent" onclick={onFit}>all of its time</button>
	<a class="text-[12.5px] underline hover:text-accent" href="/plan/{session.id}/aims#{aim.id}">its sentence</a>
	<button type="button" class="btn px-2 py-0" aria-label="Close" onclick={onClose}>×</button>
{/snippet}
