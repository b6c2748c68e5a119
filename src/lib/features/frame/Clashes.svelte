<script lang="ts">
	import { mergePlans, type Clash, type Side } from '../../../core/plan/index.js';
	import Dialog from '../../components/Dialog.svelte';
	import { attempt } from '../../session/attempt.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { clashPlace, clashValue } from '../../text/index.js';

	/** Edits here and edits that somebody else has saved, side by side where they clash, to choose from. */
	let { session, open = $bindable() }: { session: PlanSession; open: boolean } = $props();

	/** What was chosen, by place: it stays while one of the two goes on. */
	let chosen = $state<Record<string, Side>>({});

	const key = ({ path, order }: Clash) => `${path.join('\u0000')} ${order ?? ''}`;
	const clashes = $derived(session.clash ? mergePlans(session.clash.base, session.plan, session.clash.theirs.document).clashes : []);
	const plans = $derived(session.clash ? [session.plan, session.clash.theirs.document, session.clash.base] : []);
	const left = $derived(clashes.filter((clash) => chosen[key(clash)] === undefined).length);

	$effect(() => {
		if (!session.clash) open = false;
	});

	const all = (side: Side) => (chosen = Object.fromEntries(clashes.map((clash) => [key(clash), side])));

	const settle = () =>
		attempt('The two could not be brought together', () => Promise.resolve(session.settle(clashes.map((clash) => chosen[key(clash)]))));

	const SIDES: { side: Side; name: string }[] = [
		{ side: 'mine', name: 'Yours' },
		{ side: 'theirs', name: 'Saved elsewhere' }
	];
</script>

<Dialog bind:open size="lg" label="Edits that clash">
	<h2 class="font-serif text-xl font-semibold">
		{clashes.length === 1 ? 'One place was' : `${clashes.length} places were`} edited here and elsewhere
	</h2>
	<p class="text-[14px] text-soft">All other edits of both are kept. Choose what stands here; one undo takes it back.</p>
	<div class="max-h-[50dvh] overflow-y-auto">
		<table class="w-full table-fixed border-collapse text-[14px]">
			<thead>
				<tr class="text-left text-[13px] text-soft">
					<th class="w-1/4 py-1 pr-3 font-normal">Place</th>
					{#each SIDES as { side, name } (side)}
						<th class="py-1 pr-3 font-normal">
							{name}
							<button type="button" class="ml-2 btn" onclick={() => all(side)}>All of these</button>
						</th>
					{/each}
				</tr>
			</thead>
			<tbody>
				{#each clashes as clash (key(clash))}
					<tr class="border-t align-top" data-testid="clash">
						<th scope="row" class="py-1.5 pr-3 text-left font-serif font-semibold">{clashPlace(clash, plans)}</th>
						{#each SIDES as { side, name } (side)}
							<td class="py-1.5 pr-3">
								<label
									class={[
										'flex cursor-pointer items-start gap-2 rounded-xs border px-2 py-1',
										chosen[key(clash)] === side ? 'border-accent bg-accent-wash' : 'border-rule'
									]}
								>
									<input
										type="radio"
										class="mt-1 accent-accent"
										name={key(clash)}
										aria-label="{name}: {clashPlace(clash, plans)}"
										checked={chosen[key(clash)] === side}
										onchange={() => (chosen[key(clash)] = side)}
									/>
									<span class="min-w-0 num text-[13px] break-words">{clashValue(clash[side], clash.base, plans, clash.order)}</span>
								</label>
							</td>
						{/each}
					</tr>
				{:else}
					<tr class="border-t">
						<td colspan="3" class="py-2"
							>No single place clashes, but both together are no plan: keep yours as a copy, or take the newer.</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
	<div class="flex items-center justify-end gap-2">
		<span class="mr-auto text-[13px] text-soft" role="status">{left === 0 ? '' : `${left} to choose`}</span>
		<button type="button" class="btn" onclick={() => (open = false)}>Later</button>
		<button type="button" class="btn-main" disabled={left > 0 || clashes.length === 0} onclick={settle}>Save as chosen</button>
	</div>
</Dialog>
