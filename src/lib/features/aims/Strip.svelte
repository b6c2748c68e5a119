<script lang="ts">
	import { type AimDerivation, type StripLink, waveOf } from '../../../core/aims/index.js';
	import { steadyWave } from '../../../core/timer/index.js';
	import Lane from '../../components/Lane.svelte';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { figureName, linkName, linkText, nodeName, problemText, registerText } from '../../text/index.js';
	import ClockLinks from './ClockLinks.svelte';

	/** Clock, prescale, count, edge: how an aim comes about, with what it comes to and its wave. */
	let { session, derivation, open }: { session: PlanSession; derivation: AimDerivation; open: boolean } = $props();

	const { aim, strip, fields, pulse } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const name = $derived(aim.name || 'the aim');
	const kernel = $derived(derivation.timer && nodeName(session.plan, derivation.timer.kernel));
	const figures = $derived(derivation.figures.filter(({ minor }) => !minor));
	/** Held links that could not be derived are still shown, to be let go. */
	const lost = $derived(
		Object.keys(aim.locks)
			.filter((link) => aim.locks[link] !== undefined && !strip.some((one) => one.name === link))
			.map((link) => ({ name: link as StripLink['name'], value: Number.NaN, holds: true }) satisfies StripLink)
	);
	const links = $derived<StripLink[]>([...strip, ...lost]);
	/** A steady pulse is drawn; its figures then stand close together. */
	const wave = $derived(pulse ? steadyWave(waveOf(pulse), pulse.tickRate.inverse()) : null);
	const compact = $derived(wave !== null && links.length <= 3);
	const off = $derived(session.findings.some((f) => f.aim === aim.id && f.code.startsWith('rate-')));

	/** Prescale and reload of a shared timer are another aim’s. */
	const decided = (link: StripLink) => derivation.sharedWith !== undefined && (link.name === 'prescale' || link.name === 'reload');

	function toggle(link: StripLink) {
		const held = isHeld(link);
		const value = link.name === 'dead' ? link.register?.value : link.value;
		session.set(
			['aims', index, 'locks', link.name],
			held ? undefined : String(value),
			`${held ? 'let go' : 'hold'} ${linkName(link.name)} of ${name}`
		);
	}

	function isHeld({ name: link }: StripLink): boolean {
		return Object.hasOwn(aim.locks, link) && aim.locks[link] !== undefined;
	}

	function titleOf(link: StripLink['name']): string {
		const title = linkName(link);
		return title.charAt(0).toUpperCase() + title.slice(1);
	}
</script>

