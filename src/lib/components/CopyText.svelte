<script lang="ts">
	let { text, label = 'Copy' }: { text: string; label?: string } = $props();

	let copied = $state(false);

	async function copy() {
		await navigator.clipboard.writeText(text);
		copied = true;
		setTimeout(() => (copied = false), 900);
	}
</script>

<button type="button" class="shrink-0 text-[11.5px] text-soft underline decoration-dotted hover:text-accent" onclick={copy}
	>{copied ? 'copied' : label}</button
>
