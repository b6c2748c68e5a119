<script lang="ts">
	import { goto } from '$app/navigation';
	import { commandsOf, matching, typedCommand, type Command } from './commands.js';
	import type { PlanSession } from '../../session/session.svelte.js';

	let { session }: { session: PlanSession } = $props();

	/** The focus stays where it is put. */
	const lead = (to: string) => goto(to, { keepFocus: true });

	let text = $state('');
	let open = $state(false);
	let at = $state(0);
	let field: HTMLInputElement;
	const id = $props.id();
	const typed = $derived(open && text.trim() !== '' ? typedCommand(session, lead, text) : []);
	const found = $derived(open ? [...typed, ...matching(commandsOf(session, lead), text)].slice(0, 12) : []);

	function run(command: Command) {
		text = '';
		open = false;
		field.blur();
		command.run();
		// Whoever works with the keyboard goes on in the station.
		document.getElementById('work')?.focus();
	}

	function onKey(event: KeyboardEvent) {
		if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1);
		else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
		else if (event.key === 'Enter' && found[at]) run(found[at]);
		else if (event.key === 'Escape') {
			// The first takes back what was typed, the next leaves.
			if (text === '') field.blur();
			text = '';
		} else return;
		event.preventDefault();
	}
</script>

<div class="relative">
	<input
		bind:this={field}
		bind:value={text}
		class="w-56 plain-select py-1"
		placeholder="Do something …  ( / )"
		role="combobox"
		data-slash
		aria-label="Command"
		aria-expanded={open}
		aria-controls="{id}-list"
		aria-activedescendant={found[at] ? `${id}-${at}` : undefined}
		autocomplete="off"
		onfocus={() => {
			open = true;
			at = 0;
		}}
		onblur={() => (open = false)}
		oninput={() => (at = 0)}
		onkeydown={onKey}
	/>
	{#if open}
		<ul
			id="{id}-list"
			role="listbox"
			class="absolute top-full right-0 z-40 mt-1 max-h-96 w-96 overflow-auto rounded-sm border bg-card py-1 shadow-md"
		>
			{#each found as command, i (command.name)}
				<li
					id="{id}-{i}"
					role="option"
					aria-selected={i === at}
					class={['flex cursor-pointer justify-between gap-3 px-3 py-1', i === at && 'bg-accent-wash']}
					onpointerdown={(event) => {
						event.preventDefault();
						run(command);
					}}
				>
					<span class="min-w-0">
						<span class="block break-words">{command.name}</span>
						{#if command.says}<span class={['block text-[12px]', command.troubled ? 'text-warn' : 'text-soft']}>{command.says}</span>{/if}
					</span>
					{#if command.keys}<span class="num text-xs text-soft">{command.keys}</span>{/if}
				</li>
			{:else}
				<li class="px-3 py-1 text-soft">Nothing of that name.</li>
			{/each}
		</ul>
	{/if}
</div>
