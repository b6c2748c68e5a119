<script lang="ts">
	import PartsStation from '$lib/features/parts/PartsStation.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<PartsStation parts={data.parts} />
