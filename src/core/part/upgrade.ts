/**
 * Brings a profile of an older format to the newest. Version 1 named one pin and one output word per channel; it is kept
 * in plans that were made with it.
 */
export function upgradeProfile(raw: unknown): unknown {
	if (!isObject(raw)) return raw;
	const second = raw.version === 1 ? fromFirst(raw) : raw;
	// Version 3 may say where quantities live in registers.
	return second.version === 2 ? { ...second, version: 3 } : second;
}

type Plain = Record<string, unknown>;

function fromFirst(old: Plain): Plain {
	const pins: Plain[] = [];
	const timers = listOf(old.timers).map((timer) => {
		const down = Array.isArray(timer.modes) && timer.modes[0] === 'down';
		const channels = listOf(timer.channels).map(({ id, name, pin, output }) => {
			pins.push({ id: `pin-${pins.length + 1}`, name: pin, functions: [`${String(timer.id)}.${String(id)}`] });
			return { id, name, outputs: [outputOf(output, down)] };
		});
		return { ...timer, channels };
	});
	return { ...old, version: 2, timers, pins };
}

function outputOf(word: unknown, down: boolean): Plain {
	if (word === 'below' || word === 'above') return { model: 'level', sense: word };
	return down
		? { model: 'action', edge: word, top: 'high', matchDown: 'low' }
		: { model: 'action', edge: word, zero: 'high', matchUp: 'low' };
}

function listOf(value: unknown): Plain[] {
	return Array.isArray(value) ? value.filter(isObject) : [];
}

function isObject(value: unknown): value is Plain {
	return value !== null && typeof value === 'object' && !Array.isArray(value);
}
