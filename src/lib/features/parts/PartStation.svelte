<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { call } from '../../session/api.js';
	import { fileName, saveFile } from '../../components/export.js';
	import { findingKeys, undoKeys } from '../frame/keys.js';
	import type { LoadedPart } from '../../session/listing.js';
	import { notices } from '../../session/notices.svelte.js';
	import { BrowserKeeper, forget, leftAt, type Left } from '../../session/keeper.js';
	import LeaveGuard from '../frame/LeaveGuard.svelte';
	import { PartSession, type LeftText } from './part.svelte.js';
	import { attempt } from '../../session/attempt.js';
	import { documentText, profilePlace } from '../../text/index.js';
	import FindingSteps from '../frame/FindingSteps.svelte';
	import Frame from '../frame/Frame.svelte';
	import PartEditor from './PartEditor.svelte';
	import UndoButtons from '../../components/UndoButtons.svelte';

	let { part }: { part: LoadedPart } = $props();

	const session = $derived(untrackedSession(part));
	let editor = $state<PartEditor>();
	let at = $state(0);
	const name = $derived(typeof session.document?.name === 'string' ? session.document.name : 'Unnamed part');
	const shown = $derived(session.findings[Math.min(at, session.findings.length - 1)]);
	const back = $derived(page.url.searchParams.get('plan'));
	const query = $derived(back ? `?plan=${back}` : '');
	let fresh = true;

	function untrackedSession(opened: LoadedPart): PartSession {
		return untrack(() => new PartSession(opened, opened.shipped ? undefined : new BrowserKeeper(`part ${opened.key}`)));
	}

	function step(by: 1 | -1) {
		if (session.findings.length === 0) return;
		at = (at + by + session.findings.length) % session.findings.length;
		editor?.show(session.findings[at].path);
	}

	const CALM = 'Nothing is lost; try again.';

	const copy = () =>
		attempt(
			'The copy could not be made',
			async () => {
				const text = session.document
					? JSON.stringify({ ...session.document, name: `${name} copy`.slice(0, 80) }, null, '\t')
					: session.text;
				const { key } = await call<{ key: string }>('POST', '/api/parts', { text });
				notices.say(`A copy of ${name} stands on the shelf; it can be changed freely.`);
				await goto(`/parts/${key}${query}`);
			},
			CALM
		);

	const keepMine = () =>
		attempt(
			'The copy could not be made',
			async () => {
				const key = await session.keepAsCopy();
				await goto(`/parts/${key}${query}`);
			},
			CALM
		);

	function onKey(event: KeyboardEvent) {
		const by = findingKeys(event);
		if (by) step(by);
		undoKeys(event, session);
	}

	/** Texts that tabs have left unsaved. */
	let left = $state.raw<Left<LeftText>[]>([]);
	onMount(async () => {
		const found = await leftAt<LeftText>(`part ${part.key}`);
		for (const { key, value } of found) if (value.text === part.text) void forget(key);
		left = found.filter(({ value }) => value.text !== part.text);
	});

	function settle({ key, value }: Left<LeftText>, taken: boolean) {
		if (taken) session.write(value.text, 'take up what was not saved');
		left = left.filter((one) => one.key !== key);
		void forget(key);
	}
</script>

<svelte:head><title>{name} · Nolvet</title></svelte:head>
<svelte:window
	onkeydown={onKey}
	onbeforeunload={(event) => {
		if (session.losable) event.preventDefault();
	}}
	onpagehide={() => void session.flush()}
/>
<svelte:document onvisibilitychange={() => void session.flush()} />

<Frame station="parts" {...back ? { planId: back } : {}}>
	{#snippet top()}
		<a class="text-soft hover:text-accent" href="/parts{query}">Parts</a>
		<span class="text-soft">›</span>
		{#if session.shipped || !session.document}
			<h1 class="truncate font-serif text-[17px] font-semibold">{name}</h1>
		{:else}
			<input
				class="w-72 min-w-24 truncate rounded-xs border border-transparent bg-transparent px-1 py-0.5 font-serif text-[17px] font-semibold hover:border-rule focus:border-accent focus:ring-0"
				aria-label="Name of the part"
				maxlength="80"
				value={name}
				onfocus={() => (fresh = true)}
				oninput={(event) => {
					session.set(['name'], event.currentTarget.value, 'rename the part', !fresh);
					fresh = false;
				}}
			/>
		{/if}
		{#if session.shipped}
			<span class="text-[13px] text-soft">comes with Nolvet and stays as it is; copy it to change it</span>
		{:else if session.save.kind === 'stale'}
			<div role="alert" class="flex items-center gap-2 rounded-xs bg-warn-wash px-2 py-1 text-[13px]">
				<span>This profile was saved elsewhere while you edited it.</span>
				<button type="button" class="btn" onclick={() => attempt('The newer one could not be fetched', () => session.takeNewer(), CALM)}
					>Take the newer</button
				>
				<button type="button" class="btn" onclick={keepMine}>Keep mine as a copy</button>
			</div>
		{:else}
			<span
				class={['text-xs', session.save.kind === 'failed' ? 'font-bold text-fault' : 'text-soft']}
				role="status"
				data-testid="part-state"
				>{session.save.kind === 'saved'
					? 'saved'
					: session.save.kind === 'saving'
						? 'saving …'
						: `not saved: ${session.save.message}. Your edits are kept, trying again`}</span
			>
		{/if}
		{#each left.slice(0, 1) as one (one.key)}
			<div
				role="alert"
				class="flex items-center gap-2 rounded-xs bg-warn-wash px-2 py-1 text-[13px] whitespace-nowrap"
				data-testid="left-edits"
			>
				<span>Edits of {new Date(one.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })} were never saved.</span>
				<button type="button" class="btn" onclick={() => settle(one, true)}>Take up again</button>
				<button type="button" class="btn" onclick={() => settle(one, false)}>Drop</button>
			</div>
		{/each}
		<div class="ml-auto flex shrink-0 items-center gap-1.5">
			<UndoButtons
				undo={session.past.at(-1)?.label}
				redo={session.future.at(-1)?.label}
				onUndo={() => session.undo()}
				onRedo={() => session.redo()}
			/>
			<button type="button" class="btn" onclick={() => saveFile(`${fileName(name)}.part.json`, session.text, 'application/json')}
				>Save as file</button
			>
			<button type="button" class={session.shipped ? 'btn-main' : 'btn'} onclick={copy}>Copy part</button>
		</div>
	{/snippet}
	{#snippet foot()}
		<div class="flex min-w-0 items-center gap-2" data-testid="part-findings">
			<FindingSteps none={session.findings.length === 0} onStep={step} />
			{#if shown}
				<span class="shrink-0 font-bold text-fault">{session.findings.length} {session.findings.length === 1 ? 'finding' : 'findings'}</span
				>
				<button
					type="button"
					class="min-w-0 truncate text-left hover:underline"
					title="{profilePlace(shown.path, session.document)}: {documentText(shown)}"
					onclick={() => editor?.show(shown.path)}
					><b class="text-fault">{profilePlace(shown.path, session.document)}</b>: {documentText(shown)}</button
				>
			{:else}
				<span class="text-soft">The profile is valid: plans can be made with it.</span>
			{/if}
		</div>
	{/snippet}
	{#key session.key}<PartEditor bind:this={editor} {session} />{/key}
</Frame>
<LeaveGuard {session} stays={(url) => url.pathname === `/parts/${session.key}`} />