{#if open && derivation.timer}
	<div class="mb-1.5"><ClockLinks {session} {derivation} /></div>
{/if}
<div class="flex flex-wrap items-stretch gap-y-1.5" role="group" aria-label="Derivation of {name}" data-testid="strip">
	{#if derivation.timer && !open}
		<a
			class="flex w-38 shrink-0 flex-col rounded-xs border bg-card px-2 py-1 hover:border-accent"
			href="/plan/{session.id}/clock#{derivation.timer.kernel}"
			title="See it on the clock ladder"
		>
			<span class="truncate text-[11px] text-soft">{kernel}</span>
			<span class="text-[17px] leading-snug font-semibold"
				>{#if derivation.kernel}<Num value={derivation.kernel} unit="Hz" />{:else}<span class="text-fault">none</span>{/if}</span
			>
			<span class="truncate text-[10.5px] text-soft">clock of {derivation.timer.name}</span>
		</a>
		{#if links.length > 0}<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>{/if}
	{/if}
	{#each links as link, i (link.name)}
		{@const held = isHeld(link)}
		{@const register = registerText(link)}
		{#if i > 0}<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>{/if}
		<div
			class={[
				'flex w-38 shrink-0 flex-col rounded-xs border px-2 py-1',
				held && !decided(link) ? 'border-accent bg-accent-wash' : 'bg-card'
			]}
		>
			<span class="flex justify-between gap-1 text-[11px] text-soft">
				<span class="truncate">{titleOf(link.name)}</span>
				{#if decided(link)}
					<span class="truncate" title="This timer’s prescale and reload are decided by {derivation.sharedWith?.name}"
						>by {derivation.sharedWith?.name}</span
					>
				{:else if link.holds}
					<button
						type="button"
						class={['underline decoration-dotted underline-offset-2', held ? 'font-bold text-accent' : 'hover:text-accent']}
						aria-pressed={held}
						aria-label="Hold {linkName(link.name)} of {name}"
						title={held
							? 'Held: everything else is derived around it. Press to let it go'
							: 'Hold this value and derive the rest around it'}
						onclick={() => toggle(link)}>{held ? 'held' : 'hold'}</button
					>
				{/if}
			</span>
			<span class="num text-[17px] leading-snug font-semibold">
				{#if held && !decided(link)}
					{#if link.name === 'dead'}<span class="text-[12px] font-normal text-soft">code</span>{/if}
					<TypedField
						label="Held {linkName(link.name)} of {name}"
						value={aim.locks[link.name] ?? ''}
						problem={fields[`lock-${link.name}`] && problemText(fields[`lock-${link.name}`])}
						onInput={(text, first) =>
							session.set(['aims', index, 'locks', link.name], text, `hold ${linkName(link.name)} of ${name}`, !first)}
					/>
				{:else}
					{linkText(link)}
					{#if link.name === 'dead'}<span class="text-[12px] font-normal text-soft">cycles</span>{/if}
				{/if}
			</span>
			<span class="truncate num text-[10.5px] text-soft" title={register.full}>{register.short}</span>
		</div>
	{/each}
	{#if compact && pulse}
		{#if links.length > 0}<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>{/if}
		<div class="flex min-w-42 shrink-0 flex-col rounded-xs border bg-card px-2 py-1" data-testid="achieved">
			<span class="text-[11px] text-soft">Achieved</span>
			<span class="text-[17px] leading-snug font-semibold"><Num value={pulse.hz} unit="Hz" /></span>
			<span class={['text-[11px]', off && 'font-bold text-fault']}>
				{#each figures.filter(({ name: figure }) => figure !== 'rate') as figure, i (figure.name)}{i > 0 ? ' · ' : ''}<Num
						value={figure.value}
						unit={figure.unit}
						digits={figure.unit === 'ppm' ? 4 : 5}
						sign={figure.unit === 'ppm'}
					/>{/each}
			</span>
		</div>
		<span class="w-2 shrink-0"></span>
		<div class="min-h-14 min-w-40 flex-1 overflow-hidden rounded-xs border">
			<Lane {wave} seconds={3 * pulse.period.toNumber()} label="Planned wave of {aim.name}, three periods" />
		</div>
	{:else}
		{#if figures.length > 0 && links.length <= 3}<span class="w-3 shrink-0"></span>{/if}
		<dl
			class={[
				'flex min-w-0 flex-1 flex-wrap items-center gap-x-5 gap-y-1 rounded-xs border bg-card px-3 py-1',
				links.length > 3 && 'basis-full'
			]}
			data-testid="figures"
		>
			{#each figures as figure (figure.name)}
				<div class="leading-tight">
					<dt class="text-[11px] text-soft">{figureName(figure.name)}</dt>
					<dd class="text-[14px] font-semibold">
						<Num
							value={figure.value}
							unit={figure.unit}
							digits={figure.unit === 'Hz' || figure.unit === 's' ? 7 : 5}
							sign={figure.unit === 'ppm' || figure.unit === 's/day' || figure.name === 'lag-off'}
						/>
					</dd>
				</div>
			{:else}
				<div class="text-[13px] text-soft">Nothing can be derived yet: the findings say what is missing.</div>
			{/each}
		</dl>
	{/if}
</div>
