<script lang="ts">
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import type { LoadedPlan, SavedStep } from '../../../core/plan/index.js';
	import { call } from '../../session/api.js';
	import { attempt } from '../../session/attempt.js';
	import { forget, leftAt, type Left } from '../../session/keeper.js';
	import { anewOn, restOf, type LeftEdits } from '../../session/left.js';
	import { notices } from '../../session/notices.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';

	/** Edits of this plan that a tab has left unsaved: they are offered, and kept until they are taken or dropped. */
	let { session, loaded }: { session: PlanSession; loaded: LoadedPlan } = $props();

	let left = $state.raw<(Left<LeftEdits> & { rest: SavedStep[] })[]>([]);
	const first = $derived(left.at(0));

	onMount(async () => {
		const found = (await leftAt<LeftEdits>(`plan ${session.id}`)).map((one) => ({ ...one, rest: restOf(one.value, loaded) }));
		for (const { key, rest } of found) if (rest.length === 0) await forget(key);
		left = found.filter(({ rest }) => rest.length > 0);
	});

	async function drop(key: string) {
		left = left.filter((one) => one.key !== key);
		await forget(key);
	}

	const anew = $derived(first && !session.clash ? anewOn(session.plan, first.rest, first.value) : undefined);

	function take({ key }: (typeof left)[number], steps: SavedStep[]) {
		session.takeLeft(steps);
		notices.say(`${counted(steps.length)} taken up again.`, { label: 'Undo', run: () => steps.forEach(() => session.undo()) });
		void drop(key);
	}

	const copy = ({ key, value }: (typeof left)[number]) =>
		attempt('The copy could not be made', async () => {
			const name = `${value.document.name} (my copy)`.slice(0, 120);
			const { id } = await call<{ id: string }>('POST', `/api/plans/${session.id}/copy`, { name, document: value.document });
			await drop(key);
			await goto(`/plan/${id}/aims`);
		});

	const counted = (n: number) => `${n} ${n === 1 ? 'edit' : 'edits'}`;
	const when = (at: number) => new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
</script>

{#if first}
	<div
		role="alert"
		class="flex min-w-0 items-center gap-2 rounded-xs bg-warn-wash px-2 py-1 text-[13px] whitespace-nowrap text-ink"
		data-testid="left-edits"
	>
		<span class="truncate" title={first.value.steps.map(({ step }) => step.label).join(', ')}
			>{counted(first.value.steps.length)} of {when(first.at)} {first.value.steps.length === 1 ? 'was' : 'were'} never saved.</span
		>
		{#if anew}
			<button type="button" class="btn" onclick={() => take(first, anew)}>Take up again</button>
		{:else}
			<button type="button" class="btn" onclick={() => copy(first)}>Keep as a copy</button>
		{/if}
		<button type="button" class="btn" onclick={() => drop(first.key)}>Drop</button>
	</div>
{/if}
