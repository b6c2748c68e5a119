<script lang="ts">
	import { Rational, showDecimal, showEngineering, wholeText } from '../../core/exact/index.js';

	interface Props {
		value: Rational;
		/** "Hz" and "s" take prefixes; any other unit is set behind the number as it is. */
		unit?: string;
		digits?: number;
		/** Write the sign of a positive number too. */
		sign?: boolean;
	}
	let { value, unit = '', digits = 7, sign = false }: Props = $props();

	const HUNDRED = Rational.int(100);
	const shown = $derived.by(() => {
		if (unit === 'Hz' || unit === 's') return showEngineering(value, unit, digits);
		const factor = unit === '%' ? value.mul(HUNDRED) : value;
		return { ...showDecimal(factor, digits), unit, ...wholeText(factor, unit) };
	});
	const text = $derived((sign && value.sign > 0 ? '+' : '') + shown.text.replace('-', '−'));
	let copied = $state(false);

	async function copy(event: MouseEvent) {
		event.stopPropagation();
		await navigator.clipboard.writeText(shown.full);
		copied = true;
		setTimeout(() => (copied = false), 900);
	}
</script>

<!-- A rounded number says so, shows its exact form on hover, and copies it on a click. -->
<button
	type="button"
	class="rounded-xs num whitespace-nowrap hover:text-accent"
	title={copied
		? 'copied'
		: `${shown.exact ? 'exact' : 'rounded; exactly'}: ${shown.said} (click to copy${shown.said === shown.full ? '' : ' all of it'})`}
	onclick={copy}
	>{#if !shown.exact}<span class="text-soft">≈</span>{/if}{text}{#if shown.unit}<span class="text-soft">&#8239;{shown.unit}</span
		>{/if}</button
>
