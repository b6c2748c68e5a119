import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import { fernhollow, newPlan } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

/** What axe-core finds on every station and dialog, in both themes: nothing. */
const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Violation {
	id: string;
	nodes: { target: string[]; failureSummary?: string }[];
}

let page: Page;
let plan: string;
let empty: string;

beforeAll(async () => {
	page = await Page.open(inject('base'));
	plan = `/plan/${await page.makePlan({ ...fernhollow(), readings: [READING] })}`;
	empty = `/plan/${await page.makePlan(newPlan('Empty', fernhollow().part))}`;
});
afterAll(() => page.close());

/** One reading is enough for the check to have something to say. */
const READING = { id: 'read', aim: 'heater-a', of: 'frequency', line: 'pin', value: '600 Hz', error: '', by: '' };

/** Each rule that is broken, with the places where it is. */
async function broken(): Promise<string[]> {
	await page.driver.executeScript(AXE);
	const found = await page.driver.executeAsyncScript<Violation[]>(
		`const done = arguments[arguments.length - 1]; axe.run(document, { resultTypes: ['violations'] }).then(({ violations }) => done(violations), (error) => done([{ id: String(error), nodes: [] }]));`
	);
	return found.map(
		({ id, nodes }) =>
			`${id}: ${nodes
				.slice(0, 6)
				.map(({ target, failureSummary }) => `${target.join(' ')} ${(failureSummary ?? '').split('\n').slice(1, 2).join('').trim()}`)
				.join(' | ')} (${nodes.length})`
	);
}

const STATIONS: [string, () => string, string][] = [
	['Plans', () => '/plans', 'main'],
	['the sentences', () => `${plan}/aims`, '[data-testid=aim]'],
	['a shape’s working', () => `${plan}/aims#focus-coil`, '#focus-coil [data-testid=working]'],
	['a pattern’s working', () => `${plan}/aims#strobe`, '#strobe [data-testid=words]'],
	['no aim yet', () => `${empty}/aims`, '[data-testid=kinds]'],
	['the board', () => `${plan}/board`, '[data-testid=board]'],
	['the clock', () => `${plan}/clock`, '[data-testid=ladder]'],
	['the relay', () => `${plan}/relay`, '[data-testid=phases]'],
	['the bench', () => `${plan}/bench`, '[data-testid=planned-foot]'],
	['an aim on the bench', () => `${plan}/bench?wind#aim-wind`, '[data-testid=aim-bench]'],
	['the check', () => `${plan}/check`, '[data-testid=plan-verdict]'],
	['Parts', () => '/parts', 'main']
];

const DIALOGS: [string, () => string, () => Promise<void>, string][] = [
	['New plan', () => '/plans', () => page.press('New plan'), 'dialog'],
	['Kinds of aims', () => `${plan}/aims`, () => page.press('Add an aim'), 'dialog [data-testid=kinds]'],
	['Part of this plan', () => `${plan}/clock`, () => page.press(fernhollow().part.name), '[data-testid=differences]'],
	['the command box', () => `${plan}/aims`, () => page.type('Command', 'go'), '[role=listbox] [role=option]']
];

describe.each(['light', 'dark'])('on %s paper', (theme) => {
	beforeAll(async () => {
		await page.go('/plans');
		await page.driver.executeScript(`localStorage.setItem('nolvet-theme', arguments[0])`, theme);
	});
	test.each(STATIONS)('%s', async (_, path, sign) => {
		await page.go(path());
		await page.find(sign);
		expect(await broken()).toEqual([]);
	});
	test.each(DIALOGS)('the dialog %s', async (_, path, open, sign) => {
		await page.go(path());
		await open();
		await page.find(sign);
		expect(await broken()).toEqual([]);
	});
});
