<script lang="ts">
	import Tooltip from 'flowbite-svelte/Tooltip.svelte';

	/** A word on what a control does, beside the control before it, when the pointer or the keys rest on it. */
	let { text }: { text: string } = $props();
</script>

<Tooltip type="custom" placement="bottom" arrow={false} class="rounded-xs border bg-card px-2 py-0.5 text-[12px] text-ink shadow-md"
	>{text}</Tooltip
>
