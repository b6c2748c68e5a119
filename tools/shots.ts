import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Page } from '../tests/browser/driver.js';

/** Renews docs/screenshots from the demo data, on a throw-away database. The application must be built. */
const data = mkdtempSync(join(tmpdir(), 'nolvet-shots-'));
chmodSync(data, 0o755);
const child = spawn(process.execPath, ['tools/run.mjs'], {
	env: { ...process.env, NOLVET_DATA: data, PORT: '0' },
	stdio: ['ignore', 'pipe', 'inherit']
});
const base = await new Promise<string>((done, fail) => {
	child.stdout.on('data', (piece: Buffer) => {
		const found = /ready at (\S+)/.exec(piece.toString());
		if (found) done(found[1]);
	});
	child.once('exit', (code) => fail(new Error(`the application ended with ${code}`)));
});

const page = await Page.open(base);
try {
	const keep = (name: string) => page.shot(join('docs/screenshots', `${name}.png`));
	await page.go('/plans');
	await page.press('Fernhollow Observatory');
	await page.until('[data-testid=achieved]', '1.2 kHz');
	const aims = new URL(await page.driver.getCurrentUrl()).pathname;
	await page.driver.sleep(800);
	await keep('aims');
	await page.go(`${aims}#focus-coil`);
	await page.until('#focus-coil [data-testid=working]', 'Acts on period');
	await page.driver.sleep(800);
	await keep('shape');
	await page.go(`${aims}#strobe`);
	await page.until('#strobe [data-testid=words]', '0x');
	await page.driver.sleep(800);
	await keep('pattern');
	await page.go(aims.replace('aims', 'board'));
	await page.pressField('Select dew heater A');
	await page.pressField('Select dome motor');
	await page.until('[data-testid=shared]', '3 to 50');
	await keep('board');
	await page.go(aims.replace('aims', 'relay'));
	await page.until('[data-testid=phases]', 'dew heater C');
	await page.driver.sleep(600);
	await keep('relay');
	await page.go(aims);
	await page.until('[data-testid=achieved]', '1.2 kHz');
	await page.driver.sleep(600);
	await page.press('Dark');
	await page.driver.sleep(400);
	await keep('aims-dark');
	await page.go(aims.replace('aims', 'clock'));
	await page.until('[data-testid=ladder]', 'Crystal');
	await page.driver.sleep(600);
	await keep('clock-dark');
	await page.go(aims.replace('aims', 'bench'));
	await page.until('[data-testid=suspects]', 'prescaler');
	await page.driver.sleep(600);
	await keep('bench-dark');
	await page.press('Light');
	await page.driver.sleep(400);
	await keep('bench');
	const name = (aim: string) => `document.querySelector('#lane-aim-${aim} button:last-child').click()`;
	await page.driver.executeScript(`[...document.querySelectorAll('button')].find((b) => b.textContent.includes('recordings')).click()`);
	await page.pressField('Unfold dew heater A');
	await page.driver.sleep(500);
	await keep('predicted');
	await page.driver.executeScript(name('azimuth'));
	await page.press('all of its time');
	await page.driver.sleep(600);
	await keep('inputs');
	await page.driver.executeScript(name('focus-coil'));
	await page.until('[data-testid=averaged]', 'distortion');
	await page.driver.sleep(800);
	await keep('averaged');
	await page.driver.executeScript(name('heater-a'));
	await page.press('Add a list of writes');
	await page.type('First rate of the steps', '1.2 kHz');
	await page.type('Last rate of the steps', '2.4 kHz');
	await page.press('Make the rows');
	await page.until('[data-testid=outcomes]', 'period wrong');
	await page.driver.executeScript(`document.querySelector('[data-testid=outcomes] button').click()`);
	await page.driver.sleep(600);
	await keep('writes');
	await page.press('Remove the list');
	await page.driver.sleep(600);
	await page.go('/plans');
	await page.until('main', 'dew heater A');
	await keep('plans');
	await page.go('/parts');
	await page.until('main', 'Sprat-8');
	await keep('parts');
	await page.go('/parts/heron-32');
	await page.press('Timer A');
	await page.driver.sleep(400);
	await keep('part-editor');
	await page.go(aims.replace('aims', 'clock'));
	await page.driver.executeScript(`arguments[0].click()`, await page.find('[data-label="core"]'));
	await page.press('Ask for rates');
	await page.press('Ask for a rate');
	await page.type('Rate of wish 1', '48 MHz');
	await page.until('[data-testid=rate-search]', 'proved');
	await page.driver.sleep(500);
	await keep('clock');
} finally {
	await page.close();
	const ended = new Promise((done) => child.once('exit', done));
	child.kill('SIGTERM');
	await ended;
	rmSync(data, { recursive: true, force: true });
}
