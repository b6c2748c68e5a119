<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';

	/** Which of the plan's instruments measured. */
	interface Props {
		session: PlanSession;
		value: string;
		label: string;
		none?: string;
		onTake: (id: string) => void;
	}
	let { session, value, label, none = 'none stated', onTake }: Props = $props();
</script>

<Choice class="max-w-28 text-[12px]" aria-label={label} {value} onchange={(event) => onTake(event.currentTarget.value)}>
	<option value="">{none}</option>
	{#each session.plan.instruments as { id, name } (id)}<option value={id}>{name || 'unnamed'}</option>{/each}
</Choice>
