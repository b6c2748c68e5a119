import tailwindcss from '@tailwindcss/vite';
import { sveltekit } from '@sveltejs/kit/vite';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';

/** The component library's files are free of side effects, which its package does not say: what is not used is left out. */
const trimComponents: Plugin = {
	name: 'trim-components',
	enforce: 'pre',
	transform: {
		filter: { id: /flowbite-svelte\/dist\/.*\.js$/ },
		handler: (code) => ({ code, moduleSideEffects: false })
	}
};

export default defineConfig({
	plugins: [trimComponents, tailwindcss(), sveltekit()],
	worker: { format: 'es' },
	server: { host: '127.0.0.1' },
	test: {
		projects: [
			{
				extends: true,
				test: {
					name: 'unit',
					environment: 'node',
					include: ['src/**/*.test.ts', 'tests/rules/**/*.test.ts', 'tests/cli/**/*.test.ts'],
					// One worker a core, as nothing else runs beside them.
					maxWorkers: 2,
					// No test is a measure of speed: a slow machine only takes longer.
					testTimeout: 60_000
				}
			},
			{
				extends: true,
				test: {
					name: 'server',
					environment: 'node',
					include: ['tests/server/**/*.test.ts'],
					globalSetup: ['tests/server/setup.ts'],
					testTimeout: 60_000,
					hookTimeout: 120_000
				}
			},
			{
				extends: true,
				test: {
					name: 'attack',
					environment: 'node',
					include: ['tests/attack/**/*.test.ts'],
					// Each has a server of its own; hours are weighed alone.
					fileParallelism: process.env.ATTACK !== 'long',
					maxWorkers: process.env.ATTACK === 'long' ? 1 : 3,
					testTimeout: process.env.ATTACK === 'long' ? 7_200_000 : 120_000,
					hookTimeout: 120_000
				}
			},
			{
				extends: true,
				test: {
					name: 'browser',
					environment: 'node',
					include: ['tests/browser/**/*.test.ts'],
					globalSetup: ['tests/browser/setup.ts'],
					fileParallelism: false,
					testTimeout: 60_000,
					hookTimeout: 120_000
				}
			}
		]
	}
});
