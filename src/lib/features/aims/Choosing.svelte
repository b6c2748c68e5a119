<script lang="ts">
	import { untrack } from 'svelte';
	import { type Aim, kindOf } from '../../../core/aims/index.js';
	import { rateOf as sharedRate, type Service, serversStepwise } from '../../../core/check/index.js';
	import { setStep } from '../../../core/plan/index.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { inSlices } from '../../session/slices.js';
	import { harmText, ledText, nodeName } from '../../text/index.js';
	import Num from '../../components/Num.svelte';

	let { session, aim }: { session: PlanSession; aim: Aim } = $props();

	const REST_MS = 250;
	const index = $derived(session.plan.aims.findIndex(({ id }) => id === aim.id));
	const pins = $derived(session.derivation.pins.filter((use) => use.aim === aim.id && use.offers.length > 0));
	/** Lines of a port say their pins themselves. */
	const port = $derived((kindOf(aim).pins?.(aim) ?? []).some((need) => need.port !== undefined));
	let served = $state.raw<Service[]>([]);

	// Every timer is tried; that waits until the keys rest.
	$effect(() => {
		const { plan, derivation } = session;
		const asked = plan.aims.find(({ id }) => id === aim.id);
		let ended = false;
		const tryAll = async () => {
			const found = asked ? await inSlices(serversStepwise(plan, asked, derivation), () => ended) : [];
			if (found) served = found;
		};
		const timer = setTimeout(() => void tryAll(), untrack(() => served.length) > 0 ? REST_MS : 0);
		return () => {
			ended = true;
			clearTimeout(timer);
		};
	});

	/** Why none of them could serve, where it is the same with all: that is said once. */
	const common = $derived.by(() => {
		const able = served.filter((service) => service.aim !== undefined);
		const reasons = new Set(able.map(({ faults }) => (faults[0] ? harmText(faults[0], session.plan, aim) : '')));
		const [reason] = reasons;
		return able.length > 1 && reasons.size === 1 && reason !== '' ? reason : undefined;
	});

	function move({ aim: moved, timer }: Service) {
		if (moved) session.edit(setStep(session.plan, ['aims', index], moved, `move ${aim.name} to ${timer.name}`));
	}

	function choosePin(what: string, id: string) {
		session.set(['aims', index, 'pins', what], id === '' ? undefined : id, `choose a pin for ${aim.name}`);
	}

	function rateOf({ derivation }: Service) {
		return derivation && sharedRate(derivation);
	}
</script>

<div class="mt-3 min-w-0" data-testid="choosing">
	<h3 class="mb-1 text-xs font-bold text-soft">Which timers could serve</h3>
	{#if common}<p class="mb-1 text-[12.5px] text-soft">None as it stands: {common}</p>{/if}
	<ul class="max-h-56 overflow-y-auto text-[12.5px] [&_li]:border-b" data-testid="servers">
		{#each served as service (service.timer.id)}
			{@const serves = service.aim !== undefined && service.faults.length === 0}
			<li class={['grid grid-cols-[6.5rem_minmax(0,1fr)_auto] items-baseline gap-2 px-1 py-0.5', service.own && 'bg-accent-wash']}>
				<span class="truncate" title="{service.timer.width} bits on {nodeName(session.plan, service.timer.kernel)}">
					<span aria-hidden="true" class={serves ? 'text-accent' : 'text-soft'}>{serves ? '●' : '○'}</span>
					{service.timer.name}
				</span>
				<span class={serves ? '' : 'text-soft'}>
					{#if !service.aim}cannot do this job
					{:else if serves}serves{#if rateOf(service)}: <Num value={rateOf(service)!} unit="Hz" digits={6} />{/if}, {service.timer.width} bits
					{:else if !common}{harmText(service.faults[0], session.plan, aim)}{/if}
				</span>
				{#if service.own}<span class="text-soft">here</span>
				{:else if service.aim}
					<button
						type="button"
						class="underline hover:text-accent"
						aria-label="Move {aim.name} to {service.timer.name}"
						onclick={() => move(service)}>move</button
					>
				{/if}
			</li>
		{/each}
	</ul>
	{#if pins.length > 0 && !port}
		<h3 class="mt-2 mb-1 text-xs font-bold text-soft">Pins</h3>
		<div class="flex flex-wrap gap-x-4 gap-y-1 text-[12.5px]">
			{#each pins as use (use.what)}
				<label class="flex items-center gap-1">
					{ledText(use)}
					<select
						class="plain-select py-0 text-[12.5px]"
						aria-label="Pin for {ledText(use)} of {aim.name}"
						value={use.chosen ? (aim.pins[use.what] ?? '') : ''}
						onchange={(event) => choosePin(use.what, event.currentTarget.value)}
					>
						<option value="">{use.chosen ? 'any' : `${use.pin?.name ?? 'none'}, as it comes`}</option>
						{#each use.offers as pin (pin.id)}<option value={pin.id} disabled={pin.ledOut === false}
								>{pin.name}{pin.ledOut === false ? ' (not led out)' : ''}</option
							>{/each}
					</select>
				</label>
			{/each}
		</div>
	{/if}
</div>
