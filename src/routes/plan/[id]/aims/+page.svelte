<script lang="ts">
	import AimsStation from '$lib/features/aims/AimsStation.svelte';
</script>

<AimsStation />
