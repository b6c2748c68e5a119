<script lang="ts">
	import Choice from '../../components/Choice.svelte';
	import type { ClockNodeProfile } from '../../../core/part/index.js';
	import { Rational } from '../../../core/exact/index.js';
	import { clockProblem, typedClock } from './clockFields.js';
	import { aimsOn, neighbours, settable, settingOf } from './nodes.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { factorsText, nodeName, arithmetic, findingText, hertz } from '../../text/index.js';
	import CopyText from '../../components/CopyText.svelte';
	import Links from '../../components/Links.svelte';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';

	interface Props {
		session: PlanSession;
		node: ClockNodeProfile;
		onSelect: (id: string) => void;
	}
	let { session, node, onSelect }: Props = $props();

	const plan = $derived(session.plan);
	const clocks = $derived(session.derivation.clocks);
	const hz = $derived(clocks.rate(node.id));
	const atReset = $derived(session.resetClocks.rate(node.id));
	const ppm = $derived(clocks.ppm(node.id));
	const set = $derived(Object.hasOwn(plan.clock, node.id));
	const held = $derived(plan.held.includes(node.id));
	const name = $derived(nodeName(plan, node.id));
	const near = $derived(neighbours(plan.part, node.id));
	const aims = $derived(aimsOn(plan, session.branches.behind(node.id)));
	const findings = $derived(session.findings.filter((f) => f.node === node.id));
	const line = $derived(arithmetic(clocks, node.id, (id) => nodeName(plan, id)));
	const OFFERS = {
		source: '',
		divide: 'divides by',
		multiply: 'multiplies by',
		select: 'takes',
		follow: 'follows',
		gate: 'a gate'
	} as const;
	let fresh = true;

	function label(field: 'name' | 'note', text: string) {
		const before = plan.labels[node.id] ?? { name: '', note: '' };
		const after = { ...before, [field]: text };
		const empty = after.name === '' && after.note === '';
		session.set(['labels', node.id], empty ? undefined : after, `${field === 'name' ? 'name' : 'note at'} ${node.name}`, !fresh);
		fresh = false;
	}

	function hold() {
		const next = held ? plan.held.filter((id) => id !== node.id) : [...plan.held, node.id];
		session.set(['held'], next, `${held ? 'let go' : 'hold'} ${name}`);
	}
</script>

<div
	class="grid h-full min-h-0 grid-cols-[15.5rem_minmax(0,1.5fr)_minmax(0,1fr)] gap-5 overflow-y-auto px-4 py-2.5 text-[13px]"
	data-testid="node-panel"
