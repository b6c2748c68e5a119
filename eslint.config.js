import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

export default ts.config(
	{
		ignores: [
			'node_modules/',
			'.svelte-kit/',
			'build/',
			'data/',
			'dist/',
			'.scratch/',
			'src/lib/server/migrations/',
			'src/core/kernels/assembly/'
		]
	},
	js.configs.recommended,
	...ts.configs.recommendedTypeChecked,
	...svelte.configs.recommended,
	prettier,
	...svelte.configs.prettier,
	{
		languageOptions: {
			globals: { ...globals.browser, ...globals.node },
			parserOptions: { projectService: true, extraFileExtensions: ['.svelte'] }
		},
		rules: {
			'no-undef': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
			'@typescript-eslint/restrict-template-expressions': 'off',
			'@typescript-eslint/no-base-to-string': 'off',
			'@typescript-eslint/only-throw-error': 'off',
			'svelte/no-navigation-without-resolve': 'off'
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: ts.parser, svelteConfig } },
		// The linter's parser does not see the types of callbacks in templates; svelte-check does.
		rules: {
			'@typescript-eslint/no-unsafe-argument': 'off',
			'@typescript-eslint/no-unsafe-assignment': 'off',
			'@typescript-eslint/no-unsafe-call': 'off',
			'@typescript-eslint/no-unsafe-member-access': 'off',
			'@typescript-eslint/no-unsafe-return': 'off'
		}
	},
	{
		files: ['src/core/**/*.ts'],
		ignores: ['src/core/**/*.test.ts'],
		rules: {
			'no-restricted-syntax': [
				'error',
				{ selector: "MemberExpression[object.name='Date'][property.name='now']", message: 'The core has no clock.' },
				{ selector: "NewExpression[callee.name='Date']", message: 'The core has no clock.' },
				{ selector: "MemberExpression[object.name='Math'][property.name='random']", message: 'The core has no randomness.' }
			]
		}
	},
	{ files: ['**/*.js', '**/*.mjs'], ...ts.configs.disableTypeChecked }
);
