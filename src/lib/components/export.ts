import type { Plan } from '../../core/plan/index.js';

/** Hands a file to the browser to save. */
export function saveFile(name: string, content: BlobPart, type: string): void {
	const url = URL.createObjectURL(new Blob([content], { type }));
	const link = document.createElement('a');
	link.href = url;
	link.download = name;
	link.click();
	setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** The plan's document as a file that Plans reads again. Recordings stay where they are. */
export function exportPlan(plan: Plan, made: Plan['made']): void {
	saveFile(`${fileName(plan.name)}.nolvet.json`, JSON.stringify({ ...plan, made }, null, '\t'), 'application/json');
}

export function fileName(text: string): string {
	return (
		text
			.trim()
			.replace(/[^\p{L}\p{N}]+/gu, '-')
			.replace(/^-|-$/g, '')
			.toLowerCase() || 'plan'
	);
}
