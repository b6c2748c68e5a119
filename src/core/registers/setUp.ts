import type { Binding, Unit } from './binding.js';
import { cellsIn, type Cell } from './cell.js';
import { encode, fits, textOf, type CodeRow, type QuantityValue } from './code.js';
import type { Doing } from './doing.js';
import { sortedFindings, type RegisterFinding } from './findings.js';
import { Memory } from './memory.js';
import { maskOf, ones, plainInteger, widthOf } from './numbers.js';
import type { Place } from './place.js';
import { isFlag, isStep, STEPS, stepOf } from './quantities.js';
import type { Value } from './value.js';
import { partIn, Writer, type Access } from './writer.js';

/** What a plan wants of each unit, in the plan's order. */
export type Quantities = ReadonlyMap<string, ReadonlyMap<string, QuantityValue>>;

/** A profile's own codes, by unit and quantity. */
export type Codes = ReadonlyMap<string, ReadonlyMap<string, readonly CodeRow[]>>;

export interface SetUp {
	accesses: Access[];
	/** Number of the first access that comes after everything is set up: of a unit's steps from `global` or `run` on. */
	begins: number;
	findings: RegisterFinding[];
}

export interface Known {
	/** Bytes that are known beforehand. */
	memory?: Memory;
	codes?: Codes;
}

/** Accesses that set a plan up, in their order (handoff.md 6); what has a finding is left out. */
export function setUp(binding: Binding, quantities: Quantities, known: Known = {}): SetUp {
	return setUpThen(binding, quantities, known).planned;
}

/** Lists the accesses of a change; `as`: a binding of the same registers that stands for the own one. */
export type Change = (quantities: Quantities, as?: Binding) => SetUp;

/** A set-up with what lists changes after it. */
export function setUpThen(binding: Binding, quantities: Quantities, known: Known = {}): { planned: SetUp; change: Change } {
	const codes = known.codes ?? new Map();
	const writer = new Writer(known.memory ?? new Memory());
	const planned = new Planner(binding, codes).list(quantities, true, writer);
	return { planned, change: (changed, as = binding) => new Planner(as, codes).list(changed, false, writer.next()) };
}

/** Accesses of a change while it runs. `before`: the set-up that came before, whose last words are remembered. */
export function change(binding: Binding, quantities: Quantities, before?: Quantities, known: Known = {}): SetUp {
	if (before) return setUpThen(binding, before, known).change(quantities);
	return new Planner(binding, known.codes ?? new Map()).list(quantities, false, new Writer(known.memory ?? new Memory()));
}

/** What is done for one quantity in one step. */
interface Job {
	step: string;
	value: Value;
	/** Left out: it stands for its code alone. */
	code: bigint;
	pieces: readonly Place[];
	kind: 'put' | 'flag' | 'do';
	doings: readonly Doing[];
	/** "UNIT.QUANTITY". */
	name: string;
	planned: boolean;
}

class Planner {
	private findings: RegisterFinding[] = [];

	constructor(
		private readonly binding: Binding,
		private readonly codes: Codes
	) {}

	list(quantities: Quantities, first: boolean, writer: Writer): SetUp {
		this.findings = [];
		const units = [...quantities].flatMap(([id, own]): { unit: Unit; jobs: Job[]; parts: [string[], string[]] }[] => {
			const unit = this.binding.units.get(id);
			if (!unit) {
				this.findings.push(['no-unit', id]);
				return [];
			}
			return [{ unit, jobs: this.jobsOf(unit, own, first), parts: partsOf(unit) }];
		});
		this.overlaps(units.flatMap(({ jobs }) => jobs));
		let begins = 0;
		for (const part of [0, 1] as const) {
			begins = writer.accesses.length;
			for (const { unit, jobs, parts } of units) {
				for (const step of parts[part]) for (const job of jobs) if (job.step === step) execute(writer, unit, job);
				writer.flush();
			}
		}
		return { accesses: writer.accesses, begins, findings: sortedFindings([...this.findings, ...writer.findings]) };
	}

