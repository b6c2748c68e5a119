import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { By, Key } from 'selenium-webdriver';
import { fernhollow } from '../../src/core/plan/index.js';
import { freshAim } from '../../src/core/aims/index.js';
import { Page } from './driver.js';

const LINE = '[data-testid=findings-line]';
const SAVED = '[data-testid=save-state]';

let page: Page;
beforeAll(async () => {
	page = await Page.open(inject('base'));
	const id = await page.makePlan({ ...fernhollow(), name: 'Jobs story' });
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
		await page.until('#shutter', '61499');
	});

	test('a tick follows its sentence, shares a timer that another aim decides for, and comes back by undo', async () => {
		await see('system-tick');
		// 9 MHz x 10 ms = 90000 ticks.
		await page.until('#system-tick', '89999');
		await page.type('Interval or rate of system tick', '200 kHz');
		await page.until('#system-tick', '44');
		await page.choose('Timer of system tick', 'Timer G');
		// The strobe’s 200 kHz from 72 MHz.
		await page.until('#system-tick', 'by serial strobe');
		await page.until('#system-tick', '359');
		await page.until(LINE, 'Every aim is met.');
		for (let i = 0; i < 2; i++) await page.chord(Key.CONTROL, 'z');
		await page.until('#system-tick', '89999');
	});

	test('what cannot be is said at once, in numbers, and what is no number stays typed', async () => {
		await page.type('Interval or rate of system tick', '1 h');
		await page.until(LINE, '1 fault');
		await page.until('#system-tick', 'longer than this timer reaches');
		await page.until('#system-tick', 'What would reach it');
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

	test('any link is held and the rest derived around it; a clash names the links and lets one go', async () => {
		await see('strobe');
		await page.pressField('Hold prescale of serial strobe');
		await page.type('Held prescale of serial strobe', '4');
		await page.until('#strobe', '89');
		await page.until(LINE, 'Every aim is met.');
		await page.pressField('Hold reload of serial strobe');
		await page.type('Held reload of serial strobe', '50');
		await page.until('#strobe', /The held prescale and reload give .*; 200 kHz is wished for/);
		await page.press('Let go of reload');
		await page.until(LINE, 'Every aim is met.');
		for (let i = 0; i < 5; i++) await page.chord(Key.CONTROL, 'z');
		await page.until('#strobe', '359');
	});

	test('a pattern is drawn by pointer and keys, its words follow', async () => {
		await see('strobe');
		await openWorking('strobe');
		await page.until('[data-testid=words]', '0x00002000 0x00005000');
		const line = await page.find('svg[aria-label^="Levels of strobe right"]');
		await line.sendKeys('1');
		await page.until('[data-testid=words]', '0x00006000 0x00001000');
		await page.chord(Key.CONTROL, 'z');
		await page.until('[data-testid=words]', '0x00002000 0x00005000');
		await openWorking('strobe');
	});

	test('a route that the part does not have is explained, with the nearest one a press away', async () => {
		await see('heater-b');
		await page.until('#heater-b', '120 deg');
		await page.choose('Trigger input of dew heater B', 'trigger 2');
		await page.until('#heater-b', 'does not reach “in2” of Timer H on this part');
		await page.press('Take the input that it reaches');
		await page.until('#heater-b', '120 deg');
		await page.until(LINE, 'Every aim is met.');
		await page.type('Lag of dew heater B', '33 %');
		await page.until('#heater-b', '33 % is not 1/3');
		await page.press('Take 1/3');
		await page.until(LINE, 'Every aim is met.');
	});

	test('every timer of the part is weighed, and a free one is a press away; pins are chosen', async () => {
		await see('azimuth');
		await openWorking('azimuth');
		const servers = await page.until('#azimuth [data-testid=servers]', 'cannot do this job');
		expect(servers).toContain('It serves “dew heater C”, which would have to give way.');
		await page.choose('Pin for channel 1 of azimuth encoder', 'A15');
		await page.until(SAVED, /^saved$/);
		await page.pressField('Move azimuth encoder to Timer A');
		await page.until('#azimuth', 'Timer A serves “dome motor” already');
		for (let i = 0; i < 2; i++) await page.chord(Key.CONTROL, 'z');
		await page.until(LINE, 'Every aim is met.');
		await openWorking('azimuth');
	});

	test('two candidates are compared side by side, and one is taken', async () => {
		await see('dome-motor');
		await openWorking('dome-motor');
		await page.pressField('Compare prescale 2, reload 1799 for dome motor');
		await page.pressField('Compare prescale 3, reload 1199 for dome motor');
		const table = await page.until('[data-testid=compared]', 'candidate B');
		expect(table).toContain('11.81');
		await page.pressField('Take prescale 2, reload 1799 for dome motor');
		await page.holds('Held reload of dome motor', '1799');
		await page.chord(Key.CONTROL, 'z');
		await page.until(LINE, 'Every aim is met.');
		await openWorking('dome-motor');
	});

	test('a wide range is cut into bands that are shown with their switch-over points', async () => {
		await see('wind');
		await page.type('Lowest rate of wind cups', '20 Hz');
		await page.type('Highest rate of wind cups', '2 kHz');
		await page.type('Wished step of wind cups', '0.1 %');
		await openWorking('wind');
		const table = await page.until('[data-testid=choices]', 'Left again below');
		expect(table).toContain('1.3091 kHz');
		await page.find('canvas[aria-label^="How fine one count is"]');
	});

	test('a pair tells what its dead time leaves, and a pulse that is swallowed', async () => {
		await page.press('Add an aim');
		await page.pressField('Complementary pair with dead time 20 kHz 60 % pair 500 ns');
		const name = 'pair 11';
		await page.until('main', 'Complementary high');
		// Timer A is the dome motor’s, which leaves it another channel and the same 20 kHz.
		await page.until(LINE, 'Every aim is met.');
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

	test('one of every kind is added, and taken away again by undo', async () => {
		const count = async () => (await page.all('article')).length;
		const before = await count();
		await page.press('Add an aim');
		const options = await page.driver.executeScript<string[]>(
			`return [...document.querySelectorAll('[data-testid=kinds] button')].map((one) => one.getAttribute('aria-label'))`
		);
		expect(options.length).toBe(12);
		for (const [i, option] of options.entries()) {
			if (i > 0) await page.press('Add an aim');
			await page.pressField(option);
			await page.driver.wait(async () => (await count()) === before + i + 1, 5000);
		}
		for (let i = 0; i < options.length; i++) await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await count()) === before, 5000);
		await page.until(LINE, 'Every aim is met.');
	});
});

