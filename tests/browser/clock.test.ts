import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { By, Key, Origin } from 'selenium-webdriver';
import { Rational } from '../../src/core/exact/index.js';
import { hertz } from '../../src/lib/text/index.js';
import { type Plan, fernhollow } from '../../src/core/plan/index.js';
import { Page } from './driver.js';

const LINE = '[data-testid=findings-line]';
const PANEL = '[data-testid=node-panel]';
const ANSWERS = '[data-testid=answers]';

let page: Page;

/** The demo with its first aim alone: the other timers are stopped. */
const heaterOnly = (): Plan => ({ ...fernhollow(), aims: fernhollow().aims.slice(0, 1) });

beforeAll(async () => {
	page = await Page.open(inject('base'));
	await page.go(`/plan/${await page.makePlan({ ...heaterOnly(), name: 'Clock story' })}/clock`);
});
afterAll(() => page.close());
afterEach(async () => {
	expect(await page.consoleErrors()).toEqual([]);
});

const label = (id: string) => page.find(`[data-label="${id}"]`);
const rate = async (id: string) => (await label(id)).getAttribute('aria-valuetext');
const becomes = (id: string, text: string) => page.driver.wait(async () => (await rate(id)) === text, 5000, `${id} never becomes ${text}`);

describe('the clock ladder', () => {
	test('shows every running node at its planned rate, and the stopped ones apart', async () => {
		expect(await rate('core')).toBe('72 MHz');
		expect(await rate('bus-a')).toBe('36 MHz');
		expect(await page.text('[data-testid=stopped]')).toContain('Timer B clock');
		await page.until(LINE, 'Every aim is met.');
	});

	test('a node tells its arithmetic, its limit with the reason, what hangs on it, and where it stands at reset', async () => {
		await (await label('core')).click();
		await page.until('[data-testid=arithmetic]', '12 MHz (Crystal) ÷ 1 (Loop input) × 12 (Loop) ÷ 2 (Loop output) ÷ 1 (Core) = 72 MHz');
		const panel = await page.until(PANEL, 'flash and core are specified to 72 MHz');
		expect(panel).toContain('at reset 8 MHz');
		await page.until('[data-testid=hanging-aims]', 'dew heater A');
		expect(new URL(await page.driver.getCurrentUrl()).hash).toBe('#core');
	});

	test('arrow keys step a factor; a limit passed is a finding with its reason; undo takes it back', async () => {
		await (await label('bus-a')).sendKeys(Key.ARROW_UP);
		await becomes('bus-a', '72 MHz');
		await page.until(LINE, 'Bus A: 72 MHz is above the limit of 36 MHz: what hangs on bus A is specified to 36 MHz.');
		// The bus divides by 1 now: its timers are not doubled any more.
		expect(await rate('timers-a')).toBe('72 MHz');
		await page.chord(Key.CONTROL, 'z');
		await becomes('bus-a', '36 MHz');
		await page.until(LINE, '0 faults 0 warnings');
	});

	test('the wheel over a node steps it, and one turn is one thing to undo', async () => {
		const loop = await label('loop');
		await page.turnWheel(loop, 120, 2);
		await becomes('loop', '120 MHz');
		await becomes('core', '60 MHz');
		await page.pressField('Undo');
		await becomes('loop', '144 MHz');
	});

	test('a rung is dragged to the nearest rate that the node offers, and back by one undo', async () => {
		const grip = await page.find('[data-node="loop-out"][role=presentation]');
		// One chain of actions: between two the driver would let the button go.
		let actions = page.driver.actions().move({ origin: grip }).press();
		for (const y of [5, 10, 15, 20]) actions = actions.move({ origin: Origin.POINTER, x: 0, y });
		await actions.release().perform();
		await page.driver.wait(async () => (await rate('loop-out')) !== '72 MHz', 5000);
		expect([3, 4, 5, 6, 7, 8].map((by) => hertz(Rational.ratio(144_000_000, by)))).toContain(await rate('loop-out'));
		await page.chord(Key.CONTROL, 'z');
		await becomes('loop-out', '72 MHz');
	});

	test('a factor is typed at its node; one that is not offered is said so there', async () => {
		await page.type('Loop: multiply by', '100');
		await page.until('[role=alert]', 'Not offered here; 8 to 72 is.');
		// No other label lies over the message, even far to its right.
		const whole =
			'const { right, bottom, top } = arguments[0].getBoundingClientRect(); return document.elementsFromPoint(right - 4, (top + bottom) / 2)[0] === arguments[0]';
		expect(await page.driver.executeScript(whole, await page.find('[role=alert]'))).toBe(true);
		await page.type('Loop: multiply by', '10');
		await becomes('core', '60 MHz');
		await page.chord(Key.CONTROL, 'z');
		await becomes('loop', '144 MHz');
	});

	test('a node takes a name and a note of its own, used everywhere and kept', async () => {
		await page.go(`${new URL(await page.driver.getCurrentUrl()).pathname}#sampler`);
		await page.type('Own name of Converter', 'Sky sensor');
		await page.type('Note at Converter', 'below 14 MHz, or it lies');
		await page.until('[data-testid=save-state]', /^saved$/);
		await page.driver.navigate().refresh();
		expect(await (await label('sampler')).getText()).toBe('Sky sensor');
		await page.holds('Note at Converter', 'below 14 MHz, or it lies');
		expect(await (await label('sampler')).getAttribute('title')).toMatch(
			/^below 14 MHz, or it lies; at most 14 MHz: the converter settles/
		);
	});
});

