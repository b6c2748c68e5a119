import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { derivePlan } from '../core/plan/index.js';
import { codeOf, handOff, markOf, PLAIN_STYLE, readStyle, type CodeStyle } from '../core/handoff/index.js';
import { codeWords, commandText, registerFindingText } from '../lib/text/index.js';
import { fileReason, readJsonFile, readPlanFile, Unreadable } from './files.js';
import type { CodeOutput } from './shapes.js';

export interface CodeOptions {
	out?: string;
	style?: string;
	check?: string;
	json?: boolean;
}

/** Writes the C of a plan into a folder, or prints it; with `check`, says whether what lies there is still that. Returns the exit code. Throws Unreadable. */
export async function code(file: string, options: CodeOptions): Promise<number> {
	const plan = await readPlanFile(file);
	const style = options.style === undefined ? PLAIN_STYLE : await styleOf(options.style);
	const of = handOff(derivePlan(plan));
	if (!of.binding) {
		process.stderr.write(`nolvet: ${of.findings.length === 0 ? commandText.noRegisters : commandText.badBinding}\n`);
		return 2;
	}
	const files = codeOf(of, style, codeWords(plan, markOf(plan)));
	for (const finding of of.findings) process.stderr.write(`${finding[0]} ${finding.slice(1).join(' ')}: ${registerFindingText(finding)}\n`);
	const failed = of.findings.length === 0 ? 0 : 1;
	if (options.check !== undefined) return Math.max(failed, await differing(options.check, files));
	if (options.out !== undefined) await writeAll(options.out, files);
	if (options.json) process.stdout.write(`${JSON.stringify(codeOutput(plan.name, files), null, '\t')}\n`);
	else if (options.out === undefined) for (const [name, text] of files) process.stdout.write(`/* ${name} */\n${text}`);
	return failed;
}

function codeOutput(plan: string, files: ReadonlyMap<string, string>): CodeOutput {
	return { format: 'nolvet-code', version: 1, plan, files: Object.fromEntries(files) };
}

async function styleOf(file: string): Promise<CodeStyle> {
	const read = readStyle(await readJsonFile(file));
	if ('problem' in read) throw new Unreadable(`${file}: ${commandText.badStyle}: ${read.problem}`);
	return read.style;
}

async function writeAll(folder: string, files: ReadonlyMap<string, string>): Promise<void> {
	try {
		await mkdir(folder, { recursive: true });
		for (const [name, text] of files) await writeFile(join(folder, name), text);
	} catch (error) {
		throw new Unreadable(`${folder}: ${fileReason(error)}`, { cause: error });
	}
}

/** 1 where a file is not what the plan gives, which is said. */
async function differing(folder: string, files: ReadonlyMap<string, string>): Promise<number> {
	let outcome = 0;
	for (const [name, text] of files) {
		const there = await readFile(join(folder, name), 'utf8').catch(() => undefined);
		if (there === text) continue;
		process.stdout.write(`${join(folder, name)}: ${there === undefined ? commandText.codeMissing : commandText.codeDiffers}\n`);
		outcome = 1;
	}
	return outcome;
}
