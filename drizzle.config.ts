import { defineConfig } from 'drizzle-kit';

export default defineConfig({
	dialect: 'postgresql',
	schema: './src/lib/server/tables.ts',
	out: './src/lib/server/migrations',
	casing: 'snake_case'
});
