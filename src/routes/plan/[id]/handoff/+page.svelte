<script lang="ts">
	import Handoff from '$lib/features/handoff/Handoff.svelte';
</script>

<Handoff />
