/**
 * Elements in an order in which each stands behind what feeds it, otherwise as given. Feeders that are no elements are
 * passed over; `onCycle` is told the id at which a circle closes. A stack of its own: chains may be thousands long.
 */
export function feedersFirst<T extends { id: string }>(
	elements: Iterable<T>,
	feeders: (element: T) => readonly string[],
	onCycle: (id: string) => void
): T[] {
	const all = [...elements];
	const byId = new Map(all.map((element) => [element.id, element]));
	const order: T[] = [];
	const state = new Map<string, 'open' | 'done'>();
	for (const root of all) {
		const stack = [root];
		while (stack.length > 0) {
			const element = stack[stack.length - 1];
			const seen = state.get(element.id);
			if (seen === undefined) {
				state.set(element.id, 'open');
				for (const id of feeders(element)) {
					const feeder = byId.get(id);
					if (state.get(id) === 'open') onCycle(id);
					else if (feeder && !state.has(id)) stack.push(feeder);
				}
			} else {
				stack.pop();
				if (seen === 'open') order.push(element);
				state.set(element.id, 'done');
			}
		}
	}
	return order;
}
