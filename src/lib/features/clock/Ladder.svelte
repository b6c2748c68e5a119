<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { feedersOf, type ClockNodeProfile } from '../../../core/part/index.js';
	import { aimsByKernel, draggedText, settable, steppedText } from './nodes.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { theme } from '../../session/theme.svelte.js';
	import { nodeName, factorText } from '../../text/index.js';
	import { hzAt, layLadder, paintLadder, readInks, type LadderLink, type LadderNode, type Scale } from '../../wave/index.js';
	import InTurn from '../../components/InTurn.svelte';
	import LadderLabel from './LadderLabel.svelte';

	interface Props {
		session: PlanSession;
		selected: string | undefined;
		/** Light up what hangs together with the selected node. */
		lighting: boolean;
		onSelect: (id: string) => void;
	}
	let { session, selected, lighting, onSelect }: Props = $props();

	/** Above this many nodes only those with a label can be gripped. */
	const GRIPS = 400;
	/** Wheel steps on one node within this time are one edit. */
	const ONE_TURN_MS = 3000;

	let canvas: HTMLCanvasElement;
	let box: HTMLDivElement;
	let width = $state(800);
	let height = $state(400);
	let dragging = $state.raw<{ node: ClockNodeProfile; scale: Scale; moved: boolean }>();
	let turned: { id: string; at: number } | undefined;

	const plan = $derived(session.plan);
	const clocks = $derived(session.derivation.clocks);
	const reset = $derived(session.resetClocks);
	const branches = $derived(session.branches);
	const kernels = $derived(aimsByKernel(plan));
	const faulty = $derived(new Set(session.findings.flatMap((f) => (f.node !== undefined ? [f.node] : []))));
	const lit = $derived(
		selected === undefined || !lighting ? undefined : new Set([...branches.before(selected), ...branches.behind(selected)])
	);
	const byId = $derived(new Map(plan.part.clock.map((node) => [node.id, node])));

	const nodes: LadderNode[] = $derived(
		plan.part.clock.map((node) => ({
			id: node.id,
			feeders: feedersOf(node),
			hz: clocks.rate(node.id)?.toNumber() ?? null,
			reset: reset.rate(node.id)?.toNumber() ?? null,
			min: node.min && Number(node.min.hz),
			max: node.max && Number(node.max.hz),
			height: kernels.has(node.id) ? 46 : 32,
			weight: (node.id === selected ? 8 : 0) + (faulty.has(node.id) ? 4 : 0) + (kernels.has(node.id) ? 2 : 0) + (lit?.has(node.id) ? 1 : 0)
		}))
	);
	const stopped = $derived(nodes.filter((node) => node.hz === null));
	const tray = $derived(stopped.length > 0 ? 30 : 0);
	const ladder = $derived(layLadder(nodes, width, height - tray, dragging?.scale));
	const links: LadderLink[] = $derived(plan.part.clock.flatMap((node) => linksTo(node)));
	const labelled = $derived([...ladder.rungs.values()].filter((rung) => rung.labelY !== undefined));
	const grips = $derived(
		(nodes.length > GRIPS ? labelled : [...ladder.rungs.values()]).filter((rung) => rung.y !== undefined && settable(byId.get(rung.id)!))
	);

	const ladderHas = (id: string) => ladder.rungs.get(id)?.labelY !== undefined;

	function linksTo(node: ClockNodeProfile): LadderLink[] {
		if (node.kind === 'source') return [];
		if (node.kind === 'select') {
			const set = clocks.nodes.find((n) => n.id === node.id);
			return node.from.map((from) => ({ from, to: node.id, label: undefined, live: set?.kind === 'select' && set.pick === from }));
		}
		// What can be typed stands at the node itself, and among thousands nothing is written at the links.
		const [hz, input] = [clocks.rate(node.id), clocks.rate(node.from)];
		const told = hz && input && node.kind !== 'gate' && !(settable(node) && ladderHas(node.id)) && nodes.length <= GRIPS;
		const factor = told ? hz.div(input) : undefined;
		const label = factor && factorText({ node, hz, unknown: false, factor });
		const said = label === '× 1' || label === '÷ 1' ? undefined : label;
		return [{ from: node.from, to: node.id, label: said, live: hz !== null }];
	}

	$effect(() => {
		void theme.dark;
		const [now, lines, look, w, h] = [ladder, links, { lit, faulty, selected }, Math.max(ladder.width, width), height];
		const frame = requestAnimationFrame(() => {
			const ratio = devicePixelRatio;
			canvas.width = Math.round(w * ratio);
			canvas.height = Math.round(h * ratio);
			const context = canvas.getContext('2d')!;
			context.scale(ratio, ratio);
			paintLadder(context, now, lines, look, readInks(canvas), ratio);
		});
		return () => cancelAnimationFrame(frame);
	});

	// Whoever is led to a node by its address or a finding sees it.
	$effect(() => {
		const id = selected;
		if (id === undefined) return;
		void tick().then(() => {
			const x = untrack(() => ladder.rungs.get(id)?.x);
			if (x !== undefined && (x < box.scrollLeft || x + 120 > box.scrollLeft + box.clientWidth))
				box.scrollTo({ left: x - box.clientWidth / 2 });
		});
	});

	function set(node: ClockNodeProfile, text: string, merge: boolean) {
		if (plan.clock[node.id] !== text) session.set(['clock', node.id], text, `set ${nodeName(plan, node.id)}`, merge);
	}

	function step(id: string, way: 1 | -1, merge: boolean) {
		const node = byId.get(id)!;
		const text = steppedText(clocks, node, way);
		if (text !== undefined) set(node, text, merge);
	}

	function wheel(event: WheelEvent) {
		const id = (event.target as Element).closest<HTMLElement>('[data-node]')?.dataset.node;
		if (id === undefined || event.ctrlKey || event.deltaY === 0) return;
		event.preventDefault();
		onSelect(id);
		const goesOn = turned?.id === id && event.timeStamp - turned.at < ONE_TURN_MS;
		turned = { id, at: event.timeStamp };
		step(id, event.deltaY < 0 ? 1 : -1, goesOn);
	}

	/** The page must be able to keep the wheel from scrolling, which an attribute's handler cannot. */
	function wheeled(element: HTMLElement) {
		element.addEventListener('wheel', wheel, { passive: false });
		return () => element.removeEventListener('wheel', wheel);
	}

	function grip(event: PointerEvent, id: string) {
		if (event.button !== 0) return;
		onSelect(id);
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		dragging = { node: byId.get(id)!, scale: ladder.scale, moved: false };
	}

	function drag(event: PointerEvent) {
		if (!dragging) return;
		const text = draggedText(clocks, dragging.node, hzAt(dragging.scale, event.clientY - box.getBoundingClientRect().top));
		if (text === undefined || text === plan.clock[dragging.node.id]) return;
		set(dragging.node, text, dragging.moved);
		dragging = { ...dragging, moved: true };
	}

	function key(event: KeyboardEvent, id: string) {
		if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey || event.altKey) return;
		const way = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
		if (way !== 0) step(id, way, false);
		else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
			const node = byId.get(id)!;
			const next = event.key === 'ArrowLeft' ? feedersOf(node)[0] : plan.part.clock.find((n) => feedersOf(n).includes(id))?.id;
			if (next !== undefined) {
				onSelect(next);
				void tick().then(() => box.querySelector<HTMLElement>(`[data-label="${next}"]`)?.focus());
			}
		} else return;
		event.preventDefault();
	}
