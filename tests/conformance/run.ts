import { readdirSync, readFileSync } from 'node:fs';
import { isDeepStrictEqual } from 'node:util';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { z } from 'zod';
import { align } from './align.js';
import { clock } from './clock.js';
import { capture, deadtime, duty, encoder, oneshot, preload, split, stagger, tap } from './derive.js';
import { measure } from './measure.js';
import { period } from './period.js';
import { registers } from './registers.js';
import { plain, vectorFile, type Check } from './shapes.js';
import { verdict } from './verdict.js';
import { inputs, wave } from './wave.js';

/**
 * Checks the core against every vector below the folder NOLVET_VECTORS (default: the copy beside this file) and prints
 * `kind: passed/failed`. Exit code 1 when a case failed, a kind is unknown, or nothing was checked.
 */
const CHECKS: Record<string, Check> = {
	clock,
	period,
	measure,
	wave,
	input: inputs,
	verdict,
	align,
	registers,
	'derive duty': duty,
	'derive preload': preload,
	'derive tap': tap,
	'derive deadtime': deadtime,
	'derive oneshot': oneshot,
	'derive capture': capture,
	'derive encoder': encoder,
	'derive split': split,
	'derive stagger': stagger
};

const folder = process.env.NOLVET_VECTORS ?? join(fileURLToPath(import.meta.url), '..', 'vectors');
const tally = new Map<string, { passed: number; failed: number }>();
const failures: string[] = [];

for (const file of jsonFiles(folder)) {
	const { kind, cases } = vectorFile.parse(JSON.parse(readFileSync(file, 'utf8')));
	for (const { name, given, expect } of cases) {
		const full = kind === 'derive' ? `derive ${z.object({ what: z.string() }).parse(given).what}` : kind;
		const outcome = checkCase(full, given, expect);
		const count = tally.get(full) ?? { passed: 0, failed: 0 };
		if (outcome === 'passed') count.passed++;
		else {
			count.failed++;
			failures.push(`${full}: ${name}\n    ${outcome}`);
		}
		tally.set(full, count);
	}
}

report();

function checkCase(kind: string, given: unknown, expect: unknown): string {
	const check = Object.hasOwn(CHECKS, kind) ? CHECKS[kind] : undefined;
	if (!check) return 'no such kind is known';
	try {
		const got = plain(check(given, expect));
		return isDeepStrictEqual(got, expect) ? 'passed' : `expected ${JSON.stringify(expect)}\n    got      ${JSON.stringify(got)}`;
	} catch (error) {
		return String(error);
	}
}

function jsonFiles(path: string): string[] {
	return readdirSync(path, { recursive: true, encoding: 'utf8' })
		.filter((name) => name.endsWith('.json'))
		.sort()
		.map((name) => join(path, name));
}

function report(): void {
	for (const failure of failures) console.log(failure);
	const rows = [...tally].sort(([a], [b]) => (a < b ? -1 : 1));
	for (const [kind, { passed, failed }] of rows) console.log(`${kind}: ${passed}/${failed}`);
	const passed = rows.reduce((sum, [, t]) => sum + t.passed, 0);
	const failed = rows.reduce((sum, [, t]) => sum + t.failed, 0);
	console.log(`conformance: ${passed} passed, ${failed} failed`);
	if (failed > 0 || passed === 0) process.exitCode = 1;
}
