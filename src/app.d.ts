declare global {
	namespace App {
		interface Error {
			message: string;
			/** What would be accepted, or what to do. */
			accepted?: string;
			/** What the server's log calls it. */
			id?: string;
		}
	}
}

export {};
