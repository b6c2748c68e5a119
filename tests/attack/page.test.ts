import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { fernhollow, type Plan } from '../../src/core/plan/index.js';
import { shippedPart } from '../../src/core/part/index.js';
import { Page } from '../browser/driver.js';
import { call, dataFolder, dropFolder, pause, start, stop, type Started } from '../started.js';
import { LONG } from './form.js';

/** What becomes of what was typed when the server, the tab or a name means ill. */
let data: string;
let server: Started;
let page: Page;
let port: string;

beforeAll(async () => {
	data = dataFolder();
	port = String(await freePort());
	server = await start(data, { PORT: port });
	page = await Page.open(server.address!);
});
afterAll(async () => {
	await page.close();
	await stop(server.child);
	dropFolder(data);
});

function freePort(): Promise<number> {
	return new Promise((done) => {
		const probe = createServer();
		probe.listen(0, '127.0.0.1', () => {
			const { port: free } = probe.address() as { port: number };
			probe.close(() => done(free));
		});
	});
}

const STATE = '[data-testid=save-state]';
const rateOf = async (id: string) => {
	const { body } = await call(server.address!, 'GET', `/api/plans/${id}`);
	return (body.document as Plan).aims.map((aim) => ('rate' in aim ? aim.rate : ''))[0];
};

/** Until the browser has all of the program. */
async function wholeProgram(): Promise<void> {
	await page.driver.executeAsyncScript(`const done = arguments[arguments.length - 1]; navigator.serviceWorker.ready.then(() => done())`);
}

describe('a server that goes away', () => {
	test('loses nothing that was typed: stations not seen before open, going elsewhere asks, and all is saved when it is back', async () => {
		const id = await page.makePlan({ ...fernhollow(), name: 'Away' });
		await page.go(`/plan/${id}/aims`);
		await page.find('[data-testid=aim]');
		await wholeProgram();
		await stop(server.child, 'SIGTERM');
		await page.type('Rate or period of dew heater A', '1.3 kHz');
		await page.until(STATE, 'not saved: the server does not answer. Your edits are kept');
		for (const [station, sign] of [
			['Bench', '[data-testid=planned-foot]'],
			['Clock', '[data-testid=ladder]'],
			['Relay', '[data-testid=phases]'],
			['Aims', '[data-testid=aim]']
		]) {
			await page.press(station);
			await page.find(sign);
		}
		await page.holds('Rate or period of dew heater A', '1.3 kHz');
		await page.press('Plans');
		await page.until('dialog[open]', 'Your last edits are not saved');
		await page.press('Stay here');
		await page.holds('Rate or period of dew heater A', '1.3 kHz');
		server = await start(data, { PORT: port });
		await page.until(STATE, /^saved$/);
		expect(await rateOf(id)).toBe('1.3 kHz');
		await page.press('Plans');
		await page.until('main', 'Away');
	});

	test('a tab that ends meanwhile leaves its edits to the next one, which takes them up again', async () => {
		const id = await page.makePlan({ ...fernhollow(), name: 'Left' });
		const first = await page.driver.getWindowHandle();
		await page.driver.switchTo().newWindow('tab');
		await page.go(`/plan/${id}/aims`);
		await page.find('[data-testid=aim]');
		await stop(server.child, 'SIGTERM');
		await page.type('Rate or period of dew heater A', '1.4 kHz');
		await page.until(STATE, 'not saved');
		await page.driver.close();
		await page.driver.switchTo().window(first);
		server = await start(data, { PORT: port });
		expect(await rateOf(id)).toBe('1.2 kHz');
		await page.go(`/plan/${id}/aims`);
		await page.until('[data-testid=left-edits]', '1 edit of');
		await page.press('Take up again');
		await page.holds('Rate or period of dew heater A', '1.4 kHz');
		await page.until(STATE, /^saved$/);
		expect(await rateOf(id)).toBe('1.4 kHz');
		await page.driver.navigate().refresh();
		await page.holds('Rate or period of dew heater A', '1.4 kHz');
		expect(await page.all('[data-testid=left-edits]')).toEqual([]);
	});

	test('a page that is opened while it is away comes by itself when it is back', async () => {
		await page.go('/parts');
		await page.until('main', 'Sprat-8');
		await stop(server.child, 'SIGTERM');
		await page.press('Plans');
		await page.until('main', 'The server does not answer.');
		server = await start(data, { PORT: port });
		await page.until('main', 'Fernhollow Observatory');
	});
});

