<script lang="ts">
	import OpenPlan from '$lib/features/frame/OpenPlan.svelte';
	import type { LayoutProps } from './$types';

	let { data, children }: LayoutProps = $props();
</script>

{#key data.plan.id}
	<OpenPlan loaded={data.plan} recordings={data.recordings as never}>{@render children()}</OpenPlan>
{/key}
