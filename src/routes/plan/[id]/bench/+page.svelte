<script lang="ts">
	import Bench from '$lib/features/bench/Bench.svelte';
</script>

<Bench />
