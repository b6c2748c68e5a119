import { fernhollow, setStep } from '../src/core/plan/index.js';
import { shippedPart } from '../src/core/part/index.js';
import { call, dataFolder, dropFolder, hearPlan, pause, start, stop } from '../tests/started.js';
import type { Report } from './report.js';

const MANY = 1000;
const LOOKS = 9;
const AT_ONCE = 8;
const REST_MS = 3000;
const EDITS = 50;

/** The pages of a thousand plans and of a thousand profiles, as a browser asks for them, on a database and a built application of their own. */
export async function benchLists(report: Report): Promise<void> {
	const data = dataFolder();
	const server = await start(data);
	const address = server.address!;
	try {
		const text = JSON.stringify(shippedPart('sprat-8'));
		await inTurns(MANY, (i) => call(address, 'POST', '/api/plans', { document: { ...fernhollow(), name: `Board ${i}` } }));
		await inTurns(MANY, () => call(address, 'POST', '/api/parts', { text }));
		for (const list of ['plans', 'parts']) {
			const began = performance.now();
			report(`list_${list}_1000_first`, await look(`${address}/${list}`), 'ms');
			while (await pending(address, list)) await pause(500);
			report(`list_${list}_1000_worked_out`, performance.now() - began, 'ms');
			await pause(REST_MS);
			const page: number[] = [];
			for (let i = 0; i < LOOKS; i++) page.push(await look(`${address}/${list}`));
			report(`list_${list}_1000`, page.sort((a, b) => a - b)[LOOKS >> 1], 'ms');
		}
		await benchHeard(report, address);
		const began = performance.now();
		const archive = await (await fetch(`${address}/api/backup`)).arrayBuffer();
		report('backup_1000', performance.now() - began, 'ms');
		report('backup_1000_size', archive.byteLength / 1e6, 'MB');
	} finally {
		await stop(server.child);
		dropFolder(data);
	}
}

/** From the sending of an edit to its being heard elsewhere, in the middle and at worst. */
async function benchHeard(report: Report, address: string): Promise<void> {
	const plan = fernhollow();
	const { body } = await call(address, 'POST', '/api/plans', { document: plan });
	const id = body.id as string;
	const { heard, close } = await hearPlan(address, id);
	const times: number[] = [];
	for (let i = 1; i <= EDITS; i++) {
		const step = setStep({ ...plan, note: i === 1 ? plan.note : `note ${i - 1}` }, ['note'], `note ${i}`, 'note');
		const began = performance.now();
		await call(address, 'POST', `/api/plans/${id}/steps`, { base: i, steps: [{ kind: 'edit', merged: false, step }] });
		while (!heard.includes(`revision ${i + 1}`)) await pause(1);
		times.push(performance.now() - began);
	}
	close();
	times.sort((a, b) => a - b);
	report('edit_heard', times[EDITS >> 1], 'ms');
	report('edit_heard_worst', times[EDITS - 1], 'ms');
}

/** Milliseconds until all of a page is there. */
async function look(url: string): Promise<number> {
	const began = performance.now();
	await (await fetch(url)).arrayBuffer();
	return performance.now() - began;
}

/** Is something of the list still to be worked out? The page says so. */
async function pending(address: string, list: string): Promise<boolean> {
	return (await (await fetch(`${address}/${list}`)).text()).includes('being looked at');
}

async function inTurns(count: number, work: (i: number) => Promise<unknown>): Promise<void> {
	let next = 0;
	await Promise.all(
		Array.from({ length: AT_ONCE }, async () => {
			while (next < count) await work(next++);
		})
	);
}
