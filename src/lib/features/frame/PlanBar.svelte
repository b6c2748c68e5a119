<script lang="ts">
	import type { Snippet } from 'svelte';
	import { goto } from '$app/navigation';
	import { notices } from '../../session/notices.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import Clashes from './Clashes.svelte';
	import CommandBox from './CommandBox.svelte';
	import PartChoice from './PartChoice.svelte';
	import UndoButtons from '../../components/UndoButtons.svelte';

	/** `children`: what is to be said beside the state of saving. */
	let { session, children }: { session: PlanSession; children?: Snippet } = $props();

	/** Somebody else's edits have just been taken in. */
	let taken = $state(false);
	$effect(() => {
		if (session.takenIn === 0) return;
		taken = true;
		const timer = setTimeout(() => (taken = false), 4000);
		return () => clearTimeout(timer);
	});

	const saved = $derived.by(() => {
		switch (session.save.kind) {
			case 'saved':
				return { text: 'saved', tone: 'text-soft' };
			case 'saving':
				return { text: 'saving …', tone: 'text-soft' };
			case 'failed':
				return { text: `not saved: ${session.save.message}. Your edits are kept, trying again`, tone: 'text-fault font-bold' };
			case 'stale':
				return { text: 'bringing in what was saved elsewhere …', tone: 'text-soft' };
		}
	});
	let fresh = true;
	let choosing = $state(false);
	let sorting = $state(false);

	async function keepCopy() {
		try {
			const id = await session.keepAsCopy();
			notices.say('Your edits are kept as a plan of their own.');
			await goto(`/plan/${id}/aims`);
		} catch (error) {
			notices.fault(`The copy could not be made: ${error instanceof Error ? error.message : String(error)}. Nothing is lost; try again.`);
		}
	}

	async function takeNewer() {
		try {
			await session.takeNewer();
		} catch (error) {
			notices.fault(`The newer one could not be fetched: ${error instanceof Error ? error.message : String(error)}.`);
		}
	}
</script>

<input
	class="min-w-24 shrink truncate rounded-xs border border-transparent bg-transparent px-1 py-0.5 font-serif text-[17px] font-semibold hover:border-rule focus:border-accent focus:ring-0"
	style:width="calc({Math.max(10, session.plan.name.length)}ch * 0.95 + 1.2rem)"
	aria-label="Name of the plan"
	maxlength="120"
	value={session.plan.name}
	onfocus={() => (fresh = true)}
	oninput={(event) => {
		session.set(['name'], event.currentTarget.value, 'rename the plan', !fresh);
		fresh = false;
	}}
/>
<button
	type="button"
	class="shrink-0 whitespace-nowrap text-soft underline decoration-dotted underline-offset-2 hover:text-accent"
	title="The plan’s own snapshot of its part: compare it with the shelf, or take another"
	onclick={() => (choosing = true)}>{session.plan.part.name}</button
>
{#if choosing}<PartChoice {session} onClose={() => (choosing = false)} />{/if}
{#if session.clash}
	<div
		role="alert"
		class="flex min-w-0 items-center gap-2 rounded-xs bg-warn-wash px-2 py-1 text-[13px] whitespace-nowrap text-ink"
		data-testid="clash-bar"
	>
		<span class="truncate">Saved elsewhere too (revision {session.clash.theirs.revision}), at the same place.</span>
		<button type="button" class="btn" onclick={() => (sorting = true)}>Choose …</button>
		<button type="button" class="btn" title="Yours is dropped" onclick={takeNewer}>Take the newer</button>
		<button type="button" class="btn" onclick={keepCopy}>Keep mine as a copy</button>
	</div>
	{#if sorting}<Clashes {session} bind:open={sorting} />{/if}
{:else}
	<span
		class={['shrink-0 rounded-xs px-1 num text-xs', taken ? 'bg-accent-wash text-accent' : 'text-soft']}
		title="Every saved edit makes a revision, whoever saves it">rev {session.revision}{taken ? ', saved elsewhere' : ''}</span
	>
	<span class={['min-w-0 truncate text-xs', saved.tone]} role="status" data-testid="save-state">{saved.text}</span>
{/if}
{@render children?.()}
<div class="ml-auto flex shrink-0 items-center gap-1.5">
	<UndoButtons
		undo={session.history.undo.at(-1)?.label}
		redo={session.history.redo.at(-1)?.label}
		onUndo={() => session.undo()}
		onRedo={() => session.redo()}
	/>
	<CommandBox {session} />
</div>
