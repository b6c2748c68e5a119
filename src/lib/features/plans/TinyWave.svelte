<script lang="ts">
	import Hatch from '../../components/Hatch.svelte';

	interface Props {
		/** Edges in shares of the strip, and the level before the first; null: nothing derived. */
		wave: { initial: number; edges: number[] } | null;
	}
	let { wave }: Props = $props();

	const WIDTH = 240;
	const [HIGH, LOW] = [6, 30];
	const id = $props.id();

	const paths = $derived.by(() => {
		if (!wave) return null;
		let level = wave.initial;
		let line = `M0 ${level ? HIGH : LOW}`;
		let fill = level ? `M0 ${LOW}V${HIGH}` : '';
		for (const edge of wave.edges) {
			const x = (edge * WIDTH).toFixed(1);
			level = 1 - level;
			line += `H${x}V${level ? HIGH : LOW}`;
			fill += level ? `M${x} ${LOW}V${HIGH}` : `H${x}V${LOW}Z`;
		}
		if (level) fill += `H${WIDTH}V${LOW}Z`;
		return { line: `${line}H${WIDTH}`, fill };
	});
</script>

<!-- Planned, so hatched, like everywhere. -->
<svg
	viewBox="0 0 {WIDTH} 36"
	class="h-9 w-full rounded-xs border graph-paper"
	preserveAspectRatio="none"
	role="img"
	aria-label={paths ? 'Planned wave' : 'No wave yet'}
>
	<defs>
		<Hatch {id} strength={0.7} />
	</defs>
	{#if paths}
		<path d={paths.fill} fill="url(#{id})" />
		<path d={paths.line} fill="none" class="stroke-accent" stroke-width="1.2" />
	{/if}
</svg>
