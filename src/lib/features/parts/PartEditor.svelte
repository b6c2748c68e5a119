<script lang="ts">
	import { timerProfile } from '../../../core/part/index.js';
	import { valueAt, type PartSession } from './part.svelte.js';
	import { blank, isObject, partSchema, resolve, type Schema } from './schemaForm.js';
	import { profilePlace } from '../../text/index.js';
	import FindField from '../../components/FindField.svelte';
	import CountDrawing from './CountDrawing.svelte';
	import RegistersPanel from './RegistersPanel.svelte';
	import SchemaForm from './SchemaForm.svelte';

	let { session }: { session: PartSession } = $props();

	const LISTS = ['clock', 'timers', 'wiring', 'pins'] as const;
	const TITLES = { clock: 'Clock nodes', timers: 'Timers', wiring: 'Trigger wiring', pins: 'Pins' };
	const ONE = { clock: 'clock node', timers: 'timer', wiring: 'route', pins: 'pin' };
	/** Rows of one list in the outline; the filter finds the others. */
	const ROWS = 300;

	let chosen = $state.raw<(string | number)[]>([]);
	let asText = $state(false);
	let filter = $state('');
	let fresh = true;

	const document = $derived(session.document);
	const element = $derived(chosen.length === 2 ? valueAt(document, chosen) : undefined);
	const at = $derived(element === undefined ? [] : chosen);
	const ofRegisters = $derived(chosen.length === 1 && chosen[0] === 'binding');
	const head: Schema = $derived({
		...partSchema(),
		properties: Object.fromEntries(
			Object.entries(partSchema().properties!).filter(
				([name]) => !(LISTS as readonly string[]).includes(name) && name !== 'version' && name !== 'binding'
			)
		),
		required: ['id', 'name', 'summary']
	});
	const drawn = $derived(at[0] === 'timers' ? timerProfile.safeParse(element).data : undefined);

	function rows(list: (typeof LISTS)[number]): { i: number; name: string; wrong: boolean }[] {
		const found = valueAt(document, [list]);
		const wrong = new Set(session.findings.filter((f) => f.path[0] === list).map((f) => f.path[1]));
		const all = Array.isArray(found) ? found.map((one: unknown, i) => ({ i, name: rowName(list, one), wrong: wrong.has(i) })) : [];
		const wanted = filter.trim().toLowerCase();
		return wanted === '' ? all : all.filter(({ name }) => name.toLowerCase().includes(wanted));
	}

	function rowName(list: (typeof LISTS)[number], one: unknown): string {
		if (!isObject(one)) return '?';
		if (list !== 'wiring') return String(one.name ?? '') || String(one.id ?? '?');
		const { from, to } = one as { from?: { timer?: string }; to?: { timer?: string; input?: string } };
		return `${from?.timer ?? '?'} → ${to?.timer ?? '?'} ${to?.input ?? ''}`;
	}

	function itemSchema(list: string | number): Schema {
		return resolve(partSchema().properties![list]).items!;
	}

	function add(list: (typeof LISTS)[number]) {
		const found = valueAt(document, [list]);
		const count = Array.isArray(found) ? found.length : 0;
		const made = blank(itemSchema(list));
		if (isObject(made) && 'id' in made) Object.assign(made, { id: freeId(`${ONE[list].split(' ').at(-1)}`), name: `New ${ONE[list]}` });
		session.insert([list], count, made, `add a ${ONE[list]}`);
		chosen = [list, count];
	}

	function freeId(stem: string): string {
		const text = session.text;
		for (let n = 1; ; n++) if (!text.includes(`"${stem}-${n}"`)) return `${stem}-${n}`;
	}

	function copy() {
		const [list, i] = at as [string, number];
		const twin: unknown = structuredClone(element);
		if (isObject(twin) && 'id' in twin)
			Object.assign(twin, { id: freeId(String(twin.id).replace(/-\d+$/, '')), name: `${String(twin.name)} copy`.slice(0, 80) });
		session.insert([list], i + 1, twin, `copy ${profilePlace(at, document)}`);
		chosen = [list, i + 1];
	}

	function remove() {
		session.set(at, undefined, `delete ${profilePlace(at, document)}`);
		chosen = [];
	}

	/** Leads to where a finding lies. */
	export function show(path: (string | number)[]) {
		if (!document) asText = true;
		else if (!asText) chosen = path.length >= 2 && (LISTS as readonly (string | number)[]).includes(path[0]) ? path.slice(0, 2) : [];
	}
