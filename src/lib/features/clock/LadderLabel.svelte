<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import type { ClockNodeProfile } from '../../../core/part/index.js';
	import type { Aim } from '../../../core/aims/index.js';
	import { clockProblem, typedClock } from './clockFields.js';
	import { settable } from './nodes.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { nodeName, hertz } from '../../text/index.js';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';

	interface Props {
		session: PlanSession;
		node: ClockNodeProfile;
		x: number;
		y: number;
		width: number;
		/** Aims whose timer takes this node as its kernel clock. */
		aims: readonly Aim[];
		selected: boolean;
		dim: boolean;
		faulty: boolean;
		onSelect: () => void;
		onKey: (event: KeyboardEvent) => void;
	}
	let { session, node, x, y, width, aims, selected, dim, faulty, onSelect, onKey }: Props = $props();

	const hz = $derived(session.derivation.clocks.rate(node.id));
	const name = $derived(nodeName(session.plan, node.id));
	/** The node's note or name, and its limits with their reasons. */
	const tip = $derived(
		[
			session.plan.labels[node.id]?.note || name,
			...(['max', 'min'] as const).flatMap((key) => {
				const limit = node[key];
				return limit
					? [`${key === 'max' ? 'at most' : 'at least'} ${hertz(Rational.parse(limit.hz))}: ${limit.why || 'no reason is given'}`]
					: [];
			})
		].join('; ')
	);
	const problem = $derived(clockProblem(session.plan, node));
	const typed = $derived((node.kind === 'divide' || node.kind === 'multiply') && settable(node));
</script>

<div
	class={[
		'pointer-events-none absolute w-fit rounded-xs bg-card/60 leading-tight transition-opacity [&_[role=alert]]:pointer-events-auto [&_[role=spinbutton]]:pointer-events-auto [&_a]:pointer-events-auto [&_button]:pointer-events-auto [&_input]:pointer-events-auto',
		problem ? 'z-30' : 'z-10',
		dim && !problem && 'opacity-40'
	]}
	style:left="{x}px"
	style:top="{y}px"
	style:max-width="{width}px"
	data-node={node.id}
>
	<div
		role="spinbutton"
		tabindex="0"
		aria-valuenow={hz?.toNumber() ?? 0}
		aria-valuetext={hz ? hertz(hz) : 'stopped'}
		aria-label={name}
		class={[
			'block max-w-full cursor-pointer truncate rounded-xs text-left text-[11.5px] hover:text-accent',
			faulty ? 'text-fault' : 'text-soft',
			selected && 'font-bold text-accent'
		]}
		title={tip}
		data-label={node.id}
		onclick={onSelect}
		onkeydown={onKey}
	>
		{name}
	</div>
	<div class="flex items-baseline gap-0.5 whitespace-nowrap">
		{#if typed}
			<span class="text-[12px] text-soft">{node.kind === 'divide' ? '÷' : '×'}</span>
			<TypedField
				small
				least={1}
				label="{name}: {node.kind === 'divide' ? 'divide by' : 'multiply by'}"
				value={typedClock(session.plan, node)}
				{problem}
				onInput={(text, first) => session.set(['clock', node.id], text, `set ${name}`, !first)}
			/>
		{/if}
		<span class={['text-[12.5px]', faulty && 'text-fault']}
			>{#if hz}<Num value={hz} unit="Hz" digits={4} />{:else}unknown{/if}</span
		>
	</div>
	{#if aims.length > 0}
		<div class="truncate text-[11px] text-accent" title={aims.map((aim) => aim.name).join(', ')}>
			<span aria-hidden="true">⚑</span>
			<a class="hover:underline" href="/plan/{session.id}/aims#{aims[0].id}">{aims[0].name || 'unnamed aim'}</a>{#if aims.length > 1}, +{aims.length -
					1}{/if}
		</div>
	{/if}
</div>
