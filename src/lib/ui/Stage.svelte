<script lang="ts">
	import type { Suspect } from '../../core/check/index.js';
	import { StretchedTrace, type LevelSource } from '../../core/trace/index.js';
	import { steadyWave } from '../../core/timer/index.js';
	import { risePs, type BenchLane } from '../state/lane.svelte.js';
	import type { PredictedLane } from '../state/prediction.svelte.js';
	import type { BenchView } from '../state/view.svelte.js';
	import { suspectText } from '../text/index.js';
	import { timeLabel } from '../wave/index.js';
	import WaveLane from './WaveLane.svelte';

	/** The bench's waves, one above the other, with cursors over all of them; zoom, move and cursors by pointer and keys. */
	interface Props {
		view: BenchView;
		lanes: BenchLane[];
		current: BenchLane | undefined;
		/** A what-if drawn below the current lane. */
		suspect: Suspect | undefined;
		onChoose: (lane: string) => void;
		/** The plan's own lines, below; none when they are folded. */
		planned: PredictedLane[];
		/** Seconds that they are predicted for. */
		reached: number;
		element: HTMLDivElement | undefined;
	}
	let { view, lanes, current, suspect, onChoose, planned, reached, element = $bindable() }: Props = $props();

	const suspectWave = $derived(suspect ? steadyWave(suspect.wave, suspect.tickRate.inverse()) : null);

	/** A line under the pointer or chosen: its source, its unit, and its own time at plan time 0. */
	interface Line {
		source: LevelSource;
		unit: number;
		shift: number;
		/** Edges it has at the most. */
		count: number;
	}

	/** Where the keys go when no recording is chosen: the planned line that was pressed last. */
	let pressed = $state(0);

	function lineOf(lane: BenchLane | undefined, plan: PredictedLane | undefined): Line | undefined {
		if (lane?.trace) return { source: lane.trace, unit: lane.trace.unit.toNumber() * 1e12, shift: lane.shiftPs, count: lane.trace.count };
		const source = plan?.source;
		if (!source) return undefined;
		const count = source instanceof StretchedTrace ? source.count : Infinity;
		return { source, unit: source.unit.toNumber() * 1e12, shift: 0, count };
	}

	const focused = $derived(lineOf(current, planned[Math.min(pressed, planned.length - 1)]));

	/** The edge of the line within a few pixels of x, or the time at x itself. */
	function snapped(line: Line | undefined, x: number): number {
		const time = view.timeAt(x);
		if (!line) return time;
		const next = line.source.edgesBefore((time + line.shift) / line.unit);
		const near = [next - 1, next].filter((e) => e >= 0 && e < line.count).map((e) => line.source.edgeTime(e) * line.unit - line.shift);
		const best = near.sort((p, q) => Math.abs(p - time) - Math.abs(q - time))[0];
		return best !== undefined && Math.abs(view.xOf(best) - x) <= 7 ? best : Math.round(time);
	}

	function onWheel(event: WheelEvent) {
		event.preventDefault();
		const x = event.clientX - element!.getBoundingClientRect().left;
		if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) view.pan((event.deltaX || event.deltaY) * 0.8);
		else view.zoom(Math.exp(event.deltaY * 0.0018), x);
	}

	let drag: { x: number; moved: boolean; cursor: 'a' | 'b' | undefined } | undefined;

	function onDown(event: PointerEvent) {
		if (event.button !== 0) return;
		const x = event.clientX - element!.getBoundingClientRect().left;
		const near = (time: number | undefined) => time !== undefined && Math.abs(view.xOf(time) - x) < 6;
		drag = { x: event.clientX, moved: false, cursor: near(view.cursorA) ? 'a' : near(view.cursorB) ? 'b' : undefined };
		element!.setPointerCapture(event.pointerId);
		element!.focus({ preventScroll: true });
	}

	function onMove(event: PointerEvent) {
		if (!drag) return;
		const by = drag.x - event.clientX;
		if (!drag.moved && Math.abs(by) < 4) return;
		drag.moved = true;
		if (drag.cursor) place(drag.cursor, snapped(focused, event.clientX - element!.getBoundingClientRect().left));
		else view.pan(by);
		drag.x = event.clientX;
	}

	function onUp(event: PointerEvent) {
		const was = drag;
		drag = undefined;
		if (!was) return;
		const box = element!.getBoundingClientRect();
		const lane = laneUnder(event.clientX, event.clientY);
		const plan = planUnder(event.clientX, event.clientY);
		if (lane && !was.moved) onChoose(lane.id);
		if (plan >= 0 && !was.moved) pressed = plan;
		const line = lane || plan >= 0 ? lineOf(lane, planned[plan]) : focused;
		if (!was.moved && !was.cursor) place(event.shiftKey ? 'b' : 'a', snapped(line, event.clientX - box.left));
	}

	function planUnder(x: number, y: number): number {
		const row = document.elementsFromPoint(x, y).find((e) => e instanceof HTMLElement && e.dataset.planned !== undefined);
		return row ? Number((row as HTMLElement).dataset.planned) : -1;
	}

	function laneUnder(x: number, y: number): BenchLane | undefined {
		const row = document.elementsFromPoint(x, y).find((e) => e instanceof HTMLElement && e.dataset.lane);
		return lanes.find((lane) => lane.id === (row as HTMLElement | undefined)?.dataset.lane);
	}

	function place(cursor: 'a' | 'b', time: number) {
		if (cursor === 'a') view.cursorA = time;
		else view.cursorB = time;
	}

	/** The next edge of the chosen line to one side of cursor A (or of the middle). */
	function toEdge(by: 1 | -1) {
		const line = focused;
		if (!line || line.count === 0) return;
		const from = view.cursorA ?? view.timeAt(view.width / 2);
		const at = line.source.edgesBefore(Math.round((from + line.shift) / line.unit) + (by > 0 ? 1 : 0)) - (by > 0 ? 0 : 1);
		const edge = Math.min(line.count - 1, Math.max(0, at));
		view.cursorA = line.source.edgeTime(edge) * line.unit - line.shift;
		const x = view.xOf(view.cursorA);
		if (x < 20 || x > view.width - 20) view.pan(x - view.width / 2);
	}

	function onKey(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		if (target.matches('input, textarea, select') || event.ctrlKey || event.metaKey || event.altKey) return;
		const middle = view.cursorA === undefined ? view.width / 2 : view.xOf(view.cursorA);
		const act: Record<string, () => void> = {
			'+': () => view.zoom(0.5, middle),
			'=': () => view.zoom(0.5, middle),
			'-': () => view.zoom(2, middle),
			'0': () => view.fit(),
			ArrowLeft: () => view.pan(-view.width / 8),
			ArrowRight: () => view.pan(view.width / 8),
			',': () => toEdge(-1),
			'.': () => toEdge(1),
			a: () => place('a', snapped(focused, view.width / 2)),
			b: () => place('b', snapped(focused, view.width / 2)),
			z: () => (view.zeroAt = view.zeroAt === 'a' ? undefined : 'a'),
			Escape: () => (view.cursorA = view.cursorB = view.zeroAt = undefined)
		};
		if (!Object.hasOwn(act, event.key)) return;
		event.preventDefault();
		act[event.key]();
	}
