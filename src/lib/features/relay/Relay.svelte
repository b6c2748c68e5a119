<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import { ValueTrace } from '../../../core/trace/index.js';
	import { predictWorkers } from '../../../workers/clients.js';
	import { layScore, linkStep, naiveLags, type Arrow, type Score, type Stave } from './relay.js';
	import { notices } from '../../session/notices.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { seconds as secondsText } from '../../text/index.js';
	import { rulerMarks, valueScene } from '../../wave/index.js';
	import Wiring from './Wiring.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import Hatch from '../../components/Hatch.svelte';

	let { session }: { session: PlanSession } = $props();

	const [STAVE, GAP, LABEL, TOP] = [74, 26, 150, 26];
	const REST_MS = 150;
	let width = $state(900);
	let score = $state.raw<Score>();
	let naive = $state(false);
	let drag = $state.raw<{ from: string; lag: string; x: number; y: number }>();
	let svg: SVGSVGElement;

	let failed = $state('');

	// The score is simulated again, in the worker, when the plan rests.
	$effect(() => {
		const { derivation, plan } = session;
		const given = new AbortController();
		const timer = setTimeout(
			() => {
				predictWorkers
					.run((worker) => worker.score(plan), { signal: given.signal })
					.then(({ unit: text, staves: counted, ...rest }) => {
						const unit = Rational.parse(text);
						const whole = counted.map(({ columns, ...stave }) => ({ ...stave, counter: new ValueTrace(unit, columns) }));
						score = layScore(derivation, { ...rest, unit, staves: whole });
						failed = '';
					})
					.catch((error: unknown) => {
						if (!given.signal.aborted) failed = error instanceof Error ? error.message : String(error);
					});
			},
			score ? REST_MS : 0
		);
		return () => {
			clearTimeout(timer);
			given.abort();
		};
	});

	const staves = $derived(score?.staves ?? []);
	const arrows = $derived(score?.arrows ?? []);
	const span = $derived(score?.seconds ?? 1);
	const inner = $derived(Math.max(200, width - LABEL - 40));
	const height = $derived(TOP + staves.length * (STAVE + GAP));
	const guess = $derived(naive ? naiveLags(session.plan) : new Map<string, { typed: string; degrees: Rational }>());
	const marks = $derived(staves.length === 0 ? [] : rulerMarks({ start: 0, perColumn: (span * 1e12) / inner, columns: inner }, 0, 90));
	const nameOf = (id: string) => session.plan.part.timers.find((timer) => timer.id === id)?.name ?? id;

	const topOf = (timer: string) => TOP + staves.findIndex((stave) => stave.timer.id === timer) * (STAVE + GAP);
	const xOf = (time: number) => LABEL + (time / span) * inner;
	const yOf = (stave: Stave, value: number) => topOf(stave.timer.id) + STAVE - (value / stave.top) * STAVE;

	/** The counter's line; undefined: its ramps cannot be told apart here. */
	function ramp(stave: Stave): string | undefined {
		const unitPs = stave.counter.unit.toNumber() * 1e12;
		const scene = valueScene(stave.counter, unitPs, { start: 0, perColumn: (span * 1e12) / inner, columns: Math.floor(inner) });
		if (scene.kind === 'spans') return undefined;
		return scene.corners
			.map(({ x, value }, i) => `${i === 0 ? 'M' : 'L'}${(LABEL + Math.min(inner, x)).toFixed(1)} ${yOf(stave, value).toFixed(1)}`)
			.join('');
	}

	/** From the event on the leader's ramp to the follower's first count. */
	function path(arrow: Arrow): string {
		const leader = staves.find((stave) => stave.timer.id === arrow.from);
		const follower = staves.find((stave) => stave.timer.id === arrow.to);
		if (!leader || !follower) return '';
		const x = xOf(arrow.at ?? 0.02 * span);
		const to = xOf(arrow.acts ?? arrow.at ?? 0.02 * span);
		const y = yOf(leader, arrow.value ?? leader.top / 2);
		const down = topOf(arrow.to) > topOf(arrow.from);
		const end = topOf(arrow.to) + (down ? 4 : STAVE - 4);
		return `M${x.toFixed(1)} ${y.toFixed(1)}C${x.toFixed(1)} ${((y + end) / 2).toFixed(1)} ${to.toFixed(1)} ${((y + end) / 2).toFixed(1)} ${to.toFixed(1)} ${end.toFixed(1)}`;
	}

	function figure(arrow: Arrow, name: string) {
		return arrow.figures.find((one) => one.name === name)?.value;
	}

	function link(from: string, to: string, lag: string) {
		if (from === to) return;
		const answer = linkStep(session.plan, from, to, lag);
		if (answer.kind === 'step') session.edit(answer.step);
		else if (answer.kind === 'no-leader') notices.say(`${nameOf(from)} has no aim with a steady period to follow yet.`);
		else if (answer.kind === 'cannot') notices.say(`${nameOf(to)} drives no pulses that could follow.`);
		else {
			const { nearest } = answer;
			notices.say(
				`No wire leads from ${nameOf(from)} to ${nameOf(to)} on this part. ${nameOf(from)} reaches ${answer.reaches.join(', ') || 'no other timer'}; ${nameOf(to)} is reached by ${answer.reached.join(', ') || 'none'}.`,
				nearest === undefined ? undefined : { label: `Let ${nameOf(nearest)} follow`, run: () => link(from, nearest, lag) }
			);
		}
	}

	/** The lag that a compare of a stave stands for, exactly, in the follower's own words. */
	function lagOf(stave: Stave, value: number): string {
		const period = stave.reload + 1;
		const { num, den } = Rational.ratio(value, period);
		return value === 0 ? '0' : `${num}/${den}`;
	}

	function begin(event: PointerEvent, stave: Stave, lag: string) {
		svg.setPointerCapture(event.pointerId);
		drag = { from: stave.timer.id, lag, ...at(event) };
	}

	function at(event: PointerEvent): { x: number; y: number } {
		const box = svg.getBoundingClientRect();
		return { x: event.clientX - box.left, y: event.clientY - box.top };
	}

	function end(event: PointerEvent) {
		const was = drag;
		drag = undefined;
		if (!was) return;
		const { y } = at(event);
		const stave = staves[Math.floor((y - TOP + GAP / 2) / (STAVE + GAP))];
		if (stave) link(was.from, stave.timer.id, was.lag);
	}
