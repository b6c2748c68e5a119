<script lang="ts">
	import { AIM_KINDS, type AimKindName, aimKind } from '../../../core/aims/index.js';
	import type { Plan } from '../../../core/plan/index.js';
	import { kindWords } from '../../text/index.js';
	import { viewOf } from './kinds/index.js';

	/** Every kind of aim as a small drawn wave with its line; what the part cannot do says what it lacks. */
	let { plan, onChoose }: { plan: Plan; onChoose: (kind: AimKindName) => void } = $props();

	/** Of what no line can be typed. */
	const UNTYPED = 'several outputs, each with its width';
	const LEADERLESS = 'needs another aim to follow first';

	/** Why no such aim can be had; undefined where one can. */
	function lacking(kind: AimKindName): string | undefined {
		if (!plan.part.timers.some((timer) => aimKind(kind).serves(timer))) return `${plan.part.name} ${kindWords(kind).cannot}`;
		return aimKind(kind).leader && plan.aims.length === 0 ? LEADERLESS : undefined;
	}
	const capital = (text: string) => text.replace(/^an? /, '').replace(/^./, (letter) => letter.toUpperCase());
</script>

<ul class="grid grid-cols-4 gap-2" data-testid="kinds">
	{#each AIM_KINDS as kind (kind)}
		{@const { sketch, example } = viewOf({ kind })}
		{@const missing = lacking(kind)}
		<li>
			<button
				type="button"
				class="flex h-full w-full flex-col rounded-xs border bg-card px-3 py-2 text-left hover:border-accent disabled:opacity-60 disabled:hover:border-rule"
				disabled={missing !== undefined}
				aria-label="{capital(kindWords(kind).offer)} {missing ?? (example || UNTYPED)}"
				onclick={() => onChoose(kind)}
			>
				<svg viewBox="-1 0 134 34" class="mb-1 h-9 w-full rounded-xs graph-paper" aria-hidden="true">
					<path d={sketch} fill="none" class={missing ? 'stroke-soft' : 'stroke-accent'} stroke-width="1.6" stroke-linejoin="round" />
				</svg>
				<span class="text-[13px] leading-tight font-semibold">{capital(kindWords(kind).offer)}</span>
				<span class="mt-0.5 text-[12px] text-soft">
					{#if missing}{missing}{:else if example}<span class="num">{example}</span>{:else}{UNTYPED}{/if}
				</span>
			</button>
		</li>
	{/each}
</ul>
<p class="mt-2 text-[12.5px] text-soft">
	Or type such a line in the command box at the top (<kbd class="num">/</kbd>), with a pin behind it if you like: “1.2 kHz 35 % on B6”.
</p>
