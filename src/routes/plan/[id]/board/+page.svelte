<script lang="ts">
	import { openPlan } from '$lib/session/context';
	import Board from '$lib/features/aims/Board.svelte';

	const { session } = openPlan();
</script>

<Board {session} />
