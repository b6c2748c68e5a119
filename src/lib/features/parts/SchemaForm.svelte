<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import { readFrequency } from '../../../core/aims/index.js';
	import { exactText } from '../../../core/exact/index.js';
	import type { PartSession } from './part.svelte.js';
	import {
		blank,
		discriminator,
		isLadder,
		isObject,
		ladderText,
		readLadder,
		resolve,
		typedValue,
		variantName,
		variantOf,
		variantsOf,
		type Schema
	} from './schemaForm.js';
	import { documentText, profileKey, profilePlace } from '../../text/index.js';
	import SchemaForm from './SchemaForm.svelte';

	interface Props {
		session: PartSession;
		schema: Schema;
		value: unknown;
		path: (string | number)[];
		/** Takes the value away where it need not be. */
		onDrop?: (() => void) | undefined;
	}
	let { session, schema: given, value, path, onDrop }: Props = $props();

	/** Lists of longer than this are shown in part: the text holds all. */
	const SHOWN = 60;

	const schema = $derived(resolve(given));
	const variants = $derived(variantsOf(schema));
	const variant = $derived(variants ? variantOf(variants, value) : -1);
	const told = $derived(variants && discriminator(variants));
	const key = $derived(path[path.length - 1]);
	const label = $derived(profileKey(key, path));
	const full = $derived(profilePlace(path, session.document));
	const text = $derived(value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value));
	const here = $derived(session.findings.filter((f) => f.path.length === path.length && f.path.every((k, i) => k === path[i])));
	const choices = $derived(schema.items && enumOf(resolve(schema.items)));
	/** Values of one kind that fit one field each: listed in a line. */
	const plainItems = $derived(schema.items && ['string', 'integer'].includes(resolve(schema.items).type ?? '') && !choices);
	let fresh = true;
	let open = $state(false);
	/** What is being typed, as typed: it acts at once, and is shown as the profile has it when the field is left. */
	let draft = $state<string>();

	function enumOf(s: Schema): (string | number)[] | undefined {
		return s.enum ?? (s.anyOf?.every((one) => one.const !== undefined) ? s.anyOf.map((one) => one.const!) : undefined);
	}

	function set(next: unknown, merge = false) {
		session.set(path, next, `set ${full}`, merge);
	}

	function typed(next: string, take: (next: string) => void) {
		draft = next;
		take(next);
	}

	function type(next: string) {
		// "72 MHz" is what people type for a frequency; the file says 72000000.
		const rate = key === 'hz' && /[a-z]$/i.test(next.trim()) ? readFrequency(next) : undefined;
		set(rate?.ok ? exactText(rate.value) : typedValue(schema, next), !fresh);
		fresh = false;
	}

	/** Another variant's value: what both know stays. */
	function switched(to: Schema): unknown {
		const next = blank(to);
		if (!isObject(next) || !isObject(value)) return next;
		const known = Object.keys(resolve(to).properties ?? {}).filter((name) => name !== told && name in value);
		return { ...next, ...Object.fromEntries(known.map((name) => [name, value[name]])) };
	}

	function without(properties: Record<string, Schema> = {}, name: string | undefined): Record<string, Schema> {
		return Object.fromEntries(Object.entries(properties).filter(([other]) => other !== name));
	}

	function items(): unknown[] {
		return Array.isArray(value) ? value : [];
	}

	/** A line of plain values, as typed between commas. */
	function typeList(next: string) {
		const item = resolve(schema.items!);
		const parts = next.split(/[,\s]+/).filter((one) => one !== '');
		set(
			parts.map((one) => typedValue(item, one)),
			!fresh
		);
		fresh = false;
	}

	function typeLadder(next: string) {
		const steps = readLadder(next);
		if (!steps) return;
		set(steps, !fresh);
		fresh = false;
	}

	function choose(choice: string | number, on: boolean) {
		set(on ? choices!.filter((one) => one === choice || items().includes(one)) : items().filter((one) => one !== choice));
	}
</script>

