<script lang="ts">
	import { Rational } from '../../core/exact/index.js';
	import type { JobDerivation, StripLink } from '../../core/plan/index.js';
	import { nodeName } from '../state/ladder.js';
	import { sentenceOf, settled } from '../state/sentences.js';
	import type { PlanSession } from '../state/session.svelte.js';
	import { figureName, formulaText, hex, problemText } from '../text/index.js';
	import Num from './Num.svelte';
	import StepChart from './StepChart.svelte';
	import AimActions from './AimActions.svelte';
	import AimFindings from './AimFindings.svelte';
	import TypedField from './TypedField.svelte';

	interface Props {
		session: PlanSession;
		derivation: JobDerivation;
		open: boolean;
		onOpen: () => void;
	}
	let { session, derivation, open, onOpen }: Props = $props();

	const { aim, fields, strip, figures } = $derived(derivation);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const tokens = $derived(sentenceOf(aim, session.plan.part));
	const unmarked = $derived(Object.keys(fields).length === 0);
	const name = $derived(aim.name || 'the aim');
	const kernel = $derived(derivation.timer && nodeName(session.plan, derivation.timer.kernel));
	const LINKS: Record<StripLink['name'], string> = {
		prescale: 'Prescale',
		reload: 'Reload',
		compare: 'Compare',
		preload: 'Preload',
		bit: 'Bit',
		advance: 'Advance by',
		dead: 'Dead time, cycles',
		repeat: 'Repeat',
		every: 'Every',
		times: 'Times'
	};

	const valueOf = (key: string) => String((aim as unknown as Record<string, unknown>)[key] ?? '');

	function linkText({ name: what, value }: StripLink): string {
		if (what === 'times') return `× ${value}`;
		if (what !== 'every') return String(value);
		return value === 1 ? 'edge' : `${value}${value === 2 ? 'nd' : 'th'} edge`;
	}

	/** No space before a comma or a full stop. */
	function spaceAfter(i: number): string {
		const next = tokens[i + 1];
		return typeof next === 'string' && /^[,.]/.test(next) ? '' : ' ';
	}

	function set(key: string, text: string, first: boolean) {
		session.set(['aims', index, key], text, `set ${name}`, !first);
	}

	function choose(key: string, value: string) {
		const next = settled({ ...aim, [key]: value }, session.plan.part);
		session.set(['aims', index], next, `change ${name}`);
	}
</script>

<article
	id={aim.id}
	class={['border-b px-5 py-4', unmarked && '[contain-intrinsic-size:auto_11rem] [content-visibility:auto]', open && 'bg-card/60']}
	data-testid="job"
>
	<div class="flex items-start gap-4">
		<p class="mb-1.5 min-w-0 flex-1 font-serif text-[16.5px] leading-[2]">
			{#each tokens as token, i (i)}
				{#if typeof token === 'string'}{token}{:else if 'field' in token}
					<TypedField
						label="{token.label} of {name}"
						value={valueOf(token.field)}
						least={token.least ?? 4}
						problem={fields[token.field] && problemText(fields[token.field])}
						onInput={(text, first) => set(token.field, text, first)}
					/>
				{:else}
					<select
						class="plain-select font-sans text-[14px]"
						aria-label="{token.label} of {name}"
						value={valueOf(token.choice)}
						onchange={(event) => choose(token.choice, event.currentTarget.value)}
					>
						{#each token.options as [value, text] (value)}<option {value}>{text}</option>{/each}
					</select>
				{/if}{spaceAfter(i)}
			{/each}
		</p>
		<AimActions {session} {aim} {open} {onOpen} />
	</div>
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
				<span class="text-[10.5px] text-soft">clock of {derivation.timer.name}</span>
			</a>
		{/if}
		{#each strip as link (link.name)}
			<span class="flex w-4 shrink-0 items-center justify-center text-soft" aria-hidden="true">›</span>
			<div class="flex w-38 shrink-0 flex-col rounded-xs border bg-card px-2 py-1">
				<span class="text-[11px] text-soft">{LINKS[link.name]}</span>
				<span class="num text-[17px] leading-snug font-semibold">{linkText(link)}</span>
				<span
					class="truncate num text-[10.5px] text-soft"
					title={link.register
						? `${link.register.value} = 0b${link.register.value.toString(2).padStart(link.register.width, '0')}; high byte ${hex(Math.floor(link.register.value / 256) & 255, 8)}, low byte ${hex(link.register.value & 255, 8)}`
						: undefined}>{link.register ? `register ${hex(link.register.value, link.register.width)}` : 'no register'}</span
				>
			</div>
		{/each}
		{#if figures.length > 0 && strip.length <= 3}<span class="w-3 shrink-0"></span>{/if}
		<dl
			class={[
				'flex min-w-0 flex-1 flex-wrap items-center gap-x-5 gap-y-1 rounded-xs border bg-card px-3 py-1',
				strip.length > 3 && 'basis-full'
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
							sign={figure.unit === 'ppm' || figure.unit === 's/day'}
						/>
					</dd>
				</div>
			{:else}
				<div class="text-[13px] text-soft">Nothing can be derived yet: the findings say what is missing.</div>
			{/each}
		</dl>
	</div>
	<AimFindings {session} aim={aim.id} />
	{#if open}
		<div class="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)] gap-5" data-testid="job-working">
			<div class="min-w-0">
				<h3 class="mb-1 text-xs font-bold text-soft">Working</h3>
				<ul class="grid gap-0.5 num text-[12.5px]">
					{#each derivation.formulas as formula (formula.code)}<li class="break-words">{formulaText(formula)}</li>{/each}
				</ul>
			</div>
			<div class="min-w-0">
				{#if derivation.curves}<StepChart curves={derivation.curves} range={derivation.range} name={aim.name} />{/if}
				{#if derivation.table}
					<table class="w-full text-[13px]" data-testid="job-table">
						<thead class="text-right text-xs text-soft [&_th]:px-2 [&_th]:font-normal"
							><tr class="border-b"
								>{#each derivation.table.columns as column (column.name)}<th>{figureName(column.name)}</th>{/each}</tr
							></thead
						>
						<tbody class="[&_td]:px-2 [&_td]:py-0.5 [&_td]:text-right [&_tr]:border-b">
							{#each derivation.table.rows as row, i (i)}
								<tr class={row.chosen ? 'bg-accent-wash font-bold' : ''}>
									{#each row.values as value, k (k)}
										<td
											>{#if value instanceof Rational}<Num {value} unit={derivation.table.columns[k].unit} digits={5} />{:else}any{/if}</td
										>
									{/each}
								</tr>
							{/each}
						</tbody>
					</table>
				{/if}
			</div>
		</div>
	{/if}
</article>
