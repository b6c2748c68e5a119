<script lang="ts">
	import type { AimOf } from '../../../../../core/aims/index.js';
	import { joinSteps, setStep } from '../../../../../core/plan/index.js';
	import type { EditorProps } from '../view.js';
	import { problemText } from '../../../../text/index.js';
	import TypedField from '../../../../components/TypedField.svelte';
	import Hatch from '../../../../components/Hatch.svelte';

	let { session, aim, fields }: EditorProps<AimOf<'pattern'>> = $props();

	const [CELL, HIGH, LOW, HEIGHT] = [18, 5, 21, 26];
	const MOST_LINES = 32;
	const MOST_WORDS = 4096;
	const index = $derived(session.plan.aims.findIndex(({ id }) => id === aim.id));
	const words = $derived(Math.max(1, ...aim.lines.map(({ levels }) => levels.length)));
	/** The cell that the keyboard stands at. */
	let at = $state({ line: 0, word: 0 });
	let drawing: '0' | '1' | undefined;
	let strokes = 0;
	/** Where the stroke was last. */
	let last = 0;
	const ids = $props.id();

	/** The line of levels as a path; what lies past its end is its last level. */
	function wave(levels: string): string {
		let path = '';
		for (let k = 0; k < words; k++) {
			const y = (levels[Math.min(k, levels.length - 1)] ?? '0') === '1' ? HIGH : LOW;
			path += k === 0 ? `M0 ${y}` : `V${y}`;
			path += `H${(k + 1) * CELL}`;
		}
		return path;
	}

	function fill(levels: string): string {
		let path = '';
		for (let k = 0; k < words; k++)
			if ((levels[Math.min(k, levels.length - 1)] ?? '0') === '1') path += `M${k * CELL} ${LOW}V${HIGH}h${CELL}V${LOW}Z`;
		return path;
	}

	/** Draws a level over the words from..to, either way round. */
	function draw(line: number, from: number, to: number, level: '0' | '1') {
		const { levels, name } = aim.lines[line];
		const [first, last] = [Math.min(from, to), Math.max(from, to)];
		const padded = levels.padEnd(last + 1, levels.at(-1) ?? '0');
		const next = padded.slice(0, first) + level.repeat(last - first + 1) + padded.slice(last + 1);
		if (next === levels) return;
		session.set(['aims', index, 'lines', line, 'levels'], next, `draw ${name}`, strokes > 0);
		strokes++;
	}

	function cellOf(event: PointerEvent): number {
		const box = (event.currentTarget as SVGElement).getBoundingClientRect();
		return Math.min(words - 1, Math.max(0, Math.floor(((event.clientX - box.left) / box.width) * words)));
	}

	function begin(event: PointerEvent, line: number) {
		const word = cellOf(event);
		at = { line, word };
		strokes = 0;
		drawing = aim.lines[line].levels[word] === '1' ? '0' : '1';
		(event.currentTarget as SVGElement).setPointerCapture(event.pointerId);
		last = word;
		draw(line, word, word, drawing);
	}

	/** A fast stroke passes words between two of its points: they are drawn, too. */
	function go(event: PointerEvent, line: number) {
		if (!drawing || event.buttons === 0) return;
		const word = cellOf(event);
		draw(line, last, word, drawing);
		last = word;
	}

	function key(event: KeyboardEvent, line: number) {
		const moves: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };
		if (event.key in moves) at = { line, word: Math.min(words - 1, Math.max(0, at.word + moves[event.key])) };
		else if (event.key === ' ' || event.key === 'Enter' || event.key === '0' || event.key === '1') {
			strokes = 0;
			const now = aim.lines[line].levels[at.word] === '1' ? '0' : '1';
			draw(line, at.word, at.word, event.key === '0' || event.key === '1' ? event.key : now);
			if (event.key === '0' || event.key === '1') at = { line, word: Math.min(words - 1, at.word + 1) };
		} else return;
		event.preventDefault();
	}

	function add() {
		const used = new Set(aim.lines.map(({ bit }) => bit));
		const bit = Array.from({ length: MOST_LINES }, (_, i) => String(i)).find((one) => !used.has(one)) ?? '0';
		const line = { id: crypto.randomUUID(), name: `line ${aim.lines.length + 1}`, pin: '', bit, levels: '0'.repeat(words) };
		session.insert(['aims', index, 'lines', aim.lines.length], line, `add a line to ${aim.name}`);
	}

	/** All lines as long as that, the new words holding each line's last level. */
	function resize(count: number) {
		const length = Math.min(MOST_WORDS, Math.max(1, count));
		const label = `make ${aim.name} ${length} words long`;
		const steps = aim.lines.map(({ levels }, i) =>
			setStep(session.plan, ['aims', index, 'lines', i, 'levels'], levels.padEnd(length, levels.at(-1) ?? '0').slice(0, length), label)
		);
		session.edit(joinSteps(label, steps));
	}
