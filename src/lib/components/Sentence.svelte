<script lang="ts">
	import type { FieldProblem } from '../../core/aims/index.js';
	import type { Token } from './tokens.js';
	import { problemText } from '../text/index.js';
	import TypedField from './TypedField.svelte';

	interface Props {
		tokens: Token[];
		/** The aim's name, for the labels. */
		name: string;
		valueOf: (key: string) => string;
		problems: Partial<Record<string, FieldProblem>>;
		small?: boolean;
		testid?: string;
		onType: (key: string, text: string, first: boolean) => void;
		onChoose: (key: string, value: string) => void;
	}
	let { tokens, name, valueOf, problems, small = false, testid, onType, onChoose }: Props = $props();

	/** The commas and stops that a field or choice keeps with it at the end of a line. */
	const STOPS = /^[,.;:)]+/;

	function stopAfter(i: number): string {
		const next = tokens[i + 1];
		return typeof next === 'string' ? (STOPS.exec(next)?.[0] ?? '') : '';
	}

	function words(i: number): string {
		const token = tokens[i] as string;
		return i > 0 && typeof tokens[i - 1] !== 'string' ? token.replace(STOPS, '') : token;
	}

	function problem(key: string): string | undefined {
		const found = problems[key];
		return found && problemText(found);
	}
</script>

<p
	class={['mb-1.5 min-w-0 flex-1 font-serif', small ? 'text-[15px] leading-[1.9] text-soft' : 'text-[16.5px] leading-[2]']}
	data-testid={testid}
>
	{#each tokens as token, i (i)}
		{#if typeof token === 'string'}{words(i)}{:else}<span class="whitespace-nowrap"
				>{#if 'field' in token}<TypedField
						{small}
						label={token.alone ? token.label : `${token.label} of ${name}`}
						value={valueOf(token.field)}
						least={token.least ?? 4}
						problem={problem(token.field)}
						onInput={(text, first) => onType(token.field, text, first)}
					/>{:else}<select
						class={['max-w-56 plain-select font-sans', small ? 'text-[13px]' : 'text-[14px]']}
						aria-label="{token.label} of {name}"
						value={valueOf(token.choice)}
						onchange={(event) => onChoose(token.choice, event.currentTarget.value)}
					>
						{#each token.options as [value, text] (value)}<option {value}>{text}</option>{/each}
					</select>{/if}{stopAfter(i)}</span
			>{/if}{token === '(' ? '' : ' '}
	{/each}
</p>
