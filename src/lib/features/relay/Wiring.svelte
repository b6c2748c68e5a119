<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import { wiresBetween, type Arrow } from './relay.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import InTurn from '../../components/InTurn.svelte';
	import Num from '../../components/Num.svelte';

	/** The part's wires between timers, and the phases that the plan makes of them. */
	interface Props {
		session: PlanSession;
		arrows: Arrow[];
		/** Lets a timer follow another, by a share of its period. */
		onLink: (from: string, to: string, lag: string) => void;
	}
	let { session, arrows, onLink }: Props = $props();

	const linked = $derived(new Set(arrows.map(({ from, to }) => `${from} ${to}`)));
	const wired = $derived(
		session.plan.part.timers.filter(({ id }) =>
			(session.plan.part.wiring ?? []).some(({ from, to }) => from.timer === id || to.timer === id)
		)
	);
	const nameOf = (id: string) => session.plan.part.timers.find((timer) => timer.id === id)?.name ?? id;

	function figure(arrow: Arrow, name: string) {
		return arrow.figures.find((one) => one.name === name)?.value;
	}

	/** The phase, had the leader's compare not been set early by the latency. */
	function uncompensated(arrow: Arrow): Rational | undefined {
		// Only a compare that was chosen for the lag makes up for the latency; an event without one, or a held one, does not.
		if (!arrow.value || Object.hasOwn(arrow.follower.locks, 'lead')) return undefined;
		const [lag, latency, degrees] = ['lag', 'latency', 'lag-degrees'].map((name) => figure(arrow, name));
		if (!lag || !latency || !degrees || lag.sign === 0 || latency.sign === 0) return undefined;
		return degrees.mul(lag.add(latency)).div(lag);
	}
</script>

<section class="overflow-auto border-t bg-card/60 px-4 py-2" aria-label="Wiring of {session.plan.part.name}" data-testid="wiring">
	<InTurn>
		{#if wired.length === 0}
			<p class="text-[13px] text-soft">{session.plan.part.name} has no wires between its timers.</p>
		{:else}
			<div class="grid grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)] gap-6">
				<div>
					<h2 class="mb-1 text-xs font-bold text-soft">
						Wires of {session.plan.part.name}: who reaches whom, by which input; a press lets the timer follow
					</h2>
					<table class="text-[12px]">
						<thead
							><tr
								><th class="pr-2 text-left text-[11px] font-normal text-soft">leads, follows</th>{#each wired as to (to.id)}<th
										class="px-1 font-normal text-soft">{to.name.replace('Timer ', '')}</th
									>{/each}</tr
							></thead
						>
						<tbody>
							{#each wired as from (from.id)}
								<tr>
									<th class="pr-2 text-left font-normal">{from.name}</th>
									{#each wired as to (to.id)}
										{@const wires = wiresBetween(session.plan.part, from.id, to.id)}
										<td class="p-0.5 text-center">
											{#if from.id !== to.id}
												<button
													type="button"
													class={[
														'h-6 min-w-10 rounded-xs border px-1 text-[11px]',
														linked.has(`${from.id} ${to.id}`)
															? 'border-ink bg-well font-bold'
															: wires.length > 0
																? 'bg-card hover:border-accent'
																: 'border-transparent text-soft opacity-50'
													]}
													aria-label="{to.name} follows {from.name}: {wires.map(({ input }) => input).join(' ') || 'no wire'}"
													title={wires.length > 0
														? `${wires.map(({ input }) => input).join(', ')}: ${wires[0].sources.join(', ')}`
														: 'no wire'}
													onclick={() => onLink(from.id, to.id, '1/3')}>{wires.map(({ input }) => input).join(' ') || '·'}</button
												>
											{/if}
										</td>
									{/each}
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
				<div>
					<h2 class="mb-1 text-xs font-bold text-soft">Phases</h2>
					{#if arrows.length === 0}<p class="text-[13px] text-soft">No timer follows another yet.</p>{/if}
					<table class="w-full text-[12.5px]" data-testid="phases">
						<tbody class="[&_td]:px-2 [&_td]:py-0.5 [&_tr]:border-b">
							{#each arrows as arrow (arrow.follower.id)}
								<tr>
									<td class="w-full">
										<a class="font-semibold hover:text-accent hover:underline" href="/plan/{session.id}/aims#{arrow.follower.id}"
											>{arrow.follower.name}</a
										>
										<span class="block text-[11.5px] text-soft">{nameOf(arrow.from)} {arrow.source} → {nameOf(arrow.to)}</span>
									</td>
									<td class="text-right whitespace-nowrap">
										{#if figure(arrow, 'lag-degrees')}<b><Num value={figure(arrow, 'lag-degrees')!} unit="deg" digits={6} /></b
											>{:else}{arrow.action}{/if}{#if figure(arrow, 'lag-off')}, off <Num
												value={figure(arrow, 'lag-off')!}
												unit="s"
												digits={4}
												sign
											/>{/if}
										{#if uncompensated(arrow)}
											<span
												class="block text-[11.5px] text-soft"
												title="What the latency would make of it if the leader’s compare were not set early by it"
												>not compensated <Num value={uncompensated(arrow)!} unit="deg" digits={6} /></span
											>
										{/if}
									</td>
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
			</div>
		{/if}
	</InTurn>
</section>
