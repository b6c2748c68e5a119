<script lang="ts">
	import { onDestroy } from 'svelte';
	import { SvelteMap } from 'svelte/reactivity';
	import { Rational } from '../../../core/exact/index.js';
	import { csvRow } from '../../../core/formats/index.js';
	import { CARD_KINDS, cardOf, type CardKind, type SeriesKind } from '../../../core/measure/index.js';
	import type { BenchCard } from '../../../core/plan/index.js';
	import { fileName, saveFile } from '../../components/export.js';
	import Choice from '../../components/Choice.svelte';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { unitPs } from '../../session/recordings.svelte.js';
	import { cardName, cardScale, cardTrouble, cardUnit } from '../../text/index.js';
	import type { BenchModel } from './bench.svelte.js';
	import CardChart from './CardChart.svelte';
	import { CardWork } from './cards.svelte.js';
	import MarksTable from './MarksTable.svelte';

	/** Marks, and the measurements that stay with the plan, as one table; of the chosen one its histogram and its trend. */
	let { session, bench }: { session: PlanSession; bench: BenchModel } = $props();

	const works = new SvelteMap<string, CardWork>();
	const cards = $derived(session.plan.cards);
	let chosen = $state('');
	const current = $derived(cards.find(({ id }) => id === chosen) ?? cards[0]);
	const lanes = $derived(
		bench.lanes.map((lane) => ({
			id: lane.id,
			name: `${lane.derivation?.aim.name ?? 'no aim'}: ${lane.line?.name}, ${lane.recording?.name}`
		}))
	);

	/** What is in view changes often: cards over it follow when it rests. */
	const REST_MS = 150;
	$effect(() => {
		const all = cards;
		const ask = () => {
			for (const card of all) {
				const work = works.get(card.id) ?? new CardWork();
				if (!works.has(card.id)) works.set(card.id, work);
				work.ask(card, bench.lanes, bench.marks, bench.view);
			}
		};
		void [bench.lanes.map(({ frame, shiftPs }) => [frame, shiftPs]), bench.marks, bench.view.viewport];
		const timer = setTimeout(ask, REST_MS);
		return () => clearTimeout(timer);
	});
	onDestroy(() => works.forEach((work) => work.close()));

	function add() {
		const lane = bench.current?.id ?? lanes[0]?.id;
		if (!lane) return;
		const card: BenchCard = { id: crypto.randomUUID(), of: 'period', lane, other: '', over: 'all', from: '', to: '', limit: '' };
		session.insert(['cards', cards.length], card, 'add a card');
		chosen = card.id;
	}

	function change(card: BenchCard, next: Partial<BenchCard>, label: string) {
		const at = cards.findIndex(({ id }) => id === card.id);
		session.set(['cards', at], { ...card, ...next }, label);
	}

	function take(card: BenchCard, of: CardKind) {
		const { pair, limit } = cardOf(of);
		const other = pair && card.other === '' ? (lanes.find(({ id }) => id !== card.lane)?.id ?? '') : card.other;
		change(card, { of, other, limit: limit && card.limit === '' ? '1 µs' : card.limit }, 'measure something else');
	}

	function takeOver(card: BenchCard, over: BenchCard['over']) {
		const [first, last] = [bench.marks[0], bench.marks.at(-1)];
		const between = over === 'marks' && card.from === '' && first && last ? { from: first.id, to: last.id } : {};
		change(card, { over, ...between }, 'measure over something else');
	}

	function typeLimit(card: BenchCard, text: string, first: boolean) {
		const at = cards.findIndex(({ id }) => id === card.id);
		session.set(['cards', at, 'limit'], text, 'set a limit', !first);
	}

	const laneOf = (card: BenchCard) => bench.lanes.find(({ id }) => id === card.lane);

	/** Brings a moment of a card's line, in its own units, under cursor A. */
	function show(card: BenchCard, units: number) {
		const lane = laneOf(card);
		if (lane?.recording) bench.show((units * unitPs(lane.recording) - lane.shiftPs) * 1e-12);
	}

	/** Brings a stretch of a card's line into view, between the cursors: cards over what is in view follow. */
	function showWindow(card: BenchCard, from: number, to: number) {
		const lane = laneOf(card);
		if (!lane?.recording) return;
		const [a, b] = [from, to].map((units) => Math.round(units * unitPs(lane.recording!) - lane.shiftPs));
		[bench.view.cursorA, bench.view.cursorB] = [a, b];
		bench.view.showSpan(a, b);
	}

	/** Goes to the next value of a card on one side of cursor A. */
	async function step(card: BenchCard, by: 1 | -1) {
		const lane = laneOf(card);
		if (!lane?.recording) return;
		const from = bench.view.cursorA ?? bench.view.timeAt(bench.view.width / 2);
		const next = await works.get(card.id)?.step((from + lane.shiftPs) / unitPs(lane.recording), by);
		if (next !== undefined) show(card, next);
	}

	const titleOf = (card: BenchCard) => [cardName(card.of), cardOf(card.of).limit ? card.limit : ''].filter(Boolean).join(' ');
	const share = (text: string, kind: SeriesKind) => Rational.parse(text).mul(cardScale(kind));

	function rows(): string[] {
		const head = csvRow([
			'card',
			'line',
			'against',
			'over',
			'count',
			'mean',
			'median',
			'least',
			'greatest',
			'deviation (rounded)',
			'unit',
			'each known to (s)'
		]);
		const name = (id: string) => lanes.find((lane) => lane.id === id)?.name ?? '';
		return [
			head,
			...cards.map((card) => {
				const found = works.get(card.id)?.found;
				const s = found?.summary;
				const value = (text: string | undefined) => (text === undefined || !found ? '' : share(text, found.kind).toNumber());
				const over = card.over === 'marks' ? `${markName(card.from)} to ${markName(card.to)}` : card.over;
				return csvRow([
					titleOf(card),
					name(card.lane),
					cardOf(card.of).pair ? name(card.other) : '',
					over,
					s?.count ?? 0,
					value(s?.mean),
					value(s?.median),
					value(s?.min),
					value(s?.max),
					s && found ? s.deviation * cardScale(found.kind).toNumber() : '',
					found ? cardUnit(found.kind) : '',
					laneOf(card)?.step?.step.toNumber() ?? ''
				]);
			})
		];
	}

	const markName = (id: string) => bench.marks.find((mark) => mark.id === id)?.name ?? '?';
	const spread = (value: number) => Rational.parse(value.toPrecision(3));
