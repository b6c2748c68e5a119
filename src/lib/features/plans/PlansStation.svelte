<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import FindField from '../../components/FindField.svelte';
	import MoreRows from '../../components/MoreRows.svelte';
	import { refreshPending } from '../../session/pending.svelte.js';
	import { goto, invalidateAll } from '$app/navigation';
	import Dialog from '../../components/Dialog.svelte';
	import { call } from '../../session/api.js';
	import { exportPlan } from '../../components/export.js';
	import type { PlanSummary } from '../../session/listing.js';
	import { notices } from '../../session/notices.svelte.js';
	import { sendArchive } from '../../session/archive.js';
	import { attempt } from '../../session/attempt.js';
	import type { LoadedPlan } from '../../../core/plan/index.js';
	import { intakeText, OUTCOME, takenText, verdictOn } from '../../text/index.js';
	import Frame from '../frame/Frame.svelte';
	import TinyWave from './TinyWave.svelte';

	/** All plans, and the parts that a new one can have. */
	interface Props {
		plans: PlanSummary[];
		parts: { id: string; name: string; summary: string }[];
	}
	let { plans, parts }: Props = $props();

	let making = $state(false);
	let name = $state('');
	let part = $state('');
	let filter = $state('');
	/** How many are drawn; finding looks at all. */
	let many = $state(100);
	let file: HTMLInputElement;
	const shown = $derived(plans.filter((p) => `${p.name} ${p.part}`.toLowerCase().includes(filter.trim().toLowerCase())));

	function openMaker() {
		name = '';
		part = parts[0]?.id ?? '';
		making = true;
	}

	function make(event: SubmitEvent) {
		event.preventDefault();
		void attempt('The plan could not be made', async () => {
			const { id } = await call<{ id: string }>('POST', '/api/plans', { name: name.trim(), part });
			await goto(`/plan/${id}/aims`);
		});
	}

	/** The name of an archive that is on its way in. */
	let taking = $state('');

	async function takeArchive(archive: File) {
		taking = archive.name;
		await attempt(`${archive.name} could not be taken in`, async () => {
			const intake = await sendArchive(archive);
			await invalidateAll();
			for (const one of intake.taken) if (one.fate === 'refused') notices.fault(`${takenText(one)}.`);
			if (intake.broken === undefined) notices.say(`${archive.name}: ${intakeText(intake.taken)}.`);
			else notices.fault(`${archive.name}: ${intakeText(intake.taken)}; then it ended: ${intake.broken}.`);
		});
		taking = '';
	}

	function importFile(files: FileList | null) {
		const chosen = files?.[0];
		if (!chosen) return;
		if (chosen.name.endsWith('.gz')) void takeArchive(chosen);
		else void openPlanFile(chosen);
		file.value = '';
	}

	const openPlanFile = (chosen: File) =>
		attempt(`${chosen.name} could not be read`, async () => {
			let document: unknown;
			try {
				document = JSON.parse(await chosen.text());
			} catch (error) {
				throw new Error(`it is no JSON (${error instanceof Error ? error.message : ''}); a plan file saved by Nolvet is wanted`, {
					cause: error
				});
			}
			const { id } = await call<{ id: string }>('POST', '/api/plans', { document });
			await goto(`/plan/${id}/aims`);
		});

	const duplicate = (id: string, from: string) =>
		attempt('The plan could not be copied', async () => {
			await call('POST', `/api/plans/${id}/copy`, { name: `${from} copy`.slice(0, 120) });
			await invalidateAll();
		});

	const save = (id: string) =>
		attempt('The plan could not be saved as a file', async () => {
			const { document, revision, savedOn } = await call<LoadedPlan>('GET', `/api/plans/${id}`);
			exportPlan(document, { revision, date: savedOn });
		});

	const setDeleted = (id: string, deleted: boolean, what: string) =>
		attempt(`${what} could not be ${deleted ? 'deleted' : 'brought back'}`, async () => {
			await call('PATCH', `/api/plans/${id}`, { deleted });
			await invalidateAll();
			if (deleted) notices.say(`${what} was deleted.`, { label: 'Undo', run: () => void setDeleted(id, false, what) });
		});

	function when(iso: string): string {
		return new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
	}

	refreshPending(() => plans);
</script>

<svelte:head><title>Plans · Nolvet</title></svelte:head>

