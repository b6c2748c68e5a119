import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { fernhollow } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

let page: Page;
let bench: string;
beforeAll(async () => {
	page = await Page.open(inject('base'));
	bench = `/plan/${await page.makePlan({ ...fernhollow(), name: 'Recordings' })}/bench`;
	await page.go(bench);
	await page.until('main', 'dew heater A');
});
afterAll(async () => {
	expect(await page.hostsAsked()).toEqual(['127.0.0.1']);
	await page.close();
});
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

const LIST = '[data-testid=recording]';
const count = async () => (await page.all(LIST)).length;
/** Waits until a recording of that name can be shown. */
const isRead = (name: string) =>
	page.driver.wait(
		() =>
			page.driver.executeScript<boolean>(
				`return [...document.querySelectorAll('[data-testid=recording][data-state=ready]')].some((one) => one.textContent.includes(arguments[0]))`,
				name
			),
		15_000
	);
const rows = (n: number, row: (i: number) => string) => Array.from({ length: n }, (_, i) => row(i)).join('\n');

describe('a file that is dropped', () => {
	test('is shown as it would be read; what is not known is asked, and what was found can be corrected', async () => {
		const text = `board 7;;\ntime (ticks);out;spare\n${rows(40, (i) => `${i},5;${i % 2};0,${i}`)}\n`;
		await page.drop('ticks.csv', Buffer.from(text));
		const told = await page.until('[data-testid=import]', 'out');
		expect(told).toContain("The time's unit “ticks” is not known here: seconds are taken. Is that right?");
		await page.choose('Unit of time', 'ms');
		await page.choose('spare is taken for', 'left out');
		await page.type('Name of out', 'heater drive');
		await page.type('Step', '20 us');
		await page.driver.sleep(400);
		expect(await page.text('[data-testid=import]')).not.toContain('Is that right?');
		await page.driver.executeScript(`document.querySelector('[data-testid=import] input[type=checkbox]').click()`);
		await page.press('Read it');
		const made = await page.until(LIST, 'heater drive');
		expect(made).toContain('to 20 µs');
		expect(made).not.toContain('spare');
	});

	test('can be read again in another way, from the file that was kept', async () => {
		await page.pressField('Read ticks.csv again');
		await page.until('[data-testid=import]', 'Read again: ticks.csv');
		await page.holds('Name of out', 'heater drive');
		await page.choose('Unit of time', 'µs');
		await page.type('Name of out', 'drive');
		await page.press('Read it again');
		await page.driver.wait(
			async () => /\bdrive\b/.test(await page.text(LIST)) && !(await page.text(LIST)).includes('heater drive'),
			10_000
		);
		expect(await count()).toBe(1);
	});

	test('is known again, whatever it is called, and the first can be taken', async () => {
		const text = `time (us),a\n${rows(30, (i) => `${i},${i % 2}`)}\n`;
		await page.dropAndRead('first.csv', Buffer.from(text));
		await page.driver.wait(async () => (await count()) === 2, 10_000);
		await isRead('first.csv');
		await page.drop('second.csv', Buffer.from(text));
		await page.until('[data-testid=import]', 'The same file is here already: first.csv');
		await page.press('Take that one');
		expect(await count()).toBe(2);
	});

	test('that cannot be read as it is found says so before it is sent', async () => {
		await page.drop('odd.csv', Buffer.from('time (us),a\n0,0\n2,1\n1,0\n3,0\n'));
		await page.until('[data-testid=import-trouble]', 'Line 4');
		await page.press('Leave it');
		await page.driver.wait(async () => (await page.all('[data-testid=import]')).length === 0, 5000);
		expect(await count()).toBe(2);
	});
});

describe('an analogue line', () => {
	test('is cut where it is said, on its histogram, and the edges follow', async () => {
		// A ramp of 0, 1, 2, 3 V up and down, with a spike of 2.2 V in every other trough.
		const level = (i: number) => [0, 0, 0, i % 16 < 8 ? 0 : 2.2, 0, 3, 3, 3][i % 8];
		await page.dropAndRead('analogue.csv', Buffer.from(`time (us),v\n${rows(1600, (i) => `${i},${level(i)}`)}\n`));
		await isRead('analogue.csv');
		await page.pressField('Levels of v in analogue.csv');
		const before = await page.until('[data-testid=levels]', /makes \d+ edges/);
		await page.type('Threshold', '2.6 V');
		await page.type('Hysteresis', '100 mV');
		await page.driver.wait(async () => !(await page.text('[data-testid=levels]')).includes(/makes (\d+) edges/.exec(before)![0]), 10_000);
		await page.until('[data-testid=levels]', 'makes 399 edges');
		await page.type('Threshold', 'high');
		await page.until('[data-testid=levels]', 'A value such as 1.65 is wanted.');
		await page.press('As found');
		await page.until('[data-testid=levels]', /makes (?!399 )\d+ edges/);
		await page.press('Done');
	});
});

