/** Bundles the command line to one file, dist/nolvet.mjs, that needs nothing beside Node.js. */
import { chmodSync } from 'node:fs';
import { build } from 'rolldown';

await build({
	input: 'src/cli/nolvet.ts',
	platform: 'node',
	output: { file: 'dist/nolvet.mjs', format: 'esm', banner: '#!/usr/bin/env node', codeSplitting: false },
	logLevel: 'warn'
});
chmodSync('dist/nolvet.mjs', 0o755);
