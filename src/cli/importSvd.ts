import { writeFile } from 'node:fs/promises';
import { blocksOf, SvdError, SvdReader, withBlocks, type Description } from '../core/formats/index.js';
import { PROFILE_VERSION } from '../core/part/index.js';
import { readBinding } from '../core/registers/index.js';
import { commandText, hex, registerFindingText, svdFaultText, svdTroubleText } from '../lib/text/index.js';
import { fileReason, openFile, readJsonFile, Unreadable } from './files.js';
import type { ImportSvdOutput } from './shapes.js';

export interface ImportSvdOptions {
	out?: string;
	into?: string;
	take?: string[];
	json?: boolean;
}

/** Takes registers of a description into a part: a new one, or one that is there. Returns 1 where the description has findings. Throws Unreadable. */
export async function importSvd(file: string, { out, into, take, json }: ImportSvdOptions): Promise<number> {
	const description = await read(file);
	const wanted = take && new Set(take);
	const unknown = take?.find((name) => !description.peripherals.some((one) => one.name === name));
	if (unknown !== undefined) throw new Unreadable(`${file}: ${commandText.noPeripheral}: ${unknown}`);
	const blocks = blocksOf(description, (name) => wanted?.has(name) ?? true);
	for (const { line, fault, of } of description.findings)
		process.stderr.write(`${file}: ${line}: ${fault} ${of}: ${svdFaultText(fault)}\n`);
	for (const finding of readBinding({ blocks }).findings)
		process.stderr.write(`${file}: ${finding.join(' ')}: ${registerFindingText(finding)}\n`);
	if (out !== undefined) await write(out, await partWith(blocks, description, into));
	const output: ImportSvdOutput = {
		format: 'nolvet-import-svd',
		version: 1,
		name: description.name,
		peripherals: description.peripherals.map(({ name, base, registers }) => ({ name, base: Number(base), registers: registers.length })),
		findings: description.findings
	};
	if (json) process.stdout.write(`${JSON.stringify(output, null, '\t')}\n`);
	else for (const { name, base, registers } of output.peripherals) process.stdout.write(`${name} ${hex(base)} ${registers}\n`);
	return description.findings.length === 0 ? 0 : 1;
}

async function read(file: string): Promise<Description> {
	const reader = new SvdReader();
	const decoder = new TextDecoder('utf-8', { fatal: true });
	try {
		for await (const piece of openFile(file)) reader.feed(decoder.decode(piece as Buffer, { stream: true }));
		reader.feed(decoder.decode());
		return reader.end();
	} catch (error) {
		if (error instanceof SvdError)
			throw new Unreadable(`${file}: ${error.line}:${error.column}: ${svdTroubleText(error.trouble)}`, { cause: error });
		if (error instanceof TypeError) throw new Unreadable(`${file}: ${svdTroubleText('encoding')}`, { cause: error });
		throw new Unreadable(`${file}: ${fileReason(error)}`, { cause: error });
	}
}

/** A profile with these blocks: what it said of registers before stays where it is not said anew. */
async function partWith(blocks: ReturnType<typeof blocksOf>, { name }: Description, into: string | undefined): Promise<unknown> {
	if (into !== undefined) {
		const part = (await readJsonFile(into)) as { binding?: { blocks?: object } };
		return { ...part, version: PROFILE_VERSION, binding: withBlocks(part.binding, blocks) };
	}
	const id =
		name
			.toLowerCase()
			.replaceAll(/[^a-z0-9]+/g, '-')
			.replaceAll(/^[^a-z]+|-+$/g, '') || 'part';
	return {
		version: PROFILE_VERSION,
		id: id.slice(0, 40),
		name: name || id,
		summary: '',
		clock: [{ id: 'core', name: 'Core', kind: 'source', hz: '1000000', ppm: { lo: '-10000', hi: '10000' }, chosen: false }],
		timers: [],
		binding: { blocks }
	};
}

async function write(name: string, part: unknown): Promise<void> {
	try {
		await writeFile(name, `${JSON.stringify(part, null, '\t')}\n`);
	} catch (error) {
		throw new Unreadable(`${name}: ${fileReason(error)}`, { cause: error });
	}
}