describe('a line of more edges than a page holds', () => {
	test('is drawn and searched from what is in sight', async () => {
		await page.dropAndRead('long.csv', Buffer.from(`time (us),b\n${rows(200_000, (i) => `${10 * i + ((i * 7) % 5)},${i % 2}`)}\n`));
		await isRead('long.csv');
		await page.choose('Aim of b in long.csv', 'dew heater A');
		await page.until('[data-testid=measures]', 'Frequency');
		const asked = () =>
			page.driver.executeScript<string[]>(
				`return performance.getEntriesByType('resource').map(({ name }) => name.replace(/^.*lines.1/, '')).filter((name) => name.startsWith('/'))`
			);
		await page.driver.wait(async () => (await asked()).some((name) => name.startsWith('/window?')), 10_000);
		const stage = await page.find('[data-testid=stage]');
		await page.driver.executeScript('arguments[0].focus()', stage);
		await page.keys('0', 'a', '.');
		const first = await page.until('[data-testid=cursors]', /A ≈?[\d.]+ m?s/);
		await page.keys('.');
		await page.driver.wait(async () => (await page.text('[data-testid=cursors]')) !== first, 5000);
		expect((await asked()).filter((name) => name.startsWith('/next?')).length).toBeGreaterThan(0);
		// Ink is on the lane's canvas.
		const inked = await page.driver.executeScript<number>(
			`const canvas = document.querySelector('[data-lane] canvas');
			const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
			return data.filter((value, i) => i % 4 === 3 && value > 0).length;`
		);
		expect(inked).toBeGreaterThan(1000);
	});
});

describe('marks and cards', () => {
	test('marks are set by key, named, stepped to, made zero, and undone', async () => {
		await page.go(bench);
		await page.find('[data-testid=lane-label]');
		await page.driver.sleep(600);
		const stage = await page.find('[data-testid=stage]');
		await page.driver.executeScript('arguments[0].focus()', stage);
		await page.keys('a', 'm', ...Array<string>(6).fill('.'));
		await page.driver.sleep(1500);
		await page.keys('m');
		await page.until('[data-testid=marks]', 'ms');
		expect((await page.all('[data-testid=mark]')).length).toBe(2);
		await page.type('Name of mark 1', 'start');
		await page.pressField('Delete mark M2');
		expect((await page.all('[data-testid=mark]')).length).toBe(1);
		await page.pressField('Undo');
		await page.driver.wait(async () => (await page.all('[data-testid=mark]')).length === 2, 5000);
		await (await page.all('[data-testid=mark] button[aria-pressed]'))[0].click();
		await page.until('[data-testid=mark]', /0\s*s/);
		await page.driver.executeScript('arguments[0].focus()', stage);
		await page.keys('p');
		await page.until('[data-testid=cursors]', 'A 0 s');
	});

	test('a card measures what it is told, over all, in view and between marks; it stays, and can be saved', async () => {
		await page.press('Add a card');
		const all = await page.until('[data-testid=card]', /count\s+\d+/);
		await page.choose('Card 1 measures', 'pauses over');
		await page.until('[data-testid=card]', /count\s+\d+/);
		await page.type('Limit of card 1', 'soon');
		await page.until('[data-testid=card]', 'a time such as 5 µs is wanted');
		await page.type('Limit of card 1', '11 us');
		await page.choose('Card 1 measures', 'period');
		await page.choose('Card 1 is over', 'between marks');
		const between = await page.until('[data-testid=card]', /count\s+\d+/);
		const counted = (text: string) => Number(/count\s+(\d+)/.exec(text)![1]);
		await page.driver.wait(async () => counted(await page.text('[data-testid=card]')) < counted(all), 5000);
		expect(counted(between)).toBeGreaterThan(0);
		await page.until('[data-testid=save-state]', 'saved');
		await page.go(bench);
		await page.find('[data-testid=lane-label]');
		await page.press('Measure');
		await page.until('[data-testid=card]', /count\s+\d+/);
		await page.press('over time');
		// From one value to the next, as a search.
		await page.pressField('To the next value');
		const here = await page.until('[data-testid=cursors]', /A ≈?-?[\d.]+/);
		await page.pressField('To the next value');
		await page.driver.wait(async () => (await page.text('[data-testid=cursors]')) !== here, 5000);
	});
});
