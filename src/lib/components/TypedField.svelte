<script lang="ts">
	interface Props {
		value: string;
		label: string;
		/** Set: the field makes no sense, and why. */
		problem?: string | undefined;
		onInput: (text: string, first: boolean) => void;
		/** Least width in characters. */
		least?: number;
		small?: boolean;
	}
	let { value, label, problem, onInput, least = 4, small = false }: Props = $props();

	let fresh = true;
	const id = $props.id();
	/** What stood there when this visit began. */
	let first = '';

	function begin(text: string) {
		fresh = true;
		first = text;
	}

	/** Enter ends what one undo takes back, Escape takes it back at once; the field keeps the focus. */
	function onKey(event: KeyboardEvent & { currentTarget: HTMLInputElement }) {
		if (event.key !== 'Enter' && event.key !== 'Escape') return;
		if (event.key === 'Escape' && value !== first) {
			onInput(first, fresh);
			event.preventDefault();
		}
		begin(event.key === 'Escape' ? first : value);
		event.currentTarget.select();
	}
</script>

<!-- A number in its place in a sentence: what is typed acts at once, and one undo takes back what one visit typed. -->
<span class="relative inline-block align-baseline">
	<input
		class={[
			'rounded-xs border-0 border-b-2 bg-transparent px-1 py-0 text-center num font-semibold focus:ring-0',
			small ? 'text-[13px]' : 'text-[0.92em]',
			problem ? 'border-fault bg-fault-wash text-fault' : 'border-accent/50 hover:border-accent focus:border-accent'
		]}
		style:width="calc({Math.max(least, value.length)}ch + 0.9rem)"
		{value}
		maxlength="120"
		spellcheck="false"
		autocomplete="off"
		aria-label={label}
		aria-invalid={problem ? 'true' : undefined}
		aria-describedby={problem ? `${id}-problem` : undefined}
		onfocus={() => begin(value)}
		oninput={(event) => {
			onInput(event.currentTarget.value, fresh);
			fresh = false;
		}}
		onkeydown={onKey}
	/>
	{#if problem}
		<span
			id="{id}-problem"
			role="alert"
			class="absolute top-full left-0 z-20 mt-1 w-72 rounded-xs border border-fault bg-card px-2 py-1 font-sans text-xs leading-snug whitespace-normal text-fault shadow-sm"
			>{problem}</span
		>
	{/if}
</span>
