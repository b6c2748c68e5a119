import Sortable from 'sortablejs';
import type { Attachment } from 'svelte/attachments';

/** Pixels that the pointer moves before a press becomes a drag. */
const TOLERANCE = 5;

/**
 * Rows that are put into another order by dragging. They carry their key in `data-KEY`; `onMove` has the key of the row
 * that was dragged, and those of the rows that it was dropped between. The page's own state moves the rows: what the drag
 * did to the document is taken back first. Lists of one `group` give rows to each other.
 */
export function sortable(
	key: string,
	group: string,
	onMove: (moved: string, before: string | undefined, after: string | undefined) => void
): Attachment<HTMLElement> {
	const keyOf = (element: Element | null | undefined) => (element instanceof HTMLElement ? element.dataset[key] : undefined);
	return (node) => {
		let home: { parent: Node; next: Node | null } | undefined;
		const list = Sortable.create(node, {
			group,
			draggable: `[data-${key}]`,
			filter: 'input, select',
			preventOnFilter: false,
			// The pointer moves the row, not the browser's own drag: so a finger can, and a test.
			forceFallback: true,
			fallbackTolerance: TOLERANCE,
			animation: 120,
			ghostClass: 'opacity-40',
			onStart: ({ item }) => (home = { parent: item.parentNode!, next: item.nextSibling }),
			onEnd: ({ item }) => {
				const [moved, before, after] = [item, item.previousElementSibling, item.nextElementSibling].map(keyOf);
				home?.parent.insertBefore(item, home.next);
				if (moved !== undefined && (before !== undefined || after !== undefined)) onMove(moved, before, after);
			}
		});
		return () => list.destroy();
	};
}
