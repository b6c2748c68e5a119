import { byteAddresses, type Cell } from './cell.js';

/** Bytes by address, with gaps. A byte told twice differently counts as missing. */
export class Memory {
	private readonly bytes = new Map<number, number>();
	/** Addresses of bytes that were told twice differently. */
	readonly contradictions = new Set<number>();

	put(address: number, bytes: Iterable<number>): void {
		let at = address;
		for (const byte of bytes) {
			const known = this.bytes.get(at);
			if (known !== undefined && known !== byte) this.contradictions.add(at);
			this.bytes.set(at++, byte);
		}
	}

	at(address: number): number | undefined {
		return this.contradictions.has(address) ? undefined : this.bytes.get(address);
	}

	get size(): number {
		return this.bytes.size;
	}

	/** Addresses that are known, ascending. */
	addresses(): number[] {
		return [...this.bytes.keys()].filter((address) => !this.contradictions.has(address)).sort((a, b) => a - b);
	}

	/** What is known of a cell's word: its bits, and which of them. */
	word(cell: Cell): { value: bigint; known: bigint } {
		let [value, known] = [0n, 0n];
		byteAddresses(cell).forEach((address, k) => {
			const byte = this.at(address);
			if (byte === undefined) return;
			value |= BigInt(byte) << BigInt(8 * k);
			known |= 0xffn << BigInt(8 * k);
		});
		return { value, known };
	}
}