</script>

<div class="mb-2 text-[13px]" role="group" aria-label="Lines of {aim.name}">
	{#each aim.lines as line, i (line.id)}
		<div class="flex items-center gap-2 py-0.5">
			<div class="flex w-84 shrink-0 items-center gap-1">
				<TypedField
					small
					least={10}
					label="Name of line {i + 1}"
					value={line.name}
					onInput={(text, first) => session.set(['aims', index, 'lines', i, 'name'], text, `name a line of ${aim.name}`, !first)}
				/>
				pin
				<TypedField
					small
					least={3}
					label="Pin of {line.name}"
					value={line.pin}
					onInput={(text, first) => session.set(['aims', index, 'lines', i, 'pin'], text, `set the pin of ${line.name}`, !first)}
				/>
				bit
				<TypedField
					small
					least={2}
					label="Bit of {line.name}"
					value={line.bit}
					problem={fields[`lines.${i}.bit`] && problemText(fields[`lines.${i}.bit`])}
					onInput={(text, first) => session.set(['aims', index, 'lines', i, 'bit'], text, `set the bit of ${line.name}`, !first)}
				/>
				{#if aim.lines.length > 1}
					<button
						type="button"
						class="text-soft underline hover:text-accent"
						aria-label="Remove {line.name}"
						onclick={() => session.remove(['aims', index, 'lines', i], `remove ${line.name}`)}>remove</button
					>
				{/if}
			</div>
			<div class="min-w-0 flex-1 overflow-x-auto">
				<svg
					class="box-content cursor-pointer rounded-xs border graph-paper focus-visible:outline-2 focus-visible:outline-accent"
					width={words * CELL}
					height={HEIGHT}
					viewBox="0 0 {words * CELL} {HEIGHT}"
					role="slider"
					tabindex="0"
					aria-label="Levels of {line.name}: arrows move, space turns, 0 and 1 write"
					aria-valuemin={0}
					aria-valuemax={words - 1}
					aria-valuenow={at.word}
					aria-valuetext="word {at.word}: {line.levels[at.word] === '1' ? 'high' : 'low'}"
					onpointerdown={(event) => begin(event, i)}
					onpointermove={(event) => go(event, i)}
					onpointerup={() => (drawing = undefined)}
					onkeydown={(event) => key(event, i)}
					onfocus={() => (at = { line: i, word: Math.min(at.word, words - 1) })}
				>
					<defs><Hatch id="{ids}-{i}" /></defs>
					<path d={fill(line.levels)} fill="url(#{ids}-{i})" />
					<path d={wave(line.levels)} fill="none" class="stroke-accent" stroke-width="1.6" />
					{#if at.line === i}<rect
							x={at.word * CELL}
							y="1"
							width={CELL}
							height={HEIGHT - 2}
							fill="none"
							class="stroke-ink"
							stroke-dasharray="2 2"
							opacity="0.5"
						/>{/if}
				</svg>
			</div>
		</div>
	{/each}
	<div class="mt-1 flex items-center gap-2">
		{#if aim.lines.length < MOST_LINES}<button type="button" class="btn text-[12.5px]" onclick={add}>Add a line</button>{/if}
		<label class="flex items-center gap-1"
			>words
			<input
				class="w-20 rounded-xs border bg-card px-1 py-0 num text-[13px]"
				type="number"
				min="1"
				max={MOST_WORDS}
				value={words}
				aria-label="Words of {aim.name}"
				onchange={(event) => resize(event.currentTarget.valueAsNumber || 1)}
			/></label
		>
		<span class="text-soft">A press turns a level, a stroke draws it on.</span>
	</div>
</div>
