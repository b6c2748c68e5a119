<script lang="ts">
	import type { Suspect } from '../../core/check/index.js';
	import { steadyWave } from '../../core/timer/index.js';
	import { risePs, type BenchLane } from '../state/lane.svelte.js';
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
		element: HTMLDivElement | undefined;
	}
	let { view, lanes, current, suspect, onChoose, element = $bindable() }: Props = $props();

	const suspectWave = $derived(suspect ? steadyWave(suspect.wave, suspect.tickRate.inverse()) : null);

	/** The edge of the lane within a few pixels of x, or the time at x itself. */
	function snapped(lane: BenchLane | undefined, x: number): number {
		const time = view.timeAt(x);
		const { trace } = lane ?? {};
		if (!lane || !trace) return time;
		const unit = trace.unit.toNumber() * 1e12;
		const units = (time + lane.shiftPs) / unit;
		const next = trace.edgesBefore(units);
		const near = [next - 1, next].filter((e) => e >= 0 && e < trace.count).map((e) => trace.edgeTime(e) * unit - lane.shiftPs);
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
		if (drag.cursor) place(drag.cursor, snapped(current, event.clientX - element!.getBoundingClientRect().left));
		else view.pan(by);
		drag.x = event.clientX;
	}

	function onUp(event: PointerEvent) {
		const was = drag;
		drag = undefined;
		if (!was) return;
		const box = element!.getBoundingClientRect();
		const lane = laneUnder(event.clientX, event.clientY);
		if (lane && !was.moved) onChoose(lane.id);
		if (!was.moved && !was.cursor) place(event.shiftKey ? 'b' : 'a', snapped(lane ?? current, event.clientX - box.left));
	}

	function laneUnder(x: number, y: number): BenchLane | undefined {
		const row = document.elementsFromPoint(x, y).find((e) => e instanceof HTMLElement && e.dataset.lane);
		return lanes.find((lane) => lane.id === (row as HTMLElement | undefined)?.dataset.lane);
	}

	function place(cursor: 'a' | 'b', time: number) {
		if (cursor === 'a') view.cursorA = time;
		else view.cursorB = time;
	}

	/** The next edge of the current lane to one side of cursor A (or of the middle). */
	function toEdge(by: 1 | -1) {
		const { trace } = current ?? {};
		if (!current || !trace || trace.count === 0) return;
		const unit = trace.unit.toNumber() * 1e12;
		const from = view.cursorA ?? view.timeAt(view.width / 2);
		const at = trace.edgesBefore(Math.round((from + current.shiftPs) / unit) + (by > 0 ? 1 : 0)) - (by > 0 ? 0 : 1);
		const edge = Math.min(trace.count - 1, Math.max(0, at));
		view.cursorA = trace.edgeTime(edge) * unit - current.shiftPs;
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
			a: () => place('a', snapped(current, view.width / 2)),
			b: () => place('b', snapped(current, view.width / 2)),
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
	{#each [['A', view.cursorA], ['B', view.cursorB]] as const as [name, time] (name)}
		{#if time !== undefined && lanes.length > 0}
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
