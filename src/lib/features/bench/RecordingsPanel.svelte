<script lang="ts">
	import Progressbar from 'flowbite-svelte/Progressbar.svelte';
	import { LARGEST_UPLOAD, Refused } from '../../session/api.js';
	import { mapLine } from '../../session/edits.js';
	import { notices } from '../../session/notices.svelte.js';
	import type { Recording, RecordingShelf } from '../../session/recordings.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { noteText, roleText } from '../../text/index.js';
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

	/** Reads files one after the other; each is told of by itself. */
	export async function take(files: FileList | File[]) {
		for (const chosen of Array.from(files)) await takeOne(chosen);
	}

	/** Opens the desktop's own way to choose files. */
	export function browse() {
		file.click();
	}

	async function takeOne(chosen: File) {
		if (chosen.size > LARGEST_UPLOAD) {
			refuse(
				chosen.name,
				`The file has ${(chosen.size / 1e6).toFixed(0)} MB; up to ${LARGEST_UPLOAD / 1e6} MB are read. Record less, or fewer lines.`
			);
			return;
		}
		try {
			const made = await shelf.add(chosen);
			refused = refused.filter((r) => r.name !== chosen.name);
			if (made)
				notices.say(`${made.name} is read: ${made.lines.length} ${made.lines.length === 1 ? 'line' : 'lines'}. Map one to its aim.`);
		} catch (error) {
			if (error instanceof DOMException && error.name === 'AbortError') notices.say(`Reading ${chosen.name} was stopped.`);
			else refuse(chosen.name, reasonOf(error));
		}
	}

	function reasonOf(error: unknown): string {
		if (!(error instanceof Refused))
			return `It could not be sent: ${error instanceof Error ? error.message : String(error)}. Drop it again to try again.`;
		const place = error.line ? `Line ${error.line}, byte ${error.byte}: ` : error.byte !== undefined ? `Byte ${error.byte}: ` : '';
		return `${place}${error.message}${error.accepted ? `; ${error.accepted}` : ''}.`;
	}

	function refuse(name: string, text: string) {
		refused = [{ name, text }, ...refused.filter((r) => r.name !== name)];
	}

	async function remove(recording: Recording) {
		try {
			await shelf.setDeleted(recording.id, true);
			notices.say(`${recording.name} was deleted.`, { label: 'Undo', run: () => void shelf.setDeleted(recording.id, false) });
		} catch (error) {
			notices.fault(`${recording.name} could not be deleted: ${error instanceof Error ? error.message : String(error)}.`);
		}
	}

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
				if (file.files) void take(file.files).then(() => (file.value = ''));
			}}
		/>
	</div>
	<div class="min-h-0 flex-1 overflow-y-auto px-3 pb-3">
		{#each shelf.uploads as entry (entry)}
			<div class="mb-2 rounded-xs border bg-card p-2 text-[13px]" data-testid="upload">
				<div class="mb-1 flex justify-between gap-2">
					<span class="truncate">{entry.sent < 1 ? 'Sending' : 'Reading'} {entry.name}</span>
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
			<section class="mb-2 rounded-xs border bg-card p-2" data-testid="recording">
				<div class="flex items-start justify-between gap-2">
					<h3 class="min-w-0 truncate text-[13px] font-bold" title={recording.name}>{recording.name}</h3>
					<button
						type="button"
						class="text-soft hover:text-fault"
						aria-label="Delete {recording.name}"
						title="Delete"
						onclick={() => remove(recording)}>×</button
					>
				</div>
				<p class="text-[11px] text-soft">
					{size(recording.bytes)} · {recording.lines.reduce((sum, l) => sum + l.edges, 0).toLocaleString('en')} edges
				</p>
				{#each recording.lines as line (line.number)}
					<label class="mt-1 grid grid-cols-[minmax(0,1fr)_7.2rem] items-center gap-1 text-[12px]">
						<span
							class="truncate num"
							title="{line.name}: {line.edges} edges{line.slicing
								? `, threshold ${line.slicing.threshold.toPrecision(4)} ± ${line.slicing.hysteresis.toPrecision(2)}`
								: ''}">{line.name}</span
						>
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
						{#each recording.notes as note, i (i)}<li>{noteText(note)}</li>{/each}
					</ul>
				{/if}
			</section>
		{/each}
		<p class="mt-2 rounded-xs border border-dashed p-3 text-center text-[12px] text-soft">
			Drop recordings anywhere here: value change dumps (VCD), rows (CSV) of edges or samples, waves (WAV); packed with gzip or not.
		</p>
	</div>
</div>
