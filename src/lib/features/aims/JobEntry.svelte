<script lang="ts">
	import type { JobDerivation } from '../../../core/plan/index.js';
	import { sentenceOf, settled } from './sentences.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import AimActions from './AimActions.svelte';
	import AimArticle from './AimArticle.svelte';
	import AimFindings from './AimFindings.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import JobStrip from './JobStrip.svelte';
	import JobWorking from './JobWorking.svelte';
	import OutputLines from './kinds/divided/OutputLines.svelte';
	import OwnShape from './kinds/table/OwnShape.svelte';
	import PatternLines from './kinds/pattern/PatternLines.svelte';
	import Sentence from '../../components/Sentence.svelte';

	interface Props {
		session: PlanSession;
		derivation: JobDerivation;
		open: boolean;
		onOpen: () => void;
	}
	let { session, derivation, open, onOpen }: Props = $props();

	const { aim, fields } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const tokens = $derived(sentenceOf(aim, session.plan));
	const MOST_AT_ONCE = 24;
	const unmarked = $derived(Object.keys(fields).length === 0);
	const name = $derived(aim.name || 'the aim');

	const valueOf = (key: string) => String((aim as unknown as Record<string, unknown>)[key] ?? '');

	function set(key: string, text: string, first: boolean) {
		session.set(['aims', index, key], text, `set ${name}`, !first);
	}

	function choose(key: string, value: string) {
		const next = settled({ ...aim, [key]: value }, session.plan);
		session.set(['aims', index], next, `change ${name}`);
	}
</script>

<AimArticle
	id={aim.id}
	testid="job"
	name={aim.name || 'unnamed aim'}
	{open}
	marked={!unmarked}
	lazy={session.plan.aims.length > MOST_AT_ONCE}
>
	<div class="flex items-start gap-4">
		<Sentence {tokens} {name} {valueOf} problems={fields} onType={set} onChoose={choose} />
		<AimActions {session} {aim} {open} {onOpen} />
	</div>
	{#if aim.kind === 'divided'}<OutputLines {session} {aim} {fields} />{/if}
	{#if aim.kind === 'pattern'}<PatternLines {session} {aim} {fields} />{/if}
	{#if aim.kind === 'table' && aim.shape === 'own'}<OwnShape {session} {aim} />{/if}
	<JobStrip {session} {derivation} />
	<AimFindings {session} aim={aim.id} />
	{#if open}<InTurn><JobWorking {session} {derivation} /></InTurn>{/if}
</AimArticle>
