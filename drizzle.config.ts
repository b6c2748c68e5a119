import { defineConfig } from 'drizzle-kit';

export default defineConfig({
	dialect: 'postgresql',
	schema: './src/lib/server/store/tables.ts',
	out: './src/lib/server/store/migrations',
	casing: 'snake_case'
});
