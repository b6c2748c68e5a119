import { readFileSync, writeFileSync } from 'node:fs';
import { format, resolveConfig } from 'prettier';
import { readProfile } from '../src/core/part/index.js';
import { svdOf } from '../src/core/handoff/index.js';
import { proposeBinding, readBinding, type Layout } from '../src/core/registers/index.js';

/** Writes the invented registers of the shipped parts into their profiles, and as SVD files: the same for the same profile. */
const LAYOUTS: Record<string, Layout> = {
	'heron-32': { bits: 32, base: 0x40000000, apart: 0x400 },
	'plover-16': { bits: 16, base: 0x4000, apart: 0x80 },
	'sprat-8': { bits: 8, base: 0x20, apart: 0x30 }
};

for (const [id, layout] of Object.entries(LAYOUTS)) {
	const file = `src/core/part/${id}.part.json`;
	const text = readFileSync(file, 'utf8');
	const part = readProfile(JSON.parse(text));
	// All but the last key stays as it was written.
	const body = text.replace(/,\s*"binding": \{[\s\S]*\}\s*\}\s*$/, '').replace(/\s*\}\s*$/, '');
	const written = `${body.replace(/"version": \d+/, `"version": ${part.version}`)}, "binding": ${JSON.stringify(proposeBinding(part, layout))} }`;
	const { binding } = readBinding(proposeBinding(part, layout));
	writeFileSync(`demo/registers/${id}.svd`, svdOf(part.name, binding!));
	writeFileSync(file, await format(written, { ...(await resolveConfig(file)), parser: 'json' }));
	console.log(file);
}
