<script lang="ts">
	import Report from '$lib/features/report/Report.svelte';
</script>

<Report />
