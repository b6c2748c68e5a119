<script lang="ts">
	import { openPlan } from '$lib/state/context';
	import Relay from '$lib/ui/Relay.svelte';

	const { session } = openPlan();
</script>

<Relay {session} />
