import { readFileSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { fernhollow } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

let page: Page;
let plan: string;
beforeAll(async () => {
	page = await Page.open(inject('base'));
	plan = `/plan/${await page.makePlan({ ...fernhollow(), name: 'Checked' })}`;
	await page.go(`${plan}/check`);
});
afterAll(() => page.close());
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

describe('the station Check', () => {
	test('says what to do while nothing was recorded or read', async () => {
		await page.until('main', 'Nothing was recorded or read yet.');
	});

	test('holds a recording against its aim, and names the mistake with the register that it sits in', async () => {
		await page.go(`${plan}/bench`);
		await page.until('[data-testid=planned-foot]', 'Predicted');
		await page.dropAndRead('half.vcd', readFileSync('demo/recordings/heater-half-rate.vcd'));
		await page.choose('Aim of heater_a in half.vcd', 'dew heater A');
		await page.until('[data-testid=verdict]', 'Outside');
		await page.type('Stated error of the instrument', '50 ppm');
		await page.go(`${plan}/check`);
		await page.until('[data-testid=plan-verdict]', 'Outside');
		await page.until('[data-testid=why]', 'The prescaler divides by one more than it should: that explains it.');
		await page.until('[data-testid=checked-heater-a]', /rate.*1\.2\s*kHz.*600\.0/s);
		await page.until('[data-testid=evidence]', 'timer-d: prescale 2 instead of 1');
		await page.until('[data-testid=tell]', 'ticks of');
	});

	test('a dump beside the plan holds to a suspect, or speaks against it', async () => {
		await page.go(`${plan}/handoff`);
		await page.press('Read back');
		await page.type('A dump of registers', 'TIMERD.TICKDIV = 0x1');
		await page.go(`${plan}/check`);
		await page.until('[data-testid=dump-says]', 'timer-d prescale is 2, 1 was planned');
		await page.until('[data-testid=why]', 'that explains it, and the dump agrees.');
		await page.until('[data-testid=evidence]', 'The dump agrees: timer-d prescale really is 2.');
		await page.go(`${plan}/handoff`);
		await page.press('Read back');
		await page.type('A dump of registers', 'TIMERD.TICKDIV = 0x0');
		await page.go(`${plan}/check`);
		await page.until('[data-testid=evidence]', 'The dump speaks against it: timer-d prescale really is 1.');
		await page.go(`${plan}/handoff`);
		await page.press('Read back');
		await page.type('A dump of registers', '');
		await page.go(`${plan}/check`);
		await page.driver.wait(async () => (await page.all('[data-testid=dump-says]')).length === 0, 8000);
	});

	test('a suspect is noted for the firmware, and that can be undone', async () => {
		await page.press('note for the firmware');
		await page.until('body', 'Noted on the aim, for the firmware.');
		await page.chord(Key.CONTROL, 'z');
		await page.go(`${plan}/aims#heater-a`);
		expect(await page.text('main')).not.toContain('prescale 2 instead of 1');
		await page.go(`${plan}/check`);
		await page.until('[data-testid=plan-verdict]', 'Outside');
	});

	test('one typed reading is enough, and is undone as any edit', async () => {
		await page.choose('What was read', 'dome motor: rate, main');
		await page.type('A reading, with its unit', 'fast');
		await page.press('Hold it against the plan');
		await page.until('main', 'a number with its unit is wanted');
		await page.holds('A reading, with its unit', 'fast');
		await page.type('A reading, with its unit', '7.5 kHz');
		await page.press('Hold it against the plan');
		await page.until('[data-testid=checked-dome-motor]', /outside.*20\s*kHz.*7\.5\s*kHz/s);
		await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await page.all('[data-testid=checked-dome-motor]')).length === 0, 8000);
	});

	test('a reading can be typed into the command box as it is said', async () => {
		await page.keys('/');
		await page.keys('reads 290 us of dew heater B');
		await page.until('body', 'Hold 290 us against dew heater B: high width');
		await page.keys(Key.ENTER);
		await page.until('[data-testid=checked-heater-b]', /high width.*290\s*µs/s);
		await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await page.all('[data-testid=checked-heater-b]')).length === 0, 8000);
	});

	test('a suspect’s waves are pinned beside the recorded ones', async () => {
		// What is pinned while suspects are still looked for may be none in the end.
		await page.until('main', 'Check again');
		await page.press('pin its waves');
		await page.driver.executeScript(`document.querySelectorAll('[data-testid=evidence-row]')[1].querySelector('td button').click()`);
		await page.until('[data-testid=suspects]', 'The prescaler divides by one more than it should');
		await page.until('main', 'What if:');
		await page.find('[aria-label="What the pinned suspect would show of dew heater A"]');
		await page.press('unpin');
		await page.driver.wait(async () => !(await page.text('main')).includes('What if:'), 5000);
	});

	test('a recording is laid by hand, by its first rise, and found again', async () => {
		await page.press('lay it by hand');
		await page.until('[data-testid=laid]', 'As it was laid by hand:');
		await page.type('The recording’s time at the plan’s 0', 'soon');
		await page.until('[data-testid=by-hand]', 'a time such as');
		await page.type('The recording’s time at the plan’s 0', '1 ms');
		await page.until('[data-testid=laid]', 'As it was laid by hand:');
		await page.press('Lay it so');
		await page.until('[data-testid=by-hand]', 'Laid by hand');
		const laid = await (await page.find('[data-testid=by-hand] input')).getAttribute('value');
		expect(laid).toMatch(/^1666\.5\d* us$/);
		await page.press('find its place instead');
		await page.until('[data-testid=laid]', 'No laying on the plan fits');
		await page.go(`${plan}/check`);
		await page.until('[data-testid=plan-verdict]', 'Outside');
	});

	test('the report is a page to print, with verdict, waves and the mistake', async () => {
		await page.go(`${plan}/report`);
		await page.until('[data-testid=report]', 'Outside (as set outside, as wished outside).');
		await page.until('[data-testid=report]', 'The prescaler divides by one more than it should');
		// The report is drawn anew while suspects are looked for.
		const widths = `return [...document.querySelectorAll('[data-testid=report] img[alt="Waves of dew heater A"]')].map((one) => one.naturalWidth)`;
		await page.driver.wait(async () => JSON.stringify(await page.driver.executeScript(widths)) === '[790]', 8000);
		await page.go(`${plan}/check`);
		await page.until('[data-testid=plan-verdict]', 'Outside');
	});

	test('lists differences and past checks, and a cell leads to the waves', async () => {
		await page.press('Past checks');
		await page.until('[data-testid=past-checks]', /Outside.*revision/s);
		await page.press('Evidence');
		await page.driver.executeScript(`document.querySelector('[data-testid=evidence-row] td button').click()`);
		await page.driver.wait(async () => (await page.driver.getCurrentUrl()).includes('/bench#'), 5000);
	});
});
