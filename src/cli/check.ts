import { readFile, writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { Rational } from '../core/exact/index.js';
import { FormatError, type ParsedLine, type ParsedRecording } from '../core/formats/index.js';
import { handOff, type HeldDump } from '../core/handoff/index.js';
import { derivePlan, type Plan, type PlanDerivation, type Sweep } from '../core/plan/index.js';
import { planSystem } from '../core/predict/index.js';
import { measurePulses } from '../core/measure/index.js';
import { readPairs } from '../core/readings/index.js';
import { worstOf, type Outcome } from '../core/check/index.js';
import {
	checkLog,
	checkWhole,
	guessMaps,
	meantBy,
	readMap,
	type CheckedLog,
	type LineMap,
	type Offer,
	type WholeCheck,
	type Witness
} from '../core/suspects/index.js';
import { commandText, formatText, lineName } from '../lib/text/index.js';
import { checkOutput, checkTold } from './checkOutput.js';
import { dumpOf } from './readBack.js';
import { junitOf } from './junit.js';
import { readRecording } from './measure.js';
import { fileReason, readPlanFile, Unreadable } from './files.js';

export interface CheckOptions {
	map?: string[];
	log?: string[];
	columns?: string;
	instrument?: string;
	json?: boolean;
	strict?: boolean;
	junit?: string;
	/** A dump of registers as one more witness, and what it leaves open. */
	dump?: string;
	base?: string;
	hex?: boolean;
	grouped?: 'bytes' | 'words';
}

/** A recorded line with what it shows, and whether that was only guessed. */
export interface MappedLine {
	file: string;
	line: string;
	map?: LineMap;
	guessed: boolean;
}

/** All that a check came to. */
export interface Checked {
	plan: Plan;
	whole: WholeCheck;
	logs: CheckedLog[];
	lines: MappedLine[];
	asSet: Outcome;
	asWished: Outcome;
	dump?: HeldDump;
}

const EXITS: Record<Outcome, number> = { within: 0, outside: 1, undecided: 3 };

/** Holds recordings and logs against a plan. Returns the exit code: 0 within, 1 outside, 3 undecided. Throws Unreadable. */
export async function check(file: string, recordings: readonly string[], options: CheckOptions): Promise<number> {
	const plan = await readPlanFile(file);
	const instrument = ppmOf(options.instrument);
	const read = await Promise.all(recordings.map(async (name) => ({ name, recording: await recordingOf(name) })));
	const derivation = derivePlan(plan);
	const { witnesses, lines } = mapped(plan, derivation, read, options.map ?? [], instrument);
	const logs = await Promise.all((options.log ?? []).map((text) => logOf(derivation, plan, text, options.columns)));
	if (witnesses.length === 0 && logs.length === 0) throw new Unreadable(commandText.nothingMapped);
	const whole = checkWhole(plan, witnesses);
	const outcomes = (of: 'asSet' | 'asWished') => worstOf([...whole.aims.map((aim) => aim[of]), ...logs.map(({ outcome }) => outcome)]);
	const dump = options.dump === undefined ? undefined : await dumpOf(handOff(derivation), options.dump, options);
	const checked: Checked = { plan, whole, logs, lines, asSet: outcomes('asSet'), asWished: outcomes('asWished'), ...(dump && { dump }) };
	if (options.json) process.stdout.write(JSON.stringify(checkOutput(checked), null, '\t') + '\n');
	else process.stdout.write(checkTold(checked).join('\n') + '\n');
	if (options.junit !== undefined) await writeJunit(options.junit, checked);
	return EXITS[options.strict ? checked.asSet : checked.asWished];
}

async function writeJunit(file: string, checked: Checked): Promise<void> {
	try {
		await writeFile(file, junitOf(checked));
	} catch (error) {
		throw new Unreadable(`${file}: ${fileReason(error)}`, { cause: error });
	}
}

function ppmOf(text: string | undefined): Rational {
	if (text === undefined) return Rational.zero;
	const number = text.trim().replace(/\s*ppm$/i, '');
	if (!/^\d+(\.\d+)?$/.test(number)) throw new Unreadable(commandText.badPpm(text));
	return Rational.parse(number);
}

async function recordingOf(file: string): Promise<ParsedRecording> {
	try {
		return (await readRecording(file, {})).recording;
	} catch (error) {
		if (error instanceof FormatError) {
			const { found, accepted } = formatText(error);
			throw new Unreadable(`${file}: ${error.line > 0 ? commandText.place(error.line, error.byte) : ''}${found}; ${accepted}`, {
				cause: error
			});
		}
		if (!(error instanceof Error && 'syscall' in error)) throw error;
		throw new Unreadable(`${file}: ${fileReason(error)}`, { cause: error });
	}
}

type Read = { name: string; recording: ParsedRecording };

function mapped(
	plan: Plan,
	derivation: PlanDerivation,
	read: readonly Read[],
	typed: readonly string[],
	instrument: Rational
): { witnesses: Witness[]; lines: MappedLine[] } {
	const told = typed.map((text) => {
		const map = readMap(text);
		if (!map) throw new Unreadable(commandText.badMap(text));
		const meant = meantBy(plan, map.aim, map.role);
		if (!meant) throw new Unreadable(commandText.noAim(map.aim));
		const file = read.find(({ name }) => name === map.file) ?? read.find(({ name }) => basename(name) === basename(map.file));
		if (!file) throw new Unreadable(commandText.noFile(map.file));
		const line = file.recording.lines.find(({ name }) => name === map.line);
		if (!line)
			throw new Unreadable(
				commandText.noLine(
					map.file,
					map.line,
					file.recording.lines.map(({ name }) => name)
				)
			);
		return { file, line, meant };
	});
	const taken = new Set(told.map(({ line }) => line));
	const free = read.flatMap((file) => file.recording.lines.filter((line) => !taken.has(line)).map((line) => ({ file, line })));
	const offers = offersOf(derivation);
	// Several recordings may show the same line of the plan.
	const guesses = read.flatMap(({ name }) =>
		guessMaps(
			free.filter(({ file }) => file.name === name).map(({ line, file }) => ({ line: line.name, ...steadyOf(line, file.recording) })),
			offers.filter(
				(offer) => !told.some(({ file, meant }) => file.name === name && meant.aim === offer.aim && sameRole(meant, offer, plan))
			)
		)
	);
	const all = [
		...told.map(({ file, line, meant }) => ({ file, line, map: meant, guessed: false })),
		...free.map(({ file, line }, i) => ({ file, line, map: guesses[i], guessed: true }))
	];
	return {
		witnesses: all.flatMap(({ file, line, map }) => (map ? [witnessOf(file, line, map, instrument)] : [])),
		lines: all.map(({ file, line, map, guessed }) => ({ file: file.name, line: line.name, guessed, ...(map && { map }) }))
	};
}

/** A role that no line has is the first one's. */
function sameRole(meant: LineMap, offer: Offer, plan: Plan): boolean {
	if (meant.role === offer.role) return true;
	return meant.role === 'pin' && offer.names.includes(plan.aims.find(({ id }) => id === meant.aim)!.name);
}

function witnessOf({ name, recording }: Read, line: ParsedLine, { aim, role }: LineMap, instrument: Rational): Witness {
	const step =
		line.step && recording.stepFrom !== 'hand' ? { step: line.step.step, raster: line.step.raster } : { step: recording.resolution };
	return { recording: name, line: line.name, aim, role, trace: line.trace, step, instrument };
}

function steadyOf({ trace }: ParsedLine, { start, end }: ParsedRecording): { steady?: { period: number; high: number } } {
	const { period, high } = measurePulses(trace, { start, end: end + 1 });
	return period && high ? { steady: { period: period.mean.toNumber(), high: high.mean.toNumber() } } : {};
}

/** Every line that the plan has, with its names and what it does. */
function offersOf(derivation: PlanDerivation): Offer[] {
	const { plan } = derivation;
	const { lanes } = planSystem(derivation);
	const known = new Set<string>();
	return lanes.flatMap(({ aim, role, detail, shows }): Offer[] => {
		const one = plan.aims.find(({ id }) => id === aim)!;
		const key = `${aim} ${role}`;
		if (detail || known.has(key) || shows.kind === 'counter') return [];
		known.add(key);
		const pin = Object.values(one.pins);
		const first = role === 'pin' || role === 'main';
		const names = [
			lineName(one.name, role),
			lineName(one.id, role),
			...(first ? [one.name, one.id, ...pin] : []),
			...(role === 'pin' || role === 'main' ? [] : [role])
		];
		return [{ aim, role: role === 'events' ? 'event' : role, names, ...plannedSteady(derivation, aim, role) }];
	});
}

function plannedSteady({ aims }: PlanDerivation, aim: string, role: string): { steady?: { period: number; high: number } } {
	const pulse = aims.find((one) => one.aim.id === aim)?.pulse;
	if (!pulse || (role !== 'pin' && role !== 'main')) return {};
	const period = pulse.period.toNumber();
	const duty = pulse.duty.toNumber();
	return { steady: { period, high: period * (pulse.activeLow ? 1 - duty : duty) } };
}

async function logOf(derivation: PlanDerivation, plan: Plan, text: string, columns: string | undefined): Promise<CheckedLog> {
	const at = text.lastIndexOf('=');
	if (at < 0) throw new Unreadable(commandText.badLog(text));
	const [file, typed] = [text.slice(0, at), text.slice(at + 1)];
	const meant = meantBy(plan, typed, '');
	if (!meant) throw new Unreadable(commandText.noAim(typed));
	let content: string;
	try {
		content = await readFile(file, 'utf8');
	} catch (error) {
		throw new Unreadable(`${file}: ${fileReason(error)}`, { cause: error });
	}
	const pairs = readPairs(content, columnsOf(content, columns));
	if (pairs.rows.length === 0) throw new Unreadable(commandText.noPairs(file));
	const sweep: Sweep = {
		id: 'log',
		name: file,
		aim: meant.aim,
		of: '',
		setUnit: pairs.units[0],
		readUnit: pairs.units[1],
		error: '',
		setBy: '',
		readBy: '',
		rows: pairs.rows
	};
	const found = checkLog(derivation, sweep, plan.instruments);
	if (!found) throw new Unreadable(commandText.nothingRead(typed));
	return found;
}

/** Which values of a line were set and read: by number from 1, or by what stands over them. */
function columnsOf(content: string, columns: string | undefined): [number, number] | undefined {
	if (columns === undefined) return undefined;
	const wanted = columns.split(',').map((one) => one.trim());
	if (wanted.length !== 2) throw new Unreadable(commandText.badColumns(columns));
	const headings = (readPairs(content).headings ?? []).map((one) => one.toLowerCase());
	const found = wanted.map((one) => {
		if (/^\d+$/.test(one)) return Number(one) - 1;
		const name = one.toLowerCase();
		const exact = headings.indexOf(name);
		return exact >= 0 ? exact : headings.findIndex((heading) => heading.replace(/\s*[([].*$/, '').trim() === name);
	});
	if (found.some((one) => one < 0)) throw new Unreadable(commandText.badColumns(columns));
	return found as [number, number];
}
