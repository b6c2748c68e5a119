<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import equal from 'fast-deep-equal';
	import type { CountingMode, OutputProfile, TimerProfile } from '../../../core/part/index.js';
	import { sketchCounting, type Sketch } from '../../../core/sim/index.js';
	import { largest } from '../../../core/timer/index.js';

	let { timer }: { timer: TimerProfile } = $props();

	/** Small enough for every tick to be seen. */
	const WIDTH = 4;
	const TICKS = 36;
	const HEIGHT = 104;
	const LANE = 26;

	const WORDS: Record<CountingMode, [string, string]> = {
		up: ['counts up to the reload, then from 0 again', 'reload'],
		down: ['counts down from the reload', 'reload'],
		updown: ['counts up to the reload and down again', 'reload'],
		free: ['runs through all its values', ''],
		preload: ['counts from the preload to its last value', 'preload'],
		tap: ['runs freely; a bit of it is the event', 'bit'],
		advance: ['runs freely; software adds to the compare at each match', 'advance by'],
		clear: ['runs until its mark, then software writes 0', 'clear at']
	};

	let mode = $state<CountingMode>();
	let value = $state(9);
	let compare = $state(4);
	let outputAt = $state(0);
	let late = $state(1);
	let pixels = $state(640);

	const shown = $derived(mode !== undefined && timer.modes.includes(mode) ? mode : timer.modes[0]);
	const outputs = $derived(uniqueOutputs(timer));
	const output = $derived(outputs[outputAt] ?? outputs[0]);
	const soft = $derived(shown === 'clear' || (shown === 'preload' && timer.preload === 'software'));
	const most = $derived(shown === 'tap' ? WIDTH - 1 : largest(WIDTH));
	const number = $derived(Math.min(most, Math.max(shown === 'advance' ? 1 : 0, shown === 'tap' ? Math.min(value, 2) : value)));
	const sketch: Sketch = $derived(
		sketchCounting(
			{
				mode: shown,
				rule: timer.rule,
				width: WIDTH,
				value: number,
				compare: Math.min(compare, largest(WIDTH)),
				output: shown === 'tap' ? undefined : output,
				late: soft ? late : 0,
				update: timer.update?.[0] ?? 'bottom'
			},
			TICKS
		)
	);
	const column = $derived((pixels - 8) / TICKS);
	const y = (n: number) => HEIGHT - 10 - (n / largest(WIDTH)) * (HEIGHT - 24);
	const stairs = $derived(sketch.values.map((n, t) => `${t === 0 ? 'M' : 'L'}${4 + t * column} ${y(n)}H${4 + (t + 1) * column}`).join(''));
	/** The event comes while it counts on, not where it begins anew. */
	const within = $derived(shown === 'tap' || shown === 'advance' || shown === 'clear');
	const spans = $derived(activeSpans(sketch.levels));

	function uniqueOutputs({ channels }: TimerProfile): OutputProfile[] {
		const all = channels.flatMap((channel) => channel.outputs);
		return all.filter((one, i) => all.findIndex((other) => equal(other, one)) === i);
	}

	function activeSpans(levels: readonly number[]): [number, number][] {
		const found: [number, number][] = [];
		levels.forEach((level, t) => {
			if (level !== 1) return;
			const last = found.at(-1);
			if (last && last[1] === t) last[1] = t + 1;
			else found.push([t, t + 1]);
		});
		return found;
	}

	function outputText(one: OutputProfile): string {
		if (one.model === 'level') return `active ${one.sense} the compare`;
		const acts = [
			['zero', one.zero],
			['top', one.top],
			['match up', one.matchUp],
			['match down', one.matchDown]
		].filter(([, act]) => act !== undefined);
		return `${acts.map(([at, act]) => `${act} at ${at}`).join(', ') || 'no action'} (on ${one.edge === 'enter' ? 'entering' : 'leaving'})`;
	}
</script>