</script>

<section
	class="grid h-[18.5rem] grid-cols-[14rem_minmax(0,1fr)_18rem] border-t bg-card/60"
	aria-label="Marks and cards"
	data-testid="cards"
>
	<MarksTable {session} {bench} />
	<div class="flex min-h-0 min-w-0 flex-col border-l">
		<div class="flex items-center gap-3 border-b px-3 py-1.5">
			<h2 class="text-[13px] font-bold">Cards</h2>
			<button type="button" class="btn text-[12px]" disabled={lanes.length === 0} onclick={add}>Add a card</button>
			<span class="ml-auto flex gap-3 text-xs">
				<button
					type="button"
					class="underline"
					disabled={cards.length === 0}
					onclick={() => void navigator.clipboard.writeText(rows().join('\n'))}>Copy</button
				>
				<button
					type="button"
					class="underline"
					disabled={cards.length === 0}
					onclick={() => saveFile(`${fileName(session.plan.name)}-cards.csv`, [...rows(), ''].join('\n'), 'text/csv')}>CSV</button
				>
			</span>
		</div>
		<div class="min-h-0 flex-1 overflow-auto">
			{#if cards.length === 0}
				<p class="m-auto mt-12 max-w-sm text-center text-[13px] text-soft">
					{lanes.length === 0 ? 'Map a recorded line to an aim; then it can be measured here.' : 'Nothing is measured yet: add a card.'}
				</p>
			{:else}
				{#each cards as card, i (card.id)}
					{@const work = works.get(card.id)}
					{@const found = work?.found}
					{@const unit = found ? cardUnit(found.kind) : ''}
					<div class={['border-b px-2 py-1.5 text-[12px]', card === current && 'bg-accent-wash']} data-testid="card">
						<span class="flex flex-wrap items-center gap-1">
							<Choice
								class="max-w-32"
								aria-label="Card {i + 1} measures"
								value={card.of}
								onchange={(event) => take(card, event.currentTarget.value as CardKind)}
							>
								{#each CARD_KINDS as kind (kind)}<option value={kind}>{cardName(kind)}</option>{/each}
							</Choice>
							{#if cardOf(card.of).limit}
								<TypedField
									value={card.limit}
									small
									label="Limit of card {i + 1}"
									problem={work?.trouble === 'no-limit' ? cardTrouble('no-limit') : undefined}
									onInput={(text, first) => typeLimit(card, text, first)}
								/>
							{/if}
							<Choice
								class="max-w-32"
								aria-label="Line of card {i + 1}"
								value={card.lane}
								onchange={(event) => change(card, { lane: event.currentTarget.value }, 'measure another line')}
							>
								{#each lanes as { id, name } (id)}<option value={id}>{name}</option>{/each}
							</Choice>
							{#if cardOf(card.of).pair}
								against
								<Choice
									class="max-w-32"
									aria-label="Other line of card {i + 1}"
									value={card.other}
									onchange={(event) => change(card, { other: event.currentTarget.value }, 'hold against another line')}
								>
									{#each lanes as { id, name } (id)}<option value={id}>{name}</option>{/each}
								</Choice>
							{/if}
							<Choice
								class="max-w-28"
								aria-label="Card {i + 1} is over"
								value={card.over}
								onchange={(event) => takeOver(card, event.currentTarget.value as BenchCard['over'])}
							>
								<option value="all">over all</option>
								<option value="view">in view</option>
								<option value="marks">between marks</option>
							</Choice>
							{#if card.over === 'marks'}
								{#each ['from', 'to'] as const as side (side)}
									<Choice
										class="max-w-20"
										aria-label="Card {i + 1} {side}"
										value={card[side]}
										onchange={(event) => change(card, { [side]: event.currentTarget.value }, 'measure between other marks')}
									>
										{#each bench.marks as { id, name } (id)}<option value={id}>{name}</option>{/each}
									</Choice>
								{/each}
							{/if}
							<span class="ml-auto flex gap-1.5">
								<button
									type="button"
									class={['text-[11px]', card === current ? 'font-bold text-ink' : 'text-accent underline']}
									aria-pressed={card === current}
									onclick={() => (chosen = card.id)}>drawn</button
								>
								<button
									type="button"
									class="text-soft hover:text-fault"
									aria-label="Delete card {i + 1}"
									onclick={() => session.remove(['cards', i], 'delete a card')}>×</button
								>
							</span>
						</span>
						{#if work?.trouble && work.trouble !== 'no-limit'}<p class="text-[11px] text-fault">{cardTrouble(work.trouble)}</p>{/if}
						{#if work?.state.kind === 'failed'}<p class="text-[11px] text-fault">{work.state.reason}</p>{/if}
						{#if found?.summary}
							{@const s = found.summary}
							<dl
								class="mt-1 grid grid-cols-[repeat(5,minmax(0,1fr))_3.2rem] gap-x-3 [&_dd]:whitespace-nowrap [&_dt]:text-[11px] [&_dt]:text-soft"
							>
								<div>
									<dt>mean</dt>
									<dd class="font-bold"><Num value={share(s.mean, found.kind)} {unit} digits={5} /></dd>
								</div>
								<div>
									<dt>median</dt>
									<dd><Num value={share(s.median, found.kind)} {unit} digits={5} /></dd>
								</div>
								{#each [['least', s.min, s.minAt], ['greatest', s.max, s.maxAt]] as const as [word, value, at] (word)}
									<div>
										<dt>{word}</dt>
										<dd>
											<button type="button" class="underline decoration-dotted" title="Show it" onclick={() => show(card, at)}
												><Num value={share(value, found.kind)} {unit} digits={5} /></button
											>
										</dd>
									</div>
								{/each}
								<div title="standard deviation, rounded">
									<dt>spread</dt>
									<dd><Num value={spread(s.deviation * cardScale(found.kind).toNumber())} {unit} digits={2} /></dd>
								</div>
								<div>
									<dt>count</dt>
									<dd class="num">{s.count}</dd>
								</div>
							</dl>
						{:else}
							<p class="mt-1 text-soft">{found ? 'None in that stretch.' : work?.trouble ? '' : '…'}</p>
						{/if}
					</div>
				{/each}
			{/if}
		</div>
	</div>
	<div class="min-h-0 border-l p-2">
		{#if current && works.get(current.id)?.found?.summary}
			<CardChart
				card={works.get(current.id)!.found!}
				title={titleOf(current)}
				known={laneOf(current)?.step?.step}
				unitS={laneOf(current)?.recording ? unitPs(laneOf(current)!.recording!) * 1e-12 : 1}
				onShow={(units) => show(current, units)}
				onStep={(by) => void step(current, by)}
				onWindow={(from, to) => showWindow(current, from, to)}
			/>
		{:else}
			<p class="mt-12 text-center text-[12px] text-soft">The values of a card are drawn here.</p>
		{/if}
	</div>
</section>
