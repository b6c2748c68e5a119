<script lang="ts">
	import type { DumpSays } from '../../../core/handoff/index.js';
	import type { PlainCheck } from '../../../core/suspects/index.js';
	import { dumpSaysText, mistakeText, residualText, roleText, whereText } from '../../text/index.js';

	interface Props {
		check: PlainCheck;
		nameOf: (aim: string) => string;
		recordingName: (id: string) => string;
		/** Shows a column's line on the waves, with what a suspect's row predicts of it. */
		onShow: (column: PlainCheck['evidence']['columns'][number], row?: PlainCheck['evidence']['rows'][number]) => void;
		isPinned: (row: PlainCheck['evidence']['rows'][number]) => boolean;
		onPin: (row: PlainCheck['evidence']['rows'][number]) => void;
		onAdopt: (row: PlainCheck['evidence']['rows'][number]) => void;
		/** Of a row, what a dump of registers says, where one lies beside the plan. */
		saysOf: (row: PlainCheck['evidence']['rows'][number]) => DumpSays | undefined;
	}
	let { check, nameOf, recordingName, onShow, isPinned, onPin, onAdopt, saysOf }: Props = $props();

	const columns = $derived(check.evidence.columns);
	const rows = $derived(check.evidence.rows);
	/** Parts of the scale to either side, and the pixels of one. */
	const [PARTS, WIDTH, HEIGHT] = [4, 84, 16];
	const xOf = (residual: number) => WIDTH / 2 + (Math.max(-PARTS, Math.min(PARTS, residual)) / PARTS) * (WIDTH / 2 - 4);
	const QUANTITY: Record<string, string> = {
		period: 'period',
		high: 'high',
		duty: 'duty',
		delay: 'delay',
		steadiness: 'steadiness',
		rows: 'edges',
		edges: 'count',
		level: 'level',
		starts: 'start'
	};
	/** Neighbouring columns of one line share a head. */
	const heads = $derived.by(() => {
		const all: { key: string; text: string; title: string; span: number }[] = [];
		for (const { aim, role, line, recording } of columns) {
			const key = `${recording} ${line}`;
			const last = all.at(-1);
			if (last?.key === key) last.span++;
			else all.push({ key, text: `${nameOf(aim)}${role === 'pin' ? '' : `, ${roleText(role)}`}`, title: line, span: 1 });
		}
		return all;
	});
</script>

<div class="min-h-0 flex-1 overflow-auto" data-testid="evidence">
	<table class="border-collapse text-[12px]">
		<thead class="sticky top-0 z-10 bg-card">
			<tr>
				<th class="sticky left-0 z-10 border-r bg-card px-2 py-0.5 text-left font-normal text-soft" rowspan="2">
					measured against predicted,<br />in parts of what the recording leaves open
				</th>
				{#each heads as { key, text, title, span } (key)}
					<th class="max-w-40 truncate border-l px-1.5 py-0.5 text-left font-bold" colspan={span} {title}>{text}</th>
				{/each}
			</tr>
			<tr class="border-b">
				{#each columns as { of, line, recording } (`${recording} ${line} ${of}`)}
					<th class="border-l px-1.5 pb-0.5 text-left font-normal text-soft">{QUANTITY[of]}</th>
				{/each}
			</tr>
		</thead>
		<tbody>
			{#each rows as row, i (i)}
				{@const says = i > 0 ? saysOf(row) : undefined}
				{@const struck = says?.word === 'contradicts'}
				<tr class={['border-b align-top', i > 0 && row.explains && !struck && 'bg-accent-wash']} data-testid="evidence-row">
					<th
						class={[
							'sticky left-0 w-88 min-w-88 border-r px-2 py-1 text-left font-normal',
							i > 0 && row.explains && !struck ? 'bg-accent-wash' : 'bg-card'
						]}
					>
						{#if i === 0}
							<b>The plan as it stands</b>
						{:else}
							{#if row.about && !row.tie}
								<span class="block truncate text-[11px] text-soft"
									>{row.explains ? 'explains' : 'comes near'}
									{row.about.recording === undefined ? row.about.aims.map(nameOf).join(', ') : recordingName(row.about.recording)}</span
								>
							{/if}
							{#if row.tie}<span class="text-[11px] text-soft">or, not to be told apart here:</span>{/if}
							<span class={[row.explains && 'font-bold', struck && 'text-soft line-through']}>{mistakeText(row.codes)}</span>
							<span class="text-[11px] text-soft">{row.where.map(whereText).join('; ')}</span>
							{#if says}<span class={['block text-[11px]', struck ? 'text-warn' : 'font-bold text-accent']}>{dumpSaysText(says)}</span>{/if}
							<button
								type="button"
								class={['text-[11px] whitespace-nowrap underline', isPinned(row) ? 'font-bold text-warn' : 'text-accent']}
								aria-pressed={isPinned(row)}
								title="Draw the waves it would make beside the recorded ones, at the bench"
								onclick={() => onPin(row)}>{isPinned(row) ? 'unpin its waves' : 'pin its waves'}</button
							>
							<button type="button" class="text-[11px] whitespace-nowrap text-accent underline" onclick={() => onAdopt(row)}>
								{row.where.some(({ clock }) => clock) ? 'take into the plan' : 'note for the firmware'}
							</button>
						{/if}
					</th>
					{#each row.cells as cell, j (j)}
						<td class="border-l px-0.5 py-1">
							{#if cell !== null}
								<button
									type="button"
									class="block rounded-xs hover:bg-well"
									title={residualText(cell)}
									aria-label="{QUANTITY[columns[j].of]}: {residualText(cell)}"
									onclick={() => onShow(columns[j], i > 0 ? row : undefined)}
								>
									<svg width={WIDTH} height={HEIGHT} class="block" aria-hidden="true">
										<rect x={xOf(-1)} y="2" width={xOf(1) - xOf(-1)} height={HEIGHT - 4} class="fill-grid" />
										<line x1="2" x2={WIDTH - 2} y1={HEIGHT / 2} y2={HEIGHT / 2} class="stroke-rule" />
										{#if Math.abs(cell) <= PARTS}
											<rect
												x={xOf(cell) - 1.5}
												y="1"
												width="3"
												height={HEIGHT - 2}
												class={Math.abs(cell) <= 1 ? 'fill-accent' : 'fill-fault'}
											/>
										{:else}
											{@const x = xOf(cell)}
											{@const by = cell < 0 ? 6 : -6}
											<path d="M{x} {HEIGHT / 2}L{x + by} 3V{HEIGHT - 3}Z" class="fill-fault" />
										{/if}
									</svg>
								</button>
							{/if}
						</td>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
</div>
