<script lang="ts">
	import type { JobDerivation } from '../../core/plan/index.js';
	import { sentenceOf, settled } from '../state/sentences.js';
	import type { PlanSession } from '../state/session.svelte.js';
	import { problemText } from '../text/index.js';
	import AimActions from './AimActions.svelte';
	import AimArticle from './AimArticle.svelte';
	import AimFindings from './AimFindings.svelte';
	import JobStrip from './JobStrip.svelte';
	import JobWorking from './JobWorking.svelte';
	import OutputLines from './OutputLines.svelte';
	import OwnShape from './OwnShape.svelte';
	import PatternLines from './PatternLines.svelte';
	import TypedField from './TypedField.svelte';

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

	/** The commas and stops that a field or choice keeps with it at the end of a line. */
	function stopAfter(i: number): string {
		const next = tokens[i + 1];
		return typeof next === 'string' ? (/^[,.;:)]+/.exec(next)?.[0] ?? '') : '';
	}

	function words(i: number): string {
		const token = tokens[i] as string;
		return i > 0 && typeof tokens[i - 1] !== 'string' ? token.replace(/^[,.;:)]+/, '') : token;
	}

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
		<p class="mb-1.5 min-w-0 flex-1 font-serif text-[16.5px] leading-[2]">
			{#each tokens as token, i (i)}
				{#if typeof token === 'string'}{words(i)}{:else}<span class="whitespace-nowrap"
						>{#if 'field' in token}<TypedField
								label="{token.label} of {name}"
								value={valueOf(token.field)}
								least={token.least ?? 4}
								problem={fields[token.field] && problemText(fields[token.field])}
								onInput={(text, first) => set(token.field, text, first)}
							/>{:else}<select
								class="plain-select font-sans text-[14px]"
								aria-label="{token.label} of {name}"
								value={valueOf(token.choice)}
								onchange={(event) => choose(token.choice, event.currentTarget.value)}
							>
								{#each token.options as [value, text] (value)}<option {value}>{text}</option>{/each}
							</select>{/if}{stopAfter(i)}</span
					>{/if}{tokens[i] === '(' ? '' : ' '}
			{/each}
		</p>
		<AimActions {session} {aim} {open} {onOpen} />
	</div>
	{#if aim.kind === 'divided'}<OutputLines {session} {aim} {fields} />{/if}
	{#if aim.kind === 'pattern'}<PatternLines {session} {aim} {fields} />{/if}
	{#if aim.kind === 'table' && aim.shape === 'own'}<OwnShape {session} {aim} />{/if}
	<JobStrip {session} {derivation} />
	<AimFindings {session} aim={aim.id} />
	{#if open}<JobWorking {session} {derivation} />{/if}
</AimArticle>
