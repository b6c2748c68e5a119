import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { Key } from 'selenium-webdriver';
import { type Plan, fernhollow, fernhollowVane } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

const LINE = '[data-testid=findings-line]';

let page: Page;
beforeAll(async () => {
	page = await Page.open(inject('base'));
});
afterAll(() => page.close());
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

async function open(document: Plan, aim: string): Promise<void> {
	const id = await page.makePlan(document);
	await page.go(`/plan/${id}/aims#${aim}`);
	await page.find(`#${aim} [aria-expanded=true]`);
}

describe('what the kinds of aims ask for beside their sentence', () => {
	test('an own shape is pasted, and a line that is none is told with its number', async () => {
		await open({ ...fernhollow(), name: 'Own shape' }, 'focus-coil');
		await page.choose('Shape of focus coil', 'shape of my own');
		await page.until('#focus-coil', 'at least 2 are wanted');
		await page.type('Own shape of focus coil', '0\n1\n0\nhigh');
		await page.until('#focus-coil', 'Line 4 of the own shape cannot be read');
		await page.type('Own shape of focus coil', '0\n1\n0\n-1');
		// 160 rows on straight lines: row 40 is the top, 40 % above the middle of 3600.
		await page.until('#focus-coil [data-testid=choices]', '3240');
		await page.until(LINE, 'Every aim is met.');
		await page.choose('Before the start of focus coil', 'not filled before');
		await page.until('#focus-coil', 'every row acts one period late');
		await page.press('Fill before the start');
		await page.until(LINE, 'Every aim is met.');
	});

	test('a sweep tells its steps, and is warned of when it is written at once', async () => {
		await open({ ...fernhollow(), name: 'Sweep' }, 'heater-a');
		await page.type('End of the sweep of dew heater A', '80 %');
		await page.type('Duty at first of dew heater A', '5 %');
		// From 3000 to 48000 in steps of one.
		await page.until('#heater-a', '45000 steps');
		await page.until('#heater-a [data-testid=registers]', '48000');
		await page.choose('Writes of dew heater A', 'at once');
		await page.until('#heater-a', 'The compare is written unbuffered');
		await page.choose('Way of counting of dew heater A', 'up and down, centred');
		// 1.2 kHz counted up and down: 30000 up, 30000 down.
		await page.until('#heater-a', '30000');
	});

	test('the time between two readings goes across the wrap', async () => {
		await open({ ...fernhollow(), name: 'Readings' }, 'system-tick');
		await page.type('First reading of system tick', '0x10');
		await page.type('Second reading of system tick', '89983');
		// It counts down from 89999: 16 to 0, and 16 more, 33 ticks of 9 MHz in all.
		await page.until('#system-tick [data-testid=figures]', '3.666667');
		await page.until('#system-tick', '33 ticks, if it wrapped once at the most');
		await page.type('Second reading of system tick', '0xFFFFF0');
		await page.until('#system-tick', 'The counter never holds 16777200: it goes from 0 to 89999.');
	});

	test('outputs of a software tick are added and taken away, each with its rounding', async () => {
		await open({ ...fernhollowVane(), name: 'Flaps' }, 'flaps');
		await page.press('Add an output');
		await page.type('Width of output 4', '1.51 ms');
		// 75.5 ticks of 20 us.
		await page.until('#flaps [data-testid=choices]', '76');
		await page.type('Width of output 4', '30 ms');
		await page.until('#flaps', '“output 4” is 30 ms wide');
		await page.pressField('Remove output 4');
		await page.until(LINE, 'Every aim is met.');
		await page.chord(Key.CONTROL, 'z');
		await page.until('#flaps', '“output 4” is 30 ms wide');
	});

	test('a shape of two columns shapes another output of its timer, and any of its rows can be asked for', async () => {
		await open({ ...fernhollow(), name: 'Two columns' }, 'focus-coil');
		await page.choose('Shape of focus coil', 'shape of my own');
		await page.type('Own shape of focus coil', '0; 1\n1; 0\n0; -1\n-1; 0');
		await page.until('#focus-coil', 'Row 0 has 2 values; 1 is wanted');
		await page.choose('Further output of focus coil', 'channel 2');
		await page.until(LINE, 'Every aim is met.');
		await page.until('#focus-coil [data-testid=choices]', 'Compare of channel 2');
		await page.pressField('Remove the column of channel 2');
		await page.until('#focus-coil', 'and a further output');
	});

	test('what an aim is left short of at its beginning is found, at it alone, and undone', async () => {
		await open({ ...fernhollow(), name: 'Set-up' }, 'heater-a');
		await page.choose('Output of dew heater A', 'left off');
		await page.until('#heater-a', 'is not enabled');
		await page.until(LINE, '1 fault');
		await page.chord(Key.CONTROL, 'z');
		await page.until(LINE, 'Every aim is met.');
	});

	test('a register is worked out for any wish, and a row of a table for any count', async () => {
		await open({ ...fernhollow(), name: 'Turned' }, 'heater-a');
		await page.until('#heater-a [data-testid=turned]', 'reload =');
		await page.type('Wished rate for the reload', '1.25 kHz');
		await page.until('#heater-a [data-testid=turned]', 'gives');
		await page.type('Wished rate for the reload', '4 parsecs');
		await page.until('#heater-a [data-testid=turned] [role=alert]', 'parsecs');
		await open({ ...fernhollow(), name: 'Any row' }, 'focus-coil');
		await page.type('Any row of the table of focus coil', '37');
		await page.until('#focus-coil [data-testid=asked]', '37');
		await page.type('Any row of the table of focus coil', '1000');
		await page.until('#focus-coil', 'There is no 1000 from 0 to 159.');
	});

	test('a field keeps the focus after Enter, and Escape takes back what was typed in it', async () => {
		await open({ ...fernhollow(), name: 'Keys' }, 'heater-a');
		await page.type('Rate or period of dew heater A', '2 kHz');
		await page.keys(Key.ENTER);
		expect(await page.driver.executeScript('return document.activeElement.ariaLabel')).toBe('Rate or period of dew heater A');
		await page.keys('3 kHz');
		await page.holds('Rate or period of dew heater A', '3 kHz');
		await page.keys(Key.ESCAPE);
		await page.holds('Rate or period of dew heater A', '2 kHz');
	});

	test('a candidate of a range is taken from its table, and let go again', async () => {
		await open({ ...fernhollow(), name: 'Ranges' }, 'shutter');
		await page.find('#shutter canvas[aria-label^="Range against resolution"]');
		await page.driver.executeScript(
			`[...document.querySelectorAll('#shutter [data-testid=choices] tr')].find((row) => row.textContent.trim().startsWith('64')).querySelector('button:last-of-type:not([title])').click()`
		);
		await page.holds('Held prescale of shutter', '64');
		// 500 us x 72 MHz / 64 = 562.5 ticks, half up.
		await page.until('#shutter', '563');
		await page.pressField('Hold prescale of shutter');
		await page.until('#shutter', '61499');
	});
});
