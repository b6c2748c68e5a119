import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import { Key } from 'selenium-webdriver';
import { Page } from './driver.js';

const SAVED = '[data-testid=save-state]';

let page: Page;
beforeAll(async () => {
	page = await Page.open(inject('base'));
});
afterAll(() => page.close());

async function makePlan(name: string): Promise<string> {
	await page.go('/plans');
	await page.press('New plan');
	const field = await page.find('input[placeholder="What board, what job"]');
	await field.sendKeys(name);
	await page.press('Make the plan');
	await page.find('[data-testid=kinds]');
	return new URL(await page.driver.getCurrentUrl()).pathname;
}

describe('a plan of one’s own', () => {
	test('from nothing to a met aim, by sentence', async () => {
		await makePlan('Rain gauge');
		await page.pressField('Pulse train (PWM) 1.2 kHz 35 %');
		await page.type('Name of the signal', 'buzzer');
		await page.type('Rate or period of buzzer', '2 kHz');
		// Heron-32 runs from its 8 MHz internal oscillator at reset: 4000 ticks.
		await page.until('[data-testid=aim]', '3999');
		// Nothing is wrong but that oscillator: 1 % is more than the 0.1 % of the aim.
		await page.until('[data-testid=findings-line]', /0 faults 1 warning .*Internal oscillator alone may be 10000 ppm off/);
	});

	test('five aims can be made, seen and taken away again', async () => {
		for (let i = 0; i < 4; i++) {
			await page.press('Add an aim');
			await page.pressField('Pulse train (PWM) 1.2 kHz 35 %');
		}
		expect((await page.all('[data-testid=aim]')).length).toBe(5);
		await page.choose('Pin, timer and channel of signal 2', 'A8 (Timer A, channel 1)');
		await page.until('[data-testid=findings-line]', '1 fault');
		await page.until('main', 'serves “buzzer” already');
		for (let i = 0; i < 5; i++) await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await page.all('[data-testid=aim]')).length === 1, 5000);
		await page.press('Delete');
		await page.find('[data-testid=kinds]');
		await page.press('Undo');
		await page.until('[data-testid=aim]', '3999');
	});

	test('the command box does things by name', async () => {
		await page.driver.executeScript('document.activeElement.blur()');
		await page.keys('/');
		await page.keys('bench', Key.ENTER);
		await page.until('main', 'plan, predicted');
		await page.keys('/', 'aim: buz', Key.ENTER);
		await page.until('[data-testid=aim]', '3999');
	});

	test('a typed line is shown as the aim that it would be, and becomes it', async () => {
		await page.driver.executeScript('document.activeElement.blur()');
		await page.keys('/', '1.2 kHz 35 % on B6');
		await page.until('[role=listbox]', /Add a pulse train.*Timer D: prescale 1, reload 6666, compare 2333/);
		await page.keys(Key.ENTER);
		await page.until('main', 'B6');
		await page.until('[data-testid=aim]', '3999');
		expect((await page.all('[data-testid=aim]')).length).toBe(2);
		await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await page.all('[data-testid=aim]')).length === 1, 5000);
		await page.keys('/', '20 kHz pair on Q7');
		await page.until('[role=listbox]', 'has nothing for this at Q7');
		await page.keys(Key.ESCAPE, Key.ESCAPE);
	});

	test('dark paper is kept', async () => {
		await page.press('Dark');
		await page.driver.navigate().refresh();
		await page.button('Light');
		expect(await page.driver.executeScript('return document.documentElement.classList.contains("dark")')).toBe(true);
		await page.press('Light');
	});
});

describe('two tabs', () => {
	let first: string;
	let second: string;

	beforeAll(async () => {
		const path = await makePlan('Two tabs');
		await page.pressField('Pulse train (PWM) 1.2 kHz 35 %');
		await page.until(SAVED, /^saved$/);
		first = await page.driver.getWindowHandle();
		await page.driver.switchTo().newWindow('tab');
		await page.go(path);
		await page.find('[data-testid=aim]');
		second = await page.driver.getWindowHandle();
	});

	/** Edits the first tab, then the second, which cannot ask for the newest revision meanwhile, as when both are edited at once. */
	async function editBoth(inFirst: string, inSecond: string) {
		await page.driver.switchTo().window(second);
		await page.driver.executeScript(
			'window.realFetch ??= window.fetch; window.fetch = (url, options) => options?.method === "GET" ? Promise.reject(new TypeError("later")) : window.realFetch(url, options)'
		);
		await page.driver.switchTo().window(first);
		await page.type('Rate or period of signal 1', inFirst);
		await page.until(SAVED, /^saved$/);
		await page.driver.switchTo().window(second);
		await page.type('Rate or period of signal 1', inSecond);
		await page.until('[role=alert]', 'was saved elsewhere');
		await page.driver.executeScript('window.fetch = window.realFetch');
	}

	test('an edit of an older revision is told; the newer one can be taken', async () => {
		await editBoth('2 kHz', '3 kHz');
		await page.press('Take the newer');
		await page.holds('Rate or period of signal 1', '2 kHz');
	});

	test('or one’s own is kept as a copy, and nothing is overwritten', async () => {
		await editBoth('4 kHz', '5 kHz');
		await page.press('Keep mine as a copy');
		await page.holds('Name of the plan', 'Two tabs (my copy)');
		await page.holds('Rate or period of signal 1', '5 kHz');
		await page.driver.switchTo().window(first);
		await page.driver.navigate().refresh();
		await page.holds('Rate or period of signal 1', '4 kHz');
	});

	test('a page left right after an edit still saves it', async () => {
		await page.driver.switchTo().window(first);
		await page.type('Rate or period of signal 1', '7 kHz');
		await page.driver.executeScript('location.href = "/plans"');
		await page.until('main', 'Two tabs');
		await page.driver.navigate().back();
		await page.holds('Rate or period of signal 1', '7 kHz');
	});

	test('a save that fails says so, keeps the edit and tries again', async () => {
		await page.driver.switchTo().window(first);
		await page.driver.executeScript('window.realFetch = window.fetch; window.fetch = () => Promise.reject(new TypeError("down"))');
		await page.type('Rate or period of signal 1', '6 kHz');
		await page.until(SAVED, 'not saved: the server does not answer. Your edits are kept, trying again');
		await page.driver.executeScript('window.fetch = window.realFetch');
		await page.until(SAVED, /^saved$/);
		await page.driver.navigate().refresh();
		await page.holds('Rate or period of signal 1', '6 kHz');
	});
});
