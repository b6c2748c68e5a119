<script lang="ts">
	import Report from '$lib/features/bench/Report.svelte';
</script>

<Report />
