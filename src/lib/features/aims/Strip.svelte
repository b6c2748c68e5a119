<script lang="ts">
	import type { Derivation, Settings } from '../../../core/plan/index.js';
	import type { ClockNodeProfile } from '../../../core/part/index.js';
	import { steadyWave } from '../../../core/timer/index.js';
	import { clockProblem, typedClock } from '../clock/clockFields.js';
	import { nodeName } from '../clock/ladder.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { hex, problemText } from '../../text/index.js';
	import Lane from '../../components/Lane.svelte';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';

	interface Props {
		session: PlanSession;
		derivation: Derivation;
	}
	let { session, derivation }: Props = $props();

	const { aim, clock, settings, wish } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const wave = $derived(derivation.wave && settings ? steadyWave(derivation.wave, settings.tickRate.inverse()) : null);
	const counts = ['prescale', 'reload', 'compare'] as const;
	const NAMES = { prescale: 'Prescale', reload: 'Reload', compare: 'Compare' };
	const off = $derived(session.findings.some((f) => f.aim === aim.id && f.code.startsWith('rate-')));
	const limits = $derived(new Set(session.findings.filter((f) => f.code === 'clock-limit').map((f) => f.node)));

	function setClock(node: ClockNodeProfile, text: string, first: boolean) {
		session.set(['clock', node.id], text, `set ${node.name}`, !first);
	}

	/** Holds a link at the value it has, or lets it go. */
	function toggleLock(link: (typeof counts)[number]) {
		const held = aim.locks[link] !== undefined;
		const value = held ? undefined : String(settings?.[link] ?? '');
		session.set(['aims', index, 'locks', link], value, `${held ? 'let go' : 'hold'} ${NAMES[link].toLowerCase()} of ${aim.name}`);
	}

	/** What the register holds, in hex; all forms on hover. */
	function registerText(link: (typeof counts)[number], s: Settings): { short: string; full: string } {
		const width = link === 'prescale' ? 16 : derivation.timer!.width;
		const value = link === 'prescale' ? s.prescaleCode : s[link];
		if (value === null) return { short: 'no register', full: 'This prescaler has no register' };
		const short = `register ${link === 'prescale' ? `${value} · ` : ''}${hex(value, width)}`;
		return {
			short,
			full: `${value} = ${hex(value, width)} = 0b${value.toString(2).padStart(width, '0')}; high byte ${hex(value >> 8, 8)}, low byte ${hex(value & 255, 8)}`
		};
	}
</script>

