// Compiles the innermost loops (src/core/kernels/assembly) into src/core/kernels/code.ts. `node tools/kernels.mjs`; a test tells when it was forgotten.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The compiled code, as the text of the file that holds it. */
export function kernelsFile() {
	const folder = mkdtempSync(join(tmpdir(), 'nolvet-kernels-'));
	try {
		const out = join(folder, 'kernels.wasm');
		const flags = [
			'-O3',
			'--runtime',
			'stub',
			'--noAssert',
			'--enable',
			'simd',
			'--memoryBase',
			'26738688',
			'--initialMemory',
			'412',
			'--use',
			'abort='
		];
		execFileSync('node', ['node_modules/assemblyscript/bin/asc.js', 'src/core/kernels/assembly/kernels.ts', ...flags, '-o', out], {
			stdio: 'inherit'
		});
		const text = readFileSync(out).toString('base64');
		return `/** Made by tools/kernels.mjs from assembly/kernels.ts: WebAssembly in base64. */\nexport const CODE =\n\t'${text}';\n`;
	} finally {
		rmSync(folder, { recursive: true });
	}
}

if (process.argv[1]?.endsWith('kernels.mjs')) writeFileSync('src/core/kernels/code.ts', kernelsFile());