describe('names that are markup', () => {
	const EVIL = `"><img src=x onerror="window.hit=1"><script>window.hit=1</script>{@html 1}`;

	test('stay names on every station', async () => {
		const plain = fernhollow();
		const part = { ...shippedPart('heron-32')!, name: EVIL.slice(0, 80), summary: EVIL };
		const plan: Plan = {
			...plain,
			part: { ...part, timers: part.timers.map((timer, i) => (i === 0 ? { ...timer, name: EVIL.slice(0, 80) } : timer)) },
			name: EVIL,
			note: EVIL,
			labels: { core: { name: EVIL, note: EVIL } },
			aims: plain.aims.map((aim) => ({ ...aim, name: EVIL, note: EVIL, group: EVIL }))
		};
		const id = await page.makePlan(plan);
		await call(server.address!, 'POST', '/api/parts', { text: JSON.stringify(part) });
		await fetch(`${server.address}/api/plans/${id}/recordings?wait&name=${encodeURIComponent(EVIL)}`, {
			method: 'POST',
			headers: { 'content-type': 'application/octet-stream' },
			body: `time (s),"${EVIL.replaceAll('"', '""')}"\n0,0\n0.001,1\n0.002,0\n0.003,1\n`
		});
		for (const path of ['/plans', '/parts', ...['aims', 'board', 'clock', 'relay', 'bench'].map((station) => `/plan/${id}/${station}`)]) {
			await page.go(path);
			await page.find('main');
			await pause(700);
			expect(await page.driver.executeScript('return window.hit ?? 0'), path).toBe(0);
			expect(await page.driver.executeScript('return document.querySelectorAll("img[src=x]").length'), path).toBe(0);
		}
		expect(
			(await page.consoleErrors()).filter((text) => !/status of 50\d|ERR_CONNECTION_REFUSED|ERR_INCOMPLETE_CHUNKED_ENCODING/.test(text))
		).toEqual([]);
	});
});

