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
		await page.chord(Key.CONTROL, 'z');
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

describe('two windows on one plan', () => {
	let first: string;
	let second: string;
	let path: string;
	const RATE = 'Rate or period of signal 1';

	beforeAll(async () => {
		path = await makePlan('Two windows');
		await page.pressField('Pulse train (PWM) 1.2 kHz 35 %');
		await page.until(SAVED, /^saved$/);
		first = await page.driver.getWindowHandle();
		await page.driver.switchTo().newWindow('window');
		await page.go(path);
		await page.find('[data-testid=aim]');
		second = await page.driver.getWindowHandle();
	});

	const to = (window: string) => page.driver.switchTo().window(window);

	/** Edits the first window, then the second, which hears nothing of it until its own edit is there. */
	async function editBoth(inFirst: () => Promise<void>, inSecond: () => Promise<void>) {
		await to(second);
		await page.driver.executeScript(
			'window.realFetch ??= window.fetch; window.fetch = (url, options) => String(url).startsWith("/api/plans") ? Promise.reject(new TypeError("later")) : window.realFetch(url, options)'
		);
		await to(first);
		await inFirst();
		await page.until(SAVED, /^saved$/);
		await to(second);
		await inSecond();
		await page.until(SAVED, 'not saved');
		await page.driver.executeScript('window.fetch = window.realFetch');
	}

	test('what one saves the other shows by itself, and can take it back', async () => {
		await page.type(RATE, '1.5 kHz');
		await page.until(SAVED, /^saved$/);
		await to(first);
		await page.holds(RATE, '1.5 kHz');
		await page.chord(Key.CONTROL, 'z');
		await page.until(SAVED, /^saved$/);
		await to(second);
		await page.holds(RATE, '1 kHz');
	});

	test('edits of different places go together, whoever saves first', async () => {
		await editBoth(
			() => page.type(RATE, '1.6 kHz'),
			() => page.type('Name of the plan', 'Both windows')
		);
		await page.until(SAVED, /^saved$/);
		await page.holds(RATE, '1.6 kHz');
		await page.holds('Name of the plan', 'Both windows');
		await to(first);
		await page.holds('Name of the plan', 'Both windows');
	});

	test('edits of one place are laid side by side, and what is chosen is saved for both', async () => {
		await editBoth(
			() => page.type(RATE, '2 kHz'),
			() => page.type(RATE, '3 kHz')
		);
		await page.until('[data-testid=clash-bar]', 'at the same place');
		await page.press('Choose …');
		await page.until('[data-testid=clash]', /signal 1 · rate\s*3 kHz\s*2 kHz/);
		await page.pressField('Yours: signal 1 · rate');
		await page.press('Save as chosen');
		await page.until(SAVED, /^saved$/);
		await to(first);
		await page.holds(RATE, '3 kHz');
		await to(second);
		await page.chord(Key.CONTROL, 'z');
		await page.holds(RATE, '2 kHz');
		await page.until(SAVED, /^saved$/);
	});

	test('or the newer one is taken; or one’s own is kept as a copy, and nothing is overwritten', async () => {
		await editBoth(
			() => page.type(RATE, '6 kHz'),
			() => page.type(RATE, '7 kHz')
		);
		await page.until('[data-testid=clash-bar]', 'at the same place');
		await page.press('Take the newer');
		await page.holds(RATE, '6 kHz');
		await editBoth(
			() => page.type(RATE, '4 kHz'),
			() => page.type(RATE, '5 kHz')
		);
		await page.until('[data-testid=clash-bar]', 'at the same place');
		await page.press('Keep mine as a copy');
		await page.holds('Name of the plan', 'Both windows (my copy)');
		await page.holds(RATE, '5 kHz');
		await page.go(path);
		await page.holds(RATE, '4 kHz');
	});

	test('a page left right after an edit still saves it', async () => {
		await to(first);
		await page.type(RATE, '7 kHz');
		await page.driver.executeScript('location.href = "/plans"');
		await page.until('main', 'Both windows');
		await page.driver.navigate().back();
		await page.holds(RATE, '7 kHz');
	});

	test('a save that fails says so, keeps the edit and tries again', async () => {
		await to(first);
		await page.driver.executeScript('window.realFetch = window.fetch; window.fetch = () => Promise.reject(new TypeError("down"))');
		await page.type(RATE, '6 kHz');
		await page.until(SAVED, 'not saved: the server does not answer. Your edits are kept, trying again');
		await page.driver.executeScript('window.fetch = window.realFetch');
		await page.until(SAVED, /^saved$/);
		await page.driver.navigate().refresh();
		await page.holds(RATE, '6 kHz');
	});
});
