<script lang="ts">
	import { pulsePlaces, type Aim, type Derivation } from '../../core/plan/index.js';
	import { duplicateAim, removeAim } from '../state/edits.js';
	import { notices } from '../state/notices.svelte.js';
	import type { PlanSession } from '../state/session.svelte.js';
	import { findingText, problemText } from '../text/index.js';
	import Strip from './Strip.svelte';
	import TypedField from './TypedField.svelte';
	import Working from './Working.svelte';

	interface Props {
		session: PlanSession;
		derivation: Derivation;
		/** The one aim whose working and trade-off are laid open. */
		open: boolean;
		onOpen: () => void;
	}
	let { session, derivation, open, onOpen }: Props = $props();

	const { aim, wish } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const findings = $derived(session.findings.filter((f) => f.aim === aim.id && f.code !== 'field'));
	/** Out of sight an aim costs nothing; but what is skipped is also clipped, and a message at a field may stand out. */
	const unmarked = $derived(Object.keys(wish.problems).length === 0);
	const places = $derived(
		pulsePlaces(session.plan.part).map(({ timer, channel, pins }) => ({
			value: `${timer.id} ${channel.id}`,
			text: `${pins.map((pin) => pin.name).join(' or ') || 'no pin'} (${timer.name}, ${channel.name})`
		}))
	);
	const known = $derived(places.some((p) => p.value === `${aim.timer} ${aim.channel}`));

	function set(field: 'rate' | 'tolerance' | 'duty' | 'bits' | 'name', text: string, first: boolean) {
		session.set(['aims', index, field], text, `set the ${field} of ${aim.name || 'an aim'}`, !first);
	}

	function problem(field: 'rate' | 'tolerance' | 'duty' | 'bits'): string | undefined {
		const found = wish.problems[field];
		return found && problemText(found);
	}

	function place(value: string) {
		const [timer, channel] = value.split(' ');
		const next: Aim = { ...aim, timer, channel };
		session.set(['aims', index], next, `drive ${aim.name} elsewhere`);
	}

	function remove() {
		const name = aim.name || 'The aim';
		removeAim(session, aim);
		notices.say(`${name} was deleted.`, { label: 'Undo', run: () => session.undo() });
	}
</script>

<article
	id={aim.id}
	class={['border-b px-5 py-4', unmarked && '[contain-intrinsic-size:auto_13rem] [content-visibility:auto]', open && 'bg-card/60']}
	data-testid="aim"
>
	<div class="flex items-start gap-4">
		<p class="mb-1.5 min-w-0 flex-1 font-serif text-[16.5px] leading-[2]">
			Drive
			<TypedField label="Name of the signal" value={aim.name} least={8} onInput={(text, first) => set('name', text, first)} />
			on
			<select
				class="plain-select font-sans text-[14px]"
				aria-label="Pin, timer and channel of {aim.name}"
				value="{aim.timer} {aim.channel}"
				onchange={(event) => place(event.currentTarget.value)}
			>
				{#if !known}<option value="{aim.timer} {aim.channel}">choose a pin</option>{/if}
				{#each places as p (p.value)}<option value={p.value}>{p.text}</option>{/each}
			</select>
			at
			<TypedField
				label="Rate or period of {aim.name}"
				value={aim.rate}
				problem={problem('rate')}
				onInput={(text, first) => set('rate', text, first)}
			/>
			±
			<TypedField
				label="Tolerance of {aim.name}"
				value={aim.tolerance}
				problem={problem('tolerance')}
				onInput={(text, first) => set('tolerance', text, first)}
			/>, duty
			<TypedField
				label="Duty or on-time of {aim.name}"
				value={aim.duty}
				problem={problem('duty')}
				onInput={(text, first) => set('duty', text, first)}
			/>, at least
			<TypedField
				label="Duty resolution of {aim.name}"
				value={aim.bits}
				problem={problem('bits')}
				onInput={(text, first) => set('bits', text, first)}
			/>, active
			<select
				class="plain-select font-sans text-[14px]"
				aria-label="Active level of {aim.name}"
				value={aim.polarity}
				onchange={(event) => session.set(['aims', index, 'polarity'], event.currentTarget.value, `turn the polarity of ${aim.name}`)}
			>
				<option value="high">high</option>
				<option value="low">low</option>
			</select>.
		</p>
		<div class="flex shrink-0 gap-1.5 pt-1.5 text-[13px]">
			<button type="button" class="btn" aria-expanded={open} onclick={onOpen}>{open ? 'Close' : 'Working'}</button>
			<button type="button" class="btn" onclick={() => duplicateAim(session, aim)}>Copy</button>
			<button type="button" class="btn" onclick={remove}>Delete</button>
		</div>
	</div>
	<Strip {session} {derivation} />
	{#if findings.length > 0}
		<ul class="mt-2 grid gap-1 text-[13px]">
			{#each findings as finding (finding.code)}
				<li class={['border-l-4 px-2 py-0.5', finding.severity === 'fault' ? 'border-fault bg-fault-wash' : 'border-warn bg-warn-wash']}>
					<b>{finding.severity === 'fault' ? 'Fault' : 'Warning'}:</b>
					{findingText(finding)}
				</li>
			{/each}
		</ul>
	{/if}
	{#if open}<Working {session} {derivation} />{/if}
</article>
