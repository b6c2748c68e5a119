<script lang="ts">
	import Select from 'flowbite-svelte/Select.svelte';
	import type { Snippet } from 'svelte';
	/** A choice from a list that folds out, in our look; its options are its children. */
	interface Props {
		value?: unknown;
		class?: string;
		'aria-label'?: string;
		title?: string;
		onchange?: (event: Event & { currentTarget: HTMLSelectElement }) => void;
		children: Snippet;
	}
	let { value = $bindable(), class: own = '', children, ...rest }: Props = $props();

	const LOOK =
		'w-auto rounded-xs border-rule bg-card bg-none py-0.5 pr-1.5 pl-1.5 text-[13px] text-ink appearance-auto focus:border-accent focus:ring-accent dark:border-rule dark:bg-card dark:text-ink';
</script>

<Select {...rest} bind:value placeholder="" class="contents" classes={{ select: `${LOOK} ${own}` }}>{@render children()}</Select>
