import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		adapter: adapter(),
		alias: { $core: 'src/core', $workers: 'src/workers' },
		csp: {
			mode: 'auto',
			directives: {
				'default-src': ['self'],
				// The innermost loops over bytes and edges are compiled (src/core/kernels).
				'script-src': ['self', 'wasm-unsafe-eval'],
				'style-src': ['self', 'unsafe-inline'],
				'img-src': ['self', 'data:', 'blob:'],
				'font-src': ['self', 'data:'],
				'connect-src': ['self'],
				'worker-src': ['self', 'blob:'],
				'object-src': ['none'],
				'base-uri': ['none'],
				'form-action': ['self'],
				'frame-ancestors': ['none']
			}
		},
		typescript: {
			config: (config) => {
				config.include.push('../tests/**/*.ts', '../perf/**/*.ts', '../tools/**/*.ts', '../*.config.ts', '../*.config.js');
				config.exclude = config.exclude.filter((path) => !path.includes('service-worker'));
				// A language of its own, that its own compiler checks.
				config.exclude.push('../src/core/kernels/assembly/**');
				return config;
			}
		}
	}
};
