<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import { untrack } from 'svelte';
	import { Rational } from '../../../core/exact/index.js';
	import { type ClockWish, planQuestion } from '../../../core/plan/index.js';
	import { adoptAnswer, answerTexts, RateSearchRun } from './rates.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { nodeName, wishProblemText } from '../../text/index.js';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';

	interface Props {
		session: PlanSession;
		/** The node looked at: a new wish is for it. */
		selected: string | undefined;
	}
	let { session, selected }: Props = $props();

	const KINDS: Record<ClockWish['kind'], string> = {
		nearest: 'nearest to',
		exactly: 'exactly',
		multiple: 'a multiple of',
		equal: 'equal to',
		highest: 'as high as allowed',
		lowest: 'as low as allowed'
	};
	const SHOWN = 40;

	const plan = $derived(session.plan);
	const asked = $derived(planQuestion(plan));
	const run = new RateSearchRun();
	const wishable = $derived(plan.part.clock.slice(0, 6000));
	const answers = $derived(run.progress?.answers ?? []);

	// A search begins when the question has stood still for a moment.
	$effect(() => {
		const { question } = asked;
		const key = question.wishes.length;
		if (key === 0) return untrack(() => run.clear());
		const timer = setTimeout(() => void run.start(session.plan), 150);
		return () => clearTimeout(timer);
	});
	$effect(() => () => run.clear());

	function add() {
		const likely = [selected, ...plan.part.timers.map((timer) => timer.kernel), ...plan.part.clock.map((n) => n.id)];
		const node = likely.find((id) => id !== undefined && !plan.wishes.some((wish) => wish.node === id)) ?? plan.part.clock[0].id;
		const wish: ClockWish = { id: crypto.randomUUID(), node, kind: 'nearest', value: '48 MHz' };
		session.insert(['wishes', plan.wishes.length], wish, 'ask for a rate');
	}

	function setKind(i: number, kind: ClockWish['kind']) {
		const wish = plan.wishes[i];
		const other = plan.part.clock.find((node) => node.id !== wish.node)?.id ?? wish.node;
		const value = kind === 'equal' ? other : wish.kind === 'equal' || wish.value === '' ? '48 MHz' : wish.value;
		session.set(['wishes', i], { ...wish, kind, value }, 'ask otherwise');
	}

	const letGo = (id: string) =>
		session.set(
			['held'],
			plan.held.filter((other) => other !== id),
			`let go ${nodeName(plan, id)}`
		);

	function showChange([id, text]: [string, string]): string {
		const node = plan.part.clock.find((n) => n.id === id);
		const value =
			node?.kind === 'select' ? nodeName(plan, text) : node?.kind === 'gate' ? 'open' : `${node?.kind === 'divide' ? '÷ ' : '× '}${text}`;
		return `${nodeName(plan, id)} ${value}`;
	}
</script>

