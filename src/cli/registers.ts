import { derivePlan } from '../core/plan/index.js';
import { handOff, markOf, orderFindings, type HandOff } from '../core/handoff/index.js';
import { accessText, commandText, hex, orderFindingText, registerFindingText, stepText } from '../lib/text/index.js';
import { readPlanFile } from './files.js';
import type { RegistersOutput } from './shapes.js';

/** Prints the set-up of a plan in its order, and what its registers come to. Returns the exit code. Throws Unreadable. */
export async function registers(file: string, json: boolean): Promise<number> {
	const plan = await readPlanFile(file);
	const of = handOff(derivePlan(plan));
	if (!of.binding && of.findings.length === 0) {
		process.stderr.write(`nolvet: ${commandText.noRegisters}\n`);
		return 2;
	}
	if (json) process.stdout.write(`${JSON.stringify(registersOutput(of), null, '\t')}\n`);
	else for (const line of setUpLines(of)) process.stdout.write(`${line}\n`);
	for (const finding of of.findings) process.stderr.write(`${finding[0]} ${finding.slice(1).join(' ')}: ${registerFindingText(finding)}\n`);
	for (const finding of orderFindings(of)) process.stderr.write(`${finding.code} ${finding.unit}: ${orderFindingText(finding)}\n`);
	return of.findings.length === 0 ? 0 : 1;
}

function setUpLines({ accesses, registers: settled }: HandOff): string[] {
	const steps = accesses.flatMap((access, i) => {
		const unit = access.for[0].split('.')[0];
		const begins = i === 0 || accesses[i - 1].step !== access.step || accesses[i - 1].for[0].split('.')[0] !== unit;
		const value =
			access.do === 'read' ? '' : ` ${hex(access.value, access.bits)}${isWhole(access) ? '' : ` under ${hex(access.mask, access.bits)}`}`;
		const line = `  ${access.do.padEnd(5)} ${access.reg} at ${hex(access.address, 32)}${value}  ${accessText(access)}`;
		return begins ? [`${unit}: ${stepText(access.step)}`, line] : [line];
	});
	const table = settled.map(({ register, value, known, decided }) => {
		const told = known | decided;
		const unknown = told === (1n << BigInt(register.bits)) - 1n ? '' : `, of ${hex(told, register.bits)}`;
		return `${register.key} ${hex(register.address, 32)} ${hex(value & (known | decided), register.bits)}${unknown}`;
	});
	return [...steps, '', ...table];
}

const isWhole = (access: { mask: number; bits: number }) => access.mask === 2 ** access.bits - 1;

/** What the command prints with --json. */
export function registersOutput({ derivation, accesses, registers: settled, findings, quantities }: HandOff): RegistersOutput {
	return {
		format: 'nolvet-registers',
		version: 1,
		plan: derivation.plan.name,
		state: markOf(derivation.plan),
		quantities: Object.fromEntries([...quantities].map(([unit, own]) => [unit, Object.fromEntries(own)])),
		accesses: accesses,
		registers: settled.map(({ register, value, known, decided }) => ({
			reg: register.key,
			address: register.address,
			bits: register.bits,
			reset: register.reset === undefined ? null : Number(register.reset),
			value: Number(value & known),
			known: Number(known),
			decided: Number(decided)
		})),
		findings
	};
}
