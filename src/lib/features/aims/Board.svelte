<script lang="ts">
	import type { Aim } from '../../../core/aims/index.js';
	import { moveStep } from '../../../core/plan/index.js';
	import { sharedBy } from '../../../core/check/index.js';
	import { duplicateAim, removeAim } from '../../session/edits.js';
	import { glanceOf, grouped, matches, type Glance } from './glance.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { nodeName, sharedText } from '../../text/index.js';
	import AimTabs from './AimTabs.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import { sortable } from '../../components/sortable.js';
	import Num from '../../components/Num.svelte';

	let { session }: { session: PlanSession } = $props();

	let filter = $state('');
	let selected = $state.raw<string[]>([]);

	const derivation = $derived(session.derivation);
	const byId = $derived(new Map(derivation.aims.map((one) => [one.aim.id, one])));
	const glances = $derived(
		session.plan.aims.flatMap(({ id }) => {
			const one = byId.get(id);
			return one ? [glanceOf(one, session.findings, derivation.pins)] : [];
		})
	);
	const shown = $derived(glances.filter((glance) => filter.trim() === '' || matches(glance, filter.trim())));
	const groups = $derived(grouped(shown));
	const order = $derived(groups.flatMap((one) => one.glances));
	const names = $derived([...new Set(session.plan.aims.map(({ group }) => group.trim()).filter(Boolean))]);
	const pair = $derived(selected.filter((id) => byId.has(id)));
	const nameOf = (id: string) => byId.get(id)?.aim.name || 'unnamed aim';
	const shares = $derived(pair.length === 2 ? sharedBy(derivation, pair[0], pair[1]) : []);
	let fresh = true;

	function select(id: string) {
		selected = selected.includes(id) ? selected.filter((one) => one !== id) : [...pair, id].slice(-2);
	}

	/** Puts an aim in the place of another, which it then stands before or after as it came from below or above; it joins its group. */
	function put(id: string, target: string) {
		const { aims } = session.plan;
		const [from, to] = [id, target].map((one) => aims.findIndex((aim) => aim.id === one));
		if (from < 0 || to < 0 || from === to) return;
		session.edit(moveStep(session.plan, from, to, aims[to].group, `move ${aims[from].name || 'an aim'}`));
	}

	/** One place up or down among the aims that are shown. */
	function nudge(glance: Glance, by: -1 | 1) {
		const at = order.indexOf(glance) + by;
		const target = order.at(at);
		if (at >= 0 && target) put(glance.aim.id, target.aim.id);
	}

	function key(event: KeyboardEvent, glance: Glance) {
		if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
		event.preventDefault();
		nudge(glance, event.key === 'ArrowUp' ? -1 : 1);
	}

	const indexOf = (aim: Pick<Aim, 'id'>) => session.plan.aims.findIndex(({ id }) => id === aim.id);
</script>

