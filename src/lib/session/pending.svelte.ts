import { invalidateAll } from '$app/navigation';

const AGAIN_MS = 1500;

/** Asks for a page's list again for as long as something in it is still being worked out. */
export function refreshPending(list: () => readonly { pending: boolean }[]): void {
	$effect(() => {
		if (!list().some(({ pending }) => pending)) return;
		const timer = setTimeout(() => void invalidateAll(), AGAIN_MS);
		return () => clearTimeout(timer);
	});
}
