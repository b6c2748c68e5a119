import { csvRow } from '../../../core/formats/index.js';

const HEAD = ['register', 'address', 'reset', 'value', 'decimal', 'binary', 'bytes', 'fields'];

/** The table in a form to be pasted. */
export function tableAs(form: 'text' | 'markdown' | 'csv', rows: readonly (readonly string[])[]): string {
	const all = [HEAD, ...rows];
	if (form === 'csv') return [...all.map((row) => csvRow(row)), ''].join('\n');
	if (form === 'markdown') {
		const line = (row: readonly string[]) => `| ${row.map((cell) => cell.replaceAll('|', '\\|')).join(' | ')} |`;
		return [line(HEAD), line(HEAD.map(() => '---')), ...rows.map(line), ''].join('\n');
	}
	const widths = HEAD.map((_, i) => Math.max(...all.map((row) => row[i].length)));
	return [
		...all.map((row) =>
			row
				.map((cell, i) => cell.padEnd(widths[i]))
				.join('  ')
				.trimEnd()
		),
		''
	].join('\n');
}
