<script lang="ts">
	import type { PastCheck } from '../../session/pastChecks.js';
	import { changedSince } from '../../session/pastChecks.js';
	import { listed, mistakeText, OUTCOME } from '../../text/index.js';

	/** Checks that were kept, newest first, each compared with the one before. */
	let { past }: { past: readonly PastCheck[] } = $props();

	const TONE = { within: 'text-accent', outside: 'text-fault', undecided: 'text-soft' };
</script>

<ul class="min-h-0 flex-1 overflow-y-auto px-3 py-1.5 text-[12.5px]" data-testid="past-checks">
	{#each past as one, i (one.number)}
		{@const changed = past[i + 1] ? changedSince(one, past[i + 1]) : []}
		<li class="border-b py-1">
			<div class="flex items-baseline gap-3">
				<time class="num text-soft" datetime={one.madeAt}>{one.madeAt.slice(0, 16).replace('T', ' ')}</time>
				<b class={TONE[one.verdict]}>{OUTCOME[one.verdict]}</b>
				<span class="text-soft"
					>as set {OUTCOME[one.asSet].toLowerCase()}, revision {one.revision}, {one.aims.length}
					{one.aims.length === 1 ? 'aim' : 'aims'}, {one.recordings.length}
					{one.recordings.length === 1 ? 'recording' : 'recordings'}</span
				>
			</div>
			{#if one.suspects.length > 0}<p>{mistakeText(one.suspects[0])}.</p>{/if}
			{#if changed.length > 0}
				<p class="text-soft">
					{listed(
						changed.map(
							({ name, from, to }) => `${name}: ${from === undefined ? 'new' : OUTCOME[from].toLowerCase()} → ${OUTCOME[to].toLowerCase()}`
						)
					)}
				</p>
			{/if}
		</li>
	{:else}
		<li class="text-soft">No check was kept yet.</li>
	{/each}
</ul>
