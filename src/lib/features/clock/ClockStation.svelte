<script lang="ts">
	import TabItem from 'flowbite-svelte/TabItem.svelte';
	import Tabs from 'flowbite-svelte/Tabs.svelte';
	import { nodeName } from '../../text/index.js';
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import { openPlan } from '../../session/context.js';
	import InTurn from '../../components/InTurn.svelte';
	import Ladder from './Ladder.svelte';
	import NodePanel from './NodePanel.svelte';
	import RatesPanel from './RatesPanel.svelte';

	const { session } = openPlan();
	const BUTTON = { button: 'rounded-t-xs border border-b-0 px-3 py-0.5 text-[13px] font-normal' };
	const ACTIVE = 'bg-paper p-0 font-bold text-ink dark:bg-paper dark:text-ink';
	const INACTIVE =
		'border-transparent text-soft hover:bg-transparent hover:text-accent dark:text-soft dark:hover:bg-transparent dark:hover:text-accent';

	const clock = $derived(session.plan.part.clock);
	let chosen = $state<string>();
	let tab = $state<'node' | 'rates'>(page.url.hash === '#rates' ? 'rates' : 'node');
	let find = $state('');
	/** The address names the node; where it names none, the first node that an aim hangs on is looked at. */
	const selected = $derived(clock.some((node) => node.id === chosen) ? chosen : firstKernel());
	const node = $derived(clock.find((n) => n.id === selected));

	function firstKernel(): string | undefined {
		const timer = session.plan.part.timers.find((t) => session.plan.aims.some((aim) => aim.timer === t.id));
		return timer?.kernel ?? clock[0]?.id;
	}

	$effect(() => {
		const wanted = page.url.hash.slice(1);
		if (wanted === 'rates') tab = 'rates';
		else if (wanted) chosen = wanted;
	});

	function select(id: string) {
		if (id === chosen) return;
		chosen = id;
		replaceState(`#${id}`, {});
	}

	function seek(text: string) {
		const wanted = text.trim().toLowerCase();
		const names = clock.map((n) => ({ id: n.id, name: nodeName(session.plan, n.id).toLowerCase() }));
		const found = names.find((n) => n.name === wanted || n.id === wanted) ?? names.find((n) => wanted !== '' && n.name.includes(wanted));
		if (!found) return;
		tab = 'node';
		select(found.id);
	}
</script>

<div class="grid h-full grid-rows-[minmax(0,1fr)_12.9rem]">
	<Ladder {session} {selected} lighting={chosen !== undefined} onSelect={select} />
	<section class="relative flex min-h-0 flex-col border-t" aria-label="Node and rates">
		<Tabs
			divider={false}
			class="items-center gap-1 space-x-0 border-b bg-well px-3 pt-1 text-[13px]"
			classes={{ content: 'm-0 min-h-0 flex-1 rounded-none bg-transparent p-0 dark:bg-transparent', active: ACTIVE }}
		>
			<TabItem
				bind:open={() => tab === 'node', (open) => open && (tab = 'node')}
				key="node"
				title="Node"
				inactiveClass={INACTIVE}
				classes={BUTTON}
			>
				{#if node}<InTurn><NodePanel {session} {node} onSelect={select} /></InTurn>{/if}
			</TabItem>
			<TabItem
				bind:open={() => tab === 'rates', (open) => open && (tab = 'rates')}
				key="rates"
				title="Ask for rates"
				inactiveClass={INACTIVE}
				classes={BUTTON}><RatesPanel {session} {selected} /></TabItem
			>
		</Tabs>
		<div class="pointer-events-none absolute top-0.5 right-3 left-44 flex min-w-0 items-center gap-3 [&_input]:pointer-events-auto">
			<span class="ml-2 truncate text-[12px] text-soft"
				>Hatched rung: planned. Dashed: at reset. Bracket: limit. Drag a rung, turn the wheel over it, or type its factor.</span
			>
			<input
				class="mb-0.5 ml-auto w-44 plain-select py-0"
				type="search"
				placeholder="Find a node …"
				aria-label="Find a node"
				list="clock-nodes"
				bind:value={find}
				onchange={() => seek(find)}
			/>
			<datalist id="clock-nodes"
				>{#each clock.slice(0, 500) as n (n.id)}<option value={nodeName(session.plan, n.id)}></option>{/each}</datalist
			>
		</div>
	</section>
</div>
