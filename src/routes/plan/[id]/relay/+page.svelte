<script lang="ts">
	import { openPlan } from '$lib/session/context';
	import Relay from '$lib/features/relay/Relay.svelte';

	const { session } = openPlan();
</script>

<Relay {session} />
