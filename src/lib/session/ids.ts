/** A name that no one else gives, also where the page's address is none that browsers trust with `randomUUID`. */
export function newId(): string {
	return Array.from(crypto.getRandomValues(new Uint32Array(4)), (word) => word.toString(36)).join('-');
}
