<script lang="ts">
	import Check from '$lib/features/check/Check.svelte';
</script>

<Check />