<Frame station="plans">
	{#snippet top()}
		<h1 class="font-serif text-[17px] font-semibold">Plans</h1>
		{#if plans.length > 0}<FindField slash class="ml-auto w-56 py-1" label="Find a plan" bind:value={filter} />{/if}
		<a
			class={['btn', plans.length === 0 && 'ml-auto']}
			href="/api/backup"
			download
			data-sveltekit-reload
			title="All plans with their history and recordings, and your own parts, as one archive">Back up all</a
		>
		<button type="button" class="btn" disabled={taking !== ''} title="A plan file, or an archive of a backup" onclick={() => file.click()}
			>{taking === '' ? 'Open a file' : `taking in ${taking} …`}</button
		>
		<button type="button" class="btn-main" onclick={openMaker}>New plan</button>
		<input
			bind:this={file}
			type="file"
			accept=".json,application/json,.gz,application/gzip"
			class="hidden"
			aria-label="Plan file"
			onchange={() => importFile(file.files)}
		/>
	{/snippet}
	{#snippet foot()}
		<span class="text-soft"
			>{plans.length} {plans.length === 1 ? 'plan' : 'plans'}, {plans.filter((p) => p.faults > 0).length} with faults</span
		>
	{/snippet}
	<div class="h-full overflow-y-auto px-5 py-4">
		{#if plans.length === 0}
			<div class="mx-auto mt-24 max-w-md text-center">
				<p class="font-serif text-lg">A plan holds the signals of one board, and why its timers are set as they are.</p>
				<p class="mt-1 mb-4 text-soft">Start with a part, then say what signals you want.</p>
				<button type="button" class="btn-main" onclick={openMaker}>Make the first plan</button>
			</div>
		{:else}
			<ul class="grid grid-cols-1 gap-3">
				{#each shown.slice(0, many) as plan (plan.id)}
					<li
						class="grid grid-cols-[minmax(0,1.5fr)_11rem_minmax(0,1fr)_auto] items-center gap-5 rounded-xs border bg-card px-4 py-3"
						data-testid="plan"
					>
						<div class="min-w-0">
							<a href="/plan/{plan.id}/aims" class="block truncate font-serif text-[19px] font-semibold hover:text-accent"
								>{plan.name || 'Unnamed plan'}</a
							>
							<p class="truncate text-[13px] text-soft">
								{plan.part} · {plan.aims}
								{plan.aims === 1 ? 'aim' : 'aims'} · revision {plan.revision} · saved {when(plan.savedAt)}
							</p>
						</div>
						<TinyWave wave={plan.wave} />
						<div class="min-w-0 text-[13px]">
							{#if plan.pending}
								<p class="text-soft">being looked at …</p>
							{:else if plan.unreadable}
								<p class="text-fault">Cannot be read: {plan.unreadable}</p>
							{:else}
								<p class={plan.faults > 0 ? 'font-bold text-fault' : plan.warnings > 0 ? 'text-warn' : ''}>
									{plan.faults + plan.warnings === 0
										? 'every aim is met'
										: `${plan.faults} ${plan.faults === 1 ? 'fault' : 'faults'}, ${plan.warnings} ${plan.warnings === 1 ? 'warning' : 'warnings'}`}
								</p>
								<p class="truncate text-soft">
									{#if plan.verdict}
										<b class={plan.verdict.outcome === 'outside' ? 'text-fault' : ''}>{OUTCOME[plan.verdict.outcome]}</b>: {verdictOn(
											plan.verdict,
											plan.revision
										)}
									{:else}not measured yet{/if}
								</p>
							{/if}
						</div>
						<div class="flex gap-1.5 text-[13px]">
							<a class="btn" href="/plan/{plan.id}/aims">Open</a>
							<button type="button" class="btn" onclick={() => duplicate(plan.id, plan.name)}>Copy</button>
							<button type="button" class="btn" onclick={() => save(plan.id)}>Save as file</button>
							<button type="button" class="btn" onclick={() => setDeleted(plan.id, true, plan.name)}>Delete</button>
						</div>
					</li>
				{:else}
					<li class="py-8 text-center text-soft">
						No plan of that name. <button type="button" class="underline" onclick={() => (filter = '')}>Show all</button>
					</li>
				{/each}
				<MoreRows all={shown.length} bind:drawn={many} />
			</ul>
		{/if}
	</div>
</Frame>

<Dialog bind:open={making} size="sm" label="New plan">
	<h2 class="font-serif text-xl font-semibold">New plan</h2>
	<form class="grid gap-4" onsubmit={make}>
		<label class="grid gap-1">
			<span class="text-[13px] text-soft">Name</span>
			<!-- svelte-ignore a11y_autofocus -->
			<input
				class="plain-select px-2 py-1.5 text-[15px]"
				bind:value={name}
				maxlength="120"
				required
				autofocus
				placeholder="What board, what job"
			/>
		</label>
		<label class="grid gap-1">
			<span class="text-[13px] text-soft">Part</span>
			<Choice class="px-2 py-1.5 text-[15px]" bind:value={part}>
				{#each parts as p (p.id)}<option value={p.id}>{p.name}</option>{/each}
			</Choice>
			<span class="text-[13px] text-soft">{parts.find((p) => p.id === part)?.summary ?? ''}</span>
		</label>
		<div class="flex justify-end gap-2">
			<button type="button" class="btn" onclick={() => (making = false)}>Cancel</button>
			<button type="submit" class="btn-main" disabled={name.trim() === ''}>Make the plan</button>
		</div>
	</form>
</Dialog>
