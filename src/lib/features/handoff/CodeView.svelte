<script lang="ts">
	import { readStyle } from '../../../core/handoff/index.js';
	import Choice from '../../components/Choice.svelte';
	import CopyText from '../../components/CopyText.svelte';
	import { saveFile } from '../../components/export.js';
	import type { HandoffModel } from './handoff.svelte.js';

	/** The generated files; a line of the set-up lights up with its bits. */
	let { model }: { model: HandoffModel } = $props();

	/** The ending of the file that is shown: its name goes with the style. */
	let ending = $state('.c');
	const endingOf = (one: string) => one.replace(/^.*?(_values)?(?=\.\w+$)/, '$1');
	let problem = $state('');
	const names = $derived([...model.files.keys()]);
	const name = $derived(names.find((one) => endingOf(one) === ending) ?? names.at(0));
	const text = $derived(name === undefined ? '' : (model.files.get(name) ?? ''));
	const lines = $derived(text.trimEnd().split('\n'));
	/** Accesses by address and what they are for, as the comment behind a line tells it. */
	const known = $derived(
		new Map(
			model.of.accesses.flatMap((access) =>
				access.do === 'write'
					? [[`${access.address} ${access.for.map((one) => one.slice(one.indexOf('.') + 1)).join(', ')}`, access.for]]
					: []
			)
		)
	);
	const quantitiesOf = (line: string): string[] => {
		const match = /NV_R\d+\(0x([0-9A-F]+)U?L?\) = .*\/\* (.*) \*\/$/.exec(line);
		return (match && known.get(`${parseInt(match[1], 16)} ${match[2]}`)) ?? [];
	};
	const told = $derived(lines.map((line) => ({ line, of: quantitiesOf(line) })));

	function style(change: object) {
		const read = readStyle({ ...model.style, ...change });
		problem = 'problem' in read ? 'A name of C: letters, digits and underscores.' : '';
		if ('style' in read) model.setStyle(read.style);
	}

	function saveAll() {
		for (const [file, content] of model.files) saveFile(file, content, 'text/plain');
	}
</script>

<div class="flex flex-wrap items-center gap-2 border-b px-3 py-1 text-[12px]">
	<Choice class="text-[12px]" aria-label="File" value={name ?? ''} onchange={(event) => (ending = endingOf(event.currentTarget.value))}>
		{#each names as one (one)}<option value={one}>{one}</option>{/each}
	</Choice>
	<label class="flex items-center gap-1"
		>names begin with <input
			class="w-20 rounded-xs border bg-paper px-1 py-0 num text-[12px]"
			value={model.style.prefix}
			aria-label="Prefix of names"
			aria-invalid={problem !== ''}
			onchange={(event) => style({ prefix: event.currentTarget.value })}
		/></label
	>
	<Choice
		class="text-[12px]"
		aria-label="Case of names"
		value={model.style.case}
		onchange={(event) => style({ case: event.currentTarget.value })}
	>
		<option value="snake">words_apart</option>
		<option value="camel">wordsTogether</option>
	</Choice>
	<Choice
		class="text-[12px]"
		aria-label="Indent"
		value={String(model.style.indent)}
		onchange={(event) => style({ indent: Number(event.currentTarget.value) })}
	>
		<option value="0">tabs</option>
		<option value="2">2 blanks</option>
		<option value="4">4 blanks</option>
	</Choice>
	<span class="ml-auto flex gap-2">
		<CopyText {text} />
		<button type="button" class="text-[11.5px] text-soft underline decoration-dotted hover:text-accent" onclick={saveAll}
			>save all files</button
		>
	</span>
	{#if problem !== ''}<p class="w-full text-fault" role="alert">{problem}</p>{/if}
</div>
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
	class="min-h-0 flex-1 overflow-auto bg-card py-1 num text-[11.5px] leading-[1.45]"
	tabindex="0"
	role="region"
	aria-label="Code"
	data-testid="code"
>
	{#each told as { line, of }, i (i)}
		<!-- svelte-ignore a11y_no_static_element_interactions -->
		<div
			class={['px-3 whitespace-pre [tab-size:3]', of.some((one) => model.lit.includes(one)) && 'bg-accent-wash']}
			onmouseenter={() => of.length > 0 && model.light(of)}
		>
			{line === '' ? ' ' : line}
		</div>
	{/each}
</div>