</script>

<div class="grid h-full grid-rows-[minmax(0,1fr)_17rem]" data-testid="relay">
	<div class="overflow-y-auto px-4 py-2" bind:clientWidth={width}>
		<div class="mb-1 flex items-center gap-4 text-[13px] text-soft">
			<span>Each stave is a timer’s counter, as it will count. Drag from a compare (○) to another stave to let that timer follow.</span>
			<label class="ml-auto flex items-center gap-1.5"
				><input type="checkbox" class="accent-(--color-warn)" bind:checked={naive} />what if a third were typed as a percent</label
			>
		</div>
		{#if failed}<p class="text-[13px] text-fault">The score could not be drawn: {failed}</p>{/if}
		{#if score && !score.whole}<p class="text-[12.5px] text-warn">There is too much to count in this span: some ramps end early.</p>{/if}
		{#if score && staves.length === 0}
			<p class="mt-20 text-center">No timer counts yet. <a class="ml-2 btn-main" href="/plan/{session.id}/aims">Add an aim</a></p>
		{/if}
		<svg
			bind:this={svg}
			width={Math.max(300, width - 36)}
			{height}
			class="block touch-none"
			role="group"
			aria-label="Counters of {staves.map(({ timer }) => timer.name).join(', ')}"
			onpointermove={(event) => drag && (drag = { ...drag, ...at(event) })}
			onpointerup={end}
		>
			<defs>
				<Hatch id="relay-hatch" strength={0.45} />
				<marker id="relay-tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto"
					><path d="M0 0L8 4L0 8Z" class="fill-ink" /></marker
				>
			</defs>
			{#each marks as mark (mark.x)}
				<line x1={LABEL + mark.x} x2={LABEL + mark.x} y1={TOP - 8} y2={height - GAP} class="stroke-grid" />
				<text x={LABEL + mark.x + 3} y="11" class="fill-soft font-mono text-[10px]">{mark.label}</text>
			{/each}
			{#each staves as stave (stave.timer.id)}
				{@const top = topOf(stave.timer.id)}
				{@const line = ramp(stave)}
				<g data-stave={stave.timer.id}>
					<InTurn>
						<rect x={LABEL} y={top} width={inner} height={STAVE} class="fill-card stroke-rule" />
						{#if line === undefined}
							<rect x={LABEL} y={top} width={inner} height={STAVE} fill="url(#relay-hatch)" />
							<text x={LABEL + 8} y={top + STAVE / 2 + 4} class="fill-accent text-[11.5px]">counts too fast to be drawn at this scale</text>
						{:else}
							<path d="{line}V{top + STAVE}H{LABEL}Z" fill="url(#relay-hatch)" />
							<path d={line} fill="none" class="stroke-accent" stroke-width="1.4" stroke-linejoin="round" />
						{/if}
						<text x="0" y={top + 15} class="fill-ink text-[13px] font-bold">{stave.timer.name}</text>
						{#each stave.aims.slice(0, 3) as aim, i (aim.id)}
							<a href="/plan/{session.id}/aims#{aim.id}"
								><text x="0" y={top + 32 + 14 * i} class="fill-soft text-[11.5px] hover:fill-accent">{aim.name || 'unnamed aim'}</text></a
							>
						{/each}
						{#each stave.compares as compare (compare.channel)}
							{@const y = yOf(stave, compare.value)}
							<line
								x1={LABEL}
								x2={LABEL + inner}
								y1={y}
								y2={y}
								class={compare.lead ? 'stroke-ink' : 'stroke-soft'}
								stroke-dasharray="3 4"
								opacity="0.6"
							/>
							<circle
								cx={LABEL}
								cy={y}
								r="5"
								class="cursor-grab fill-card stroke-ink"
								stroke-width="1.6"
								role="button"
								tabindex="-1"
								aria-label="Compare {compare.value} of {stave.timer.name}"
								onpointerdown={(event) => begin(event, stave, lagOf(stave, compare.value))}
							/>
						{/each}
					</InTurn>
				</g>
			{/each}
			{#each arrows as arrow (arrow.follower.id)}
				<path d={path(arrow)} fill="none" class="stroke-ink" stroke-width="1.8" marker-end="url(#relay-tip)" />
			{/each}
			{#each arrows as arrow (arrow.follower.id)}
				{@const lag = figure(arrow, 'lag-degrees')}
				{@const wrong = guess.get(arrow.follower.id)}
				{#if lag}
					<g transform="translate({xOf(arrow.acts ?? 0) + 8} {topOf(arrow.to) - 6})">
						<text class="fill-ink text-[12px] font-bold"
							>{lag
								.toNumber()
								.toFixed(3)
								.replace(/\.?0+$/, '')}°
							<tspan class="fill-soft font-normal">
								{secondsText(figure(arrow, 'lag')!, 5)}, latency {secondsText(figure(arrow, 'latency')!, 4)}</tspan
							>{#if wrong}<tspan class="fill-warn">
									· {wrong.typed} would be {wrong.degrees.toNumber().toFixed(3)}°, {wrong.degrees
										.sub(lag)
										.toNumber()
										.toFixed(3)
										.replace('-', '−')}° off</tspan
								>{/if}</text
						>
					</g>
				{/if}
			{/each}
			{#if drag}<line
					x1={LABEL}
					y1={topOf(drag.from) + STAVE / 2}
					x2={drag.x}
					y2={drag.y}
					class="stroke-ink"
					stroke-width="1.6"
					stroke-dasharray="4 3"
				/>{/if}
		</svg>
	</div>
	<Wiring {session} {arrows} onLink={link} />
</div>
