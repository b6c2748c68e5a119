<script lang="ts">
	import PartStation from '$lib/features/parts/PartStation.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<PartStation part={data.part} />
