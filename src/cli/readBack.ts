import { dumpText } from '../core/formats/index.js';
import { handOff, holdDump, type DumpWords, type HandOff, type HeldDump } from '../core/handoff/index.js';
import { derivePlan } from '../core/plan/index.js';
import { commandText, dumpTroubleText, hex, registerFindingText } from '../lib/text/index.js';
import { bytesOf, readPlanFile, Unreadable } from './files.js';
import type { ReadBackOutput } from './shapes.js';

export interface ReadBackOptions {
	base?: string;
	hex?: boolean;
	grouped?: 'bytes' | 'words';
	json?: boolean;
}

/** Holds a dump against a plan. Returns 0 where nothing differs, else 1. Throws Unreadable. */
export async function readBackOf(file: string, dump: string, options: ReadBackOptions): Promise<number> {
	const of = handOff(derivePlan(await readPlanFile(file)));
	const { back, quantities, registers } = await dumpOf(of, dump, options);
	const output: ReadBackOutput = {
		format: 'nolvet-read-back',
		version: 1,
		plan: of.derivation.plan.name,
		quantities: Object.fromEntries([...back.quantities].map(([unit, own]) => [unit, Object.fromEntries(own)])),
		differing: quantities.flatMap(({ unit, quantity, planned, read, differs }) =>
			differs ? [{ quantity: `${unit}.${quantity}`, planned: planned!, read: read! }] : []
		),
		registers: registers.map(({ register, planned, decided, read, known, differing }) => ({
			reg: register.key,
			address: register.address,
			bits: register.bits,
			planned: Number(planned & decided),
			decided: Number(decided),
			read: Number(read & known),
			known: Number(known),
			differing: Number(differing)
		})),
		findings: back.findings
	};
	if (options.json) process.stdout.write(`${JSON.stringify(output, null, '\t')}\n`);
	else for (const line of linesOf(output)) process.stdout.write(`${line}\n`);
	return output.differing.length === 0 && registers.every(({ differing }) => differing === 0n) ? 0 : 1;
}

/** A dump's file laid on a plan's registers; its troubles go to the error output. Throws Unreadable. */
export async function dumpOf(of: HandOff, file: string, options: ReadBackOptions): Promise<HeldDump> {
	if (!of.binding) throw new Unreadable(of.findings.length === 0 ? commandText.noRegisters : commandText.badBinding);
	const held = holdDump(of, dumpText(await bytesOf(file)), wordsOf(options))!;
	tellTroubles(held.dump, file);
	return held;
}

/** Throws Unreadable. */
function wordsOf({ base, hex: unmarked, grouped }: ReadBackOptions): DumpWords {
	const at = base === undefined ? undefined : Number(base);
	if (at !== undefined && !Number.isSafeInteger(at)) throw new Unreadable(`--base ${base}: ${commandText.base}`);
	return { ...(at !== undefined && { base: at }), ...(unmarked !== undefined && { hex: unmarked }), ...(grouped && { grouped }) };
}

/** Throws Unreadable where nothing is left. */
function tellTroubles({ parts, troubles }: HeldDump['dump'], name: string): void {
	for (const { line, trouble } of troubles) process.stderr.write(`${name}: ${line}: ${dumpTroubleText(trouble)}\n`);
	if (parts.length === 0) throw new Unreadable(`${name}: ${dumpTroubleText('not-read')}`);
}

function linesOf({ quantities, differing, registers, findings }: ReadBackOutput): string[] {
	const read = Object.entries(quantities).flatMap(([unit, own]) => {
		const told = Object.entries(own).map(([quantity, value]) => `${quantity}=${String(value)}`);
		return told.length === 0 ? [] : [`${unit}: ${told.join(' ')}`];
	});
	return [
		...read,
		...differing.map((one) => `differs: ${one.quantity}: ${String(one.planned)} planned, ${String(one.read)} read`),
		...registers.flatMap(({ reg, bits, planned, read: there, differing: off }) =>
			off === 0 ? [] : [`differs: ${reg}: ${hex(planned, bits)} planned, ${hex(there, bits)} read, bits ${hex(off, bits)}`]
		),
		...findings.map((finding) => `${finding.join(' ')}: ${registerFindingText(finding)}`)
	];
}
