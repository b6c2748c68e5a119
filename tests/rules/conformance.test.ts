import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';

const good = {
	name: 'one source',
	given: { nodes: [{ id: 'x', kind: 'source', hz: '8000000/1', ppm_lo: '-50/1', ppm_hi: '50/1' }] },
	expect: { hz: { x: '8000000/1' }, ppm: { x: ['-50/1', '50/1'] }, findings: [] }
};

/** Runs the conformance runner on one file of made-up cases. */
function run(kind: string, cases: unknown[]): { code: number | null; said: string } {
	const folder = mkdtempSync(join(tmpdir(), 'nolvet-vectors-'));
	writeFileSync(join(folder, 'cases.json'), JSON.stringify({ kind, cases }));
	const { status, stdout } = spawnSync(process.execPath, ['--import', 'tsx', 'tests/conformance/run.ts'], {
		env: { ...process.env, NOLVET_VECTORS: folder },
		encoding: 'utf8'
	});
	rmSync(folder, { recursive: true });
	return { code: status, said: stdout };
}

test.each<[string, string, unknown[], number, string]>([
	['a right case passes', 'clock', [good], 0, 'clock: 1/0'],
	['a wrong expectation fails', 'clock', [{ ...good, expect: { ...good.expect, findings: [['x', 'min']] } }], 1, 'clock: 0/1'],
	['a field that is not known fails', 'clock', [{ ...good, given: { ...good.given, extra: 1 } }], 1, 'clock: 0/1'],
	['a kind that is not known fails', 'guess', [good], 1, 'no such kind is known'],
	['a derivation that is not known fails', 'derive', [{ name: 'x', given: { what: 'guess' }, expect: {} }], 1, 'derive guess: 0/1'],
	['a wave with a field that is not known fails', 'wave', [good], 1, 'wave: 0/1'],
	['no case at all is no pass', 'wave', [], 1, '0 passed, 0 failed']
])('%s', (_, kind, cases, code, said) => {
	const found = run(kind, cases);
	expect(found.said).toContain(said);
	expect(found.code).toBe(code);
});
