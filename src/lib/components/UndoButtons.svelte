<script lang="ts">
	import Glyph from './Glyph.svelte';

	interface Props {
		/** What the next undo and redo would take back or do again; undefined: nothing. */
		undo: string | undefined;
		redo: string | undefined;
		onUndo: () => void;
		onRedo: () => void;
	}
	let { undo, redo, onUndo, onRedo }: Props = $props();
</script>

<button
	type="button"
	class="btn px-1.5"
	disabled={undo === undefined}
	title="Undo: {undo ?? 'nothing'} (Ctrl+Z)"
	aria-label="Undo"
	onclick={onUndo}><Glyph name="undo" size={16} /></button
>
<button
	type="button"
	class="btn px-1.5"
	disabled={redo === undefined}
	title="Redo: {redo ?? 'nothing'} (Ctrl+Shift+Z)"
	aria-label="Redo"
	onclick={onRedo}><Glyph name="redo" size={16} /></button
>
