<script lang="ts">
	import type { JobDerivation, StripLink } from '../../../core/plan/index.js';
	import { nodeName } from '../clock/ladder.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { figureName, hex, linkName, problemText } from '../../text/index.js';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';

	let { session, derivation }: { session: PlanSession; derivation: JobDerivation } = $props();

	const { aim, strip, figures, fields } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const name = $derived(aim.name || 'the aim');
	const kernel = $derived(derivation.timer && nodeName(session.plan, derivation.timer.kernel));
	/** Held links that could not be derived are still shown, to be let go. */
	const lost = $derived(
		Object.keys(aim.locks)
			.filter((link) => !strip.some((one) => one.name === link))
			.map((link) => ({ name: link as StripLink['name'], value: Number.NaN, holds: true }) satisfies StripLink)
	);
	const links = $derived<StripLink[]>([...strip, ...lost]);

	function titleOf(link: StripLink['name']): string {
		const title = linkName(link);
		return title.charAt(0).toUpperCase() + title.slice(1);
	}

	function linkText({ name: what, value, list }: StripLink): string {
		if (Number.isNaN(value)) return '—';
		if (list) return list.join(' × ');
		if (what === 'times') return `× ${value}`;
		if (what !== 'every') return String(value);
		return value === 1 ? 'edge' : `${value}${value === 2 ? 'nd' : 'th'} edge`;
	}

	function under({ register, list, value }: StripLink): string {
		if (register) return `register ${hex(register.value, register.width)}`;
		return list && list.length > 1 ? `= ${value}` : 'no register';
	}

	/** Prescale and reload of a shared timer are another aim’s. */
	const decided = (link: StripLink) => derivation.sharedWith !== undefined && (link.name === 'prescale' || link.name === 'reload');

	function toggle(link: StripLink) {
		const held = Object.hasOwn(aim.locks, link.name);
		const value = link.name === 'dead' ? link.register?.value : link.value;
		session.set(
			['aims', index, 'locks', link.name],
			held ? undefined : String(value),
			`${held ? 'let go' : 'hold'} ${linkName(link.name)} of ${name}`
		);
	}
</script>

<div class="flex flex-wrap items-stretch gap-y-1.5" role="group" aria-label="Derivation of {name}" data-testid="job-strip">
	{#if derivation.timer}
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
	{/if}
	{#each links as link (link.name)}
		{@const held = Object.hasOwn(aim.locks, link.name)}
		<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>
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
						value={aim.locks[link.name]}
						problem={fields[`lock-${link.name}`] && problemText(fields[`lock-${link.name}`])}
						onInput={(text, first) =>
							session.set(['aims', index, 'locks', link.name], text, `hold ${linkName(link.name)} of ${name}`, !first)}
					/>
				{:else}
					{linkText(link)}
					{#if link.name === 'dead'}<span class="text-[12px] font-normal text-soft">cycles</span>{/if}
				{/if}
			</span>
			<span class="truncate num text-[10.5px] text-soft">{under(link)}</span>
		</div>
	{/each}
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
</div>