</script>

<div class="grid h-full min-h-0 grid-cols-[15rem_minmax(0,1fr)]">
	<div class="flex min-h-0 flex-col border-r bg-well/50 text-[13px]">
		<div class="flex gap-1.5 border-b p-2">
			<FindField slash class="min-w-0 flex-1 py-0.5" label="Find an element" placeholder="Find …" bind:value={filter} />
			<button
				type="button"
				class={['btn py-0', asText && 'border-accent bg-accent-wash']}
				aria-pressed={asText}
				onclick={() => (asText = !asText)}>Text</button
			>
		</div>
		<nav class="min-h-0 flex-1 overflow-y-auto pb-3" aria-label="Elements of the part" data-testid="outline">
			<button
				type="button"
				class={['block w-full px-3 py-1 text-left', at.length === 0 && !ofRegisters && 'bg-accent-wash font-bold']}
				onclick={() => (chosen = [])}>The part</button
			>
			{#if document}<button
					type="button"
					class={['block w-full px-3 py-1 text-left', ofRegisters && 'bg-accent-wash font-bold']}
					onclick={() => (chosen = ['binding'])}>Registers</button
				>{/if}
			{#each LISTS as list (list)}
				{@const found = rows(list)}
				<div class="mt-1.5 flex items-baseline justify-between px-3 text-[12px] text-soft">
					<span>{TITLES[list]} ({found.length})</span>
					{#if !session.shipped && document}<button
							type="button"
							class="text-accent underline"
							aria-label="Add a {ONE[list]}"
							onclick={() => add(list)}>add</button
						>{/if}
				</div>
				{#each found.slice(0, ROWS) as { i, name, wrong } (i)}
					<button
						type="button"
						class={[
							'block w-full truncate px-3 py-px text-left hover:bg-accent-wash',
							at[0] === list && at[1] === i && 'bg-accent-wash font-bold',
							wrong && 'text-fault'
						]}
						onclick={() => (chosen = [list, i])}>{wrong ? '! ' : ''}{name}</button
					>
				{/each}
				{#if found.length > ROWS}<p class="px-3 text-[12px] text-soft">{found.length - ROWS} more: find them by name.</p>{/if}
			{/each}
		</nav>
	</div>
	{#if asText || !document}
		<textarea
			class="h-full w-full resize-none border-0 bg-card p-3 num text-[12.5px] focus:ring-0"
			aria-label="Profile as text"
			spellcheck="false"
			readonly={session.shipped}
			value={session.text}
			onfocus={() => (fresh = true)}
			oninput={(event) => {
				session.write(event.currentTarget.value, 'edit the text', !fresh);
				fresh = false;
			}}></textarea>
	{:else}
		<div class="min-h-0 overflow-y-auto px-5 py-3" data-testid="part-form">
			{#if at.length > 0}
				<div class="mb-2 flex items-center gap-2">
					<h2 class="font-serif text-[17px] font-semibold">{rowName(at[0] as 'clock', element)}</h2>
					<span class="text-[13px] text-soft">{ONE[at[0] as 'clock']}</span>
					{#if !session.shipped}
						<span class="ml-auto flex gap-1.5 text-[13px]">
							<button type="button" class="btn py-0" onclick={copy}>Copy</button>
							<button type="button" class="btn py-0" onclick={remove}>Delete</button>
						</span>
					{/if}
				</div>
			{/if}
			{#if ofRegisters}<RegistersPanel {session} onText={() => (asText = true)} />{/if}
			{#if drawn}<CountDrawing timer={drawn} />{/if}
			<fieldset class={['grid max-w-4xl gap-1.5 text-[13.5px]', drawn && 'mt-3']} disabled={session.shipped}>
				{#key at.join('/')}
					{#if ofRegisters}{:else if at.length > 0}
						<SchemaForm {session} schema={itemSchema(at[0])} value={element} path={at} />
					{:else}
						<SchemaForm {session} schema={head} value={document} path={[]} />
					{/if}
				{/key}
			</fieldset>
		</div>
	{/if}
</div>