<div class="grid h-full grid-rows-[auto_minmax(0,1fr)_auto]" data-testid="board">
	<AimTabs planId={session.id} view="board">
		<input
			class="w-64 rounded-xs border bg-card px-2 py-0.5 text-[13px]"
			type="search"
			placeholder="filter: name, kind, timer, pin, fault …"
			aria-label="Filter the aims"
			bind:value={filter}
		/>
		<span class="text-soft">{shown.length === glances.length ? `${glances.length} aims` : `${shown.length} of ${glances.length} aims`}</span
		>
		<span class="ml-auto text-soft">Tick two to see what they share.</span>
	</AimTabs>
	<div class="overflow-y-auto px-5 py-2">
		{#if glances.length === 0}
			<p class="mt-24 text-center">
				No aim yet. <a class="ml-2 btn-main" href="/plan/{session.id}/aims">Add the first aim</a>
			</p>
		{:else if shown.length === 0}
			<p class="mt-24 text-center text-soft">
				No aim has all of these words. <button type="button" class="ml-2 btn" onclick={() => (filter = '')}>Show all</button>
			</p>
		{:else}
			<table class="w-full text-[13px]">
				<thead class="sticky -top-2 z-10 bg-paper text-left text-xs text-soft [&_th]:px-2 [&_th]:py-1 [&_th]:font-normal">
					<tr class="border-b">
						<th><span class="sr-only">Select</span></th>
						<th>Aim</th>
						<th>Kind</th>
						<th>Where</th>
						<th>Wished</th>
						<th>Comes to</th>
						<th>State</th>
						<th>Group</th>
						<th><span class="sr-only">actions</span></th>
					</tr>
				</thead>
				{#each groups as { group, glances: some } (group)}
					<tbody class="[&_td]:px-2 [&_td]:py-1" {@attach sortable('aim', 'board', put)}>
						{#if names.length > 0}
							<tr><th colspan="9" class="px-2 pt-3 pb-1 text-left font-serif text-[15px] font-semibold">{group || 'no group'}</th></tr>
						{/if}
						{#each some as glance (glance.aim.id)}
							{@const { aim } = glance}
							{@const name = aim.name || 'unnamed aim'}
							<InTurn>
								<tr
									class={['border-b [content-visibility:auto]', selected.includes(aim.id) && 'bg-accent-wash']}
									data-aim={aim.id}
									onkeydown={(event) => key(event, glance)}
								>
									<td
										><input
											type="checkbox"
											class="rounded-xs border text-accent"
											checked={selected.includes(aim.id)}
											aria-label="Select {name}"
											onchange={() => select(aim.id)}
										/></td
									>
									<td class="font-semibold"
										><a class="hover:text-accent hover:underline" href="/plan/{session.id}/aims#{aim.id}">{name}</a></td
									>
									<td class="text-soft">{glance.kind}</td>
									<td>{glance.place}</td>
									<td class="num text-[12.5px]">{glance.wish}</td>
									<td>
										{#each glance.comes as { value, unit }, i (i)}{#if i > 0}<span class="px-1 text-soft">·</span>
											{/if}<Num {value} {unit} digits={6} />{:else}<span class="text-soft">not derived</span>{/each}
									</td>
									<td class="whitespace-nowrap">
										{#if glance.faults > 0}<b class="text-fault">▲ {glance.faults} {glance.faults === 1 ? 'fault' : 'faults'}</b>
										{:else if glance.warnings > 0}<b class="text-warn"
												>◆ {glance.warnings} {glance.warnings === 1 ? 'warning' : 'warnings'}</b
											>
										{:else}<span class="text-accent">● met</span>{/if}
									</td>
									<td>
										<input
											class="w-28 rounded-xs border border-transparent bg-transparent px-1 py-0 text-[13px] hover:border-rule focus:border-accent"
											list="groups"
											placeholder="none"
											maxlength="120"
											aria-label="Group of {name}"
											value={aim.group}
											onfocus={() => (fresh = true)}
											onchange={(event) => {
												session.set(['aims', indexOf(aim), 'group'], event.currentTarget.value, `group ${name}`, !fresh);
												fresh = false;
											}}
										/>
									</td>
									<td class="text-right whitespace-nowrap">
										<button
											type="button"
											class="px-1 hover:text-accent"
											title="Move up (Alt+↑)"
											aria-label="Move {name} up"
											onclick={() => nudge(glance, -1)}>↑</button
										>
										<button
											type="button"
											class="px-1 hover:text-accent"
											title="Move down (Alt+↓)"
											aria-label="Move {name} down"
											onclick={() => nudge(glance, 1)}>↓</button
										>
										<button
											type="button"
											class="px-1 underline hover:text-accent"
											aria-label="Copy {name}"
											onclick={() => duplicateAim(session, aim)}>copy</button
										>
										<button
											type="button"
											class="px-1 underline hover:text-accent"
											aria-label="Delete {name}"
											onclick={() => removeAim(session, aim)}>delete</button
										>
									</td>
								</tr>
							</InTurn>
						{/each}
					</tbody>
				{/each}
			</table>
			<datalist id="groups"
				>{#each names as name (name)}<option value={name}></option>{/each}</datalist
			>
		{/if}
	</div>
	{#if pair.length > 0}
		<section class="border-t bg-card px-5 py-2 text-[13px]" aria-label="What the selected aims share" data-testid="shared">
			{#if pair.length === 1}
				<p class="text-soft">{nameOf(pair[0])} is ticked; tick one more.</p>
			{:else}
				<h2 class="mb-1 font-serif text-[15px] font-semibold">
					{nameOf(pair[0])} and {nameOf(pair[1])}
					<button type="button" class="ml-3 font-sans text-[12.5px] font-normal underline" onclick={() => (selected = [])}
						>untick both</button
					>
				</h2>
				<ul class="grid grid-cols-2 gap-x-6 gap-y-0.5">
					{#each shares as shared (shared.code)}<li>{sharedText(shared, (id) => nodeName(session.plan, id))}</li>{/each}
				</ul>
			{/if}
		</section>
	{/if}
</div>
