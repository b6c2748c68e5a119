import { kindOf, type AimDerivation } from '../core/aims/index.js';
import { checkPlan, findingPath, type Finding } from '../core/check/index.js';
import { derivePlan, type Plan, type PlanDerivation } from '../core/plan/index.js';
import { commandText, figureName, findingText, quantityText } from '../lib/text/index.js';
import { readPlanFile } from './files.js';
import type { DeriveOutput } from './shapes.js';

/** Derives a plan and prints what it comes to, and its faults. Returns the exit code. Throws Unreadable. */
export async function derive(file: string, json: boolean): Promise<number> {
	const plan = await readPlanFile(file);
	const derivation = derivePlan(plan);
	const findings = checkPlan(derivation);
	const faults = findings.filter(({ severity }) => severity === 'fault');
	if (json) process.stdout.write(JSON.stringify(deriveOutput(derivation, findings), null, '\t') + '\n');
	else for (const aim of derivation.aims) process.stdout.write(aimLines(aim));
	const out = json ? process.stderr : process.stdout;
	for (const fault of faults) out.write(findingLine(fault, plan));
	for (const finding of findings.filter(({ severity }) => severity === 'warning'))
		process.stderr.write(`${commandText.warning}: ${findingLine(finding, plan)}`);
	return faults.length === 0 ? 0 : 1;
}

/** A finding as a line: "code path: sentence". */
function findingLine(finding: Finding, plan: Plan): string {
	return `${finding.code} ${findingPath(finding, plan)}: ${findingText(finding)}\n`;
}

/** What the command prints with --json. */
export function deriveOutput({ plan, clocks, aims }: PlanDerivation, findings: readonly Finding[]): DeriveOutput {
	const shown = (of: (finding: Finding) => boolean) =>
		findings.filter(of).map((finding) => ({ code: finding.code, severity: finding.severity, path: findingPath(finding, plan) }));
	return {
		format: 'nolvet-derive',
		version: 1,
		plan: plan.name,
		nodes: Object.fromEntries(
			plan.part.clock.map(({ id }) => {
				const hz = clocks.rate(id);
				return [id, hz && { hz: hz.toString() }];
			})
		),
		aims: aims.map((derivation) => ({
			id: derivation.aim.id,
			name: derivation.aim.name,
			kind: derivation.aim.kind,
			timer: derivation.aim.timer,
			settings: kindOf(derivation.aim).set(derivation),
			figures: Object.fromEntries(derivation.figures.map(({ name, value }) => [name, value.toString()])),
			findings: shown(({ aim }) => aim === derivation.aim.id)
		})),
		findings: shown(({ aim }) => aim === undefined)
	};
}

function aimLines(derivation: AimDerivation): string {
	const { aim, timer, figures } = derivation;
	const settings = Object.entries(kindOf(aim).set(derivation)).map(([name, value]) => `${name}=${value}`);
	const told = figures.map(({ name, value, unit }) => `${figureName(name)} ${quantityText(value, unit)}`);
	return `${[`${aim.name} (${timer?.name ?? aim.timer})`, settings.join(' '), told.join(', ')].filter(Boolean).join('\n  ')}\n`;
}
