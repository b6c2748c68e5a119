<script lang="ts">
	/** The hatch of everything planned, as an SVG fill: url(#id). */
	let { id, strength = 0.6 }: { id: string; strength?: number } = $props();
</script>

<pattern {id} width="6" height="6" patternUnits="userSpaceOnUse"
	><path d="M-1 7L7 -1" class="stroke-accent" stroke-width="1.2" opacity={strength} /></pattern
>
