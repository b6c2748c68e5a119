<script lang="ts">
	import { untrack } from 'svelte';
	import { readTime } from '../../../core/aims/index.js';
	import { Rational } from '../../../core/exact/index.js';
	import type { LineSettings, ReadSettings } from '../../../core/formats/index.js';
	import { filesWorkers, progress } from '../../../workers/clients.js';
	import type { WirePreview } from '../../../workers/filesWire.js';
	import type { RecordingShelf } from '../../session/recordings.svelte.js';
	import { formatText, noteText, quantityText, stepFromText } from '../../text/index.js';
	import Choice from '../../components/Choice.svelte';
	import Dialog from '../../components/Dialog.svelte';
	import PreviewTable from './PreviewTable.svelte';

	/** What a file is taken for, before it is read: everything in it can be corrected. */
	interface Props {
		file: Blob;
		name: string;
		settings: ReadSettings;
		/** Files that wait behind it. */
		more: number;
		/** It is read in the place of a recording that is here. */
		again: boolean;
		keep: boolean;
		shelf: RecordingShelf;
		onRead: (settings: ReadSettings, keep: boolean) => void;
		/** All files that wait are read as they are found. */
		onReadAll: (settings: ReadSettings, keep: boolean) => void;
		onShow: (recording: string, deleted: boolean) => void;
		onClose: () => void;
	}
	let { file, name, settings: given, more, again, keep: kept, shelf, onRead, onReadAll, onShow, onClose }: Props = $props();

	let open = $state(true);
	let settings = $state.raw<ReadSettings>(untrack(() => given));
	let keep = $state(untrack(() => kept));
	let preview = $state.raw<WirePreview>();
	let failed = $state('');
	let known = $state.raw<{ id: string; name: string; deleted: boolean } | null>();
	let hashed = $state(0);

	$effect(() => {
		const told = settings;
		const abort = new AbortController();
		filesWorkers
			.run((worker) => worker.preview(file, told), { signal: abort.signal })
			.then(
				(found) => ([preview, failed] = [found, '']),
				(error: unknown) => abort.signal.aborted || (failed = error instanceof Error ? error.message : String(error))
			);
		return () => abort.abort();
	});
	// The same file twice is known by what it holds, not by its name.
	$effect(() => {
		if (again) return;
		const abort = new AbortController();
		let going = true;
		const go = () => (going ? 'on' : 'drop');
		filesWorkers
			.run(
				(worker, heard) =>
					worker.hash(
						file,
						progress(heard, (share: number) => (hashed = share), go)
					),
				{ signal: abort.signal }
			)
			.then(async (sha256) => (known = sha256 === '' ? null : await shelf.known(sha256)))
			.catch(() => undefined);
		return () => {
			going = false;
			abort.abort();
		};
	});

	const rows = $derived(preview?.rows);
	const troubled = $derived(preview?.trouble && formatText(preview.trouble));
	/** As it was typed; what is set is in seconds. */
	let stepTyped = $state(
		untrack(() => (given.step === undefined ? '' : quantityText(Rational.parse(given.step), 's', 6).replace('≈', '')))
	);
	const stepRead = $derived(readTime(stepTyped));
	const stepWrong = $derived(stepTyped.trim() !== '' && !(stepRead.ok && stepRead.value.sign > 0));

	function typeStep(text: string) {
		stepTyped = text;
		const read = readTime(text);
		if (text.trim() === '') tell({ step: undefined });
		else if (read.ok && read.value.sign > 0) tell({ step: read.value.toString() });
	}

	/** The distance of rows that are only counted, as it was typed. */
	let everyTyped = $state(
		untrack(() => (given.interval === undefined ? '' : quantityText(Rational.parse(given.interval), 's', 6).replace('≈', '')))
	);

	function typeEvery(text: string) {
		everyTyped = text;
		const read = readTime(text);
		if (read.ok && read.value.sign > 0) tell({ interval: read.value.toString(), timeColumn: -1 });
	}

	function tell(change: Partial<ReadSettings>) {
		const next = { ...settings, ...change };
		for (const key of Object.keys(next) as (keyof ReadSettings)[]) if (next[key] === undefined) delete next[key];
		settings = next;
	}

	function tellLine(number: number, change: LineSettings) {
		tell({ lines: { ...settings.lines, [number]: { ...settings.lines?.[number], ...change } } });
	}

	const SEPARATORS = [
		[',', 'comma'],
		[';', 'semicolon'],
		['\t', 'tab'],
		['|', 'stroke'],
		[' ', 'blanks']
	] as const;
	const UNITS = [
		[0, 's'],
		[-3, 'ms'],
		[-6, 'µs'],
		[-9, 'ns'],
		[-12, 'ps'],
		[-15, 'fs']
	] as const;
	const size = $derived(file.size < 1e6 ? `${Math.max(1, Math.round(file.size / 1e3))} kB` : `${(file.size / 1e6).toFixed(1)} MB`);
