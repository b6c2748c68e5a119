import { SvelteMap } from 'svelte/reactivity';
import { untrack } from 'svelte';
import { cleaned } from '../../core/part/index.js';
import { type Finding, type Outcome, checkPlan } from '../../core/check/index.js';
import {
	type History,
	type LoadedPlan,
	type SavedRevision,
	NO_HISTORY,
	type Plan,
	type PlanClocks,
	type PlanDerivation,
	type SavedStep,
	type Step,
	type Side,
	type StepKind,
	applyStep,
	derivePlan,
	deriveStepwise,
	insertStep,
	keepSame,
	mergePlans,
	mergeSteps,
	planClocks,
	rebaseSteps,
	recordStep,
	redoStep,
	removeStep,
	replayHistory,
	setStep,
	stepBetween,
	undoStep
} from '../../core/plan/index.js';
import { call, KEEPALIVE_LIMIT } from './api.js';
import { ClockBranches } from './clockBranches.js';
import { newId } from './ids.js';
import { NO_KEEPER, type Keeper } from './keeper.js';
import { restOf, type LeftEdits } from './left.js';
import { Saver, type SaveState } from './saver.svelte.js';
import { inSlices } from './slices.js';

/** An open plan: its document, its history, and the saving of its edits. */
export class PlanSession {
	readonly id: string;
	plan = $state.raw<Plan>({} as Plan);
	revision = $state(0);
	private savedOn = $state('');
	history = $state.raw<History>(NO_HISTORY);
	/** The finding that the findings line stands at. */
	findingAt = $state(-1);
	/** The last derivation, which the next takes over as far as it can. */
	private derived: PlanDerivation | undefined = undefined;
	readonly derivation: PlanDerivation = $derived((this.derived = derivePlan(this.plan, this.derived)));
	/** What a simulation found of this plan; it follows when the plan rests. */
	foreseen = $state.raw<Finding[]>([]);
	/** The faults first, then the warnings, each in the plan's order. */
	readonly findings: Finding[] = $derived(
		[...checkPlan(this.derivation), ...this.foreseen].sort((a, b) => Number(b.severity === 'fault') - Number(a.severity === 'fault'))
	);
	/** What recorded lines are found to be, as far as they were looked at, by their mapping. */
	readonly verdicts = new SvelteMap<string, Outcome>();
	/** What hangs on what, as the clock is set. */
	readonly branches: ClockBranches = $derived(new ClockBranches(this.derivation.clocks));
	/** The part's clock as at reset; worked out again only when the part changes. */
	private readonly part = $derived(this.plan.part);
	readonly resetClocks: PlanClocks = $derived.by(() => {
		const { part } = this;
		return untrack(() => planClocks({ ...this.plan, part }, {}, 'as-set'));
	});

	/** Somebody's newer revision that edits here clash with, and the document that both went on from. */
	clash = $state.raw<{ base: Plan; theirs: LoadedPlan } | undefined>(undefined);
	/** How often somebody else's edits were taken in since the plan was opened. */
	takenIn = $state(0);

	/** The document as the server has it at this revision. */
	private saved: Plan = {} as Plan;
	/** The newest revision that is known of. */
	private newest = 0;
	private catching: Promise<void> | undefined;
	private pending: SavedStep[] = [];
	/** How many of the pending were sent at least once: the server may have them, so they stay as they are. */
	private sent = 0;
	private sending = 0;
	private readonly saver = new Saver(this);

	/** `keeper`: where edits are kept while the server does not have them. */
	constructor(
		loaded: LoadedPlan,
		private readonly keeper: Keeper<LeftEdits> = NO_KEEPER
	) {
		this.id = loaded.id;
		this.take(loaded);
	}

	/** Derives the plan as it was loaded, in slices; what is read after that needs no more than what edits change. */
	async prepare(): Promise<void> {
		this.derived = await inSlices(deriveStepwise(this.plan));
	}

	/** What a file or code of it says of the revision. */
	get made(): { revision: number; date: string } {
		return { revision: this.revision, date: this.savedOn };
	}

	get unsaved(): boolean {
		return this.pending.length > 0;
	}

	get save(): SaveState {
		return this.saver.state;
	}

	/** Would closing the page lose edits? What is small and not refused is saved on the way out. */
	get losable(): boolean {
		if (!this.unsaved) return false;
		const calm = this.save.kind === 'saving' && (this.sending === 0 || this.sending === this.pending.length);
		return !calm || JSON.stringify(this.pending).length > KEEPALIVE_LIMIT;
	}

	/** Does a step. `merge`: it continues the edit before it, as typing in one field does. Throws StepMismatch or PlanError. */
	edit(step: Step, merge = false): void {
		this.perform('edit', step, merge);
	}

	set(path: (string | number)[], value: Parameters<typeof setStep>[2], label: string, merge = false): void {
		const step = setStep(this.plan, path, value, label);
		this.edit(step, merge);
	}

	insert(path: (string | number)[], value: Parameters<typeof insertStep>[1], label: string): void {
		this.edit(insertStep(path, value, label));
	}

	remove(path: (string | number)[], label: string): void {
		this.edit(removeStep(this.plan, path, label));
	}

	undo(): string | undefined {
		const step = undoStep(this.history);
		if (step) this.perform('undo', step, false);
		return step?.label;
	}

	redo(): string | undefined {
		const step = redoStep(this.history);
		if (step) this.perform('redo', step, false);
		return step?.label;
	}

	/** Saves now; resolves when the try is over, whatever came of it. */
	flush(): Promise<void> {
		return this.saver.flush();
	}

