<script lang="ts">
	import type { AimDerivation } from '../../../core/aims/index.js';
	import InTurn from '../../components/InTurn.svelte';
	import Sentence from '../../components/Sentence.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';
	import AimActions from './AimActions.svelte';
	import AimArticle from './AimArticle.svelte';
	import AimFindings from './AimFindings.svelte';
	import { saysSetup, SETUP_STANDS, setupTokens } from './kinds/choices.js';
	import { viewOf, withChoice } from './kinds/index.js';
	import Strip from './Strip.svelte';
	import Working from './Working.svelte';

	interface Props {
		session: PlanSession;
		derivation: AimDerivation;
		/** The one aim whose working and trade-off are laid open. */
		open: boolean;
		onOpen: () => void;
	}
	let { session, derivation, open, onOpen }: Props = $props();

	/** Out of sight an aim costs nothing; but what is skipped is also clipped, and a message at a field may stand out. */
	const MOST_AT_ONCE = 24;
	const { aim, fields } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const view = $derived(viewOf(aim));
	const name = $derived(aim.name || 'an aim');
	const says = $derived(view.saysMore?.(aim) === true || saysSetup(aim));
	const more = $derived(open || says ? [...(view.more?.(aim, session.plan) ?? []), ...setupTokens(aim)] : []);
	const Editor = $derived((view.edits?.(aim) ?? true) ? view.editor : undefined);

	function valueOf(key: string): string {
		return view.chosen?.(aim, key) ?? String((aim as unknown as Record<string, unknown>)[key] ?? SETUP_STANDS[key] ?? '');
	}

	function set(key: string, text: string, first: boolean) {
		session.set(['aims', index, key], text, `set ${name}`, !first);
	}

	function choose(key: string, value: string) {
		session.set(['aims', index], withChoice(session.plan.aims[index], key, value, session.plan), `change ${name}`);
	}
</script>

<AimArticle
	id={aim.id}
	testid="aim"
	name={aim.name || 'unnamed aim'}
	{open}
	marked={Object.keys(fields).length > 0}
	lazy={session.plan.aims.length > MOST_AT_ONCE}
>
	<div class="flex items-start gap-4">
		<Sentence tokens={view.sentence(aim, session.plan)} name={aim.name} {valueOf} problems={fields} onType={set} onChoose={choose} />
		<AimActions {session} aim={session.plan.aims[index]} {open} {onOpen} />
	</div>
	{#if more.length > 0}
		<Sentence small testid="run" tokens={more} name={aim.name} {valueOf} problems={fields} onType={set} onChoose={choose} />
	{/if}
	{#if Editor}<Editor {session} {aim} {fields} />{/if}
	<Strip {session} {derivation} {open} />
	<AimFindings {session} aim={aim.id} />
	{#if open}<InTurn><Working {session} {derivation} /></InTurn>{/if}
</AimArticle>
