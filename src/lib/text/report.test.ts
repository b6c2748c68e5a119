import { describe, expect, test } from 'vitest';
import { derivePlan, fernhollow } from '../../core/plan/index.js';
import { checkPlan } from '../../core/check/index.js';
import { checkWhole, plainCheck } from '../../core/suspects/index.js';
import { marked } from 'marked';
import { handOff } from '../../core/handoff/index.js';
import { reportMarkdown } from './report.js';

const plan = {
	...fernhollow(),
	name: 'A | B*',
	readings: [{ id: 'x', aim: 'heater-a', of: 'frequency', line: 'pin', value: '600.0 Hz', error: '', by: '' }]
};
const derivation = derivePlan(plan);
const whole = checkWhole(plan, []);
const of = { plan, derivation, findings: checkPlan(derivation), revision: 7, date: '2026-03-01', recordingName: (id: string) => id };

describe('the report', () => {
	const text = reportMarkdown({ ...of, check: plainCheck(plan, whole, [], whole) });
	test('tells plan, clock path, registers, verdict with its budget and the mistake that explains it', () => {
		expect(text).toMatch(/^# A \\\| B\\\*\n\nPart Heron-32, revision 7, 2026-03-01\.\n/);
		expect(text).toContain('**Outside** (as set outside, as wished outside).');
		expect(text).toMatch(/Clock: .*→ .*72 MHz\./);
		expect(text).toMatch(/\| reload \| 59999 \| 59999 \|/);
		expect(text).toMatch(/\| rate \| 1\.2 kHz \| 600 Hz \*\*outside\*\* \|/);
		expect(text).toContain('Explains it: The prescaler divides by one more than it should: timer-d: prescale 2 instead of 1.');
	});
	test('takes set-up and registers in', () => {
		const told = reportMarkdown({ ...of, handOff: handOff(derivation) });
		expect(told).toMatch(/## Set-up\n\n1\. clock: the clock tree/);
		expect(told).toContain('TIMERD.TOPVAL ← 0x0000EA5F of 0x0000FFFF');
		expect(told).toMatch(/\| TIMERD\.TOPVAL \| 0x40001410 \| 0x0000EA5F \| 59999 \| timer-d\.reload/);
	});
	test('carries each aim’s waves as a picture', () => {
		const waves = new Map([['heater-a', '<svg xmlns="http://www.w3.org/2000/svg"><text>(a) 100 %</text></svg>']]);
		const url = /!\[Waves of dew heater A\]\((data:image\/svg\+xml,[^()\s]+)\)/.exec(reportMarkdown({ ...of, waves }))?.[1];
		expect(decodeURIComponent(url!.slice('data:image/svg+xml,'.length))).toBe(waves.get('heater-a'));
	});
	test('lets nothing that was typed become a tag, a link or a table of its own', () => {
		const typed = '<img src=x onerror=alert(1)> [go](javascript:alert(1)) | x\n\n# big';
		const evil = { ...plan, name: typed, note: typed, aims: plan.aims.map((aim) => ({ ...aim, name: typed, note: typed })) };
		const html = marked.parse(reportMarkdown({ ...of, plan: evil, derivation: derivePlan(evil) }), { async: false });
		expect(html).not.toMatch(/<img src=x|<a /);
		expect(html).not.toMatch(/<h1[^>]*>big/);
	});
	test('is the same text for the same plan, and says so where nothing was measured', () => {
		expect(reportMarkdown({ ...of, check: plainCheck(plan, whole, [], whole) })).toBe(text);
		expect(reportMarkdown(of)).toContain('Nothing was recorded or read yet.');
	});
});
