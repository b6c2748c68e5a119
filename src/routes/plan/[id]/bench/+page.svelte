<script lang="ts">
	import Bench from '$lib/ui/Bench.svelte';
</script>

<Bench />
