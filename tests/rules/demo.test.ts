import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { demoFiles } from '../../tools/demo.js';

test('the demo’s recordings and logs are what their script makes', () => {
	const files = demoFiles();
	expect(files.size).toBeGreaterThan(12);
	for (const [name, content] of files) expect(readFileSync(join('demo', name)).equals(Buffer.from(content as string)), name).toBe(true);
});
