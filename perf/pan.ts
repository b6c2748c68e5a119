import { join } from 'node:path';
import { Page } from '../tests/browser/driver.js';
import { call, pause } from '../tests/started.js';
import { imported, withDemo } from './demo.js';
import { writeVcd } from './files.js';
import type { Report } from './report.js';

const SIZE = 60_000_000;
const FRAMES = 240;
const LANES = 6;

/**
 * Script time of a frame while the bench is panned and zoomed, recorded in the browser: six lanes of a recording of millions of edges above
 * all that the demo plan predicts. Whatever runs between one frame and the next counts: events, what hangs on them, and painting.
 */
export async function benchPan(report: Report): Promise<void> {
	await withDemo(async (demo) => {
		const path = join(demo.folder, 'lines.vcd');
		writeVcd(path, SIZE);
		const { id } = await imported(demo, path);
		const steps = Array.from({ length: LANES }, (_, i) => ({
			kind: 'edit',
			merged: false,
			step: {
				label: 'map',
				parts: [
					{
						kind: 'insert',
						path: ['mappings', i],
						value: { id: `m-${i}`, recording: id, line: `line${i}`, aim: i % 2 ? 'heater-a' : 'dome-motor', instrument: '0' }
					}
				]
			}
		}));
		await call(demo.address, 'POST', `/api/plans/${demo.plan}/steps`, { base: 1, steps });
		const page = await Page.open(demo.address);
		try {
			await page.go(`/plan/${demo.plan}/bench`);
			await page.until('[data-testid=planned-foot]', 'Predicted to the cycle');
			await pause(4000);
			for (const [name, wheel] of [
				['pan_frame', '{ deltaX: 24, deltaY: 0 }'],
				['zoom_frame', '{ deltaX: 0, deltaY: i % 80 < 40 ? -60 : 60 }']
			]) {
				const times = await page.driver.executeAsyncScript<number[]>(`
				const done = arguments[arguments.length - 1];
				const stage = document.querySelector('[data-testid=stage]');
				const box = stage.getBoundingClientRect();
				const real = window.requestAnimationFrame.bind(window);
				let painting = 0;
				window.requestAnimationFrame = (work) => real((at) => { const from = performance.now(); work(at); painting += performance.now() - from; });
				const times = [];
				const frame = (i) => real(async () => {
					const from = performance.now();
					stage.dispatchEvent(new WheelEvent('wheel', { clientX: box.left + 300, clientY: box.top + 40, bubbles: true, cancelable: true, ...${wheel} }));
					await Promise.resolve();
					await Promise.resolve();
					const events = performance.now() - from;
					// What was asked for is painted with the next frame.
					real(() => setTimeout(() => {
						times.push(events + painting);
						painting = 0;
						if (i < ${FRAMES}) frame(i + 1);
						else { window.requestAnimationFrame = real; done(times); }
					}));
				});
				frame(0);
			`);
				const sorted = times.slice(10).sort((a, b) => a - b);
				report(name, sorted[sorted.length >> 1], 'ms');
				report(`${name}_worst`, sorted[sorted.length - 1], 'ms');
			}
		} finally {
			await page.close();
		}
	});
}
