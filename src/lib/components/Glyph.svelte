<script lang="ts" module>
	/** Our own marks, on a grid of 24, drawn with one pen. */
	const PATHS = {
		mark: 'M2 17h4V6h6v11h4V6h4',
		plans: 'M5 4h11l3 3v13H5zM8 11h8M8 15h8',
		aims: 'M3 12h6M12 3v6M12 15v6M15 12h6M9.5 12a2.5 2.5 0 1 0 5 0a2.5 2.5 0 1 0-5 0',
		clock: 'M5 4v16M3 7h4M3 12h4M3 17h4M11 17h4l5-10M11 12h3',
		parts: 'M7 4h10v16H7zM4 8h3M4 12h3M4 16h3M17 8h3M17 12h3M17 16h3',
		relay: 'M3 6h12M3 12h18M3 18h12M15 6l4 6M19 12l-4 6',
		bench: 'M3 8h4v-4h5v4h4v-4h5M3 18h5v-3h4v3h5v-3h4',
		check: 'M3 7h4v-3h4v3h4v-3h4v3h2M4 15l4 4 4-5M15 13l5 6M20 13l-5 6',
		handoff: 'M4 6h16v5H4zM8 6v5M12 6v5M16 6v5M12 14v6M9 17l3 3 3-3',
		theme: 'M12 4a8 8 0 1 0 0 16zM12 4a8 8 0 0 1 0 16',
		undo: 'M8 6L4 10l4 4M4 10h10a5 5 0 0 1 0 10h-3',
		redo: 'M16 6l4 4-4 4M20 10H10a5 5 0 0 0 0 10h3',
		previous: 'M14 6l-6 6 6 6',
		next: 'M10 6l6 6-6 6'
	} as const;
</script>

<script lang="ts">
	interface Props {
		name: keyof typeof PATHS;
		size: number;
	}
	let { name, size }: Props = $props();
</script>

<svg
	width={size}
	height={size}
	viewBox="0 0 24 24"
	fill="none"
	stroke="currentColor"
	stroke-width="1.7"
	stroke-linejoin="round"
	stroke-linecap="round"
	aria-hidden="true"><path d={PATHS[name]} /></svg
>
