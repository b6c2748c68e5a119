import { readFileSync } from 'node:fs';
import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { Key } from 'selenium-webdriver';
import { shippedPart } from '../../src/core/part/index.js';
import { Page } from './driver.js';

const FINDINGS = '[data-testid=part-findings]';
const STATE = '[data-testid=part-state]';
const FORM = '[data-testid=part-form]';

let page: Page;
beforeAll(async () => {
	page = await Page.open(inject('base'));
});
afterAll(() => page.close());
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

/** The outline's entry of that name. */
const entry = (name: string) => page.press(name);

describe('the shelf', () => {
	test('has the parts that come with Nolvet, to look at but not to change', async () => {
		await page.go('/parts');
		for (const part of ['Heron-32', 'Plover-16', 'Sprat-8']) await page.button(part);
		await page.press('Sprat-8');
		await page.until('header', 'comes with Nolvet and stays as it is');
		await page.until(FINDINGS, 'The profile is valid');
	});

	test('a copy can be renamed and edited; all of it is undone and done again, and kept', async () => {
		await page.press('Copy part');
		await page.until(STATE, /^saved$/);
		await page.type('Name of the part', 'Sprat-8 of mine');
		await entry('Timer 1');
		await page.type('timer-1 › width in bits', '12');
		await page.keys(Key.TAB);
		await page.until(STATE, /^saved$/);
		await page.pressField('Undo');
		await page.holds('timer-1 › width in bits', '16');
		await page.pressField('Redo');
		await page.holds('timer-1 › width in bits', '12');
		await page.until(STATE, /^saved$/);
		await page.driver.navigate().refresh();
		await page.holds('Name of the part', 'Sprat-8 of mine');
		await page.go('/parts');
		await page.until('main', 'your own, valid');
	});

	test('a deleted profile can be brought back', async () => {
		await page.press('Sprat-8 of mine');
		await page.go('/parts');
		await page.press('Delete');
		await page.driver.wait(async () => !(await page.text('main')).includes('Sprat-8 of mine'), 5000);
		await page.press('Undo');
		await page.button('Sprat-8 of mine');
	});
});

describe('the registers of a part', () => {
	const REGISTERS = '[data-testid=part-registers]';
	const open = async (name: string, text: string) => {
		await page.driver.executeScript(
			`const input = document.querySelector('${REGISTERS} input[type=file]');
			const files = new DataTransfer();
			files.items.add(new File([arguments[1]], arguments[0]));
			input.files = files.files;
			input.dispatchEvent(new Event('change', { bubbles: true }));`,
			name,
			text
		);
	};

	test('are taken from an SVD file, block by block; what has no place yet is listed; all of it is undone', async () => {
		await page.go('/parts');
		await page.press('New profile');
		await entry('Registers');
		await page.until(REGISTERS, 'Nothing is said of registers yet');
		await open('sprat.svd', readFileSync('demo/registers/sprat-8.svd', 'utf8'));
		await page.until('[data-testid=svd]', /CLOCKS[\s\S]*TIMER1/);
		await page.press('all shown');
		await page.press('Take 7 blocks');
		await page.until(REGISTERS, /7 blocks, \d+ registers/);
		await page.until('[data-testid=bound]', 'not yet: ');
		await page.until(FINDINGS, 'The profile is valid');
		await page.pressField('Undo');
		await page.until(REGISTERS, 'Nothing is said of registers yet');
		await page.press('Make up registers');
		await page.until('[data-testid=bound]', 'everything');
	});

	test('places are guessed from names, and changed bit by bit with the keys', async () => {
		await page.go('/parts');
		await page.press('New profile');
		await entry('Registers');
		await page.until(REGISTERS, 'Nothing is said of registers yet');
		await open('sprat.svd', readFileSync('demo/registers/sprat-8.svd', 'utf8'));
		await page.until('[data-testid=svd]', 'TIMER1');
		await page.press('all shown');
		await page.press('Take 7 blocks');
		const told = await page.until('[data-testid=guesses]', 'timer-1 reload');
		expect(told).toMatch(/TOPVALHI, TOPVALLO|TOPVAL/);
		await page.driver.executeScript(`document.querySelector('[data-testid=guesses] .btn-main').click()`);
		await page.until('[data-testid=bound]', /timer-1[^]*[2-8] of 8/);
		await page.until(FINDINGS, 'The profile is valid');
		await page.choose('Block', 'TIMER1');
		await page.choose('Register', 'WAYCTL');
		await page.driver.executeScript(`document.querySelector('[data-testid=bit-drawing] [data-bit="3"]').focus()`);
		await page.keys(Key.SPACE);
		await page.chord(Key.SHIFT, Key.ARROW_RIGHT);
		await page.until('[data-testid=bit-choice]', /\[3:2\]/);
		await page.choose('What lives here', 'timer-1 polarity:ch1');
		await page.press('Put');
		await page.until('[data-testid=bit-choice]', 'timer-1 polarity:ch1');
		await page.press('take away');
		await page.until('[data-testid=bit-choice]', 'nothing lives here');
	});

	test('a file that is none is refused with its place', async () => {
		await open('bad.svd', '<device>\n<name>x</device>');
		await page.until('[data-testid=svd-trouble]', /bad\.svd, line 2/);
	});
});

