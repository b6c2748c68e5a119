<script lang="ts">
	import { withBlocks } from '../../../core/formats/index.js';
	import { readProfile } from '../../../core/part/index.js';
	import {
		carriedOver,
		guessBindings,
		likesOf,
		proposeBinding,
		readBinding,
		withGuesses,
		type Guesses
	} from '../../../core/registers/index.js';
	import { filesWorkers, progress } from '../../../workers/clients.js';
	import type { WireDescription } from '../../../workers/filesWire.js';
	import type { Go } from '../../../workers/pool.js';
	import FindField from '../../components/FindField.svelte';
	import { registerFindingText, svdFaultText, svdTroubleText } from '../../text/index.js';
	import { isObject } from './schemaForm.js';
	import BitDrawing from './BitDrawing.svelte';
	import { blockOf, boundOf, livingIn } from './bound.js';
	import type { PartSession } from './part.svelte.js';

	/** Where a part's registers are: blocks from an SVD file, and which quantities have a place in them. */
	let { session, onText }: { session: PartSession; onText: () => void } = $props();

	const MOST = 200;
	let reading = $state<number | undefined>();
	let going: Go = 'on';
	let file = $state('');
	let found = $state.raw<WireDescription | undefined>();
	let failed = $state('');
	let wanted = $state.raw<ReadonlySet<string>>(new Set());
	let filter = $state('');
	let guessed = $state.raw<Guesses | undefined>();
	/** Guesses that are not wanted, as "UNIT.QUANTITY". */
	let refused = $state.raw<ReadonlySet<string>>(new Set());
	let words: WireDescription['words'] = {};

	const binding = $derived(isObject(session.document?.binding) ? session.document.binding : undefined);
	const read = $derived(binding ? readBinding(binding) : undefined);
	const blocks = $derived(isObject(binding?.blocks) ? Object.entries(binding.blocks) : []);
	const bound = $derived(session.part ? boundOf(session.part) : []);
	const offered = $derived(
		found && !found.trouble ? Object.entries(found.blocks).filter(([name]) => name.toLowerCase().includes(filter.trim().toLowerCase())) : []
	);

	async function open(files: FileList | null) {
		const chosen = files?.[0];
		if (!chosen) return;
		[file, found, failed, going, reading, wanted] = [chosen.name, undefined, '', 'on', 0, new Set()];
		try {
			const told = await filesWorkers.run((worker, heard) =>
				worker.describe(
					chosen,
					progress(
						heard,
						(share: number) => (reading = share),
						() => going
					)
				)
			);
			found = told.stopped ? undefined : told;
		} catch (error) {
			failed = error instanceof Error ? error.message : String(error);
		} finally {
			reading = undefined;
		}
	}

	function toggle(name: string) {
		wanted = new Set(wanted.has(name) ? [...wanted].filter((one) => one !== name) : [...wanted, name]);
	}

	function take() {
		if (!found) return;
		const taken = Object.fromEntries(Object.entries(found.blocks).filter(([name]) => wanted.has(name)));
		session.set(['binding'], withBlocks(binding, taken), `take registers from ${file}`);
		wanted = new Set();
		words = { ...words, ...found.words };
		guess();
	}

	const SURE = 0.6;
	const keyOf = ({ unit, quantity }: { unit: string; quantity: string }) => `${unit}.${quantity}`;
	const sureText = (sure: number) => (sure >= 0.85 ? 'sure' : sure >= SURE ? 'likely' : 'a guess');
	const kept = $derived(guessed?.guesses.filter((one) => !refused.has(keyOf(one))) ?? []);

	/** Looks for what has no place yet. */
	function guess() {
		if (!session.part || !isObject(session.document?.binding)) return;
		const lacks = new Set(boundOf(session.part).flatMap(({ unit, lacks: own }) => own.map((quantity) => `${unit}.${quantity}`)));
		const own = session.document.binding;
		const said = Object.fromEntries(boundOf(session.part).flatMap(({ unit }) => (blockOf(own, unit) ? [[unit, blockOf(own, unit)!]] : [])));
		const all = guessBindings(session.part, own.blocks as never, words, said);
		guessed = { ...all, guesses: all.guesses.filter((one) => lacks.has(keyOf(one))) };
		refused = new Set(guessed.guesses.filter(({ sure }) => sure < SURE).map(keyOf));
	}

	function takeGuesses() {
		if (!guessed || !binding) return;
		session.set(['binding'], withGuesses(binding, { ...guessed, guesses: kept }), `take ${kept.length} guessed places`);
		guessed = undefined;
	}

	function refuse(key: string) {
		refused = new Set(refused.has(key) ? [...refused].filter((one) => one !== key) : [...refused, key]);
	}

	/** A layout of our own, for a part whose registers are not at hand yet. */
	function makeUp() {
		if (!session.document) return;
		const part = readProfile({ ...session.document, binding: undefined });
		session.set(['binding'], proposeBinding(part, { bits: 32, base: 0x40000000, apart: 0x400 }), 'make up registers');
	}
