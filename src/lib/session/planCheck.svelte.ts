import equal from 'fast-deep-equal/es6';
import type { Mapping, Plan } from '../../core/plan/index.js';
import type { PlainCheck, SuspectWave } from '../../core/suspects/index.js';
import { readLaying } from '../../core/readings/index.js';
import { MOST_EDGES } from '../../workers/benchWire.js';
import type { CheckProgress, LineToCheck } from '../../workers/checkWire.js';
import { checkWorkers, progress } from '../../workers/clients.js';
import { call } from './api.js';
import type { CheckTold, PastCheck } from './pastChecks.js';
import { frameOf, statedError, stepOf, type Recording, type RecordedLine, type RecordingShelf } from './recordings.svelte.js';
import type { PlanSession } from './session.svelte.js';
import { failedState, LatestWork, type WorkState } from './work.js';

/** Milliseconds that a plan rests before it is checked again. */
const REST_MS = 400;

type EvidenceRow = PlainCheck['evidence']['rows'][number];

export interface Pinned {
	row: EvidenceRow;
	waves: SuspectWave[];
}

/** What a suspect is known by from one check to the next. */
const keyOf = ({ codes, where, about }: EvidenceRow) => JSON.stringify([codes, where.map(({ timer, what }) => [timer, what]), about]);

/** Is a suspect's wave one of a mapped line? */
export function isOf({ recording, line, aim, role }: SuspectWave, mapping: Mapping): boolean {
	return recording === mapping.recording && line === mapping.line && aim === mapping.aim && role === (mapping.role ?? 'pin');
}

/** All recorded lines, readings and sweeps of a plan held against it; checked again whenever plan or recordings rest. */
export class PlanCheck {
	state = $state.raw<WorkState>({ kind: 'idle' });
	/** How far the search for suspects is, from 0 to 1. */
	share = $state(0);
	result = $state.raw<PlainCheck>();
	/** By row of the evidence: what each suspect would show on the lines that it changes. */
	private waves = $state.raw<SuspectWave[][]>([]);
	private chosen = $state('');
	/** The suspect whose waves are to be seen, wherever waves are; undefined: none, or it is no longer one. */
	readonly pinned: Pinned | undefined = $derived.by(() => {
		const rows = this.result?.evidence.rows ?? [];
		const at = rows.findIndex((row) => keyOf(row) === this.chosen);
		return at > 0 ? { row: rows[at], waves: this.waves[at] ?? [] } : undefined;
	});
	/** The newest first. */
	past = $state.raw<PastCheck[]>([]);
	private readonly work = new LatestWork();
	private asked: { plan: Plan; lines: LineToCheck[] } | undefined;
	private going = true;

	/** Mapped lines that can be read here. */
	readonly lines: LineToCheck[] = $derived.by(() =>
		this.session.plan.mappings.flatMap((mapping) => {
			const recording = this.shelf.find(mapping.recording);
			const line = recording?.lines.find(({ name }) => name === mapping.line);
			return recording && line && line.edges <= MOST_EDGES ? [this.lineToCheck(mapping, recording, line)] : [];
		})
	);
	/** Is there anything to hold against the plan? */
	readonly anything: boolean = $derived.by(
		() => this.lines.length > 0 || this.session.plan.readings.length > 0 || this.session.plan.sweeps.length > 0
	);

	constructor(
		private readonly session: PlanSession,
		private readonly shelf: RecordingShelf
	) {}

	/** Pins a suspect, or lets go of the one that is pinned. */
	pin(row: EvidenceRow): void {
		this.chosen = this.isPinned(row) ? '' : keyOf(row);
	}

	isPinned(row: EvidenceRow): boolean {
		return this.chosen === keyOf(row);
	}

	/** Rows of the evidence that speak of a mapped line: those that would change it. */
	rowsOf(mapping: Mapping): EvidenceRow[] {
		return (this.result?.evidence.rows ?? []).filter((_, i) => this.waves[i]?.some((wave) => isOf(wave, mapping)));
	}

	/** Asks for a check when plan or lines are others than the last time; returns what gives it up. */
	ask(): () => void {
		const { plan } = this.session;
		const { lines, anything } = this;
		if (!anything) {
			this.work.end();
			this.asked = undefined;
			this.result = undefined;
			this.waves = [];
			this.state = { kind: 'idle' };
			return () => undefined;
		}
		if (this.asked && this.asked.plan === plan && equal(this.asked.lines, lines)) return () => undefined;
		const timer = setTimeout(() => void this.run({ plan, lines }), this.result ? REST_MS : 0);
		return () => clearTimeout(timer);
	}

	/** Checks once more, whatever has changed. */
	again(): void {
		void this.run({ plan: this.session.plan, lines: this.lines });
	}

	stop(): void {
		this.going = false;
	}

	close(): void {
		this.work.end();
	}

	async loadPast(): Promise<void> {
		try {
			this.past = await call<PastCheck[]>('GET', `/api/plans/${this.session.id}/checks`);
		} catch {
			// What was checked before is only to compare with.
		}
	}

	private async run(asked: { plan: Plan; lines: LineToCheck[] }): Promise<void> {
		const signal = this.work.begin();
		this.asked = asked;
		this.going = true;
		this.state = { kind: 'loading' };
		this.share = 0;
		try {
			const found = await checkWorkers.run(
				(worker, heard) =>
					worker.check(
						asked.plan,
						asked.lines,
						progress(
							heard,
							({ share, verdicts }: CheckProgress) => {
								this.share = share;
								if (verdicts) [this.result, this.waves] = [verdicts, []];
							},
							() => (signal.aborted ? 'drop' : this.going ? 'on' : 'stop')
						)
					),
				{ signal }
			);
			if (signal.aborted) return;
			if (!found) {
				this.state = { kind: 'stopped' };
				return;
			}
			this.result = found.check;
			this.waves = found.waves;
			this.state = { kind: 'ready' };
			await this.keep(found.check, asked.lines);
		} catch (error) {
			this.state = failedState(error, signal) ?? this.state;
		}
	}

	private async keep(found: PlainCheck, lines: readonly LineToCheck[]): Promise<void> {
		const named = lines.map(({ recording }) => recording);
		const recordings = named
			.filter((id, i) => named.indexOf(id) === i)
			.flatMap((id) => {
				const one = this.shelf.find(id);
				return one ? [{ id, name: one.name, generation: one.generation }] : [];
			});
		const told: CheckTold = {
			verdict: found.verdict,
			asSet: found.as_set,
			aims: found.aims.map(({ id, name, verdict, as_set: asSet }) => ({ id, name, verdict, asSet })),
			suspects: found.suspects.filter(({ explains }) => explains).map(({ codes }) => codes),
			recordings
		};
		try {
			await call('POST', `/api/plans/${this.session.id}/checks`, { revision: Math.max(1, this.session.revision), told });
			await this.loadPast();
		} catch {
			// It is only kept to compare with; the next check is kept again.
		}
	}

	private lineToCheck(mapping: Plan['mappings'][number], recording: Recording, line: RecordedLine): LineToCheck {
		const { step, raster } = stepOf(recording, line);
		const typed = this.session.plan.layings[recording.id];
		const hand = typed && readLaying(typed);
		return {
			frame: frameOf(recording, line),
			recording: recording.id,
			line: line.name,
			aim: mapping.aim,
			role: mapping.role ?? 'pin',
			step: step.toString(),
			...(raster && { raster: raster.toString() }),
			instrument: statedError(this.session.plan, mapping).toString(),
			...(hand?.ok && { laying: { offset: hand.value.offset.toNumber(), ratio: hand.value.ratio.toNumber() } })
		};
	}
}
