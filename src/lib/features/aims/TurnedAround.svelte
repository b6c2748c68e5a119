<script lang="ts">
	import { readDuty, readRate, readTime, turnedAt, turnedOf, type AimDerivation, type Turned } from '../../../core/aims/index.js';
	import { ppmError, type Rational } from '../../../core/exact/index.js';
	import CopyText from '../../components/CopyText.svelte';
	import { hex, linkName, ppm, problemText, turnedRange, turnedText, turnedValue, turnedWish } from '../../text/index.js';

	let { derivation }: { derivation: AimDerivation } = $props();

	/** Registers as functions of the wish, as they could be worked out while the timer runs. */
	const all = $derived(turnedOf(derivation));
	let tried = $state<Record<string, string>>({});

	function keyOf({ of, register }: Turned): string {
		return `${of} ${register}`;
	}

	/** What is typed, as a wish; a sentence where it is none. */
	function wishOf({ unit }: Turned, text: string): Rational | string {
		if (unit === '%') {
			const read = readDuty(text);
			if (!read.ok) return problemText(read.problem);
			return read.value.kind === 'ratio' ? read.value.ratio : 'A share of the period is wanted here, such as 35 %.';
		}
		const read = unit === 'Hz' ? readRate(text) : readTime(text);
		return read.ok ? read.value : problemText(read.problem);
	}

	/** What the register would be, and what that gives. */
	function answer(turned: Turned, text: string): { value: number; says: string } | string {
		const wish = wishOf(turned, text);
		if (typeof wish === 'string') return wish;
		const made = turnedAt(turned, wish);
		if (!made) return `The register does not reach that; ${turnedRange(turned).split(';')[0].replace(/,.*/, '')}.`;
		const off = wish.sign === 0 ? '' : `, off by ${ppm(ppmError(made.gives, wish))}`;
		return { value: made.value, says: `gives ${turnedValue(turned, made.gives)}${off}` };
	}
</script>

{#if all.length > 0}
	<div class="mb-3 min-w-0" data-testid="turned">
		<h3 class="mb-1 text-xs font-bold text-soft">Turned around: the register for a wish</h3>
		<ul class="grid gap-2 text-[12.5px]">
			{#each all as turned (keyOf(turned))}
				{@const text = tried[keyOf(turned)] ?? ''}
				{@const found = text.trim() === '' ? undefined : answer(turned, text)}
				<li>
					<p class="num break-words">{turnedText(turned)}</p>
					<p class="text-soft">{turnedRange(turned)}.</p>
					<p class="mt-0.5 flex flex-wrap items-baseline gap-2">
						<label
							>A {turnedWish(turned)} of
							<input
								class="w-28 rounded-xs border bg-card px-1 py-0 num text-[12.5px]"
								aria-label="Wished {turnedWish(turned)} for the {linkName(turned.register)}"
								placeholder={turnedValue(turned, turned.high)}
								value={text}
								oninput={(event) => (tried = { ...tried, [keyOf(turned)]: event.currentTarget.value })}
							/></label
						>
						{#if typeof found === 'string'}<span class="text-fault" role="alert">{found}</span>{:else if found}
							<span class="num"><b>{found.value}</b> ({hex(found.value, turned.width)})</span>
							<span class="text-soft">{found.says}</span>
							<CopyText text={String(found.value)} label="copy" />
						{/if}
					</p>
				</li>
			{/each}
		</ul>
	</div>
{/if}
