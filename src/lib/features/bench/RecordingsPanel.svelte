<script lang="ts">
	import { onMount, tick, untrack } from 'svelte';
	import Progressbar from 'flowbite-svelte/Progressbar.svelte';
	import { Rational } from '../../../core/exact/index.js';
	import type { ReadSettings } from '../../../core/formats/index.js';
	import { LARGEST_UPLOAD, Refused } from '../../session/api.js';
	import { mapLine } from '../../session/edits.js';
	import { notices } from '../../session/notices.svelte.js';
	import type { Recording, RecordingShelf } from '../../session/recordings.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { importText, noteText, quantityText, roleText, stepFromText, troubleText } from '../../text/index.js';
	import ImportDialog from './ImportDialog.svelte';
	import LevelsDialog from './LevelsDialog.svelte';
	import { plannedLines } from './plannedLines.js';
	import type { PredictedLane } from './prediction.svelte.js';

	interface Props {
		session: PlanSession;
		shelf: RecordingShelf;
		/** What is predicted: the lines of the aims. */
		lanes: readonly PredictedLane[];
		/** Called with the mapping that a choice made. */
		onMapped: (mapping: string) => void;
	}
	let { session, shelf, lanes, onMapped }: Props = $props();

	const UNDER_WAY: readonly Recording['state'][] = ['sending', 'waiting', 'reading'];
	let file: HTMLInputElement;
	/** Everything that a recorded line can show: the aims, each of their lines where they have several. */
	const choices = $derived(
		session.plan.aims.flatMap(({ id, name: own }) => {
			const name = own || 'unnamed';
			const lines = plannedLines(lanes, id);
			const mapped = session.plan.mappings.some(({ aim, role }) => aim === id && role === undefined);
			const whole = { key: keyOf(id), aim: id, role: undefined, name };
			const each = lines.map(({ role }) => ({ key: keyOf(id, role), aim: id, role, name: `${name}: ${roleText(role)}` }));
			return lines.length > 1 ? [...(mapped ? [whole] : []), ...each] : [whole];
		})
	);
	/** A choice as the value of an option. */
	const keyOf = (aim: string, role?: string) => JSON.stringify(role === undefined ? [aim] : [aim, role]);
	/** Refused files, newest first; they stay until they are put away. */
	let refused = $state<{ name: string; text: string }[]>([]);

	/** Files that are looked at before they are read, and what is said of them. */
	let looking = $state.raw<{ file: Blob; name: string; settings: ReadSettings; again?: Recording }[]>([]);
	/** The analogue line whose levels are set. */
	let cutting = $state.raw<{ recording: string; line: number }>();
	const cutLine = $derived.by(() => {
		const recording = cutting && shelf.find(cutting.recording);
		const line = recording?.lines.find(({ number }) => number === cutting?.line);
		return recording && line?.slicing ? { recording, line } : undefined;
	});
	/** Where the file for a recording that is read again is asked for. */
	let wanting: Recording | undefined;
	let deleted = $state.raw<{ id: string; name: string; stored: number }[]>([]);

	/** Shows files one after the other as they would be read. */
	export function take(files: FileList | File[]) {
		const again = wanting;
		wanting = undefined;
		for (const file of Array.from(files)) {
			if (file.size <= LARGEST_UPLOAD)
				looking = [...looking, { file, name: file.name, settings: again?.settings ?? {}, ...(again && { again }) }];
			else
				refuse(
					file.name,
					`The file has ${(file.size / 1e9).toFixed(1)} GB; up to ${LARGEST_UPLOAD / 1e9} GB are read. Record less, or fewer lines.`
				);
		}
	}

	/** Opens the desktop's own way to choose files. */
	export function browse() {
		file.click();
	}

	function read(count: number, settings: ReadSettings, keep: boolean) {
		const [first, ...rest] = looking.slice(0, count);
		looking = looking.slice(count);
		void send(first, settings, keep);
		for (const one of rest) void send(one, one.settings, keep);
	}

	async function send({ file: chosen, name, again }: (typeof looking)[number], settings: ReadSettings, keep: boolean) {
		try {
			if (again && !(chosen instanceof File)) await shelf.readAgain(again.id, settings);
			else await shelf.add(chosen as File, { settings, keep, ...(again && { again: again.id }) });
			refused = refused.filter((r) => r.name !== name);
		} catch (error) {
			if (error instanceof DOMException && error.name === 'AbortError') notices.say(`Sending ${name} was stopped.`);
			else refuse(name, reasonOf(error));
		}
	}

	/** Shows what a recording was taken for, from its file where that was kept; else the file is asked for. */
	async function again(recording: Recording) {
		if (!recording.hasFile) {
			wanting = recording;
			notices.say(`The file of ${recording.name} was not kept: choose it once more.`);
			file.click();
			return;
		}
		const response = await fetch(`/api/recordings/${recording.id}/file?head=300000`);
		looking = [{ file: await response.blob(), name: recording.name, settings: recording.settings, again: recording }, ...looking];
	}

	async function show(id: string, isDeleted: boolean) {
		looking = looking.slice(1);
		if (isDeleted) await bringBack(id);
		await tick();
		document.getElementById(`recording-${id}`)?.scrollIntoView({ block: 'nearest' });
	}

	function reasonOf(error: unknown): string {
		if (!(error instanceof Refused))
			return `It could not be sent: ${error instanceof Error ? error.message : String(error)}. Drop it again to try again.`;
		return troubleText(error);
	}

	function refuse(name: string, text: string) {
		refused = [{ name, text }, ...refused.filter((r) => r.name !== name)];
	}

	async function remove(recording: Recording) {
		try {
			const { stored } = await shelf.setDeleted(recording.id, true);
			if (recording.lines.length === 0) return;
			notices.say(`${recording.name} was deleted; in an hour that frees ${size(stored)}.`, {
				label: 'Undo',
				run: () => void bringBack(recording.id)
			});
			deleted = await shelf.deleted();
		} catch (error) {
			notices.fault(`${recording.name} could not be deleted: ${error instanceof Error ? error.message : String(error)}.`);
		}
	}

	async function takeStep(recording: Recording, step: string) {
		try {
			await shelf.setStep(recording.id, step);
			notices.say(`Edges of ${recording.name} are known to ${quantityText(Rational.parse(step), 's', 3)}.`, {
				label: 'Undo',
				run: () => void shelf.setStep(recording.id, recording.resolution, recording.stepFrom)
			});
		} catch (error) {
			notices.fault(`The step could not be set: ${error instanceof Error ? error.message : String(error)}.`);
		}
	}

	async function bringBack(id: string) {
		try {
			await shelf.setDeleted(id, false);
			deleted = await shelf.deleted();
		} catch (error) {
			notices.fault(`It could not be brought back: ${error instanceof Error ? error.message : String(error)}.`);
		}
	}

	onMount(() => {
		shelf.deleted().then(
			(found) => (deleted = found),
			() => undefined
		);
	});

	// What has just been read says so, and what to do with it.
	let before = untrack(() => new Map(shelf.list.map(({ id, generation }) => [id, generation])));
	$effect(() => {
		for (const { id, generation, name, lines, state } of shelf.list)
			if (state === 'ready' && before.get(id) !== generation && generation > 0)
				notices.say(`${name} is read: ${lines.length} ${lines.length === 1 ? 'line' : 'lines'}. Map one to its aim.`);
		before = new Map(shelf.list.map(({ id, generation, state }) => [id, state === 'ready' ? generation : (before.get(id) ?? 0)]));
	});

	function choiceOf(recording: string, line: string): string {
		const mapping = session.plan.mappings.find((m) => m.recording === recording && m.line === line);
		return mapping ? keyOf(mapping.aim, mapping.role) : '';
	}

	function choose(recording: string, line: string, key: string) {
		const choice = choices.find((one) => one.key === key);
		const mapping = mapLine(
			session,
			recording,
			line,
			choice && { aim: choice.aim, ...(choice.role !== undefined && { role: choice.role }) }
		);
		if (mapping) onMapped(mapping);
	}

	function size(bytes: number): string {
		return bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
	}