<div class="grid grid-cols-[minmax(0,1fr)] gap-1.5">
	{#if derivation.sharedWith}
		<p class="text-[13px] text-soft">
			Clock as for {derivation.sharedWith.name || 'the first aim of this timer'}:
			{#if derivation.kernel}<Num value={derivation.kernel} unit="Hz" />{:else}<span class="text-fault">none</span>{/if}
		</p>
	{:else}
		<div class="flex flex-wrap items-stretch gap-y-1" role="group" aria-label="Clock of {aim.name}">
			{#each clock.filter((link) => link.node.kind !== 'gate' || !link.hz) as link, i (link.node.id)}
				{#if i > 0}
					<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>
				{/if}
				<div class={['flex min-w-25 flex-1 flex-col rounded-xs border bg-card px-2 py-1', limits.has(link.node.id) && 'border-fault']}>
					<a
						class="truncate text-[11px] text-soft hover:text-accent hover:underline"
						href="/plan/{session.id}/clock#{link.node.id}"
						title="{nodeName(session.plan, link.node.id)}: see it on the ladder">{nodeName(session.plan, link.node.id)}</a
					>
					<span class="flex items-baseline gap-1 text-[13px]">
						{#if link.node.kind === 'source'}
							{#if link.node.chosen}
								<TypedField
									small
									label={link.node.name}
									value={typedClock(session.plan, link.node)}
									problem={clockProblem(session.plan, link.node)}
									onInput={(text, first) => setClock(link.node, text, first)}
								/>
							{:else}
								<span class="num">fixed</span>
							{/if}
						{:else if link.node.kind === 'divide' || link.node.kind === 'multiply'}
							<span class="text-soft">{link.node.kind === 'divide' ? '÷' : '×'}</span>
							<TypedField
								small
								least={2}
								label="{link.node.name}: {link.node.kind === 'divide' ? 'divide by' : 'multiply by'}"
								value={typedClock(session.plan, link.node)}
								problem={clockProblem(session.plan, link.node)}
								onInput={(text, first) => setClock(link.node, text, first)}
							/>
						{:else if link.node.kind === 'select'}
							<select
								class="w-full min-w-0 plain-select py-0"
								aria-label={link.node.name}
								value={typedClock(session.plan, link.node)}
								onchange={(event) => setClock(link.node, event.currentTarget.value, true)}
							>
								{#each link.node.from as from (from)}
									<option value={from}>{nodeName(session.plan, from)}</option>
								{/each}
							</select>
						{:else if link.factor}
							<span class="text-soft">×</span><Num value={link.factor} />
						{/if}
					</span>
					<span class="mt-auto text-[13px] leading-tight">
						{#if link.hz}<Num value={link.hz} unit="Hz" />{:else if link.unknown}<span class="text-soft">unknown</span>{:else}<span
								class="text-fault">stopped</span
							>{/if}
					</span>
				</div>
			{/each}
		</div>
	{/if}
	<div class="flex items-stretch">
		{#each counts as link, i (link)}
			{@const held = aim.locks[link] !== undefined}
			{#if i > 0}<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>{/if}
			<div class={['flex w-38 shrink-0 flex-col rounded-xs border px-2 py-1', held ? 'border-accent bg-accent-wash' : 'bg-card']}>
				<span class="flex justify-between text-[11px] text-soft">
					{NAMES[link]}
					{#if !derivation.sharedWith || link === 'compare'}
						<button
							type="button"
							class={['underline decoration-dotted underline-offset-2', held ? 'font-bold text-accent' : 'hover:text-accent']}
							aria-pressed={held}
							aria-label="Hold {NAMES[link].toLowerCase()} of {aim.name}"
							disabled={!held && !settings}
							title={held
								? 'Held: everything else is derived around it. Press to let it go'
								: 'Hold this value and derive the rest around it'}
							onclick={() => toggleLock(link)}>{held ? 'held' : 'hold'}</button
						>
					{:else}
						<span title="This timer’s prescale and reload are decided by another aim">by {derivation.sharedWith.name}</span>
					{/if}
				</span>
				<span class="num text-[17px] leading-snug font-semibold">
					{#if held}
						<TypedField
							label="Held {NAMES[link].toLowerCase()} of {aim.name}"
							value={aim.locks[link] ?? ''}
							problem={wish.problems[link] && problemText(wish.problems[link])}
							onInput={(text, first) =>
								session.set(['aims', index, 'locks', link], text, `hold ${NAMES[link].toLowerCase()} of ${aim.name}`, !first)}
						/>
					{:else}
						{settings ? settings[link] : '—'}
					{/if}
				</span>
				<span class="truncate num text-[10.5px] text-soft" title={settings ? registerText(link, settings).full : undefined}
					>{settings ? registerText(link, settings).short : 'not derived'}</span
				>
			</div>
		{/each}
		<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>
		<div class="flex w-42 shrink-0 flex-col rounded-xs border bg-card px-2 py-1" data-testid="achieved">
			<span class="text-[11px] text-soft">Achieved</span>
			{#if settings}
				<span class="text-[17px] leading-snug font-semibold"><Num value={settings.hz} unit="Hz" /></span>
				<span class={['text-[11px]', off && 'font-bold text-fault']}
					><Num value={settings.ppm} unit="ppm" digits={4} sign /> · <Num value={settings.duty} unit="%" digits={5} /></span
				>
			{:else}
				<span class="num text-[17px]">—</span>
				<span class="text-[11px] text-soft">see the findings</span>
			{/if}
		</div>
		<span class="w-2 shrink-0"></span>
		<div class="min-w-0 flex-1 overflow-hidden rounded-xs border">
			<Lane {wave} seconds={settings ? 3 * settings.period.toNumber() : 1} label="Planned wave of {aim.name}, three periods" />
		</div>
	</div>
</div>
