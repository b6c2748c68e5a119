<script lang="ts">
	import type { Snippet } from 'svelte';
	import Modal from 'flowbite-svelte/Modal.svelte';

	/** The component library's dialog on our paper, in both themes. */
	interface Props {
		open: boolean;
		/** What it is called, for those who hear it. */
		label: string;
		size: 'sm' | 'lg';
		onClose?: () => void;
		children: Snippet;
	}
	let { open = $bindable(), label, size, onClose, children }: Props = $props();
</script>

<Modal
	bind:open
	{size}
	class="rounded-xs border border-rule bg-card text-ink dark:border-rule dark:bg-card dark:text-ink"
	dismissable={false}
	outsideclose
	aria-label={label}
	onclose={() => onClose?.()}
>
	{@render children()}
</Modal>
