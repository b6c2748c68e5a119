import type { Dialect } from './dialect.js';
import { levelWord, plainCell, ungrouped, withUnit } from './words.js';

/** Reads the cells of levels and samples that are no plain numbers. */
export class ValueCells {
	/** Cells without a value that say more than x, z or nan: how many, the first one and its line. */
	unknown: { count: number; line: number; name: string } | undefined;
	private readonly ungroup: (number: string) => string;

	constructor(private readonly dialect: Dialect) {
		this.ungroup = ungrouped(dialect.thousands);
	}

	/** A value; NaN for an unknown level, -Infinity for an empty cell; undefined for a cell that makes no sense. */
	of(text: string, line: number): number | undefined {
		const cell = plainCell(text);
		if (cell === '') return -Infinity;
		const level = levelWord(cell);
		if (level !== undefined) {
			if (level !== level && !/^([xz]|nan)$/i.test(cell))
				this.unknown = { line, name: cell, ...this.unknown, count: (this.unknown?.count ?? 0) + 1 };
			return level;
		}
		const measured = withUnit(cell);
		const value = this.number(measured?.number ?? cell);
		if (value === undefined || !measured) return value;
		return measured.power < 0 ? value / 10 ** -measured.power : value * 10 ** measured.power;
	}

	private number(cell: string): number | undefined {
		const plain = this.ungroup(cell).replace(this.dialect.decimal, '.');
		return /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/.test(plain) ? Number(plain) : undefined;
	}
}