describe('asking for rates', () => {
	test('the best settings are listed with proof, and one is taken in one step', async () => {
		await (await label('timers-a')).click();
		await page.press('Ask for rates');
		await page.press('Ask for a rate');
		await page.type('Rate of wish 1', '48 MHz');
		await page.press('And another');
		await page.choose('Kind of wish 2', 'equal to');
		await page.until('[data-testid=rate-search]', /best, proved: of [\d,]{9,} settings/);
		await page.until(ANSWERS, '48 MHz');
		await page.pressField('Take answer 1');
		await becomes('timers-a', '48 MHz');
		await page.until(ANSWERS, 'as it stands');
		await page.chord(Key.CONTROL, 'z');
		await becomes('timers-a', '72 MHz');
	});

	test('what cannot be had is said, with what to ask instead', async () => {
		await page.pressField('Drop wish 2');
		await page.choose('Kind of wish 1', 'exactly');
		await page.type('Rate of wish 1', '71.3 MHz');
		await page.until('[data-testid=rates-panel]', 'No setting keeps all of this');
		await page.until('[data-testid=rates-panel]', 'Ask for “nearest to” instead');
		await page.type('Rate of wish 1', 'soon');
		await page.until('[role=alert]', 'No number can be read here');
	});

	test('a held node stays as it is', async () => {
		await page.choose('Kind of wish 1', 'nearest to');
		await page.type('Rate of wish 1', '40 MHz');
		await page.until(ANSWERS, '40 MHz');
		await page.press('Node');
		for (const id of ['loop', 'loop-in', 'loop-out']) {
			await (await label(id)).click();
			await page.press('Hold');
			await page.button('Held');
		}
		await page.press('Ask for rates');
		// 12 MHz x 12 / 2 stays: 72, or 36 doubled; 40 MHz is not to be had, 36 MHz is next.
		await page.driver.wait(async () => (await page.text(ANSWERS)).split('\n').some((line) => line.includes('36')), 8000);
		expect(await page.text('[data-testid=rates-panel]')).toContain('held as they are');
	});
});

test('a search that would take for ever shows its first answers at once, and is stopped', async () => {
	const demo = heaterOnly();
	// Nine dividers of 1 to 30 in a row: 30^9 products around a rate that none hits.
	const more = Array.from({ length: 9 }, (_, i) => ({
		id: `n${i}`,
		name: `Step ${i}`,
		kind: 'divide' as const,
		from: i === 0 ? 'core' : `n${i - 1}`,
		by: { from: 1, to: 30 },
		reset: 1
	}));
	const wishes = [{ id: 'w', node: 'n8', kind: 'nearest' as const, value: '1234.5678 Hz' }];
	const id = await page.makePlan({ ...demo, name: 'Long search', part: { ...demo.part, clock: [...demo.part.clock, ...more] }, wishes });
	await page.go(`/plan/${id}/clock#rates`);
	await page.until('[data-testid=rate-search]', 'the best so far');
	await page.until(ANSWERS, 'Step');
	// The page answers while the worker works.
	await page.type('Loop: multiply by', '11');
	await becomes('core', '66 MHz');
	await page.until('[data-testid=rate-search]', 'the best so far');
	await page.press('Stop');
	await page.until('[data-testid=rate-search]', 'Stopped: the best of');
	await page.until(ANSWERS, 'Step');
});

test('a part of 5,000 clock nodes stays usable', async () => {
	const demo = heaterOnly();
	const more = Array.from({ length: 4950 }, (_, i) => ({
		id: `n${i}`,
		name: `Far node ${i}`,
		kind: 'divide' as const,
		from: i % 10 === 0 ? 'core' : `n${i - 1}`,
		by: { from: 1, to: 8 },
		reset: 1 + (i % 2)
	}));
	const id = await page.makePlan({ ...demo, name: 'Many nodes', part: { ...demo.part, clock: [...demo.part.clock, ...more] } });
	await page.go(`/plan/${id}/clock`);
	await becomes('core', '72 MHz');
	await page.type('Find a node', 'Far node 4321');
	await page.keys(Key.ENTER);
	await page.until(PANEL, 'divides by');
	await page.until('[data-testid=arithmetic]', '(Far node 4321)');
	await page.type('Setting of Far node 4321', '8');
	await page.until('[data-testid=arithmetic]', '÷ 8 (Far node 4321)');
	expect((await page.driver.findElements(By.css('[data-label]'))).length).toBeLessThan(400);
});