{#snippet problems()}
	{#each here as finding, i (i)}<p role="alert" class="text-[12px] text-fault">{documentText(finding)}</p>{/each}
{/snippet}

{#snippet drop()}
	{#if onDrop && !session.shipped}<button
			type="button"
			class="px-1 text-soft hover:text-fault"
			aria-label="Take away {full}"
			title="Take away"
			onclick={onDrop}>×</button
		>{/if}
{/snippet}

{#if variants && !enumOf(schema)}
	<div class="grid gap-1">
		<div class="flex items-baseline gap-2">
			<span class="w-44 shrink-0 text-[12px] text-soft">{label}</span>
			<Choice
				class="py-0"
				aria-label="Kind of {full}"
				value={variant}
				onchange={(event) => set(switched(variants[Number(event.currentTarget.value)]))}
			>
				{#if variant < 0}<option value={-1}>?</option>{/if}
				{#each variants as _, i (i)}<option value={i}>{variantName(variants, i)}</option>{/each}
			</Choice>
			{@render drop()}
		</div>
		{@render problems()}
		{#if variant >= 0}
			{#if resolve(variants[variant]).type === 'object'}
				<div class="grid gap-1 border-l-2 pl-3">
					<SchemaForm
						{session}
						schema={{ ...resolve(variants[variant]), properties: without(resolve(variants[variant]).properties, told) }}
						{value}
						{path}
					/>
				</div>
			{:else}
				<SchemaForm {session} schema={variants[variant]} {value} {path} />
			{/if}
		{/if}
	</div>
{:else if schema.type === 'object'}
	{@const required = schema.required ?? []}
	{@const properties = Object.entries(schema.properties ?? {})}
	{@const object = isObject(value) ? value : {}}
	{#each properties.filter(([name]) => name in object || required.includes(name)) as [name, child] (name)}
		{@const nested =
			['object', 'array'].includes(resolve(child).type ?? '') ||
			resolve(child).$ref !== undefined ||
			variantsOf(resolve(child)) !== undefined}
		{@const dropped = required.includes(name) ? undefined : () => session.set([...path, name], undefined, `take ${profileKey(name)} away`)}
		{#if nested && resolve(child).type === 'object'}
			<fieldset class="grid gap-1 border-l-2 pl-3">
				<legend class="text-[12px] text-soft">
					{profileKey(name)}
					{#if dropped && !session.shipped}<button
							type="button"
							class="px-1 hover:text-fault"
							aria-label="Take away {profileKey(name)}"
							onclick={dropped}>×</button
						>{/if}
				</legend>
				<SchemaForm {session} schema={child} value={object[name]} path={[...path, name]} />
			</fieldset>
		{:else}
			<SchemaForm {session} schema={child} value={object[name]} path={[...path, name]} onDrop={dropped} />
		{/if}
	{/each}
	{#if !session.shipped && properties.some(([name]) => !(name in object) && !required.includes(name))}
		<Choice
			class="w-fit py-0 text-[12px] text-soft"
			aria-label="Add to {full}"
			value=""
			onchange={(event) => {
				const name = event.currentTarget.value;
				session.set([...path, name], blank(schema.properties![name]), `add ${profileKey(name)}`);
				event.currentTarget.value = '';
			}}
		>
			<option value="">and say more …</option>
			{#each properties.filter(([name]) => !(name in object) && !required.includes(name)) as [name] (name)}<option value={name}
					>{profileKey(name)}</option
				>{/each}
		</Choice>
	{/if}
{:else if schema.type === 'array' && choices}
	<div class="flex flex-wrap items-baseline gap-x-3 gap-y-0.5">
		<span class="w-44 shrink-0 text-[12px] text-soft">{label}</span>
		{#each choices as choice (choice)}
			<label class="flex items-baseline gap-1"
				><input
					type="checkbox"
					class="accent-(--color-accent)"
					checked={items().includes(choice)}
					onchange={(event) => choose(choice, event.currentTarget.checked)}
				/>{choice}</label
			>
		{/each}
		{@render drop()}
		{@render problems()}
	</div>
{:else if schema.type === 'array' && plainItems}
	<label class="flex flex-wrap items-baseline gap-2">
		<span class="w-44 shrink-0 text-[12px] text-soft">{label}</span>
		<input
			class="min-w-32 flex-1 plain-select py-0 num"
			aria-label={full}
			value={draft ?? items().join(', ')}
			spellcheck="false"
			onfocus={() => (fresh = true)}
			oninput={(event) => typed(event.currentTarget.value, typeList)}
			onblur={() => (draft = undefined)}
		/>
		{@render drop()}
	</label>
	{@render problems()}
	{#each session.findings.filter((f) => f.path.length === path.length + 1 && path.every((k, i) => k === f.path[i])) as finding, i (i)}
		<p role="alert" class="text-[12px] text-fault">
			{text && `${JSON.stringify(items()[Number(finding.path.at(-1))])}: `}{documentText(finding)}
		</p>
	{/each}
{:else if schema.type === 'array'}
	<div class="grid gap-1">
		<div class="flex items-baseline gap-2">
			<button type="button" class="text-[12px] text-soft hover:text-accent" aria-expanded={open} onclick={() => (open = !open)}
				>{open ? '▾' : '▸'} {label} ({items().length})</button
			>
			{#if !session.shipped && !schema.prefixItems}<button
					type="button"
					class="text-[12px] text-accent underline"
					aria-label="Add one to {full}"
					onclick={() => {
						session.insert(path, items().length, blank(schema.items!), `add to ${full}`);
						open = true;
					}}>add</button
				>{/if}
			{@render drop()}
		</div>
		{@render problems()}
		{#if isLadder(schema) && !session.shipped}
			<label class="flex flex-wrap items-baseline gap-2 border-l-2 pl-3"
				><span class="text-[12px] text-soft">ratios, in the order of their codes</span>
				<input
					class="min-w-48 flex-1 plain-select py-0 num"
					aria-label="Ratios of {full}"
					placeholder="1, 8, 64, 256, 1024, or 8 = 2 with its code"
					value={draft ?? ladderText(items())}
					spellcheck="false"
					onfocus={() => (fresh = true)}
					oninput={(event) => typed(event.currentTarget.value, typeLadder)}
					onblur={() => (draft = undefined)}
				/></label
			>
			{#if draft !== undefined && draft.trim() !== '' && !readLadder(draft)}<p role="alert" class="text-[12px] text-fault">
					Whole ratios are wanted, parted by commas, blanks or lines; “8 = 2” gives a ratio its code.
				</p>{/if}
		{/if}
		{#if open || schema.prefixItems}
			{#each items().slice(0, SHOWN) as item, i (i)}
				<div
					class={[
						'flex items-start gap-1 border-l-2 pl-3',
						resolve(schema.prefixItems?.[i] ?? schema.items ?? {}).type === 'object' && 'pb-1'
					]}
				>
					<div class="grid min-w-0 flex-1 gap-1">
						<SchemaForm {session} schema={schema.prefixItems?.[i] ?? schema.items!} value={item} path={[...path, i]} />
					</div>
					{#if !session.shipped && !schema.prefixItems}<button
							type="button"
							class="px-1 text-soft hover:text-fault"
							aria-label="Take away {profilePlace([...path, i], session.document)}"
							onclick={() => session.set([...path, i], undefined, `take away ${profilePlace([...path, i], session.document)}`)}>×</button
						>{/if}
				</div>
			{/each}
			{#if items().length > SHOWN}<p class="text-[12px] text-soft">{items().length - SHOWN} more are in the text.</p>{/if}
		{/if}
	</div>
{:else if schema.type === 'boolean'}
	<label class="flex items-baseline gap-2"
		><input
			type="checkbox"
			class="accent-(--color-accent)"
			aria-label={full}
			checked={value === true}
			onchange={(event) => set(event.currentTarget.checked)}
		/><span class="w-44 shrink-0 text-[12px] text-soft">{label}</span>{@render drop()}</label
	>
	{@render problems()}
{:else if enumOf(schema)}
	<label class="flex items-baseline gap-2">
		<span class="w-44 shrink-0 text-[12px] text-soft">{label}</span>
		<Choice
			class="py-0"
			aria-label={full}
			value={text}
			onchange={(event) => set(enumOf(schema)!.find((one) => String(one) === event.currentTarget.value))}
		>
			{#if !enumOf(schema)!.some((one) => String(one) === text)}<option value={text}>{text || 'choose'}</option>{/if}
			{#each enumOf(schema)! as one (one)}<option value={String(one)}>{one}</option>{/each}
		</Choice>
		{@render drop()}
	</label>
	{@render problems()}
{:else}
	<label class="flex items-baseline gap-2">
		<span class="w-44 shrink-0 text-[12px] text-soft">{label}</span>
		<input
			class={[
				'min-w-16 plain-select py-0',
				schema.type === 'string' && !['hz', 'lo', 'hi', 'otherwise'].includes(String(key)) ? 'flex-1' : 'w-36 num',
				here.length > 0 && 'border-fault'
			]}
			aria-label={full}
			aria-invalid={here.length > 0 ? 'true' : undefined}
			value={draft ?? text}
			spellcheck="false"
			onfocus={() => (fresh = true)}
			oninput={(event) => typed(event.currentTarget.value, type)}
			onblur={() => (draft = undefined)}
		/>
		{@render drop()}
	</label>
	{@render problems()}
{/if}
