import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { Key } from 'selenium-webdriver';
import { fernhollow } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

const LINE = '[data-testid=findings-line]';
const SAVED = '[data-testid=save-state]';

let page: Page;
beforeAll(async () => {
	const base = inject('base');
	page = await Page.open(base);
	const headers = { 'content-type': 'application/json', origin: base };
	const response = await fetch(`${base}/api/plans`, {
		method: 'POST',
		headers,
		body: JSON.stringify({ document: { ...fernhollow(), name: 'Jobs story' } })
	});
	const { id } = (await response.json()) as { id: string };
	await page.go(`/plan/${id}/aims`);
	await page.find('#azimuth');
});
afterAll(() => page.close());
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

const see = (id: string) => page.driver.executeScript(`document.getElementById('${id}').scrollIntoView()`);
const openWorking = (id: string) => page.driver.executeScript(`document.querySelector('#${id} [aria-expanded]').click()`);

describe('aims of other kinds', () => {
	test('Fernhollow’s are there and met', async () => {
		await page.until(LINE, 'Every aim is met.');
		await see('azimuth');
		expect(await page.until('#azimuth', '16383')).toContain('Timer B clock');
		await page.until('#shutter', '64173');
	});

	test('a tick follows its sentence; another way of counting derives anew; undo brings it back', async () => {
		await see('system-tick');
		await page.until('#system-tick', '59999');
		await page.type('Interval or rate of system tick', '1 kHz');
		// 72 MHz / 1 kHz = 72000 ticks: P = 2, T = 36000.
		await page.until('#system-tick', '35999');
		await page.choose('Timer of system tick', 'Timer E');
		await page.choose('Way of counting of system tick', 'counting up and down');
		await page.until('#system-tick', '36000');
		for (let i = 0; i < 3; i++) await page.chord(Key.CONTROL, 'z');
		await page.until('#system-tick', '59999');
	});

	test('what cannot be is said at once, in numbers, and what is no number stays typed', async () => {
		await page.type('Interval or rate of system tick', '1 h');
		await page.until(LINE, '1 fault');
		await page.until('#system-tick', 'longer than this timer reaches');
		await page.type('Interval or rate of system tick', 'often');
		await page.until('[role=alert]', 'No number can be read here');
		await page.until(SAVED, /^saved$/);
		await page.driver.navigate().refresh();
		await page.find('#system-tick');
		await see('system-tick');
		await page.holds('Interval or rate of system tick', 'often');
		await page.type('Interval or rate of system tick', '10 ms');
		await page.until(LINE, 'Every aim is met.');
	});

	test('a wide range is cut into bands that are shown with their switch-over points', async () => {
		await see('wind');
		await page.type('Lowest rate of wind cups', '20 Hz');
		await page.type('Highest rate of wind cups', '2 kHz');
		await page.type('Wished step of wind cups', '0.1 %');
		await openWorking('wind');
		const table = await page.until('[data-testid=job-table]', 'Left again below');
		expect(table).toContain('1.3091 kHz');
		await page.find('canvas[aria-label^="Relative step against rate"]');
	});

	test('a pair tells what its dead time leaves, and a pulse that is swallowed', async () => {
		await page.choose('Add an aim of another kind', 'a complementary pair with dead time');
		const name = 'pair 6';
		await page.until('main', 'Complementary high');
		// Timer A is the heater's: the pair is told so.
		await page.until(LINE, '1 fault');
		await page.type(`Duty of ${name}`, '1 %');
		await page.until('main', 'is no longer than the dead time of 1 µs: it never comes.');
		await page.chord(Key.CONTROL, 'z');
		await page.chord(Key.CONTROL, 'z');
		await page.until(LINE, 'Every aim is met.');
	});

	test('a job is deleted with a word, and brought back by it', async () => {
		const before = (await page.all('article')).length;
		await page.driver.executeScript(
			`[...document.querySelectorAll('#azimuth button')].find((b) => b.textContent.trim() === 'Delete').click()`
		);
		await page.driver.wait(async () => (await page.all('article')).length === before - 1, 5000);
		await page.until('[role=status]:has(button)', 'azimuth encoder was deleted.');
		await page.press('Undo');
		await page.driver.wait(async () => (await page.all('article')).length === before, 5000);
	});

	test('one of every kind is added, copied, and taken away again', async () => {
		const before = (await page.all('article')).length;
		await page.choose('Add an aim of another kind', 'a pulse after a trigger');
		await page.driver.wait(async () => (await page.all('article')).length === before + 1, 5000);
		await page.until(LINE, 'Every aim is met.');
		await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await page.all('article')).length === before, 5000);
	});
});
