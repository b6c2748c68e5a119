import { SvdReader } from '../src/core/formats/index.js';
import { codeOf, handOff, markOf, PLAIN_STYLE } from '../src/core/handoff/index.js';
import { derivePlan, fernhollow, fernhollowHand, fernhollowLamp, fernhollowVane } from '../src/core/plan/index.js';
import { codeWords } from '../src/lib/text/index.js';
import type { Report } from './report.js';

export function benchSvd(report: Report): void {
	const text = svdOf(5_000_000);
	const began = performance.now();
	const reader = new SvdReader();
	for (let at = 0; at < text.length; at += 65_536) reader.feed(text.slice(at, at + 65_536));
	const { peripherals, findings } = reader.end();
	if (findings.length > 0 || peripherals.length < 100) throw new Error('it was not read');
	report('svd_import_5MB', performance.now() - began, 'ms');
}

/** A description of so many letters: blocks of 40 registers of 8 fields. */
function svdOf(letters: number): string {
	const field = (i: number) =>
		`<field><name>F${i}</name><description>field ${i}</description><bitOffset>${4 * i}</bitOffset><bitWidth>4</bitWidth></field>\n`;
	const fields = Array.from({ length: 8 }, (_, i) => field(i)).join('');
	const register = (i: number) =>
		`<register><name>R${i}</name><addressOffset>0x${(4 * i).toString(16)}</addressOffset><fields>${fields}</fields></register>\n`;
	const registers = Array.from({ length: 40 }, (_, i) => register(i)).join('');
	const blocks: string[] = [];
	for (let length = 0, n = 0; length < letters; n++) {
		const block = `<peripheral><name>B${n}</name><baseAddress>0x${(0x40000000 + 1024 * n).toString(16)}</baseAddress><registers>${registers}</registers></peripheral>\n`;
		blocks.push(block);
		length += block.length;
	}
	return `<?xml version="1.0" encoding="utf-8"?><device><name>BIG</name><size>32</size><peripherals>${blocks.join('')}</peripherals></device>`;
}

/** Registers, order and code of Fernhollow's plans, derived before: median of nine rounds after one that warms up. */
export function benchHandoff(report: Report): void {
	const derivations = [fernhollow(), fernhollowVane(), fernhollowLamp(), fernhollowHand()].map((plan) => derivePlan(plan));
	const round = () => {
		const began = performance.now();
		for (const derivation of derivations) {
			const of = handOff(derivation);
			if (of.findings.length > 0) throw new Error(of.findings[0].join(' '));
			codeOf(of, PLAIN_STYLE, codeWords(derivation.plan, markOf(derivation.plan)));
		}
		return performance.now() - began;
	};
	round();
	const took = Array.from({ length: 9 }, round);
	report('handoff_plan_10', took.sort((a, b) => a - b)[4], 'ms');
}