describe('the board', () => {
	const rows = () => page.all('[data-testid=board] tr[data-aim]');
	const ids = () =>
		page.driver.executeScript<string[]>(`return [...document.querySelectorAll('[data-aim]')].map((row) => row.dataset.aim)`);
	test('shows all aims in their groups; a filter leaves those that have its words', async () => {
		await page.press('Board');
		await page.driver.wait(async () => (await rows()).length === 10, 5000);
		await page.type('Filter the aims', 'heater');
		await page.driver.wait(async () => (await rows()).length === 3, 5000);
		await page.type('Filter the aims', 'nothing of the kind');
		await page.until('[data-testid=board]', 'No aim has all of these words.');
		await page.press('Show all');
		await page.driver.wait(async () => (await rows()).length === 10, 5000);
	});
	test('two that are ticked tell what they share', async () => {
		await page.pressField('Select dome motor');
		await page.until('[data-testid=shared]', 'tick one more');
		await page.pressField('Select focus coil');
		await page.until('[data-testid=shared]', '“dome motor” decides prescale 1 and reload 3599');
		await page.press('untick both');
	});
	test('aims are moved, grouped and copied, each with its undo', async () => {
		await page.pressField('Move dew heater A down');
		await page.driver.wait(async () => (await ids())[0] === 'heater-b', 5000);
		// Without its leader before it a follower still follows.
		await page.until(LINE, 'Every aim is met.');
		await page.pressField('Copy system tick');
		await page.driver.wait(async () => (await rows()).length === 11, 5000);
		await page.type('Group of wind cups', 'weather');
		await page.keys(Key.ENTER);
		await page.until('[data-testid=board]', 'weather');
		await page.driver.executeScript('document.activeElement.blur()');
		for (let i = 0; i < 3; i++) await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await ids())[0] === 'heater-a' && (await rows()).length === 10, 5000);
	});
	test('a row is dragged to another place', async () => {
		const kind = (id: string) => page.driver.findElement(By.css(`[data-aim="${id}"] td:nth-child(3)`));
		const [from, to] = [await kind('wind'), await kind('dome-motor')];
		await page.driver.actions().move({ origin: from }).press().move({ origin: to, y: 4 }).move({ origin: to, y: -6 }).release().perform();
		await page.driver.wait(async () => (await ids())[3] === 'wind', 5000);
		await page.chord(Key.CONTROL, 'z');
		await page.driver.wait(async () => (await ids())[3] === 'dome-motor', 5000);
	});
	test('a name leads to its sentence', async () => {
		await page.press('shutter');
		await page.until('#shutter', '61499');
	});
});

describe('a plan of 500 aims', () => {
	test('opens, answers a key, and shows an aim far down when it is asked for', async () => {
		const plan = fernhollow();
		const places = plan.part.timers.flatMap((timer) => timer.channels.map((channel) => [timer.id, channel.id]));
		const aims = Array.from({ length: 500 }, (_, i) => {
			const [timer, channel] = places[i % places.length];
			return i % 5 === 4
				? freshAim('tick', `a${i}`, `tick ${i}`, timer, { every: `${1 + i} us` })
				: { ...freshAim('pwm', `a${i}`, `signal ${i}`, timer, { channel }), rate: `${1000 + i} Hz` };
		});
		const id = await page.makePlan({ ...plan, name: 'Five hundred', aims });
		await page.go(`/plan/${id}/aims`);
		await page.type('Rate or period of signal 0', '1.2 kHz');
		await page.until('#a0', '1.2 kHz');
		expect((await page.all('article')).length).toBe(500);
		expect((await page.all('[data-testid=strip]')).length).toBeLessThan(60);
		await page.go(`/plan/${id}/aims#a498`);
		await page.until('#a498', 'Achieved');
		await page.go(`/plan/${id}/board`);
		await page.type('Filter the aims', 'signal 498');
		await page.driver.wait(async () => (await page.all('[data-testid=board] tr[data-aim]')).length === 1, 10_000);
	});
});
