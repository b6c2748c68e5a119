const KEY = 'nolvet-theme';

class Theme {
	dark = $state(typeof document !== 'undefined' && document.documentElement.classList.contains('dark'));

	/** Light or dark, kept in this browser. */
	set(dark: boolean): void {
		this.dark = dark;
		document.documentElement.classList.toggle('dark', dark);
		localStorage.setItem(KEY, dark ? 'dark' : 'light');
	}
}

export const theme = new Theme();