	/** Drops what is unsaved and takes the newest revision. */
	async takeNewer(): Promise<void> {
		const loaded = await this.load();
		this.drop();
		this.take(loaded);
	}

	/** Brings both together as was chosen for each clash, in the order in which mergePlans tells them. Throws PlanError. */
	settle(sides: readonly Side[]): void {
		if (!this.clash) return;
		const { base, theirs } = this.clash;
		const { document } = mergePlans(base, this.plan, theirs.document, sides);
		const step = stepBetween(theirs.document, document, 'bring two edits together');
		this.goOn(theirs, step ? [{ kind: 'edit', merged: false, step, id: newId() }] : []);
	}

	/** Saves the document as it stands here as a new plan and returns its id. */
	async keepAsCopy(): Promise<string> {
		const name = `${this.plan.name} (my copy)`.slice(0, 120);
		const { id } = await call<{ id: string }>('POST', `/api/plans/${this.id}/copy`, { name, document: this.plan });
		this.drop();
		return id;
	}

	/** There is a revision of that number: edits of others are taken in, and those that are unsaved here are done anew on them. */
	heard(revision: number): Promise<void> {
		this.newest = Math.max(this.newest, revision);
		return (this.catching ??= this.catchUp().finally(() => (this.catching = undefined)));
	}

	/** A save was refused; for the saver. */
	async behind(revision: number): Promise<void> {
		// Whoever was catching up may have looked before that revision was there.
		await this.catching;
		await this.heard(revision);
	}

	private async catchUp(): Promise<void> {
		for (;;) {
			// What is being saved may be that very revision.
			await this.saver.rest();
			if (this.newest <= this.revision) return;
			let theirs: LoadedPlan;
			try {
				theirs = await this.load();
			} catch (error) {
				if (this.unsaved) this.saver.failed(error);
				return;
			}
			if (this.saver.busy) continue;
			this.newest = theirs.revision;
			if (theirs.revision <= this.revision) return;
			if (!this.takeIn(theirs)) return;
		}
	}

	/** Goes on from somebody's newer revision; false when edits here clash with it. */
	private takeIn(theirs: LoadedPlan): boolean {
		// Edits whose answer was lost are among theirs.
		const mine = restOf({ steps: this.pending }, theirs);
		const stored = this.pending.slice(0, this.pending.length - mine.length);
		const base = stored.reduce((document, { step }) => applyStep(document, step), this.saved);
		let rebased: ReturnType<typeof rebaseSteps>;
		try {
			rebased = rebaseSteps(base, mine, theirs.document);
		} catch {
			// Both together are no plan: one of the two is to be chosen.
		}
		if (rebased) this.goOn(theirs, rebased.steps);
		else {
			this.clash = { base, theirs };
			this.saver.overtaken(theirs.revision);
		}
		this.takenIn++;
		return rebased !== undefined;
	}

	/** Takes a revision, and does steps on it that are not saved yet. */
	private goOn(loaded: LoadedPlan, steps: readonly SavedStep[]): void {
		this.drop();
		this.take(loaded);
		if (steps.length > 0) this.takeLeft(steps);
	}

	private load(): Promise<LoadedPlan> {
		return call<LoadedPlan>('GET', `/api/plans/${this.id}`);
	}

	private perform(kind: StepKind, asked: Step, merge: boolean): void {
		const step = cleaned(asked);
		this.plan = applyStep(this.plan, step);
		this.history = recordStep(this.history, kind, step, merge);
		this.enqueue({ kind, merged: merge, step });
	}

	private enqueue(saved: SavedStep): void {
		const last = this.pending.at(-1);
		// What was sent must stay as it was: sent again, it is known by its id.
		const free = this.pending.length > this.sent;
		const joined = saved.merged && last?.kind === 'edit' && free ? mergeSteps(last.step, saved.step) : undefined;
		if (joined && last) this.pending[this.pending.length - 1] = { ...last, step: joined };
		else this.pending.push({ ...saved, id: newId() });
		this.keep();
		this.saver.soon();
	}

	/** Does steps that stand on this revision, such as what an ended tab has left behind. Throws StepMismatch or PlanError, and changes nothing then. */
	takeLeft(steps: readonly SavedStep[]): void {
		const plan = steps.reduce((document, { step }) => applyStep(document, step), this.plan);
		this.history = steps.reduce((history, { kind, step, merged }) => recordStep(history, kind, step, merged), this.history);
		this.plan = plan;
		this.pending.push(...steps);
		this.keep();
		this.saver.soon();
	}

	private keep(): void {
		const { revision: base, pending, plan: document } = this;
		this.keeper.keep(pending.length === 0 ? undefined : { base, steps: [...pending], document });
	}

	private drop(): void {
		this.pending = [];
		this.sent = 0;
		this.keep();
	}

	/** Sends what is pending; for the saver. */
	async send(): Promise<void> {
		const steps = [...this.pending];
		const document = this.plan;
		this.sending = this.sent = steps.length;
		try {
			const { revision, savedOn } = await call<SavedRevision>('POST', `/api/plans/${this.id}/steps`, { base: this.revision, steps });
			this.revision = revision;
			this.savedOn = savedOn;
			this.saved = document;
			this.pending.splice(0, steps.length);
			this.sent = 0;
			this.keep();
		} finally {
			this.sending = 0;
		}
	}

	private take({ document, revision, savedOn, history }: LoadedPlan): void {
		// What is as it was stays the same object, so that what is derived from it stays too.
		this.plan = this.saved = keepSame(this.plan, document);
		this.revision = revision;
		this.savedOn = savedOn;
		this.history = replayHistory(history);
		this.clash = undefined;
		this.saver.reset();
	}
}
