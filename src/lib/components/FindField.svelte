<script lang="ts">
	/** A field that narrows a list: Escape empties it, and leaves it when it is empty. */
	interface Props {
		value: string;
		label: string;
		placeholder?: string;
		class?: string;
		/** `/` leads to it. */
		slash?: boolean;
	}
	let { value = $bindable(), label, placeholder = `${label} …`, class: classes = '', slash = false }: Props = $props();

	let field: HTMLInputElement;

	function onKey(event: KeyboardEvent) {
		if (event.key !== 'Escape') return;
		event.preventDefault();
		if (value === '') field.blur();
		value = '';
	}
</script>

<input
	bind:this={field}
	bind:value
	class={['plain-select', classes]}
	placeholder={slash ? `${placeholder}  ( / )` : placeholder}
	aria-label={label}
	data-slash={slash ? '' : undefined}
	autocomplete="off"
	onkeydown={onKey}
/>