	/** In the binding's order. */
	private jobsOf(unit: Unit, own: ReadonlyMap<string, QuantityValue>, first: boolean): Job[] {
		for (const quantity of own.keys()) if (!unit.values.has(quantity)) this.findings.push(['no-place', `${unit.id}.${quantity}`]);
		const hung = unit.values.get('run')?.with?.quantity;
		const jobs: Job[] = [];
		for (const value of unit.values.values()) {
			const { quantity } = value;
			if (quantity === 'run') {
				jobs.push(...this.runJobs(unit, value, own, first));
				continue;
			}
			const wish = own.get(quantity) ?? (first ? impliedOf(quantity) : undefined);
			if (wish === undefined || isIdle(quantity, wish)) continue;
			if (quantity === hung && isOff(own.get('run'))) {
				if (own.has(quantity)) this.findings.push(['needs-run', `${unit.id}.${quantity}`]);
				continue;
			}
			const step = ownStep(unit, quantity) ?? (quantity === hung ? 'run' : stepOf(quantity)!);
			const job = this.jobOf(unit, value, wish, step, own.has(quantity));
			if (job) jobs.push(job);
		}
		return jobs;
	}

	/** Off at `stop`, on at `run`. */
	private runJobs(unit: Unit, value: Value, own: ReadonlyMap<string, QuantityValue>, first: boolean): Job[] {
		const wish = own.get('run') ?? (first ? 1 : undefined);
		const off = first || (wish !== undefined && isOff(wish));
		const on = wish !== undefined && !isOff(wish);
		const hung = value.with && unit.values.get(value.with.quantity);
		const planned = own.has('run');
		const name = `${unit.id}.run`;
		const jobs: (Job | undefined)[] = [];
		if (off && hung) {
			const job: Job = { step: 'stop', value, code: value.with!.off, pieces: hung.pieces, kind: 'put', doings: [], name, planned: false };
			if (this.stepped(unit, job, planned && !on)) jobs.push(job);
		} else if (off) jobs.push(this.jobOf(unit, value, 0, 'stop', planned && !on));
		if (on && hung && !own.has(hung.quantity)) this.findings.push(['needs-value', name]);
		else if (on && hung && planned && !hasStep(unit, 'run')) this.findings.push(['no-step', name]);
		else if (on && !hung) jobs.push(this.jobOf(unit, value, wish, 'run', planned));
		return jobs.filter((job) => job !== undefined);
	}

	/** undefined: it has a finding, or its step is not in the order. */
	private jobOf(unit: Unit, value: Value, wish: QuantityValue, step: string, planned: boolean): Job | undefined {
		const name = `${unit.id}.${value.quantity}`;
		const frame = { step, value, pieces: value.pieces, name, planned };
		let job: Job;
		if (value.do) {
			const doings = value.do.get(textOf(wish));
			if (!doings) return this.refuse(['no-code', name]);
			job = { ...frame, code: 0n, kind: 'do', doings };
		} else if (isFlag(value.quantity)) job = { ...frame, code: 1n, kind: 'flag', doings: [] };
		else {
			const code = encode(value.as, wish, value.width, this.codes.get(unit.id)?.get(value.quantity));
			if (code === undefined) return this.refuse(['no-code', name]);
			if (!fits(value.as, wish, code, value.width) || !clearsOnly(value, code)) return this.refuse(['no-fit', name, plainInteger(code)]);
			job = { ...frame, code, kind: 'put', doings: [] };
		}
		const tight = [...value.before, ...value.after].some((doing) => doing.code === 'code' && !holds(doing.place, job.code));
		if (tight) return this.refuse(['no-fit', name, plainInteger(job.code)]);
		return this.stepped(unit, job, planned) ? job : undefined;
	}

	private stepped(unit: Unit, { step, name }: Job, planned: boolean): boolean {
		if (hasStep(unit, step)) return true;
		if (planned) this.findings.push(['no-step', name]);
		return false;
	}

	private refuse(finding: RegisterFinding): undefined {
		this.findings.push(finding);
	}

	/** Two planned quantities that want one bit differently. */
	private overlaps(jobs: readonly Job[]): void {
		const claims = new Map<string, { mask: bigint; value: bigint; job: Job }[]>();
		for (const job of jobs) {
			if (job.kind !== 'put' || !job.planned) continue;
			for (const { key, mask, value } of bitsOf(job)) {
				const others = claims.get(key) ?? [];
				claims.set(key, others);
				for (const other of others) {
					if (other.job === job || (mask & other.mask & (value ^ other.value)) === 0n) continue;
					const [first, second] = [job.name, other.job.name].sort((x, y) => (x < y ? -1 : 1));
					this.findings.push(['overlap', first, second]);
				}
				others.push({ mask, value, job });
			}
		}
	}
}