</script>

<Dialog bind:open label="Reading {name}" size="lg" {onClose}>
	<div data-testid="import" class="text-[13px]">
		<h2 class="font-serif text-xl">
			{again ? 'Read again:' : 'Read'} <span class="break-all">{name}</span>
			<span class="ml-1 font-sans text-[12px] text-soft">{size}{preview?.packed ? ', packed with gzip' : ''}</span>
		</h2>
		{#if known}
			<p class="mt-2 rounded-xs border border-warn bg-warn-wash px-3 py-2" role="alert">
				The same file is here already{known.deleted ? ', deleted' : ''}: <b>{known.name}</b>.
				<button type="button" class="ml-1 underline" onclick={() => onShow(known!.id, known!.deleted)}
					>{known.deleted ? 'Bring it back' : 'Take that one'}</button
				>
			</p>
		{:else if !again && known === undefined && hashed > 0 && hashed < 1}
			<p class="mt-1 text-[12px] text-soft">Looking whether the same file is here already: {Math.round(100 * hashed)} %</p>
		{/if}
		{#if failed}
			<p class="mt-2 rounded-xs border border-fault bg-fault-wash px-3 py-2" role="alert">It cannot be opened: {failed}.</p>
		{:else if preview}
			<div class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 [&_label]:inline-flex [&_label]:items-center [&_label]:gap-1.5">
				<label
					>It is
					<Choice
						aria-label="Format"
						value={preview.format}
						onchange={(event) => (settings = { ...settings, format: event.currentTarget.value as WirePreview['format'] })}
					>
						<option value="csv">rows</option>
						<option value="vcd">a value change dump</option>
						<option value="wav">a wave file</option>
					</Choice></label
				>
				{#if rows}
					<label
						>parted by
						<Choice
							aria-label="Separator"
							value={rows.separator}
							onchange={(event) => tell({ separator: event.currentTarget.value as ReadSettings['separator'] })}
						>
							{#each SEPARATORS as [value, word] (value)}<option {value}>{word}</option>{/each}
						</Choice></label
					>
					<label
						>decimal sign
						<Choice
							aria-label="Decimal sign"
							value={rows.decimal}
							onchange={(event) => tell({ decimal: event.currentTarget.value as '.' | ',', thousands: undefined })}
						>
							<option value=".">point</option><option value=",">comma</option>
						</Choice></label
					>
					<label
						>digits grouped by
						<Choice
							aria-label="Digits grouped by"
							value={rows.thousands}
							onchange={(event) => tell({ thousands: event.currentTarget.value, decimal: rows.decimal })}
						>
							<option value="">nothing</option>
							{#if rows.decimal === '.'}<option value=",">comma</option>{:else}<option value=".">point</option>{/if}
							<option value="'">apostrophe</option><option value=" ">blank</option>
						</Choice></label
					>
					<label
						>first row in line
						<input
							type="number"
							min="1"
							class="w-16 rounded-xs border px-1 py-0.5 num"
							aria-label="First row"
							value={rows.firstRow}
							oninput={(event) => {
								const line = Math.round(event.currentTarget.valueAsNumber);
								if (line >= 1) tell({ firstRow: line });
							}}
						/></label
					>
					<label
						>time in
						<Choice
							aria-label="Time column"
							value={rows.timeColumn}
							onchange={(event) => tell({ timeColumn: Number(event.currentTarget.value) })}
						>
							{#each rows.columns as column, i (i)}<option value={i}>{column}</option>{/each}
							<option value={-1}>no column: even samples</option>
						</Choice></label
					>
					{#if rows.timeColumn === -1}
						<label
							>every
							<input
								class="w-24 rounded-xs border px-1 py-0.5 num"
								aria-label="Time between rows"
								value={everyTyped}
								placeholder={rows.interval ? quantityText(Rational.parse(rows.interval), 's', 6) : '1 µs'}
								oninput={(event) => typeEvery(event.currentTarget.value)}
							/></label
						>
					{:else if rows.timeKind === 'number'}
						<label
							>written in
							<Choice
								aria-label="Unit of time"
								value={rows.timeExponent}
								onchange={(event) => tell({ timeExponent: Number(event.currentTarget.value) })}
							>
								{#each UNITS as [value, word] (value)}<option {value}>{word}</option>{/each}
							</Choice></label
						>
					{:else if rows.timeKind === 'dated'}
						<label
							>dates with
							<Choice
								aria-label="Order of dates"
								value={settings.dateOrder ?? 'month-first'}
								onchange={(event) => tell({ dateOrder: event.currentTarget.value as 'day-first' })}
							>
								<option value="month-first">month, day</option><option value="day-first">day, month</option>
							</Choice></label
						>
					{/if}
				{/if}
				<label
					>edges known to
					<input
						class={['w-24 rounded-xs border px-1 py-0.5 num', stepWrong && 'border-fault bg-fault-wash']}
						aria-label="Step"
						value={stepTyped}
						placeholder={preview.step ? quantityText(Rational.parse(preview.step), 's', 4) : ''}
						oninput={(event) => typeStep(event.currentTarget.value)}
					/>
					{#if stepTyped.trim() === '' && preview.stepFrom}<span class="text-[12px] text-soft">{stepFromText(preview.stepFrom)}</span>{/if}
					{#if stepWrong}<span role="alert" class="text-[12px] text-fault">a time above 0 is wanted, as 20 ns</span>{/if}</label
				>
			</div>
			{#if troubled}
				<p class="mt-2 rounded-xs border border-fault bg-fault-wash px-3 py-2" role="alert" data-testid="import-trouble">
					{preview.trouble!.line > 0 ? `Line ${preview.trouble!.line}: ` : ''}{troubled.found}; {troubled.accepted}.
				</p>
			{/if}
			{#if preview.notes.length > 0}
				<ul class="mt-2 text-[12px]">
					{#each preview.notes as note, i (i)}
						{@const text = noteText(note)}
						<li class={text.endsWith('?') ? 'font-bold text-warn' : 'text-soft'}>{text}</li>
					{/each}
				</ul>
			{/if}
			<PreviewTable {preview} {settings} onLine={tellLine} />
		{:else}
			<p class="mt-3 text-soft">Looking at it …</p>
		{/if}
		<div class="mt-4 flex flex-wrap items-center gap-3">
			<button type="button" class="btn-main" disabled={!!failed || stepWrong} onclick={() => onRead(settings, keep)}
				>{again ? 'Read it again' : 'Read it'}</button
			>
			{#if more > 0}<button type="button" class="btn" onclick={() => onReadAll(settings, keep)}>Read all {more + 1} as found</button>{/if}
			<button type="button" class="btn" onclick={() => (open = false)}>{more > 0 ? 'Skip it' : 'Leave it'}</button>
			<label class="ml-auto inline-flex items-center gap-1.5 text-[12px]"
				><input type="checkbox" class="accent-(--color-accent)" bind:checked={keep} />keep the file too, to read it again later</label
			>
		</div>
	</div>
</Dialog>
