<script lang="ts">
	import { onMount } from 'svelte';

	/** Takes files dropped anywhere on the page, and says so while they are held over it. */
	let { onFiles }: { onFiles: (files: FileList) => void } = $props();

	let dropping = $state(false);

	onMount(() => {
		const over = (event: DragEvent) => {
			if (!event.dataTransfer?.types.includes('Files')) return;
			event.preventDefault();
			dropping = true;
		};
		const drop = (event: DragEvent) => {
			dropping = false;
			if (!event.dataTransfer || event.dataTransfer.files.length === 0) return;
			event.preventDefault();
			onFiles(event.dataTransfer.files);
		};
		const leave = (event: DragEvent) => {
			if (event.relatedTarget === null) dropping = false;
		};
		window.addEventListener('dragover', over);
		window.addEventListener('drop', drop);
		window.addEventListener('dragleave', leave);
		return () => {
			window.removeEventListener('dragover', over);
			window.removeEventListener('drop', drop);
			window.removeEventListener('dragleave', leave);
		};
	});
</script>

{#if dropping}
	<div class="pointer-events-none fixed inset-0 z-40 flex items-center justify-center bg-paper/85">
		<p class="rounded-sm border-2 border-dashed border-accent bg-card px-10 py-8 font-serif text-2xl">Drop to read it</p>
	</div>
{/if}
