import { Refused } from './api.js';

/** What became of one plan or part of an archive (server/backup/read). */
interface Told {
	what: 'plan' | 'part';
	name: string;
	fate: 'taken' | 'here' | 'newer' | 'beside' | 'refused';
	reason?: string;
}

/** How an archive was taken in. */
export interface Intake {
	told: Told[];
	/** Why it ended early; what was told before is here all the same. */
	broken?: string;
}

/** Sends an archive and hears what becomes of each plan in it. Throws Refused. */
export async function sendArchive(file: File): Promise<Intake> {
	const response = await fetch('/api/backup', { method: 'POST', body: file, headers: { 'content-type': 'application/octet-stream' } });
	const text = await response.text();
	if (!response.ok) throw Refused.from(response.status, text);
	const lines = text
		.split('\n')
		.filter((line) => line !== '')
		.map((line) => JSON.parse(line) as Told & { ended?: boolean });
	const last = lines.findLast(({ ended }) => ended !== undefined);
	const broken = last?.ended ? undefined : (last?.reason ?? 'the server ended before it was through');
	return { told: lines.filter(({ ended }) => ended === undefined), ...(broken !== undefined && { broken }) };
}

/** "3 plans taken in, 1 part here already": what was told, counted. */
export function intakeText({ told }: Intake): string {
	const counts = new Map<string, number>();
	for (const { what, fate } of told) counts.set(`${what} ${fate}`, (counts.get(`${what} ${fate}`) ?? 0) + 1);
	const words = [...counts].map(([key, n]) => {
		const [what, fate] = key.split(' ');
		return `${n} ${what}${n === 1 ? '' : 's'} ${FATES[fate as Told['fate']]}`;
	});
	return words.join(', ') || 'nothing was in it';
}

const FATES: Record<Told['fate'], string> = {
	taken: 'taken in',
	here: 'here already',
	newer: 'brought up to date',
	beside: 'taken in beside another of the same origin',
	refused: 'not taken'
};
