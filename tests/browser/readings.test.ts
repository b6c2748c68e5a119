import { Key } from 'selenium-webdriver';
import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { fernhollow } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

let page: Page;
let path: string;
beforeAll(async () => {
	page = await Page.open(inject('base'));
	path = `/plan/${await page.makePlan({ ...fernhollow(), name: 'Read off' })}/bench`;
	await page.go(path);
	await page.press('Readings');
});
afterAll(() => page.close());
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

const to = (entry: string) =>
	page.driver.executeScript(
		`[...document.querySelectorAll('nav[aria-label="Readings and sweeps"] button')].find((b) => b.textContent.includes(arguments[0])).click()`,
		entry
	);

describe('readings', () => {
	test('that were typed are held against plan and wish, with what their instrument states', async () => {
		await page.until('[data-testid=readings]', 'Type what a meter or a log shows');
		await page.press('Add a reading');
		await page.type('Reading 1', '1.2002 kHz');
		await page.until('[data-testid=reading]', /1.2\s*kHz.*166\.7|167\s*ppm/);
		await page.until('[data-testid=reading]', 'within, not explained');
		await to('Instruments');
		await page.press('Add an instrument');
		await page.type('Name of instrument 1', 'bench counter');
		await page.type('Error of its time base of instrument 1', '100 ppm');
		await to('Readings');
		await page.choose('Instrument of reading 1', 'bench counter');
		await page.until('[data-testid=reading]', 'explained');
		await to('Instruments');
		await page.type('Believed from of instrument 1', '2 kHz');
		await to('Readings');
		await page.until('[data-testid=reading]', 'proves nothing');
		await page.type('Reading 1', 'fast');
		await page.until('[data-testid=reading]', 'a number with its unit is wanted');
		await page.chord(Key.CONTROL, 'z');
		await page.holds('Reading 1', '1.2002 kHz');
	});

	test('of a log that is pasted are a sweep, row by row, with the line through them', async () => {
		await page.press('Add a sweep');
		await page.choose('What was set and read', 'compare value set, high width read');
		await page.press('Paste a log');
		// 72 MHz: a tick is 1/72 us.
		const log = [1000, 21_000, 30_000].map(
			(compare, i) => `[08:00:0${i}] compare=${compare} high=${((compare + (i === 2 ? 100 : 0)) / 72).toFixed(2)} us`
		);
		await (await page.field('Log')).sendKeys(['boot', ...log].join('\n'));
		await page.until('[data-testid=log-read]', '3 rows of 2 values, 1 other lines');
		await page.press('Take 3 rows');
		await page.until('[data-testid=sweep-says]', '1 of 3 rows are not explained');
		await page.type('Read, row 3', '416.67 us');
		await page.until('[data-testid=sweep-says]', 'Every row is explained');
		await page.until('[data-testid=save-state]', /^saved$/);
		await page.driver.navigate().refresh();
		await page.press('Readings');
		await to('sweep of dew heater A');
		await page.until('[data-testid=sweep-says]', 'Every row is explained');
	});

	test('stay with the plan; their instruments are on the shelf of the next one', async () => {
		await page.go(`/plan/${await page.makePlan({ ...fernhollow(), name: 'Next' })}/bench`);
		await page.press('Readings');
		await to('Instruments');
		await page.press('bench counter, 100 ppm');
		await page.holds('Error of its time base of instrument 1', '100 ppm');
	});
});
