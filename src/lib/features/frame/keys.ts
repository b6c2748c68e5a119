/** Is someone typing into a field? Single keys are then theirs. */
export function isTyping(event: KeyboardEvent): boolean {
	return event.target instanceof HTMLElement && event.target.matches('input, textarea, select');
}

/** Ctrl+Z undoes; Ctrl+Shift+Z and Ctrl+Y do again. Takes the key for itself when it is one of them. */
export function undoKeys(event: KeyboardEvent, session: { undo(): unknown; redo(): unknown }): void {
	if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
	const key = event.key.toLowerCase();
	if (key !== 'z' && key !== 'y') return;
	event.preventDefault();
	if (key === 'y' || event.shiftKey) session.redo();
	else session.undo();
}

/** `/` leads to the field that takes commands, or narrows the list where there is none. */
export function slashKey(event: KeyboardEvent): void {
	if (event.key !== '/' || isTyping(event)) return;
	const field = document.querySelector<HTMLInputElement>('[data-slash]');
	if (!field) return;
	event.preventDefault();
	field.focus();
	field.select();
}

/** [ and ] step through findings: -1, 1, or undefined for any other key. Takes the key for itself. */
export function findingKeys(event: KeyboardEvent): 1 | -1 | undefined {
	if (isTyping(event) || (event.key !== '[' && event.key !== ']')) return undefined;
	event.preventDefault();
	return event.key === ']' ? 1 : -1;
}
