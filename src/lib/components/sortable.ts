import Sortable from 'sortablejs';
import type { Attachment } from 'svelte/attachments';

/** Pixels that the pointer moves before a press becomes a drag. */
const TOLERANCE = 5;

/**
 * Rows that are put into another order by dragging. They carry their key in `data-KEY`; `onMove` has the key of the row
 * that was dragged, and of the row whose place it takes: the one before it where it went down, else the one behind it. The
 * page's own state moves the rows: what the drag did to the document is taken back first. Lists of one `group` give rows to
 * each other; rows of one key go together.
 */
export function sortable(key: string, group: string, onMove: (moved: string, target: string) => void): Attachment<HTMLElement> {
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
				const lands = document.createComment('');
				item.before(lands);
				home?.parent.insertBefore(item, home.next);
				const down = (item.compareDocumentPosition(lands) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0;
				lands.remove();
				const target = (down ? [before, after] : [after, before]).find((one) => one !== undefined && one !== moved);
				if (moved !== undefined && target !== undefined) onMove(moved, target);
			}
		});
		return () => list.destroy();
	};
}
