<script lang="ts">
	import type { Derivation } from '../../../core/plan/index.js';
	import { placeOf, pulseSentence, runSentence, withChoice } from './pulseSentence.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import Strip from './Strip.svelte';
	import AimActions from './AimActions.svelte';
	import AimArticle from './AimArticle.svelte';
	import AimFindings from './AimFindings.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import Sentence from '../../components/Sentence.svelte';
	import Working from './Working.svelte';

	interface Props {
		session: PlanSession;
		derivation: Derivation;
		/** The one aim whose working and trade-off are laid open. */
		open: boolean;
		onOpen: () => void;
	}
	let { session, derivation, open, onOpen }: Props = $props();

	const { aim, wish } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	/** Out of sight an aim costs nothing; but what is skipped is also clipped, and a message at a field may stand out. */
	const MOST_AT_ONCE = 24;
	const unmarked = $derived(Object.keys(wish.problems).length === 0);
	const name = $derived(aim.name || 'an aim');
	const valueOf = (key: string) => (key === 'place' ? placeOf(aim) : String((aim as unknown as Record<string, unknown>)[key] ?? ''));

	function set(key: string, text: string, first: boolean) {
		session.set(['aims', index, key], text, `set ${name}`, !first);
	}

	function choose(key: string, value: string) {
		session.set(['aims', index], withChoice(aim, key, value), `change ${name}`);
	}

	/** What is not as usual is said even while the working is closed. */
	const special = $derived(
		aim.align !== 'auto' || aim.output !== 'auto' || aim.begin !== '' || aim.sweep !== '' || aim.writes !== 'buffered'
	);
</script>

<AimArticle
	id={aim.id}
	testid="aim"
	name={aim.name || 'unnamed aim'}
	{open}
	marked={!unmarked}
	lazy={session.plan.aims.length > MOST_AT_ONCE}
>
	<div class="flex items-start gap-4">
		<Sentence
			tokens={pulseSentence(aim, session.plan.part)}
			name={aim.name}
			{valueOf}
			problems={wish.problems}
			onType={set}
			onChoose={choose}
		/>
		<AimActions {session} {aim} {open} {onOpen} />
	</div>
	{#if open || special}
		<Sentence
			small
			testid="run"
			tokens={runSentence(derivation)}
			name={aim.name}
			{valueOf}
			problems={wish.problems}
			onType={set}
			onChoose={choose}
		/>
	{/if}
	<Strip {session} {derivation} />
	<AimFindings {session} aim={aim.id} />
	{#if open}<InTurn><Working {session} {derivation} /></InTurn>{/if}
</AimArticle>