<figure class="rounded-xs border bg-card" data-testid="count-drawing">
	<figcaption class="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-b px-2.5 py-1 text-[13px]">
		<Choice
			class="py-0 font-bold"
			aria-label="Way of counting drawn"
			value={shown}
			onchange={(event) => (mode = event.currentTarget.value as CountingMode)}
		>
			{#each timer.modes as one (one)}<option value={one}>{one}</option>{/each}
		</Choice>
		{#if WORDS[shown][1]}<label class="text-soft"
				>{WORDS[shown][1]}
				<input
					class="w-12 plain-select py-0 num"
					type="number"
					min={shown === 'advance' ? 1 : 0}
					max={most}
					bind:value
					aria-label="Value drawn"
				/></label
			>{/if}
		{#if output && shown !== 'tap'}
			<label class="text-soft"
				>compare <input
					class="w-12 plain-select py-0 num"
					type="number"
					min="0"
					max={largest(WIDTH)}
					bind:value={compare}
					aria-label="Compare drawn"
				/></label
			>
			<Choice
				class="max-w-52 py-0"
				aria-label="Output drawn"
				value={outputs.indexOf(output)}
				onchange={(event) => (outputAt = Number(event.currentTarget.value))}
			>
				{#each outputs as one, i (i)}<option value={i}>{outputText(one)}</option>{/each}
			</Choice>
		{/if}
		{#if soft}<label class="text-soft"
				>late by <input class="w-12 plain-select py-0 num" type="number" min="0" max="6" bind:value={late} aria-label="Ticks late" /> ticks</label
			>{/if}
		<span class="ml-auto num" data-testid="drawn-period"
			>{sketch.period === null ? 'blocked: it never moves' : `${sketch.period} ticks a period`}</span
		>
	</figcaption>
	<div bind:clientWidth={pixels}>
		<svg
			class="block w-full graph-paper"
			height={HEIGHT + LANE + 8}
			viewBox="0 0 {pixels} {HEIGHT + LANE + 8}"
			role="img"
			aria-label="How {timer.name} counts, tick by tick"
		>
			<defs>
				<pattern id="hatch-{timer.id}" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"
					><line x1="0" y1="0" x2="0" y2="6" stroke="var(--color-accent)" stroke-width="2" /></pattern
				>
			</defs>
			{#if ['up', 'down', 'updown', 'preload', 'clear'].includes(shown)}
				<line x1="0" x2={pixels} y1={y(number)} y2={y(number)} stroke="var(--color-soft)" stroke-dasharray="5 3" />
			{/if}
			{#if output && shown !== 'tap' && shown !== 'advance'}
				<line x1="0" x2={pixels} y1={y(compare)} y2={y(compare)} stroke="var(--color-warn)" stroke-dasharray="2 3" />
			{/if}
			{#each within ? [] : sketch.events as t (t)}<line
					x1={4 + t * column}
					x2={4 + t * column}
					y1="4"
					y2={HEIGHT}
					stroke="var(--color-accent)"
					stroke-width="1"
					stroke-dasharray="1 3"
				/><path d="M{4 + t * column - 4} 2h8l-4 6z" fill="var(--color-accent)" />{/each}
			{#each within ? sketch.events : [] as t (t)}<circle
					cx={4 + t * column}
					cy={y(sketch.values[t])}
					r="3.5"
					fill="none"
					stroke="var(--color-accent)"
					stroke-width="1.6"
				/>{/each}
			{#each sketch.writes as t (t)}<path d="M{4 + t * column} {HEIGHT - 2}l-4 6h8z" fill="var(--color-warn)" />{/each}
			<path d={stairs} fill="none" stroke="var(--color-ink)" stroke-width="1.6" />
			{#if ['up', 'down', 'updown', 'preload', 'clear'].includes(shown)}
				<text
					x={pixels - 4}
					y={y(number) - 3}
					text-anchor="end"
					class="stroke-card [stroke-width:4px] [paint-order:stroke]"
					font-size="10.5"
					fill="var(--color-soft)">{WORDS[shown][1]} {number}</text
				>
			{/if}
			{#if output && shown !== 'tap' && shown !== 'advance'}
				<text
					x={pixels - 4}
					y={y(compare) - 3}
					text-anchor="end"
					class="stroke-card [stroke-width:4px] [paint-order:stroke]"
					font-size="10.5"
					fill="var(--color-warn)">compare {compare}</text
				>
			{/if}
			{#each spans as [from, to] (from)}
				<rect
					x={4 + from * column}
					y={HEIGHT + 6}
					width={(to - from) * column}
					height={LANE - 8}
					fill="url(#hatch-{timer.id})"
					stroke="var(--color-accent)"
				/>
			{/each}
			<line x1="0" x2={pixels} y1={HEIGHT + LANE - 2} y2={HEIGHT + LANE - 2} stroke="var(--color-accent)" />
		</svg>
	</div>
	<p class="border-t px-2.5 py-0.5 text-[11.5px] text-soft">
		It {WORDS[shown][0]}{timer.rule === 'exclusive' && (shown === 'up' || shown === 'down') ? ', the reload itself never held' : ''}. Drawn
		with {WIDTH} bits and one tick a step; {within ? '○ event' : '▼ period event'}{#if sketch.writes.length > 0}, <span class="text-warn"
				>▲</span
			> software writes{/if}. Hatched:
		{shown === 'tap' ? 'the tapped bit' : output ? 'the output' : 'it has no output'}.
	</p>
</figure>