>
	<div class="grid content-start gap-1.5">
		<label class="grid gap-0.5">
			<span class="text-[11px] text-soft">Name in this plan</span>
			<input
				class="plain-select py-0.5 font-bold"
				value={plan.labels[node.id]?.name ?? ''}
				placeholder={node.name}
				maxlength="120"
				aria-label="Own name of {node.name}"
				onfocus={() => (fresh = true)}
				oninput={(event) => label('name', event.currentTarget.value)}
			/>
		</label>
		<div class="flex flex-wrap items-baseline gap-1.5">
			{#if node.kind === 'source' && node.chosen}
				<span class="text-soft">runs at</span>
			{:else}<span class="text-soft">{node.kind === 'source' ? 'runs by itself' : OFFERS[node.kind]}</span>{/if}
			{#if node.kind === 'source'}
				{#if node.chosen}<TypedField
						small
						label="Setting of {name}"
						value={typedClock(plan, node)}
						problem={clockProblem(plan, node)}
						onInput={(text, first) => session.set(['clock', node.id], text, `set ${name}`, !first)}
					/>{/if}
			{:else if node.kind === 'divide' || node.kind === 'multiply'}
				{#if settable(node)}<TypedField
						small
						least={2}
						label="Setting of {name}"
						value={typedClock(plan, node)}
						problem={clockProblem(plan, node)}
						onInput={(text, first) => session.set(['clock', node.id], text, `set ${name}`, !first)}
					/>{:else}<b class="num">{factorsText(node.by)}</b>, always{/if}
			{:else if node.kind === 'select'}
				<Choice
					class="py-0"
					aria-label="Setting of {name}"
					value={settingOf(clocks, node)}
					onchange={(event) => session.set(['clock', node.id], event.currentTarget.value, `set ${name}`)}
				>
					{#each node.from as from (from)}<option value={from}>{nodeName(plan, from)}</option>{/each}
				</Choice>
			{:else if node.kind === 'gate'}
				<Choice
					class="py-0"
					aria-label="Setting of {name}"
					value={settingOf(clocks, node) === true ? 'on' : 'off'}
					onchange={(event) => session.set(['clock', node.id], event.currentTarget.value, `set ${name}`)}
				>
					<option value="on">open</option>
					<option value="off">closed</option>
				</Choice>
			{:else}
				<span>
					× {node.otherwise}, but {#each node.table as [value, factor], i (value)}{i > 0 ? ', ' : ''}× {factor} when {nodeName(
							plan,
							node.watch
						)} divides by
						{value}{/each}
				</span>
			{/if}
		</div>
		{#if settable(node)}
			{#if (node.kind === 'divide' || node.kind === 'multiply') && settable(node)}<span class="text-[12px] text-soft"
					>offers {factorsText(node.by)}</span
				>{/if}
			<div class="flex gap-1.5 pt-0.5">
				<button
					type="button"
					class="btn py-0"
					disabled={!set}
					onclick={() => session.set(['clock', node.id], undefined, `set ${name} as at reset`)}>As at reset</button
				>
				{#if node.kind !== 'source'}<button
						type="button"
						class={['btn py-0', held && 'border-accent bg-accent-wash font-bold']}
						aria-pressed={held}
						title="A held setting stays as it is when rates are asked for"
						onclick={hold}>{held ? 'Held' : 'Hold'}</button
					>{/if}
			</div>
		{/if}
	</div>
	<div class="grid min-w-0 content-start gap-1.5">
		<div class="flex flex-wrap items-baseline gap-x-4">
			<span class="text-[19px] font-semibold" data-testid="node-rate"
				>{#if hz}<Num value={hz} unit="Hz" digits={10} />{:else}<span class="text-fault">no clock</span>{/if}</span
			>
			<span class="text-soft"
				>at reset {#if atReset}<Num value={atReset} unit="Hz" />{:else}stopped{/if}</span
			>
			{#if ppm}<span class="text-soft"
					>tolerance {#if ppm[0].neg().equals(ppm[1])}± <Num value={ppm[1]} unit="ppm" />{:else}<Num value={ppm[0]} unit="ppm" sign /> to <Num
							value={ppm[1]}
							unit="ppm"
							sign
						/>{/if}</span
				>{/if}
		</div>
		<p class="flex items-start gap-2 rounded-xs bg-well px-2 py-1">
			<span class="min-w-0 flex-1 num text-[12px] break-words" data-testid="arithmetic">{line}</span><CopyText text={line} />
		</p>
		{#each [['max', 'At most'], ['min', 'At least']] as const as [key, text] (key)}
			{@const limit = node[key]}
			{#if limit}<p>{text} <span class="num">{hertz(Rational.parse(limit.hz))}</span>: {limit.why || 'no reason is given'}</p>{/if}
		{/each}
		{#each findings as finding (finding.code + (finding.code === 'clock-limit' ? finding.limit : ''))}
			<p class={['border-l-4 px-2 py-0.5', finding.severity === 'fault' ? 'border-fault bg-fault-wash' : 'border-warn bg-warn-wash']}>
				{findingText(finding)}
			</p>
		{/each}
		<Links links={node.links} />
	</div>
	<div class="grid min-w-0 content-start gap-1.5">
		{#if near.from.length > 0}
			<p>
				<span class="text-soft">from</span>
				{#each near.from as id, i (id)}{i > 0 ? ', ' : ''}<button
						type="button"
						class="underline decoration-dotted hover:text-accent"
						onclick={() => onSelect(id)}>{nodeName(plan, id)}</button
					>{/each}
			</p>
		{/if}
		{#if near.to.length > 0}
			<p>
				<span class="text-soft">feeds</span>
				{#each near.to.slice(0, 12) as id, i (id)}{i > 0 ? ', ' : ''}<button
						type="button"
						class="underline decoration-dotted hover:text-accent"
						onclick={() => onSelect(id)}>{nodeName(plan, id)}</button
					>{/each}{#if near.to.length > 12}
					and {near.to.length - 12} more{/if}
			</p>
		{/if}
		{#if near.timers.length > 0}<p><span class="text-soft">timers</span> {near.timers.join(', ')}</p>{/if}
		<p data-testid="hanging-aims">
			<span class="text-soft"
				>{aims.length === 0 ? 'No aim hangs on it.' : aims.length === 1 ? 'One aim hangs on it:' : `${aims.length} aims hang on it:`}</span
			>
			{#each aims.slice(0, 8) as aim, i (aim.id)}{i > 0 ? ', ' : ''}<a
					class="text-accent hover:underline"
					href="/plan/{session.id}/aims#{aim.id}">{aim.name || 'unnamed aim'}</a
				>{/each}{#if aims.length > 8}
				and {aims.length - 8} more{/if}
		</p>
		<textarea
			class="min-h-14 resize-none plain-select"
			placeholder="A note at this node"
			aria-label="Note at {node.name}"
			maxlength="2000"
			value={plan.labels[node.id]?.note ?? ''}
			onfocus={() => (fresh = true)}
			oninput={(event) => label('note', event.currentTarget.value)}></textarea>
	</div>
</div>
