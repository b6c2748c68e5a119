<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import type { PlainAim, PlainCheck, PlainQuantity } from '../../../core/suspects/index.js';
	import Num from '../../components/Num.svelte';
	import { OUTCOME, readQuantityName, roleText } from '../../text/index.js';

	/** A line an aim: what was planned, what was measured, and how that stands in its budget. */
	interface Props {
		check: PlainCheck;
		href: (aim: PlainAim) => string;
		recordingName: (id: string) => string;
	}
	let { check, href, recordingName }: Props = $props();

	/** Does a quantity begin another recording's, where there are several? */
	const begins = ({ quantities }: PlainAim, i: number) =>
		new Set(quantities.map(({ recording }) => recording)).size > 1 && quantities[i].recording !== quantities[i - 1]?.recording;

	const TONE = { within: 'text-accent', outside: 'text-fault', undecided: 'text-soft' };
	const RANK = { outside: 0, undecided: 1, within: 2 };
	const aims = $derived([...check.aims].sort((a, b) => RANK[a.verdict] - RANK[b.verdict] || RANK[a.as_set] - RANK[b.as_set]));
	/** Rows of a log that are told one by one, at the most. */
	const MOST = 24;

	const unitOf = ({ unit }: PlainQuantity) => (unit === 'deg' ? '°' : unit);
	const parse = (text: string) => Rational.parse(text);

	/** Where the deviation lies between the ends of what is allowed: 0 to 1, 0.5 in the middle; beyond where it is outside. */
	function place({ deviation, parts }: PlainQuantity): { at: number; good: number } | undefined {
		if (deviation === null || !parts) return undefined;
		const both = [parts.aim, parts.recording, parts.instrument].reduce((sum, text) => sum + parse(text).toNumber(), 0);
		const [low, high] = [0, 1].map((i) => parse(parts.source[i]).toNumber() + parse(parts.rounding[i]).toNumber());
		const most = Math.max(both - low, both + high);
		if (!(most > 0)) return undefined;
		const share = parse(deviation).toNumber() / most;
		return { at: 50 + 34 * Math.max(-1.4, Math.min(1.4, share)), good: Math.abs(share) };
	}
</script>

<ul class="min-h-0 flex-1 overflow-y-auto" data-testid="aim-verdicts">
	{#each aims as aim (aim.id + String(aim.quantities[0]?.of))}
		<li class="border-b px-3 py-1.5" data-testid="checked-{aim.id}">
			<div class="flex items-baseline gap-2">
				<a
					class="min-w-0 flex-1 truncate font-serif text-[15px] font-semibold hover:text-accent"
					href={href(aim)}
					title="See it on the waves">{aim.name || 'unnamed aim'}</a
				>
				<span class="shrink-0 text-[12px] whitespace-nowrap">
					as set <b class={TONE[aim.as_set]}>{OUTCOME[aim.as_set].toLowerCase()}</b>, as wished
					<b class={TONE[aim.verdict]}>{OUTCOME[aim.verdict].toLowerCase()}</b>
				</span>
			</div>
			{#if aim.quantities.length > 0}
				<table class="w-full text-[12px]">
					<tbody>
						{#each aim.quantities.slice(0, MOST) as q, i (i)}
							{@const lies = place(q)}
							{#if begins(aim, i)}
								<tr
									><td colspan="4" class="truncate pt-0.5 text-[11px] text-soft">{recordingName(q.recording) || `read off: ${q.line}`}</td
									></tr
								>
							{/if}
							<tr>
								<td class="w-32 text-soft"
									>{#if q.set !== undefined}<Num value={parse(q.set)} unit={q.set_unit ?? ''} digits={5} />{:else}{readQuantityName(
											q.of as never
										)}{/if}{q.role === 'pin' || q.role === 'log' ? '' : `, ${roleText(q.role)}`}</td
								>
								<td class="w-32"
									>{#if q.planned !== null}<Num value={parse(q.planned)} unit={unitOf(q)} digits={6} />{/if}</td
								>
								<td class={['w-32', q.explained === false && 'font-bold text-fault']}>
									{#if q.measured !== null}<Num value={parse(q.measured)} unit={unitOf(q)} digits={6} />{:else}<span class="text-soft"
											>nothing</span
										>{/if}
								</td>
								<td>
									{#if lies}
										<span
											class="relative block h-2.5 rounded-xs border bg-well"
											title={q.within ? 'Within what is allowed' : 'Outside what is allowed'}
										>
											<span class="absolute inset-y-0 bg-accent-wash" style:left="16%" style:width="68%"></span>
											<span class={['absolute inset-y-0 w-0.75', q.within ? 'bg-ink' : 'bg-fault']} style:left="calc({lies.at}% - 1.5px)"
											></span>
										</span>
									{/if}
								</td>
							</tr>
						{/each}
					</tbody>
				</table>
				{#if aim.quantities.length > MOST}<p class="text-[11px] text-soft">and {aim.quantities.length - MOST} more</p>{/if}
			{:else}
				<p class="text-[12px] text-soft">
					{aim.explained === undefined
						? 'Nothing of it could be measured.'
						: aim.explained
							? 'Every edge lies where it was planned.'
							: 'The edges do not lie where they were planned.'}
				</p>
			{/if}
		</li>
	{/each}
</ul>