</script>

<svelte:window onkeydown={onKey} />

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
	bind:this={element}
	class="relative cursor-crosshair touch-none outline-offset-[-2px]"
	role="application"
	aria-label="Waves. Arrow keys move, plus and minus zoom, 0 shows all, comma and full stop step from edge to edge, a and b place cursors, z sets zero"
	tabindex="0"
	onwheel={onWheel}
	onpointerdown={onDown}
	onpointermove={onMove}
	onpointerup={onUp}
	data-testid="stage"
>
	{#each lanes as lane (lane.id)}
		<div class="h-[5.6rem] border-b" data-lane={lane.id}>
			<WaveLane
				{view}
				planned={lane.wave}
				measured={lane.trace}
				shiftPs={lane.shiftPs}
				extent={lane.extent}
				disagreement={lane.disagreement}
				label="{lane.derivation?.aim.name}: plan and {lane.recording?.name}"
			/>
		</div>
		{#if suspect && current === lane}
			<div class="h-[4.4rem] border-b" data-lane={lane.id}>
				<WaveLane
					{view}
					planned={suspectWave}
					plannedPs={suspectWave ? -risePs(suspectWave) : 0}
					measured={lane.trace}
					shiftPs={lane.shiftPs}
					extent={lane.extent}
					disagreement={undefined}
					suspect
					label="What if: {suspectText(suspect.code)}"
				/>
			</div>
		{/if}
	{/each}
	{#each planned as lane, i (i)}
		<div class={['h-[2.6rem] border-b', i === 0 && 'mt-[1.7rem] border-t']} data-planned={i}>
			<WaveLane
				{view}
				planned={lane.source ?? null}
				until={reached * 1e12}
				marks={lane.role === 'updates'}
				measured={undefined}
				shiftPs={0}
				extent={undefined}
				disagreement={undefined}
				label="Predicted: {lane.aim} {lane.role}"
			/>
		</div>
	{/each}
	{#each [['A', view.cursorA], ['B', view.cursorB]] as const as [name, time] (name)}
		{#if time !== undefined && (lanes.length > 0 || planned.length > 0)}
			<div class={['pointer-events-none absolute inset-y-0 w-px', name === 'A' ? 'bg-fault' : 'bg-warn']} style:left="{view.xOf(time)}px">
				<span
					class={[
						'absolute top-0 left-0 px-1 num text-[10px] font-bold whitespace-nowrap text-on-accent',
						name === 'A' ? 'bg-fault' : 'bg-warn'
					]}>{name} {timeLabel(time - view.zero, view.perColumn)}</span
				>
			</div>
		{/if}
	{/each}
</div>