</script>

<div class="max-w-4xl text-[13px]" data-testid="part-registers">
	<h2 class="font-serif text-[17px] font-semibold">Registers</h2>
	<p class="py-1 text-soft">
		{blocks.length === 0
			? 'Nothing is said of registers yet: without them there is no set-up, no code and no reading back.'
			: `${blocks.length} blocks, ${read?.binding ? [...read.binding.blocks.values()].reduce((sum, one) => sum + one.registers.size, 0) : '?'} registers.`}
	</p>
	{#each read?.findings ?? [] as finding, i (i)}
		<p class="text-fault"><b>{finding.slice(1).join(' ')}</b>: {registerFindingText(finding)}</p>
	{/each}
	{#if !session.shipped}
		<div class="flex flex-wrap items-center gap-3 py-1.5">
			<label class="btn cursor-pointer"
				>Open an SVD file <input
					type="file"
					accept=".svd,.xml"
					class="sr-only"
					onchange={(event) => {
						void open(event.currentTarget.files);
						event.currentTarget.value = '';
					}}
				/></label
			>
			{#if blocks.length === 0 && session.part}<button type="button" class="btn" onclick={makeUp}>Make up registers</button>{/if}
			{#if blocks.length > 0}<button type="button" class="btn" onclick={guess}>Guess places</button>{/if}
			<button type="button" class="text-accent underline" onclick={onText}>edit bindings as text</button>
			{#if reading !== undefined}
				<progress class="meter h-2 w-28" max="1" value={reading} aria-label="Reading {file}"></progress>
				<button type="button" class="btn py-0" onclick={() => (going = 'drop')}>Stop</button>
			{/if}
		</div>
		{#if failed}<p class="text-fault">{file} could not be read: {failed}.</p>{/if}
		{#if found?.trouble}
			<p class="text-fault" data-testid="svd-trouble">
				{file}{found.trouble.line > 0 ? `, line ${found.trouble.line}, column ${found.trouble.column}` : ''}: {svdTroubleText(
					found.trouble.code
				)}.
			</p>
		{:else if found}
			<section class="rounded-xs border bg-card" aria-label="Blocks of {file}" data-testid="svd">
				<div class="flex items-center gap-3 border-b px-3 py-1.5">
					<b>{found.name || file}</b>
					<FindField class="w-48 py-0" label="Find a block" placeholder="Find a block …" bind:value={filter} />
					<button type="button" class="underline" onclick={() => (wanted = new Set(offered.map(([name]) => name)))}>all shown</button>
					<button type="button" class="underline" onclick={() => (wanted = new Set())}>none</button>
					<button type="button" class="ml-auto btn-main" disabled={wanted.size === 0} onclick={take}
						>Take {wanted.size === 1 ? '1 block' : `${wanted.size} blocks`}</button
					>
				</div>
				<ul class="grid max-h-56 grid-cols-3 gap-x-4 overflow-y-auto px-3 py-1.5">
					{#each offered.slice(0, MOST) as [name, block] (name)}
						<li>
							<label class="flex items-baseline gap-1.5">
								<input type="checkbox" class="accent-(--color-accent)" checked={wanted.has(name)} onchange={() => toggle(name)} />
								<b class="truncate">{name}</b>
								<span class="num text-soft">{block.base}</span>
								<span class="text-soft">{Object.keys(block.registers).length}</span>
							</label>
						</li>
					{:else}<li class="text-soft">No block is called so.</li>{/each}
				</ul>
				{#if offered.length > MOST}<p class="px-3 pb-1 text-soft">{offered.length - MOST} more: find them by name.</p>{/if}
				{#each found.findings.slice(0, 20) as { line, fault, of }, i (i)}
					<p class="px-3 text-warn">Line {line}: <b>{of}</b>: {svdFaultText(fault)}.</p>
				{/each}
				{#if found.findings.length > 20}<p class="px-3 text-warn">And {found.findings.length - 20} more.</p>{/if}
			</section>
		{/if}
	{/if}
	{#if guessed}
		<section class="mt-2 rounded-xs border bg-card" aria-label="Guessed places" data-testid="guesses">
			<div class="flex items-center gap-3 border-b px-3 py-1.5">
				<b
					>{guessed.guesses.length === 0
						? 'Nothing more was recognised: say in which block a unit lives, or put it there by hand'
						: `${guessed.guesses.length} ${guessed.guesses.length === 1 ? 'place' : 'places'} by name, width and codes`}</b
				>
				<span class="ml-auto flex gap-2">
					<button type="button" class="btn" onclick={() => (guessed = undefined)}>Leave</button>
					<button type="button" class="btn-main" disabled={kept.length === 0} onclick={takeGuesses}>Take {kept.length}</button>
				</span>
			</div>
			<ul class="grid max-h-72 grid-cols-2 gap-x-6 overflow-y-auto px-3 py-1.5">
				{#each guessed.guesses as one (keyOf(one))}
					<li>
						<label class="flex items-baseline gap-1.5">
							<input
								type="checkbox"
								class="accent-(--color-accent)"
								checked={!refused.has(keyOf(one))}
								onchange={() => refuse(keyOf(one))}
							/>
							<span class="truncate">{one.unit} <b>{one.quantity}</b></span>
							<span class="ml-auto num text-[11.5px]">{one.place}</span>
							<span class="w-14 text-right text-[11.5px] {one.sure >= SURE ? 'text-soft' : 'text-warn'}">{sureText(one.sure)}</span>
						</label>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
	{#if bound.length > 0}
		<h3 class="pt-3 font-bold">What has a place</h3>
		<table class="w-full" data-testid="bound">
			<tbody>
				{#each bound as { unit, has, lacks } (unit)}
					{@const likes = session.part && binding && !session.shipped && has > 0 ? likesOf(session.part, binding, unit) : []}
					<tr class="border-b align-top">
						<td class="py-0.5 pr-3 whitespace-nowrap"><b>{unit}</b></td>
						<td class="py-0.5 pr-3">
							{#if binding && !session.shipped && blocks.length > 0}
								<select
									class="field py-0"
									aria-label="Block of {unit}"
									value={blockOf(binding, unit) ?? ''}
									onchange={(event) =>
										session.set(
											['binding'],
											livingIn(binding, unit, event.currentTarget.value),
											`${unit} lives in ${event.currentTarget.value}`
										)}
								>
									{#if blockOf(binding, unit) === undefined}<option value="">in which block?</option>{/if}
									{#each blocks as [name] (name)}<option>{name}</option>{/each}
								</select>
							{:else}{(binding && blockOf(binding, unit)) ?? ''}{/if}
						</td>
						<td class="py-0.5 pr-3 whitespace-nowrap">{has} of {has + lacks.length}</td>
						<td class="py-0.5 text-soft"
							>{lacks.length === 0 ? 'everything' : `not yet: ${lacks.slice(0, 12).join(', ')}${lacks.length > 12 ? ' …' : ''}`}
							{#if likes.length > 0}
								<button
									type="button"
									class="text-accent underline"
									onclick={() =>
										session.part &&
										binding &&
										session.set(['binding'], carriedOver(session.part, binding, unit), `carry ${unit} over to its likes`)}
									>carry over to {likes.map((one) => one.unit).join(', ')}</button
								>
							{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
	{#if read?.binding && binding}
		<BitDrawing
			read={read.binding}
			raw={binding}
			{bound}
			locked={session.shipped}
			change={(next, label) => session.set(['binding'], next, label)}
		/>
	{/if}
</div>