<div class="grid h-full min-h-0 grid-cols-[minmax(0,27rem)_minmax(0,1fr)] text-[13px]" data-testid="rates-panel">
	<div class="min-h-0 overflow-y-auto border-r px-4 py-2.5">
		{#each plan.wishes as wish, i (wish.id)}
			{@const problem = asked.problems.get(wish.id)}
			<div class="mb-1 flex items-baseline gap-1.5" data-testid="wish">
				<Choice
					class="w-34 min-w-0 py-0"
					aria-label="Node of wish {i + 1}"
					value={wish.node}
					onchange={(event) => session.set(['wishes', i, 'node'], event.currentTarget.value, 'ask of another node')}
				>
					{#each wishable as node (node.id)}<option value={node.id}>{nodeName(plan, node.id)}</option>{/each}
				</Choice>
				<Choice
					class="w-25 min-w-0 py-0"
					aria-label="Kind of wish {i + 1}"
					value={wish.kind}
					onchange={(event) => setKind(i, event.currentTarget.value as ClockWish['kind'])}
				>
					{#each Object.entries(KINDS) as [kind, text] (kind)}<option value={kind}>{text}</option>{/each}
				</Choice>
				{#if wish.kind === 'equal'}
					<Choice
						class="w-30 min-w-0 py-0"
						aria-label="Other node of wish {i + 1}"
						value={wish.value}
						onchange={(event) => session.set(['wishes', i, 'value'], event.currentTarget.value, 'ask of another node')}
					>
						{#each wishable as node (node.id)}<option value={node.id}>{nodeName(plan, node.id)}</option>{/each}
					</Choice>
				{:else if wish.kind !== 'highest' && wish.kind !== 'lowest'}
					<TypedField
						small
						label="Rate of wish {i + 1}"
						value={wish.value}
						problem={problem && wishProblemText(problem)}
						onInput={(text, first) => session.set(['wishes', i, 'value'], text, 'ask for another rate', !first)}
					/>
				{/if}
				<span class="ml-auto flex gap-1">
					{#if i > 0}<button
							type="button"
							class="text-soft hover:text-accent"
							title="Let it count before the one above"
							aria-label="Move wish {i + 1} up"
							onclick={() =>
								session.edit({ label: 'weigh wishes otherwise', parts: [{ kind: 'move', path: ['wishes'], from: i, to: i - 1 }] })}
							>↑</button
						>{/if}
					<button
						type="button"
						class="text-soft hover:text-fault"
						aria-label="Drop wish {i + 1}"
						onclick={() => session.remove(['wishes', i], 'drop a wish')}>×</button
					>
				</span>
			</div>
			{#if typeof problem === 'string'}<p class="mb-1 text-[12px] text-fault">{wishProblemText(problem)}</p>{/if}
		{/each}
		<button type="button" class={plan.wishes.length === 0 ? 'mt-1 btn-main' : 'mt-1 btn py-0'} onclick={add}
			>{plan.wishes.length === 0 ? 'Ask for a rate' : 'And another'}</button
		>
		{#if plan.wishes.length === 0}<p class="mt-2 text-soft">
				Say what rates you want of which nodes; every way to set the clock is weighed, and the best are proved best.
			</p>{/if}
		{#if plan.held.length > 0}
			<p class="mt-2 flex flex-wrap items-baseline gap-1.5 text-soft">
				held as they are:
				{#each plan.held as id (id)}
					<button
						type="button"
						class="rounded-xs border bg-accent-wash px-1 text-ink hover:border-accent"
						title="Let it go"
						onclick={() => letGo(id)}>{nodeName(plan, id)} ×</button
					>
				{/each}
			</p>
		{:else if plan.wishes.length > 0}
			<p class="mt-2 text-[12px] text-soft">
				A node that shall stay as it is: select it, Node, Hold. What must hold, holds; the others count in their order, then the fewest
				changes.
			</p>
		{/if}
	</div>
	<div class="flex min-h-0 flex-col px-4 py-2.5">
		{#if run.state.kind === 'failed'}
			<p role="alert" class="border-l-4 border-fault bg-fault-wash px-2 py-0.5">The search could not be made: {run.state.reason}.</p>
		{:else if run.progress}
			{@const { share, looked, done, combinations } = run.progress}
			<div class="mb-1 flex items-center gap-3 text-[12.5px]" role="status" data-testid="rate-search">
				{#if run.state.kind === 'loading' && !done}
					<progress class="h-1.5 w-28 accent-(--color-accent)" value={share}></progress>
					<span>searching, {looked.toLocaleString('en')} looked at; the best so far:</span>
					<button type="button" class="btn py-0" onclick={() => run.stop()}>Stop</button>
				{:else if run.state.kind === 'stopped'}
					<span>Stopped: the best of {looked.toLocaleString('en')} looked at, not proved.</span>
					<button type="button" class="btn py-0" onclick={() => run.start(session.plan)}>Search on from the start</button>
				{:else}
					<span
						><b
							>{answers.length === 0
								? 'No setting keeps all of this'
								: answers.length < SHOWN
									? `All ${answers.length} that there are`
									: `The ${answers.length} best`}</b
						>, proved: of
						<span class="num">{BigInt(combinations).toLocaleString('en')}</span> settings, {looked.toLocaleString('en')} steps had to be looked
						at.</span
					>
				{/if}
			</div>
			{#if answers.length > 0}
				<div class="min-h-0 flex-1 overflow-y-auto">
					<table class="w-full" data-testid="answers">
						<thead class="text-left text-[11.5px] text-soft">
							<tr>
								<th><span class="sr-only">actions</span></th>
								<th class="px-2 font-normal whitespace-nowrap"
									>{asked.question.wishes.map((wish) => nodeName(plan, wish.node)).join(' · ')}</th
								>
								<th class="px-2 font-normal">changes</th>
								<th><span class="sr-only">actions</span></th>
							</tr>
						</thead>
						<tbody class="[&_td]:px-2 [&_td]:py-0.5 [&_td]:align-baseline [&_tr]:border-b">
							{#each answers as answer, i (i)}
								<tr>
									<td class="num text-soft">{i + 1}</td>
									<td class="whitespace-nowrap">
										{#each answer.met as met, k (k)}
											<span class="mr-3"
												><Num value={Rational.parse(met.hz)} unit="Hz" />{#if met.ppm !== undefined && met.ppm !== '0/1'}
													<span class="ml-1.5 text-[11.5px]"><Num value={Rational.parse(met.ppm)} unit="ppm" digits={4} sign /></span
													>{/if}</span
											>
										{/each}
									</td>
									<td class="w-full text-soft"
										>{answer.changes.length === 0 ? 'as it stands' : answerTexts(answer).map(showChange).join(', ')}</td
									>
									<td
										>{#if answer.changes.length > 0}<button
												type="button"
												class="btn py-0"
												aria-label="Take answer {i + 1}"
												onclick={() => adoptAnswer(session, answer)}>Take</button
											>{/if}</td
									>
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
			{:else if run.state.kind !== 'loading'}
				<p class="text-soft">
					Limits or held settings forbid it. {#if plan.wishes.some((w) => w.kind === 'exactly')}Ask for “nearest to” instead of “exactly” to
						see how close one can come.{/if}
				</p>
			{/if}
		{:else if run.state.kind === 'loading'}
			<p class="text-soft" role="status">searching …</p>
		{/if}
	</div>
</div>