</script>

<div class="flex h-full min-h-0 flex-col">
	<div class="flex items-center justify-between px-3 py-2">
		<h2 class="text-[13px] font-bold">Recordings</h2>
		<button type="button" class="btn text-[13px]" onclick={browse}>Add …</button>
		<input
			bind:this={file}
			type="file"
			multiple
			class="hidden"
			aria-label="Recording files"
			onchange={() => {
				if (file.files) take(file.files);
				file.value = '';
			}}
		/>
	</div>
	<div class="min-h-0 flex-1 overflow-y-auto px-3 pb-3">
		{#each shelf.uploads as entry (entry)}
			<div class="mb-2 rounded-xs border bg-card p-2 text-[13px]" data-testid="upload">
				<div class="mb-1 flex justify-between gap-2">
					<span class="truncate">Sending {entry.name}</span>
					<button type="button" class="text-accent underline" onclick={entry.stop}>Stop</button>
				</div>
				<Progressbar progress={Math.round(100 * entry.sent)} size="h-1.5" />
			</div>
		{/each}
		{#each refused as entry (entry.name)}
			<div class="mb-2 rounded-xs border border-fault bg-fault-wash p-2 text-[13px]" role="alert" data-testid="refused">
				<div class="flex justify-between gap-2">
					<b class="min-w-0 truncate">{entry.name} was not read</b>
					<button type="button" aria-label="Put this message away" onclick={() => (refused = refused.filter((r) => r !== entry))}>×</button>
				</div>
				<p class="break-words">{entry.text}</p>
			</div>
		{/each}
		{#each shelf.list as recording (recording.id)}
			<section
				class="mb-2 rounded-xs border bg-card p-2"
				id="recording-{recording.id}"
				data-testid="recording"
				data-state={recording.state}
			>
				<div class="flex items-start justify-between gap-2">
					<h3 class="min-w-0 truncate text-[13px] font-bold" title={recording.name}>{recording.name}</h3>
					{#if recording.lines.length > 0}
						<button
							type="button"
							class="ml-auto shrink-0 text-[11px] text-accent underline"
							aria-label="Read {recording.name} again"
							title="See how it was read, and read it otherwise"
							onclick={() => void again(recording)}>as read</button
						>
					{/if}
					<button
						type="button"
						class="text-soft hover:text-fault"
						aria-label="{UNDER_WAY.includes(recording.state) && recording.lines.length === 0 ? 'Stop reading' : 'Delete'} {recording.name}"
						title={UNDER_WAY.includes(recording.state) && recording.lines.length === 0 ? 'Stop' : 'Delete'}
						onclick={() => remove(recording)}>×</button
					>
				</div>
				{#if UNDER_WAY.includes(recording.state)}
					{@const { progress } = recording}
					<p class="text-[11px] text-soft" data-testid="importing">{importText(recording.state, progress)}</p>
					{#if progress}<Progressbar progress={Math.round((100 * progress.read) / Math.max(1, progress.total))} size="h-1.5" />{/if}
				{:else if recording.state === 'refused' && recording.trouble}
					<div class="rounded-xs border border-fault bg-fault-wash p-1.5 text-[12px]" role="alert" data-testid="refused">
						<p class="break-words"><b>Not read.</b> {troubleText(recording.trouble)}</p>
						<button type="button" class="mt-0.5 underline" onclick={() => void again(recording)}>Say how it is to be read …</button>
					</div>
				{/if}
				{#if recording.lines.length > 0}
					<p class="text-[11px] text-soft">
						{size(recording.bytes)} · {recording.lines.reduce((sum, l) => sum + l.edges, 0).toLocaleString('en')} edges ·
						<span title={stepFromText(recording.stepFrom)}>to {quantityText(Rational.parse(recording.resolution), 's', 3)}</span>
					</p>
				{/if}
				{#each recording.lines as line (line.number)}
					<label class="mt-1 grid grid-cols-[minmax(0,1fr)_auto_7.2rem] items-center gap-1 text-[12px]">
						<span class="truncate num" title="{line.name}: {line.edges} edges">{line.name}</span>
						<span>
							{#if line.slicing}
								<button
									type="button"
									class="text-[11px] text-accent underline"
									aria-label="Levels of {line.name} in {recording.name}"
									title="high above {line.slicing.threshold.toPrecision(4)} ± {line.slicing.hysteresis.toPrecision(2)}"
									onclick={() => (cutting = { recording: recording.id, line: line.number })}>levels</button
								>
							{/if}
						</span>
						<select
							class="w-full plain-select text-[12px]"
							aria-label="Aim of {line.name} in {recording.name}"
							value={choiceOf(recording.id, line.name)}
							onchange={(event) => choose(recording.id, line.name, event.currentTarget.value)}
						>
							<option value="">no aim</option>
							{#each choices as { key, name } (key)}<option value={key}>{name}</option>{/each}
						</select>
					</label>
				{/each}
				{#if recording.notes.length > 0}
					<ul class="mt-1 text-[11px] text-soft">
						{#each recording.notes as note, i (i)}
							<li>
								{noteText(note)}
								{#if note.code === 'on-raster' && recording.stepFrom !== 'hand'}
									<button type="button" class="underline" onclick={() => void takeStep(recording, note.name!)}>Take it as the step</button>
								{/if}
							</li>
						{/each}
					</ul>
				{/if}
			</section>
		{/each}
		{#each deleted as gone (gone.id)}
			<p class="mb-1 flex gap-2 px-1 text-[11px] text-soft">
				<span class="min-w-0 truncate">{gone.name}, deleted ({size(gone.stored)})</span>
				<button type="button" class="ml-auto shrink-0 underline" onclick={() => void bringBack(gone.id)}>bring back</button>
			</p>
		{/each}
		<p class="mt-2 rounded-xs border border-dashed p-3 text-center text-[12px] text-soft">
			Drop recordings anywhere here: value change dumps (VCD), rows (CSV) of edges or samples, waves (WAV); packed with gzip or not.
		</p>
	</div>
</div>

<!-- Each dialog keeps to its own file: one that is still closing must not put the next away. -->
{#each looking.slice(0, 1) as entry (entry)}
	<ImportDialog
		file={entry.file}
		name={entry.name}
		settings={entry.settings}
		again={entry.again !== undefined}
		keep={entry.again?.keepFile ?? false}
		more={looking.length - 1}
		{shelf}
		onRead={(settings, keep) => read(1, settings, keep)}
		onReadAll={(settings, keep) => read(looking.length, settings, keep)}
		onShow={(id, isDeleted) => void show(id, isDeleted)}
		onClose={() => (looking = looking.filter((one) => one !== entry))}
	/>
{/each}
{#if cutLine}
	<LevelsDialog recording={cutLine.recording} line={cutLine.line} {shelf} onClose={() => (cutting = undefined)} />
{/if}
