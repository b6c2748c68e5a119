import { describe, type Description } from './read.js';
import { TreeReader } from './tree.js';

export { blocksOf, fieldWords, withBlocks } from './blocks.js';
export type { BlockJson } from './blocks.js';
export type { Description, SvdFault, SvdField, SvdFinding, SvdPeripheral, SvdRegister } from './read.js';
export { SvdError } from './tree.js';
export type { SvdTrouble } from './tree.js';

/** Reads a CMSIS-SVD file as it comes, piece by piece; its bytes are UTF-8. */
export class SvdReader {
	private readonly tree = new TreeReader();

	/** The next text. Throws SvdError. */
	feed(piece: string): void {
		this.tree.feed(piece);
	}

	/** Throws SvdError. */
	end(): Description {
		return describe(this.tree.end());
	}
}
