<script lang="ts">
	import { SvelteMap } from 'svelte/reactivity';
	import { onMount, tick, untrack } from 'svelte';
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import { steadyWave } from '../../core/timer/index.js';
	import type { Suspect } from '../../core/check/index.js';
	import { openPlan } from '../state/context.js';
	import { BenchLane, risePs } from '../state/lane.svelte.js';
	import { edgesCsv, lanesPicture } from '../state/benchFiles.js';
	import { fileName, saveFile } from '../state/export.js';
	import { notices } from '../state/notices.svelte.js';
	import { BenchView } from '../state/view.svelte.js';
	import { suspectText } from '../text/index.js';
	import { timeLabel } from '../wave/index.js';
	import CursorBar from './CursorBar.svelte';
	import LaneFeeder from './LaneFeeder.svelte';
	import Measures from './Measures.svelte';
	import Suspects from './Suspects.svelte';
	import RecordingsPanel from './RecordingsPanel.svelte';
	import Ruler from './Ruler.svelte';
	import VerdictCard from './VerdictCard.svelte';
	import WaveLane from './WaveLane.svelte';

	const { session, recordings: shelf } = openPlan();
	const view = new BenchView();
	const kept = new SvelteMap<string, BenchLane>();

	let chosen = $state<string | undefined>(page.url.hash.slice(1) || undefined);
	let between = $state(false);
	let pinned = $state.raw<{ lane: string; code: Suspect['code'] } | undefined>();
	let dropping = $state(false);
	let panel: RecordingsPanel;
	let stage: HTMLDivElement;

	/** Mappings whose recording is here; a recording that was put away keeps its mapping for when it comes back. */
	const ids = $derived(session.plan.mappings.filter((m) => shelf.find(m.recording)).map((m) => m.id));
	const lanes = $derived(ids.map(laneOf));
	const current = $derived(lanes.find((lane) => lane.id === chosen) ?? lanes[0]);
	const suspect = $derived(current && pinned?.lane === current.id ? current.suspects.find((s) => s.code === pinned?.code) : undefined);

	const suspectWave = $derived(suspect ? steadyWave(suspect.wave, suspect.tickRate.inverse()) : null);

	function laneOf(id: string): BenchLane {
		return untrack(() => {
			const known = kept.get(id) ?? new BenchLane(session, shelf, id);
			kept.set(id, known);
			return known;
		});
	}

	$effect(() => {
		const extents = lanes.map((lane) => lane.extent).filter((e) => e !== undefined);
		if (extents.length === 0) return;
		const [from, to] = [Math.min(...extents.map((e) => e[0])), Math.max(...extents.map((e) => e[1]))];
		const period = lanes.find((lane) => lane.derivation?.settings)?.derivation?.settings?.period.toNumber();
		untrack(() => view.setExtent(from, to, period && period * 1e12));
	});

	$effect(() => {
		void view.width;
		untrack(() => view.follow());
	});

	/** Makes a lane the current one; the address names it. */
	async function choose(id: string) {
		chosen = id;
		replaceState(`#${id}`, {});
		await tick();
		document.getElementById(`lane-${id}`)?.scrollIntoView({ block: 'nearest' });
	}

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
		const x = event.clientX - stage.getBoundingClientRect().left;
		if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) view.pan((event.deltaX || event.deltaY) * 0.8);
		else view.zoom(Math.exp(event.deltaY * 0.0018), x);
	}

	let drag: { x: number; moved: boolean; cursor: 'a' | 'b' | undefined } | undefined;

	function onDown(event: PointerEvent) {
		if (event.button !== 0) return;
		const x = event.clientX - stage.getBoundingClientRect().left;
		const near = (time: number | undefined) => time !== undefined && Math.abs(view.xOf(time) - x) < 6;
		drag = { x: event.clientX, moved: false, cursor: near(view.cursorA) ? 'a' : near(view.cursorB) ? 'b' : undefined };
		stage.setPointerCapture(event.pointerId);
		stage.focus({ preventScroll: true });
	}

	function onMove(event: PointerEvent) {
		if (!drag) return;
		const by = drag.x - event.clientX;
		if (!drag.moved && Math.abs(by) < 4) return;
		drag.moved = true;
		if (drag.cursor) place(drag.cursor, snapped(current, event.clientX - stage.getBoundingClientRect().left));
		else view.pan(by);
		drag.x = event.clientX;
	}

	function onUp(event: PointerEvent) {
		const was = drag;
		drag = undefined;
		if (!was) return;
		const box = stage.getBoundingClientRect();
		const lane = laneUnder(event.clientX, event.clientY);
		if (lane && !was.moved) void choose(lane.id);
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

	/** Files dropped anywhere on the station. */
	onMount(() => {
		const over = (event: DragEvent) => {
			if (!event.dataTransfer?.types.includes('Files')) return;
			event.preventDefault();
			dropping = true;
		};
		const drop = (event: DragEvent) => {
			dropping = false;
			if (!event.dataTransfer || event.dataTransfer.files.length === 0) return;
			event.preventDefault();
			void panel.take(event.dataTransfer.files);
		};
		const leave = (event: DragEvent) => {
			if (event.relatedTarget === null) dropping = false;
		};
		window.addEventListener('dragover', over);
		window.addEventListener('drop', drop);
		window.addEventListener('dragleave', leave);
		return () => {
			window.removeEventListener('dragover', over);
			window.removeEventListener('drop', drop);
			window.removeEventListener('dragleave', leave);
		};
	});

	async function savePicture() {
		const blob = await lanesPicture(
			stage,
			lanes.map((lane) => `${lane.derivation?.aim.name ?? ''}: ${lane.recording?.name ?? ''}`),
			view
		);
		if (blob) saveFile(`${fileName(session.plan.name)}-bench.png`, blob, 'image/png');
		else notices.fault('There is no wave to save.');
	}

	function saveData() {
		if (current?.trace)
			saveFile(`${fileName(current.line?.name ?? 'line')}.csv`, edgesCsv(current.trace, current.line?.name ?? 'level'), 'text/csv');
	}
</script>

<svelte:window onkeydown={onKey} />

{#each lanes as lane (lane.id)}
	<LaneFeeder {lane} {view} {between} {session} />
{/each}

<div class="grid h-full grid-cols-[16.5rem_minmax(0,1fr)]">
	<aside class="min-h-0 border-r bg-well/50">
		<RecordingsPanel bind:this={panel} {session} {shelf} onMapped={(id) => void choose(id)} />
	</aside>
	<div class="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[2.4rem_minmax(0,1fr)_auto]">
		<div class="flex items-center gap-2 border-b px-3 text-[13px]">
			<CursorBar {view} lane={current} />
			<div class="ml-auto flex shrink-0 items-center gap-1.5">
				{#if view.cursorA !== undefined}
					<button
						type="button"
						class={['btn px-2', view.zeroAt === 'a' && 'border-accent text-accent']}
						aria-pressed={view.zeroAt === 'a'}
						title="Let cursor A read zero (z)"
						onclick={() => (view.zeroAt = view.zeroAt === 'a' ? undefined : 'a')}>A = 0</button
					>
				{/if}
				{#if view.cursorA !== undefined && view.cursorB !== undefined}
					<label class="flex items-center gap-1"
						><input type="checkbox" bind:checked={between} class="accent-(--color-accent)" />only A to B</label
					>
				{/if}
				<button type="button" class="btn px-2" title="Closer (+)" aria-label="Zoom in" onclick={() => view.zoom(0.5, view.width / 2)}
					>+</button
				>
				<button type="button" class="btn px-2" title="Further (−)" aria-label="Zoom out" onclick={() => view.zoom(2, view.width / 2)}
					>−</button
				>
				<button type="button" class="btn px-2" title="All of it (0)" onclick={() => view.fit()}>All</button>
				<button
					type="button"
					class="btn px-2"
					disabled={lanes.length === 0}
					title="Save the waves as a picture"
					onclick={() => void savePicture()}>PNG</button
				>
				<button type="button" class="btn px-2" disabled={!current?.trace} title="Save the chosen line’s edges" onclick={saveData}
					>CSV</button
				>
			</div>
		</div>
		<div class="relative grid min-h-0 min-w-0 grid-cols-[10.5rem_minmax(0,1fr)] grid-rows-[1.5rem_minmax(0,1fr)]">
			<div class="flex items-center gap-2.5 border-r border-b px-3 text-[11px] text-soft">
				<span class="inline-flex items-center gap-1"
					><i
						class="inline-block h-2.5 w-4 border border-accent bg-[repeating-linear-gradient(135deg,var(--color-accent)_0_1px,transparent_1px_4px)]"
					></i>plan</span
				>
				<span class="inline-flex items-center gap-1"><i class="inline-block h-0.5 w-4 bg-ink"></i>bench</span>
				<span class="inline-flex items-center gap-1"><i class="inline-block h-2.5 w-3 bg-fault/50"></i>differ</span>
			</div>
			<div class="min-w-0" bind:clientWidth={view.width}><Ruler {view} /></div>
			<div class="col-span-2 min-h-0 overflow-x-hidden overflow-y-auto">
				{#if lanes.length === 0}
					<div class="mx-auto mt-16 max-w-md text-center">
						<p class="font-serif text-lg">Nothing is held against the plan yet.</p>
						<p class="mt-1 text-soft">
							{shelf.list.length === 0
								? 'Drop a recording anywhere here, then say which line shows which aim.'
								: 'Say on the left which recorded line shows which aim.'}
						</p>
						{#if shelf.list.length === 0}<button type="button" class="mt-4 btn-main" onclick={() => panel.browse()}>Add a recording</button
							>{/if}
					</div>
				{/if}
				<div class="grid grid-cols-[10.5rem_minmax(0,1fr)]">
					<div class="border-r">
						{#each lanes as lane (lane.id)}
							<button
								type="button"
								id="lane-{lane.id}"
								class={[
									'flex h-[5.6rem] w-full flex-col justify-center border-b px-3 text-left',
									current === lane ? 'bg-accent-wash' : 'hover:bg-card'
								]}
								aria-pressed={current === lane}
								onclick={() => void choose(lane.id)}
								data-testid="lane-label"
							>
								<span class="w-full truncate text-[13px] font-bold">{lane.derivation?.aim.name ?? 'aim deleted'}</span>
								<span class="w-full truncate text-[11px] text-soft">{lane.recording?.name}</span>
								<span class={['text-[12px]', lane.verdict?.outcome === 'outside' ? 'font-bold text-fault' : 'text-accent']}>
									{lane.failed ? 'not loaded' : lane.verdict ? lane.verdict.outcome : '…'}
								</span>
							</button>
							{#if suspect && current === lane}
								<div class="border-b px-3 py-2 text-[11px] leading-snug" style:height="4.4rem">
									<b class="text-warn">What if:</b>
									{suspectText(suspect.code)}
								</div>
							{/if}
						{/each}
					</div>
					<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
					<div
						bind:this={stage}
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
								<div
									class={['pointer-events-none absolute inset-y-0 w-px', name === 'A' ? 'bg-fault' : 'bg-warn']}
									style:left="{view.xOf(time)}px"
								>
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
				</div>
			</div>
		</div>
		{#if current}
			<div class="grid h-[18.5rem] grid-cols-[minmax(0,1.05fr)_minmax(0,1fr)] border-t bg-card/60">
				<VerdictCard {session} lane={current} />
				<div class="min-h-0 overflow-y-auto border-l">
					<Measures lane={current} />
					{#if current.verdict?.outcome === 'outside'}
						<Suspects
							lane={current}
							pinned={suspect?.code}
							onPin={(code) => (pinned = code && current ? { lane: current.id, code } : undefined)}
						/>
					{/if}
				</div>
			</div>
		{/if}
	</div>
</div>

{#if dropping}
	<div class="pointer-events-none fixed inset-0 z-40 flex items-center justify-center bg-paper/85">
		<p class="rounded-sm border-2 border-dashed border-accent bg-card px-10 py-8 font-serif text-2xl">Drop to read it</p>
	</div>
{/if}
