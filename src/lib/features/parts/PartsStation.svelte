<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import { cleanText } from '../../../core/part/index.js';
	import { call } from '../../session/api.js';
	import { fileName, saveFile } from '../../components/export.js';
	import type { PartSummary } from '../../session/listing.js';
	import { notices } from '../../session/notices.svelte.js';
	import { attempt } from '../../session/attempt.js';
	import { newProfileText } from './newProfile.js';
	import FindField from '../../components/FindField.svelte';
	import MoreRows from '../../components/MoreRows.svelte';
	import { refreshPending } from '../../session/pending.svelte.js';
	import Frame from '../frame/Frame.svelte';

	let { parts }: { parts: PartSummary[] } = $props();

	let filter = $state('');
	/** How many are drawn; finding looks at all. */
	let many = $state(100);
	let file: HTMLInputElement;
	const back = $derived(page.url.searchParams.get('plan'));
	const query = $derived(back ? `?plan=${back}` : '');
	const shown = $derived(parts.filter((p) => `${p.name} ${p.summary}`.toLowerCase().includes(filter.trim().toLowerCase())));

	const store = async (text: string) => goto(`/parts/${(await call<{ key: string }>('POST', '/api/parts', { text })).key}${query}`);
	const make = () => attempt('The profile could not be made', () => store(newProfileText()));

	function importFile(files: FileList | null) {
		const chosen = files?.[0];
		if (!chosen) return;
		// Whatever is in the file is kept; the editor says what is wrong with it.
		void attempt(`${chosen.name} could not be put on the shelf`, async () => store(cleanText(await chosen.text())));
		file.value = '';
	}

	const textOf = async (key: string) => (await call<{ text: string }>('GET', `/api/parts/${key}`)).text;

	const copy = (key: string, name: string) =>
		attempt('The profile could not be copied', async () => {
			const text = await textOf(key);
			let copied = text;
			try {
				copied = JSON.stringify({ ...(JSON.parse(text) as object), name: `${name} copy`.slice(0, 80) }, null, '\t');
			} catch {
				// A draft that is no JSON is copied as it is.
			}
			await call('POST', '/api/parts', { text: copied });
			await invalidateAll();
		});

	const save = (key: string, name: string) =>
		attempt('The profile could not be saved as a file', async () =>
			saveFile(`${fileName(name)}.part.json`, await textOf(key), 'application/json')
		);

	const setDeleted = (key: string, deleted: boolean, name: string) =>
		attempt(`${name} could not be ${deleted ? 'deleted' : 'brought back'}`, async () => {
			await call('PATCH', `/api/parts/${key}`, { deleted });
			await invalidateAll();
			if (deleted)
				notices.say(`${name} was deleted. Plans keep their own snapshot of it.`, {
					label: 'Undo',
					run: () => void setDeleted(key, false, name)
				});
		});

	refreshPending(() => parts);
</script>

<svelte:head><title>Parts · Nolvet</title></svelte:head>

<Frame station="parts" {...back ? { planId: back } : {}}>
	{#snippet top()}
		<h1 class="font-serif text-[17px] font-semibold">Parts</h1>
		<FindField slash class="ml-auto w-56 py-1" label="Find a part" bind:value={filter} />
		<button type="button" class="btn" onclick={() => file.click()}>Open a profile file</button>
		<button type="button" class="btn-main" onclick={make}>New profile</button>
		<input
			bind:this={file}
			type="file"
			accept=".json,application/json"
			class="hidden"
			aria-label="Profile file"
			onchange={() => importFile(file.files)}
		/>
	{/snippet}
	{#snippet foot()}
		<span class="text-soft"
			>{parts.length} profiles, {parts.filter((p) => !p.shipped).length} of your own, {parts.filter((p) => p.findings > 0).length} with findings</span
		>
	{/snippet}
	<div class="h-full overflow-y-auto px-5 py-4">
		<ul class="grid grid-cols-1 gap-3">
			{#each shown.slice(0, many) as part (part.key)}
				<li
					class="grid grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)_auto] items-center gap-5 rounded-xs border bg-card px-4 py-3"
					data-testid="part"
				>
					<div class="min-w-0">
						<a href="/parts/{part.key}{query}" class="block truncate font-serif text-[19px] font-semibold hover:text-accent">{part.name}</a>
						<p class="line-clamp-2 text-[13px] text-soft">{part.summary || 'No summary yet.'}</p>
					</div>
					<div class="text-[13px]">
						{#if part.pending}<p class="text-soft">being looked at …</p>{:else}<p>
								{part.nodes} clock nodes, {part.timers} timers, {part.pins} pins
							</p>
							{#if part.findings > 0}
								<p class="font-bold text-fault">{part.findings} {part.findings === 1 ? 'finding' : 'findings'}: not usable yet</p>
							{:else}<p class="text-soft">{part.shipped ? 'comes with Nolvet' : 'your own, valid'}</p>{/if}{/if}
					</div>
					<div class="flex gap-1.5 text-[13px]">
						<a class="btn" href="/parts/{part.key}{query}">{part.shipped ? 'Look' : 'Edit'}</a>
						<button type="button" class="btn" onclick={() => copy(part.key, part.name)}>Copy</button>
						<button type="button" class="btn" onclick={() => save(part.key, part.name)}>Save as file</button>
						{#if !part.shipped}<button type="button" class="btn" onclick={() => setDeleted(part.key, true, part.name)}>Delete</button>{/if}
					</div>
				</li>
			{:else}
				<li class="py-8 text-center text-soft">
					No part of that name. <button type="button" class="underline" onclick={() => (filter = '')}>Show all</button>
				</li>
			{/each}
			<MoreRows all={shown.length} bind:drawn={many} />
		</ul>
	</div>
</Frame>
