<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import { ratioTable, topPeriods } from '../../../core/solve/index.js';
	import type { TimerProfile } from '../../../core/part/index.js';
	import type { Aim, Tradeoff } from '../../../core/aims/index.js';
	import { joinSteps, setStep } from '../../../core/plan/index.js';
	import { periodTicks, updateRate } from '../../../core/timer/index.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { hex } from '../../text/index.js';
	import Num from '../../components/Num.svelte';
	import TradeOff from './TradeOff.svelte';

	interface Props {
		session: PlanSession;
		aim: Aim;
		question: Tradeoff | undefined;
		timer: TimerProfile | undefined;
		decidedBy: string | undefined;
		limits: string;
	}
	let { session, aim, question, timer, decidedBy, limits }: Props = $props();

	interface Pair {
		prescale: number;
		reload: number;
	}
	const SHOWN = 6;
	const MOST_COMPARED = 2;
	const MILLION = Rational.int(1_000_000);
	let compared = $state.raw<Pair[]>([]);
	const index = $derived(session.plan.aims.findIndex(({ id }) => id === aim.id));
	const best = $derived(question && timer ? topPeriods(question, ratioTable(timer.prescaler), { keep: SHOWN }).best : []);
	const same = (a: Pair, b: Pair | undefined) => a.prescale === b?.prescale && a.reload === b.reload;
	/** What is set, and what it is held against. */
	const columns = $derived(
		question
			? [
					...(question.now ? [{ ...question.now, title: 'as set' }] : []),
					...compared.map((pair, i) => ({ ...pair, title: `candidate ${'AB'[i]}` }))
				]
			: []
	);

	/** A setting taken holds both of its values, as one undoable step. */
	function take({ prescale, reload }: Pair) {
		const label = `take prescale ${prescale}, reload ${reload} for ${aim.name}`;
		const steps = [
			setStep(session.plan, ['aims', index, 'locks', 'prescale'], String(prescale), label),
			setStep(session.plan, ['aims', index, 'locks', 'reload'], String(reload), label)
		];
		session.edit(joinSteps(label, steps));
	}

	function compare(pair: Pair) {
		compared = compared.some((one) => same(one, pair))
			? compared.filter((one) => !same(one, pair))
			: [...compared, { prescale: pair.prescale, reload: pair.reload }].slice(-MOST_COMPARED);
	}

	function rateOf({ prescale, reload }: Pair): Rational {
		return updateRate(question!.kernel, prescale, periodTicks(question!.counting, reload)!);
	}
	const errorOf = (pair: Pair) => rateOf(pair).div(question!.wish).sub(Rational.one).mul(MILLION);
	const ticksOf = (pair: Pair) => periodTicks(question!.counting, pair.reload)!;
	const step = $derived(question?.counting.mode === 'updown' ? 2 : 1);
</script>

<TradeOff {question} prescaler={timer?.prescaler} name={aim.name} {limits} {decidedBy} onTake={take} onCompare={compare} />
{#if best.length > 0 && question}
	<table class="mt-2 w-full text-[12.5px]" data-testid="ranked">
		<thead class="text-right text-xs text-soft [&_th]:px-2 [&_th]:font-normal">
			<tr class="border-b"
				><th class="text-left">nearest settings</th><th>prescale</th><th>reload</th><th>ticks</th><th>error</th><th
					><span class="sr-only">take</span></th
				></tr
			>
		</thead>
		<tbody class="num [&_td]:px-2 [&_td]:py-0.5 [&_td]:text-right [&_tr]:border-b">
			{#each best as one, i (`${one.prescale} ${one.reload}`)}
				<tr class={same(one, question.now) ? 'bg-accent-wash font-bold' : ''}>
					<td style:text-align="left">{i + 1}</td>
					<td>{one.prescale}</td>
					<td>{one.reload}</td>
					<td>{one.ticks}</td>
					<td><Num value={one.ppm} unit="ppm" digits={4} sign /></td>
					<td class="space-x-2 font-sans font-normal whitespace-nowrap">
						<button
							type="button"
							class="underline hover:text-accent disabled:no-underline disabled:opacity-40"
							disabled={decidedBy !== undefined}
							onclick={() => take(one)}
							aria-label="Take prescale {one.prescale}, reload {one.reload} for {aim.name}">take</button
						>
						<button
							type="button"
							class={['underline hover:text-accent', compared.some((c) => same(c, one)) && 'font-bold text-accent']}
							aria-pressed={compared.some((c) => same(c, one))}
							aria-label="Compare prescale {one.prescale}, reload {one.reload} for {aim.name}"
							onclick={() => compare(one)}>compare</button
						>
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
{#if compared.length > 0 && question && timer}
	<table class="mt-3 w-full border bg-card text-[12.5px]" data-testid="compared">
		<thead>
			<tr class="border-b text-xs text-soft [&_th]:px-2 [&_th]:py-0.5 [&_th]:text-right [&_th]:font-normal">
				<th class="w-28"><span class="sr-only">what</span></th>
				{#each columns as column (column.title)}<th>{column.title}</th>{/each}
			</tr>
		</thead>
		<tbody class="[&_td]:px-2 [&_td]:text-right [&_th]:px-2 [&_th]:text-left [&_th]:font-normal [&_th]:text-soft [&_tr]:border-b">
			<tr
				><th>Prescale</th>{#each columns as c (c.title)}<td class="num">{c.prescale}</td>{/each}</tr
			>
			<tr
				><th>Reload</th>{#each columns as c (c.title)}<td class="num"
						>{c.reload} <span class="text-soft">{hex(c.reload, timer.width)}</span></td
					>{/each}</tr
			>
			<tr
				><th>Rate</th>{#each columns as c (c.title)}<td><Num value={rateOf(c)} unit="Hz" /></td>{/each}</tr
			>
			<tr
				><th>Error</th>{#each columns as c (c.title)}<td><Num value={errorOf(c)} unit="ppm" digits={4} sign /></td>{/each}</tr
			>
			<tr
				><th>One tick</th>{#each columns as c (c.title)}<td
						><Num value={Rational.int(c.prescale).div(question.kernel)} unit="s" digits={5} /></td
					>{/each}</tr
			>
			<tr
				><th>Duty step</th>{#each columns as c (c.title)}<td><Num value={Rational.ratio(step, ticksOf(c))} unit="%" digits={4} /></td
					>{/each}</tr
			>
			<tr
				><th>Resolution</th>{#each columns as c (c.title)}<td class="num"
						>{Math.log2(ticksOf(c) / step).toFixed(2)}<span class="text-soft">&#8239;bits</span></td
					>{/each}</tr
			>
			<tr>
				<th><span class="sr-only">actions</span></th>
				{#each columns as c (c.title)}
					<td class="space-x-2">
						{#if c.title !== 'as set'}
							<button type="button" class="underline disabled:opacity-40" disabled={decidedBy !== undefined} onclick={() => take(c)}
								>take</button
							>
							<button type="button" class="underline" onclick={() => compare(c)}>drop</button>
						{/if}
					</td>
				{/each}
			</tr>
		</tbody>
	</table>
{/if}
