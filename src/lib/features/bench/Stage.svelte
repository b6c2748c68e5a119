<script lang="ts">
	import { untrack } from 'svelte';
	import { paintPlannedLane, rowHeight, type PlannedRow } from './benchRows.js';
	import { snapTime, type Line } from './jumps.js';
	import type { RecordedLane } from './recordedLane.svelte.js';
	import type { BenchModel } from './bench.svelte.js';
	import { paintRecorded, sampleY, timeLabel, type Pen, type Surface } from '../../wave/index.js';
	import InTurn from '../../components/InTurn.svelte';
	import WaveLane from './WaveLane.svelte';

	/** The bench's waves, one above the other, with cursors over all of them; zoom, move and cursors by pointer and keys. */
	let { bench, onChoose }: { bench: BenchModel; onChoose: (lane: string) => void } = $props();

	const { view } = untrack(() => bench);
	let element: HTMLDivElement;
	const lanes = $derived(bench.shownLanes);
	const rows = $derived(bench.rows);
	const focused = $derived(bench.focused);

	const snapped = (line: Line | undefined, x: number) => snapTime(line, view, x);

	function painterOf(lane: RecordedLane) {
		const { wave: measured, shiftPs, extent, disagreement, analogue, ratio: plannedScale } = lane;
		const planned = lane.planned?.source ?? null;
		void lane.arrived;
		void lane.before?.arrived;
		const before = lane.before?.wave && { source: lane.before.wave, shiftPs: lane.before.shiftPs };
		return (pen: Pen, surface: Surface) =>
			paintRecorded(
				pen,
				{ planned, plannedPs: 0, plannedScale, measured, before, shiftPs, extent, disagreement, analogue, suspect: false },
				surface
			);
	}

	function suspectPainter(lane: RecordedLane) {
		const { wave: measured, shiftPs, extent, suspected, suspectPlace } = lane;
		void lane.arrived;
		const what = { planned: suspected?.source ?? null, plannedPs: suspectPlace.ps, plannedScale: suspectPlace.scale };
		return (pen: Pen, surface: Surface) =>
			paintRecorded(pen, { ...what, measured, shiftPs, extent, disagreement: undefined, suspect: true }, surface);
	}

	function rowPainter(row: PlannedRow) {
		const until = bench.prediction.reached;
		return (pen: Pen, surface: Surface) => {
			if (row.kind === 'lane') paintPlannedLane(pen, row.lane, until, surface);
		};
	}

	function onWheel(event: WheelEvent) {
		event.preventDefault();
		const x = event.clientX - element.getBoundingClientRect().left;
		if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) view.pan((event.deltaX || event.deltaY) * 0.8);
		// A pinch on a pad comes as a wheel with the control key.
		else view.zoom(Math.exp(event.deltaY * (event.ctrlKey ? 0.01 : 0.0018)), x);
	}

	let drag: { x: number; moved: boolean; cursor: 'a' | 'b' | undefined; cut?: { lane: RecordedLane; box: DOMRect } } | undefined;
	/** Fingers on a screen: two of them pinch. */
	// eslint-disable-next-line svelte/prefer-svelte-reactivity -- nothing is drawn of it
	const touches = new Map<number, { x: number; y: number }>();

	function onDown(event: PointerEvent) {
		if (event.button !== 0) return;
		const x = event.clientX - element.getBoundingClientRect().left;
		if (event.pointerType === 'touch') touches.set(event.pointerId, { x: event.clientX, y: event.clientY });
		const near = (time: number | undefined) => time !== undefined && Math.abs(view.xOf(time) - x) < 6;
		drag = { x: event.clientX, moved: false, cursor: near(view.cursorA) ? 'a' : near(view.cursorB) ? 'b' : undefined };
		drag.cut = drag.cursor ? undefined : thresholdAt(event);
		element.setPointerCapture(event.pointerId);
		element.focus({ preventScroll: true });
	}

	/** The analogue lane whose threshold lies under the pointer. */
	function thresholdAt(event: PointerEvent): NonNullable<typeof drag>['cut'] {
		const under = document
			.elementsFromPoint(event.clientX, event.clientY)
			.find((e): e is HTMLElement => e instanceof HTMLElement && !!e.dataset.lane);
		const lane = under && lanes.find(({ id }) => id === under.dataset.lane);
		if (!under || lane?.analogue?.threshold === undefined) return undefined;
		const box = under.getBoundingClientRect();
		return Math.abs(sampleY(lane.analogue, lane.analogue.threshold, box.height) - (event.clientY - box.top)) < 5
			? { lane, box }
			: undefined;
	}

	function pinch(event: PointerEvent): boolean {
		if (!touches.has(event.pointerId)) return false;
		const apart = () => {
			const [a, b] = [...touches.values()];
			return Math.max(8, Math.hypot(a.x - b.x, a.y - b.y));
		};
		const before = touches.size === 2 ? apart() : 0;
		touches.set(event.pointerId, { x: event.clientX, y: event.clientY });
		if (touches.size !== 2) return false;
		const [a, b] = [...touches.values()];
		view.zoom(before / apart(), (a.x + b.x) / 2 - element.getBoundingClientRect().left);
		if (drag) drag.moved = true;
		return true;
	}

	function onMove(event: PointerEvent) {
		if (pinch(event) || !drag) return;
		const by = drag.x - event.clientX;
		if (!drag.moved && Math.abs(by) < 4 && !drag.cut) return;
		drag.moved = true;
		if (drag.cut) return dragThreshold(drag.cut, event.clientY);
		if (drag.cursor) place(drag.cursor, snapped(focused, event.clientX - element.getBoundingClientRect().left));
		else view.pan(by);
		drag.x = event.clientX;
	}

	function dragThreshold({ lane, box }: NonNullable<NonNullable<typeof drag>['cut']>, y: number) {
		const known = lane.analogue;
		if (!known) return;
		const value = known.least + ((box.height - 5 - (y - box.top)) / (box.height - 10)) * (known.most - known.least);
		lane.dragged = Math.min(known.most, Math.max(known.least, value));
	}

	function onUp(event: PointerEvent) {
		touches.delete(event.pointerId);
		const was = drag;
		drag = undefined;
		if (was?.cut && was.moved) void bench.cutAt(was.cut.lane);
		if (!was || was.moved) return;
		const box = element.getBoundingClientRect();
		const under = document.elementsFromPoint(event.clientX, event.clientY).filter((e) => e instanceof HTMLElement);
		const lane = lanes.find(({ id }) => under.some((e) => e.dataset.lane === id));
		const row = rows.find((_, i) => under.some((e) => e.dataset.row === String(i)));
		if (lane) onChoose(lane.id);
		if (row) bench.row = row;
		const line = lane || row ? bench.lineOf(lane, row) : focused;
		if (!was.cursor) place(event.shiftKey ? 'b' : 'a', snapped(line, event.clientX - box.left));
	}

	function place(cursor: 'a' | 'b', time: number) {
		if (cursor === 'a') view.cursorA = time;
		else view.cursorB = time;
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
			'1': () => view.onePeriod(),
			ArrowLeft: () => view.pan(-view.width / 8),
			ArrowRight: () => view.pan(view.width / 8),
			',': () => void bench.jumpBy(-1),
			'.': () => void bench.jumpBy(1),
			a: () => place('a', snapped(focused, view.width / 2)),
			b: () => place('b', snapped(focused, view.width / 2)),
			z: () => (view.zeroAt = view.zeroAt === 'a' ? undefined : 'a'),
			m: () => bench.setMark(),
			p: () => bench.stepMarks(-1),
			n: () => bench.stepMarks(1),
			Delete: () => bench.deleteMark(),
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
	aria-label="Waves. Arrow keys move, plus and minus zoom, 0 shows all, comma and full stop step from edge to edge, a and b place cursors, z sets zero, m sets a mark, n and p step to the next and the previous one, Delete takes the one at the cursor away"
	tabindex="0"
	onwheel={onWheel}
	onpointerdown={onDown}
	onpointermove={onMove}
	onpointerup={onUp}
	onpointercancel={(event) => touches.delete(event.pointerId)}
	data-testid="stage"
>
	<div class="flex h-[27px] items-center gap-4 border-b bg-well/50 px-3 text-[11px] text-soft">
		{#if bench.lanes.length > 0}
			<span class="inline-flex items-center gap-1"
				><i
					class="inline-block h-2.5 w-4 border border-accent bg-[repeating-linear-gradient(135deg,var(--color-accent)_0_1px,transparent_1px_4px)]"
				></i>plan</span
			>
			<span class="inline-flex items-center gap-1"><i class="inline-block h-0.5 w-4 bg-ink"></i>bench</span>
			{#if bench.lanes.some((lane) => lane.before)}
				<span class="inline-flex items-center gap-1"
					><i class="inline-block w-4 border-t-2 border-dashed border-series-b"></i>the other recording</span
				>
			{/if}
			<span class="inline-flex items-center gap-1"><i class="inline-block h-2.5 w-3 bg-fault/50"></i>differ</span>
			{#if bench.lanes.some((lane) => lane.suspected)}
				<span class="inline-flex items-center gap-1"
					><i
						class="inline-block h-2.5 w-4 border border-warn bg-[repeating-linear-gradient(45deg,var(--color-warn)_0_1px,transparent_1px_4px)]"
					></i>the pinned suspect</span
				>
			{/if}
		{/if}
	</div>
	{#each lanes as lane (lane.id)}
		<div class="h-[5.6rem] border-b" data-lane={lane.id}>
			<InTurn><WaveLane {view} paint={painterOf(lane)} label="{lane.derivation?.aim.name}: plan and {lane.recording?.name}" /></InTurn>
		</div>
		{#if lane.suspected}
			<div class="h-[4.4rem] border-b" data-lane={lane.id}>
				<WaveLane {view} paint={suspectPainter(lane)} label="What the pinned suspect would show of {lane.derivation?.aim.name}" />
			</div>
		{/if}
	{/each}
	{#each rows as row, i (i)}
		<div class={row.kind === 'head' ? 'border-b bg-well/50' : 'border-b'} style:height="{rowHeight(row)}px" data-row={i}>
			{#if row.kind === 'lane'}
				<InTurn><WaveLane {view} paint={rowPainter(row)} label="Predicted: {row.lane.aim} {row.lane.role}" /></InTurn>
			{/if}
		</div>
	{/each}
	{#each bench.marks as mark (mark.id)}
		{#if lanes.length > 0 || rows.length > 0}
			<div class="pointer-events-none absolute inset-y-0 w-px border-l border-dashed border-ink/60" style:left="{view.xOf(mark.ps)}px">
				<span class="absolute top-3.5 left-0 bg-paper/85 px-1 num text-[10px] font-bold whitespace-nowrap"
					>{mark.name}{mark.zero ? ' = 0' : ''}</span
				>
			</div>
		{/if}
	{/each}
	{#each [['A', view.cursorA], ['B', view.cursorB]] as const as [name, time] (name)}
		{#if time !== undefined && (lanes.length > 0 || rows.length > 0)}
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