</script>

<div class="relative h-full min-h-0 overflow-hidden bg-card" bind:clientWidth={width} bind:clientHeight={height}>
	<div
		bind:this={box}
		class="absolute inset-0 overflow-x-auto overflow-y-hidden"
		role="group"
		aria-label="Clock ladder"
		data-testid="ladder"
		{@attach wheeled}
	>
		<div class="relative h-full graph-paper" style:width="{Math.max(ladder.width, width)}px">
			<canvas bind:this={canvas} class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true"></canvas>
			{#each grips as rung (rung.id)}
				<div
					role="presentation"
					class="absolute z-20 h-4 w-9 cursor-ns-resize touch-none"
					style:left="{rung.x - 3}px"
					style:top="{rung.y! - 8}px"
					title="Drag or turn the wheel: {nodeName(plan, rung.id)}"
					data-node={rung.id}
					onpointerdown={(event) => grip(event, rung.id)}
					onpointermove={drag}
					onpointerup={() => (dragging = undefined)}
					onpointercancel={() => (dragging = undefined)}
				></div>
			{/each}
			<InTurn>
				{#each labelled as rung (rung.id)}
					<LadderLabel
						{session}
						node={byId.get(rung.id)!}
						x={rung.x}
						y={rung.labelY!}
						width={ladder.pitch - 6}
						aims={kernels.get(rung.id) ?? []}
						selected={rung.id === selected}
						dim={lit !== undefined && !lit.has(rung.id)}
						faulty={faulty.has(rung.id)}
						onSelect={() => onSelect(rung.id)}
						onKey={(event) => key(event, rung.id)}
					/>
				{/each}
			</InTurn>
		</div>
	</div>
	{#if stopped.length > 0}
		<div
			class="absolute inset-x-0 bottom-0 flex h-[30px] items-center gap-1.5 overflow-x-auto border-t bg-paper px-3 text-[12px]"
			data-testid="stopped"
		>
			<span class="shrink-0 text-soft">Stopped:</span>
			{#each stopped.slice(0, 60) as node (node.id)}
				<button
					type="button"
					class={[
						'shrink-0 rounded-xs border px-1.5',
						node.id === selected ? 'border-accent bg-accent-wash font-bold' : 'border-dashed hover:border-accent'
					]}
					data-node={node.id}
					onclick={() => onSelect(node.id)}
					onkeydown={(event) => key(event, node.id)}>{nodeName(plan, node.id)}</button
				>
			{/each}
			{#if stopped.length > 60}<span class="shrink-0 text-soft">and {stopped.length - 60} more</span>{/if}
		</div>
	{/if}
</div>
