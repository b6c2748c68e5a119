import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { fernhollow } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

let page: Page;
let plan: string;
beforeAll(async () => {
	page = await Page.open(inject('base'));
	plan = `/plan/${await page.makePlan({ ...fernhollow(), name: 'Handed off' })}`;
	await page.go(`${plan}/handoff`);
});
afterAll(() => page.close());
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

describe('the station Handoff', () => {
	test('shows the set-up in its order, each step with its reason', async () => {
		const text = await page.until('[data-testid=set-up]', 'everything is set up');
		// The clock tree comes first, and its source before the loop that hangs on it.
		expect(text.indexOf('the clock tree')).toBeLessThan(text.indexOf('pins to their functions'));
		expect(text).toMatch(/WAKE ← 0x0*1 of 0x0*1\s+AWAKE wait for 0x0*1\s[\s\S]*CHOICE/);
	});

	test('a step lights up its bits and its line of code, and a quantity its step', async () => {
		await page.driver.executeScript(
			`[...document.querySelectorAll('[data-testid=set-up] button')].find((one) => one.title.startsWith('timer-d.reload ')).click()`
		);
		await page.until('[data-register="TIMERD.TOPVAL"] .text-accent', 'reload 59999');
		await page.until('[data-testid=code] .bg-accent-wash', /NV_R32\(0x[0-9A-F]+UL\) = .*0x0000EA5F/);
	});

	test('a step is moved, and what breaks by it is said, until it is undone', async () => {
		const move = (label: string) => page.driver.executeScript(`document.querySelector('[aria-label="${label}"]').click()`);
		await move('run of timer-d earlier');
		await page.until('[data-testid=order-finding]', 'flags of timer-d are cleared after it runs');
		await page.pressField('Undo');
		await page.driver.wait(() => page.driver.executeScript(`return !document.querySelector('[data-testid=order-finding]')`), 10_000);
		await move('pins of pins later');
		await page.until('[data-testid=set-up]', /what was raised on the way is cleared[^]*pins pins to their functions[^]*it runs/);
		await page.pressField('Undo');
	});

	test('a change of the plan is a change of the code', async () => {
		await page.choose('File', 'plan.h');
		await page.until('[data-testid=code]', 'PLAN_DEW_HEATER_A_RELOAD 59999U');
		await page.type('Prefix of names', 'dome\n');
		await page.until('[data-testid=code]', 'int dome_dew_heater_a_set_frequency(uint32_t millihertz);');
		await page.type('Prefix of names', '7up\n');
		await page.until('main', 'A name of C');
	});

	test('a dump is laid beside the plan: what the timer would really do', async () => {
		await page.press('Read back');
		await page.type('A dump of registers', 'TIMERD.TOPVAL = 0x0000EA60');
		await page.until('[data-testid=read-back]', '1 is otherwise than planned');
		await page.until('main', /timer-d reload\s*59999\s*60000/);
		await page.until('[data-register="TIMERD.TOPVAL"]', 'read 0x0000EA60');
		await page.type('A dump of registers', 'NOBODY = 5');
		await page.until('main', 'no register is called so');
	});

	test('what it holds is taken as a plan of its own, in which it is as planned', async () => {
		await page.type('A dump of registers', 'TIMERD.TOPVAL = 0x0000EA60');
		await page.press('take it as a plan of its own');
		await page.until('body', 'One quantity is planned as read.');
		await page.until('[data-testid=registers]', /TOPVAL[\s\S]*0x0000EA60/);
		await page.press('Read back');
		await page.until('[data-testid=read-back]', '0 are otherwise than planned');
	});

	test('a part without registers says so, and gets them', async () => {
		const { binding: _, ...part } = fernhollow().part;
		await page.go(`/plan/${await page.makePlan({ ...fernhollow(), part, name: 'Bare' })}/handoff`);
		await page.until('main', 'does not say yet where its registers are');
		await page.press('Take the shelf’s registers');
		await page.until('[data-testid=registers]', 'TOPVAL');
	});
});