describe('editing a profile', () => {
	test('a timer is drawn as it counts, live', async () => {
		await page.go('/parts');
		await page.press('New profile');
		await entry('Timer 1');
		await page.until('[data-testid=drawn-period]', '10 ticks a period');
		await page.choose('timer-1 › period rule', 'exclusive');
		await page.until('[data-testid=drawn-period]', '9 ticks a period');
		await page.driver.executeScript(`document.querySelectorAll('[data-testid=part-form] input[type=checkbox]')[2].click()`);
		await page.choose('Way of counting drawn', 'updown');
		await page.until('[data-testid=drawn-period]', '18 ticks a period');
		await page.type('Value drawn', '3');
		await page.until('[data-testid=drawn-period]', '6 ticks a period');
	});

	test('what is wrong is listed with its place, all at once, and nothing typed is lost', async () => {
		await page.type('timer-1 › width in bits', 'sixteen');
		await page.keys(Key.TAB);
		await page.until(FINDINGS, 'timer-1 › width in bits');
		await page.type('timer-1 › timer clock', 'nowhere');
		await page.keys(Key.TAB);
		await page.until(STATE, /^saved$/);
		await page.driver.navigate().refresh();
		await page.until(FINDINGS, '1 finding');
		await entry('! Timer 1');
		await page.holds('timer-1 › width in bits', 'sixteen');
		await page.holds('timer-1 › timer clock', 'nowhere');
		await page.type('timer-1 › width in bits', '16');
		await page.keys(Key.TAB);
		await page.until(FINDINGS, 'there is no clock node "nowhere"');
		await page.type('timer-1 › timer clock', 'core');
		await page.keys(Key.TAB);
		await page.until(FINDINGS, 'The profile is valid');
	});

	test('a frequency is typed as people do', async () => {
		await entry('Crystal');
		await page.type('crystal › frequency', '12 MHz');
		await page.keys(Key.TAB);
		await page.holds('crystal › frequency', '12000000');
	});

	test('elements are added, copied and taken away', async () => {
		await page.pressField('Add a clock node');
		await page.until(FINDINGS, 'finding');
		await page.choose('Kind of node-1', 'divide');
		await page.type('node-1 › from', 'core');
		await page.type('node-1 › factors', '1, 2');
		await page.keys(Key.TAB);
		await page.type('node-1 › at reset', '2');
		await page.keys(Key.TAB);
		await page.until(FINDINGS, 'The profile is valid');
		await page.press('Copy');
		await page.until(FORM, 'New clock node copy');
	});

	test('text that is no JSON is kept as it was typed, with the place of the fault', async () => {
		await page.press('Text');
		const area = await page.field('Profile as text');
		await area.sendKeys(Key.chord(Key.CONTROL, Key.HOME), 'oh ');
		await page.until(FINDINGS, 'this is no JSON');
		await page.until(STATE, /^saved$/);
		await page.driver.navigate().refresh();
		await page.until(FINDINGS, 'this is no JSON');
		expect(await (await page.field('Profile as text')).getAttribute('value')).toMatch(/^oh \{/);
	});
});

describe('a plan and its part', () => {
	test('a plan keeps its snapshot, and takes a newer one with the difference shown, in one step', async () => {
		const text = JSON.stringify({ ...shippedPart('plover-16')!, name: 'Plover of mine' });
		const base = inject('base');
		const headers = { 'content-type': 'application/json', origin: base };
		const { key } = (await (await fetch(`${base}/api/parts`, { method: 'POST', headers, body: JSON.stringify({ text }) })).json()) as {
			key: string;
		};
		await page.go('/plans');
		await page.press('New plan');
		await (await page.find('input[placeholder="What board, what job"]')).sendKeys('On my own part');
		await page.driver.executeScript(
			`const select = document.querySelector('dialog select, [role=dialog] select, form select'); select.value = arguments[0]; select.dispatchEvent(new Event('change', { bubbles: true }))`,
			key
		);
		await page.press('Make the plan');
		await page.press('Plover of mine');
		await page.until('[data-testid=differences]', /They are the same|difference/);
		await page.press('Close').catch(() => page.press('Keep mine'));
		const plan = await page.driver.getCurrentUrl();

		const newer = text.replace('"24000000"', '"32000000"');
		await fetch(`${base}/api/parts/${key}`, { method: 'PUT', headers, body: JSON.stringify({ base: 1, text: newer }) });
		await page.driver.get(plan);
		await page.press('Plover of mine');
		await page.choose('Profile on the shelf', 'Plover of mine');
		await page.until('[data-testid=differences]', '1 difference');
		await page.until('[data-testid=differences]', '24000000 32000000');
		await page.press('Take it');
		await page.until('[data-testid=save-state]', /^saved$/);
		await page.driver.navigate().refresh();
		await page.press('Plover of mine');
		await page.choose('Profile on the shelf', 'Plover of mine');
		await page.until('[data-testid=differences]', 'They are the same.');
		await page.press('Close');
		await page.pressField('Undo');
		await page.press('Plover of mine');
		await page.choose('Profile on the shelf', 'Plover of mine');
		await page.until('[data-testid=differences]', '1 difference');
	});
});
