<script lang="ts">
	import { pulsePlaces, pulseOn, type Aim, type Derivation, type WishField } from '../../core/plan/index.js';
	import type { PlanSession } from '../state/session.svelte.js';
	import { outputText, problemText } from '../text/index.js';
	import Strip from './Strip.svelte';
	import AimActions from './AimActions.svelte';
	import AimArticle from './AimArticle.svelte';
	import AimFindings from './AimFindings.svelte';
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
	/** Out of sight an aim costs nothing; but what is skipped is also clipped, and a message at a field may stand out. */
	const MOST_AT_ONCE = 24;
	const unmarked = $derived(Object.keys(wish.problems).length === 0);
	const places = $derived(
		pulsePlaces(session.plan.part).map(({ timer, channel, pins }) => ({
			value: `${timer.id} ${channel.id}`,
			text: `${pins.map((pin) => pin.name).join(' or ') || 'no pin'} (${timer.name}, ${channel.name})`
		}))
	);
	const known = $derived(places.some((p) => p.value === `${aim.timer} ${aim.channel}`));

	function set(field: 'rate' | 'tolerance' | 'duty' | 'bits' | 'name' | 'begin' | 'sweep' | 'over', text: string, first: boolean) {
		session.set(['aims', index, field], text, `set the ${field} of ${aim.name || 'an aim'}`, !first);
	}

	function problem(field: WishField): string | undefined {
		const found = wish.problems[field];
		return found && problemText(found);
	}

	/** What is not as usual is said even while the working is closed. */
	const special = $derived(
		aim.align !== 'auto' || aim.output !== 'auto' || aim.begin !== '' || aim.sweep !== '' || aim.writes !== 'buffered'
	);
	const COUNTS = { up: 'up, edges aligned', down: 'down, edges aligned', updown: 'up and down, centred' };
	const aligns = $derived(
		(['up', 'down', 'updown'] as const).filter((mode) => derivation.timer?.modes.includes(mode)).map((mode) => [mode, COUNTS[mode]])
	);
	/** The channel's output models that make pulses in a way of counting that is open. */
	const outputs = $derived(
		(derivation.channel?.outputs ?? []).flatMap((output, i) => {
			const { timer, channel } = derivation;
			return timer && channel && pulseOn(timer, channel, { align: aim.align, output: String(i) }) ? [[String(i), outputText(output)]] : [];
		})
	);

	function choose(field: 'align' | 'output' | 'writes', value: string) {
		session.set(['aims', index, field], value, `change the output of ${aim.name}`);
	}

	function place(value: string) {
		const [timer, channel] = value.split(' ');
		const next: Aim = { ...aim, timer, channel };
		session.set(['aims', index], next, `drive ${aim.name} elsewhere`);
	}
</script>

<AimArticle
	id={aim.id}
	testid="aim"
	name={aim.name || 'unnamed aim'}
	{open}
	marked={!unmarked}
	lazy={session.plan.aims.length > MOST_AT_ONCE}
>
	<div class="flex items-start gap-4">
		<p class="mb-1.5 min-w-0 flex-1 font-serif text-[16.5px] leading-[2]">
			Drive
			<TypedField label="Name of the signal" value={aim.name} least={8} onInput={(text, first) => set('name', text, first)} />
			on
			<select
				class="max-w-50 plain-select font-sans text-[14px]"
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
			/>,
			<span class="whitespace-nowrap"
				>active
				<select
					class="plain-select font-sans text-[14px]"
					aria-label="Active level of {aim.name}"
					value={aim.polarity}
					onchange={(event) => session.set(['aims', index, 'polarity'], event.currentTarget.value, `turn the polarity of ${aim.name}`)}
				>
					<option value="high">high</option>
					<option value="low">low</option>
				</select>.</span
			>
		</p>
		<AimActions {session} {aim} {open} {onOpen} />
	</div>
	{#if open || special}
		<p class="mb-1.5 font-serif text-[15px] leading-[1.9] text-soft" data-testid="run">
			Counting
			<select
				class="plain-select font-sans text-[13px]"
				aria-label="Way of counting of {aim.name}"
				value={aim.align}
				onchange={(event) => choose('align', event.currentTarget.value)}
			>
				<option value="auto">as the timer usually does</option>
				{#each aligns as [value, text] (value)}<option {value}>{text}</option>{/each}
				{#if aim.align !== 'auto' && !aligns.some(([value]) => value === aim.align)}<option value={aim.align}
						>{aim.align}, not offered</option
					>{/if}
			</select>, output
			<select
				class="plain-select font-sans text-[13px]"
				aria-label="Output model of {aim.name}"
				value={aim.output}
				onchange={(event) => choose('output', event.currentTarget.value)}
			>
				<option value="auto">the first that makes pulses</option>
				{#each outputs as [value, text] (value)}<option {value}>{text}</option>{/each}
				{#if aim.output !== 'auto' && !outputs.some(([value]) => value === aim.output)}<option value={aim.output}>not offered</option>{/if}
			</select>; at first
			<TypedField
				small
				label="Duty at first of {aim.name}"
				value={aim.begin}
				problem={problem('begin')}
				onInput={(text, first) => set('begin', text, first)}
			/>, sweeping to
			<TypedField
				small
				label="End of the sweep of {aim.name}"
				value={aim.sweep}
				problem={problem('sweep')}
				onInput={(text, first) => set('sweep', text, first)}
			/>
			within
			<TypedField
				small
				label="Time of the sweep of {aim.name}"
				value={aim.over}
				problem={problem('over')}
				onInput={(text, first) => set('over', text, first)}
			/>, compares written
			<select
				class="plain-select font-sans text-[13px]"
				aria-label="Writes of {aim.name}"
				value={aim.writes}
				onchange={(event) => choose('writes', event.currentTarget.value)}
			>
				<option value="buffered">buffered</option>
				<option value="immediate">at once</option>
			</select>.
		</p>
	{/if}
	<Strip {session} {derivation} />
	<AimFindings {session} aim={aim.id} />
	{#if open}<Working {session} {derivation} />{/if}
</AimArticle>
