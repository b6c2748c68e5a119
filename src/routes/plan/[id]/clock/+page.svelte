<script lang="ts">
	import ClockStation from '$lib/features/clock/ClockStation.svelte';
</script>

<ClockStation />