describe('hours of work', () => {
	const minutes = Number(process.env.ATTACK_MINUTES ?? 60);

	/** Bytes of the page's heap and its nodes, what is garbage taken away; bytes of the server. */
	async function weigh(): Promise<{ heap: number; nodes: number; server: number }> {
		const chrome = page.driver as unknown as { sendAndGetDevToolsCommand(name: string, params: object): Promise<unknown> };
		for (let i = 0; i < 3; i++) await chrome.sendAndGetDevToolsCommand('HeapProfiler.collectGarbage', {});
		await chrome.sendAndGetDevToolsCommand('Performance.enable', {});
		const { metrics } = (await chrome.sendAndGetDevToolsCommand('Performance.getMetrics', {})) as {
			metrics: { name: string; value: number }[];
		};
		const of = (name: string) => metrics.find((one) => one.name === name)!.value;
		const pages = Number(readFileSync(`/proc/${server.child.pid}/statm`, 'utf8').split(' ')[1]);
		return { heap: of('JSHeapUsedSize'), nodes: of('Nodes'), server: pages * 4096 };
	}

	/**
	 * A round of everything, done by the page itself: all stations, typing and undo, zoom, a dropped file that is deleted again. A driver
	 * holds every element that it has found, and every answer that a script of its own gave.
	 */
	const ROUND = `
		const [rows, plan, done] = arguments;
		const until = async (what, look) => {
			for (const end = Date.now() + 20000; ; await new Promise((next) => setTimeout(next, 40))) {
				let seen = false;
				try { seen = look(); } catch { /* Not there yet. */ }
				if (seen) return;
				if (Date.now() > end) throw new Error('never: ' + what);
			}
		};
		const sees = (css, text = '') => until(css + ' ' + text, () => document.querySelector(css).textContent.includes(text));
		const presses = (text) => until('press ' + text, () => {
			const found = [...document.querySelectorAll('a, button')].find((one) => one.textContent.trim() === text);
			found.click();
			return true;
		});
		const round = async () => {
			for (const [station, sign] of [['Clock', 'ladder'], ['Aims', 'aim'], ['Relay', 'phases'], ['Bench', 'planned-foot']]) {
				await presses(station);
				await sees('[data-testid=' + sign + ']');
			}
			for (let i = 0; i < 4; i++) await presses('+');
			await presses('All');
			const line = (i) => (i * 0.0004).toFixed(4) + ',' + (i % 2);
			const data = new DataTransfer();
			data.items.add(new File(['time (s),out\\n' + Array.from({ length: rows }, (_, i) => line(i)).join('\\n') + '\\n'], 'hour.csv'));
			for (const type of ['dragover', 'drop'])
				document.body.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
			await sees('[data-testid=import]', 'hour.csv');
			await presses('Read it');
			await until('the recording', () => document.querySelector('[data-testid=recording][data-state=ready]') !== null);
			await presses('Aims');
			await until('a field', () => document.querySelector('[aria-label="Rate or period of dew heater A"]') !== null);
			const field = document.querySelector('[aria-label="Rate or period of dew heater A"]');
			field.focus();
			field.value = '1.25 kHz';
			field.dispatchEvent(new Event('input', { bubbles: true }));
			field.blur();
			await until('saving', () => document.querySelector('[data-testid=save-state]').textContent !== 'saved');
			document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true }));
			await until('undone', () => document.querySelector('[aria-label="Rate or period of dew heater A"]').value === '1.2 kHz');
			await until('saved', () => document.querySelector('[data-testid=save-state]').textContent === 'saved');
			const kept = await (await fetch('/api/plans/' + plan + '/recordings')).json();
			for (const { id } of kept)
				await fetch('/api/recordings/' + id, { method: 'PATCH', headers: { 'content-type': 'application/json' }, body: '{"deleted":true}' });
			await presses('Plans');
			await sees('main', 'Hours');
			await presses('Hours');
			await sees('[data-testid=aim]');
		};
		round().then(() => done('')).catch((error) => done(String(error)));`;

	async function round(plan: string, rows: number): Promise<void> {
		expect(await page.driver.executeAsyncScript(ROUND, rows, plan)).toBe('');
	}

	test.runIf(LONG)(`of all stations for ${minutes} minutes weigh no more at their end than after the first of them`, async () => {
		const id = await page.makePlan({ ...fernhollow(), name: 'Hours' });
		await page.driver.manage().setTimeouts({ script: 120_000 });
		await page.go(`/plan/${id}/aims`);
		const until = Date.now() + minutes * 60_000;
		const settled = Date.now() + Math.min(5, minutes / 4) * 60_000;
		let first: Awaited<ReturnType<typeof weigh>> | undefined;
		let rounds = 0;
		while (Date.now() < until) {
			await round(id, 20_000);
			rounds++;
			if (!first && Date.now() > settled) first = await weigh();
			// What the driver has logged is its own weight.
			await page.hostsAsked();
		}
		const last = await weigh();
		console.log(`${rounds} rounds; at first`, first, 'at last', last);
		for (const what of ['heap', 'nodes', 'server'] as const) expect(last[what], what).toBeLessThan(1.2 * first![what]);
	});

	test.runIf(!LONG)('begin with one round', async () => {
		const id = await page.makePlan({ ...fernhollow(), name: 'Hours' });
		await page.go(`/plan/${id}/aims`);
		await round(id, 4);
		expect((await weigh()).nodes).toBeGreaterThan(0);
	});
});

test('what the server logged names nobody’s plan', () => {
	expect(server.said()).not.toContain('unexpected:');
	expect(readFileSync(join(data, 'postgres.log'), 'utf8')).not.toContain('PANIC');
});