/** A part that is cut before all units run, and the rest. */
function partsOf({ order = [...STEPS] }: Unit): [string[], string[]] {
	const cut = order.findIndex((step) => step === 'global' || step === 'run');
	return cut < 0 ? [[...order], []] : [order.slice(0, cut), order.slice(cut)];
}

/** A quantity that the order names is a step of its own. */
function ownStep({ order }: Unit, quantity: string): string | undefined {
	return !isStep(quantity) && order?.includes(quantity) ? quantity : undefined;
}

const hasStep = ({ order = [...STEPS] }: Unit, step: string) => order.includes(step);

/** What a set-up does without being asked, where it is bound. */
function impliedOf(quantity: string): QuantityValue | undefined {
	if (quantity === 'gate' || quantity === 'load' || isFlag(quantity)) return 1;
	return quantity === 'count' ? 0 : undefined;
}

const isOff = (wish: QuantityValue | undefined) => wish !== undefined && textOf(wish) === '0';

/** Nothing is done for a load that is not wanted, and a flag that is left alone. */
function isIdle(quantity: string, wish: QuantityValue): boolean {
	return quantity === 'load' ? isOff(wish) : isFlag(quantity) && textOf(wish) !== '1';
}

/** Pieces of a code, in the order in which they are listed. */
export function piecesOf(pieces: readonly Place[], code: bigint): { place: Place; code: bigint }[] {
	let left = pieces.reduce((sum, piece) => sum + widthOf(piece), 0);
	return pieces.map((place) => {
		left -= widthOf(place);
		return { place, code: (code >> BigInt(left)) & ones(widthOf(place)) };
	});
}

/** A register that any write clears holds 0 alone. */
function clearsOnly({ pieces }: Value, code: bigint): boolean {
	return piecesOf(pieces, code).every(({ place, code: own }) => place.register.write !== 'any-clears' || own === 0n);
}

function holds(place: Place, code: bigint): boolean {
	return code <= ones(widthOf(place)) && (place.register.write !== 'any-clears' || code === 0n);
}

function bitsOf({ pieces, code }: Job): { key: string; mask: bigint; value: bigint }[] {
	return piecesOf(pieces, code).map(({ place, code: own }) => ({
		key: place.register.key,
		mask: maskOf(place),
		value: own << BigInt(place.low)
	}));
}

function execute(writer: Writer, unit: Unit, job: Job): void {
	const context = { step: job.step, unit: unit.id, quantity: job.name };
	const { value, code } = job;
	const surround = (doings: readonly Doing[]) => {
		for (const doing of doings) writer.doing(doing, code, context);
	};
	surround(value.before);
	if (job.kind === 'do') surround(job.doings);
	else if (job.kind === 'flag' && readsToClear(job))
		for (const cell of readingCells({ ...value, pieces: job.pieces })) writer.read(cell, context);
	else {
		const pieces = job.kind === 'flag' ? job.pieces.map((place) => ({ place, code: clearing(place) })) : piecesOf(job.pieces, code);
		for (const piece of value.writeLastFirst ? pieces.reverse() : pieces)
			for (const cell of cellsIn(piece.place)) writer.put(cell, ...partIn(piece.place, piece.code, cell), context);
	}
	surround(value.after);
}

/** What clears a flag: 1 in the bits where a 1 acts, 0 in all others. */
function clearing(place: Place): bigint {
	return (place.register.oneActs & maskOf(place)) >> BigInt(place.low);
}

/** Is a flag cleared by reading: does it lie in no acting bits, in a register whose reading clears? */
function readsToClear({ pieces }: Job): boolean {
	return pieces.every(({ register, ...range }) => register.readClears && ((register.oneActs | register.zeroActs) & maskOf(range)) === 0n);
}

/** The cells of a value's pieces as they are read: each once. */
export function readingCells({ pieces, readLastFirst }: Pick<Value, 'readLastFirst'> & { pieces: readonly Place[] }): Cell[] {
	const cells = pieces.flatMap((place) => cellsIn(place));
	const ordered = readLastFirst ? cells.reverse() : cells;
	return ordered.filter((cell, i) => ordered.findIndex(({ key }) => key === cell.key) === i);
}
