<script lang="ts">
	import PlansStation from '$lib/features/plans/PlansStation.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<PlansStation plans={data.plans} parts={data.parts} />
