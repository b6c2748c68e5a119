<script lang="ts">
	import { openPlan } from '$lib/state/context';
	import Board from '$lib/ui/Board.svelte';

	const { session } = openPlan();
</script>

<Board {session} />
