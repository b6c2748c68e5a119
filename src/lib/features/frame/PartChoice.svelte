<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import { onMount } from 'svelte';
	import Dialog from '../../components/Dialog.svelte';
	import { differences, readProfile, type PartProfile } from '../../../core/part/index.js';
	import { call } from '../../session/api.js';
	import { offerUndo } from '../../session/edits.js';
	import type { LoadedPart, PartSummary } from '../../session/listing.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { profilePlace } from '../../text/index.js';

	interface Props {
		session: PlanSession;
		onClose: () => void;
	}
	let { session, onClose }: Props = $props();

	const SHOWN = 200;

	let open = $state(true);
	let shelf = $state.raw<PartSummary[]>();
	let other = $state.raw<PartProfile>();
	let failed = $state('');
	let key = $state('');
	const own = $derived(session.plan.part);
	const found = $derived(other ? differences(own, other) : []);

	onMount(async () => {
		try {
			const found = await call<PartSummary[]>('GET', '/api/parts');
			// The newest of the same id is what this plan would take: one's own stand behind the shipped ones, the newest first.
			await choose(
				(found.find(({ id, shipped }) => id === own.id && !shipped) ?? found.find(({ id }) => id === own.id) ?? found[0])?.key ?? ''
			);
			shelf = found;
		} catch (error) {
			failed = error instanceof Error ? error.message : String(error);
		}
	});

	async function choose(wanted: string) {
		key = wanted;
		other = undefined;
		const { text } = await call<LoadedPart>('GET', `/api/parts/${wanted}`);
		const part = readProfile(JSON.parse(text));
		if (key === wanted) other = part;
	}

	async function change(wanted: string) {
		try {
			await choose(wanted);
		} catch (error) {
			failed = error instanceof Error ? error.message : String(error);
		}
	}

	function take() {
		session.set(['part'], other, `take ${other!.name} from the shelf`);
		offerUndo(session, `The plan now stands on ${other!.name} as it is on the shelf.`);
		onClose();
	}

	function short(value: unknown): string {
		if (value === undefined) return '—';
		const text = typeof value === 'string' ? value : JSON.stringify(value);
		return text.length > 90 ? `${text.slice(0, 88)} …` : text;
	}
</script>

<Dialog bind:open size="lg" label="Part of this plan" {onClose}>
	<h2 class="font-serif text-xl font-semibold">The part of this plan</h2>
	<p class="text-[13px] text-soft">
		The plan keeps its own snapshot of {own.name}, so that nothing changes under it. Here it is held against the shelf; taking one is a
		single step that can be undone.
	</p>
	{#if failed}
		<p role="alert" class="text-fault">The shelf could not be read: {failed}.</p>
	{:else if !shelf}
		<p class="text-soft" role="status">reading the shelf …</p>
	{:else}
		<label class="flex items-baseline gap-2 text-[14px]">
			<span>Hold against</span>
			<Choice class="px-2 py-1" value={key} aria-label="Profile on the shelf" onchange={(event) => void change(event.currentTarget.value)}>
				{#each shelf as { key, name } (key)}<option value={key}>{name}</option>{/each}
			</Choice>
		</label>
		<div data-testid="differences">
			{#if found.length === 0}
				<p>They are the same.</p>
			{:else}
				<p class="mb-1 text-[13px]"><b>{found.length} {found.length === 1 ? 'difference' : 'differences'}</b></p>
				<div class="max-h-72 overflow-y-auto border">
					<table class="w-full text-[12.5px]">
						<thead class="text-left text-[11.5px] text-soft [&_th]:px-2 [&_th]:font-normal"
							><tr><th>place</th><th>in the plan</th><th>on the shelf</th></tr></thead
						>
						<tbody class="[&_td]:px-2 [&_td]:py-0.5 [&_td]:align-top [&_tr]:border-t">
							{#each found.slice(0, SHOWN) as { path, before, after } (path.join('/'))}
								<tr
									><td class="whitespace-nowrap">{profilePlace(path, undefined)}</td><td class="num break-all">{short(before)}</td><td
										class="num break-all">{short(after)}</td
									></tr
								>
							{/each}
						</tbody>
					</table>
					{#if found.length > SHOWN}<p class="px-2 text-[12px] text-soft">and {found.length - SHOWN} more</p>{/if}
				</div>
			{/if}
		</div>
	{/if}
	<div class="flex justify-end gap-2">
		<button type="button" class="btn" onclick={onClose}>{found.length > 0 ? 'Keep mine' : 'Close'}</button>
		<button type="button" class="btn-main" disabled={found.length === 0} onclick={take}>Take it</button>
	</div>
</Dialog>
