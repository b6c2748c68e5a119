import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { join } from 'node:path';
import pg from 'pg';
import { log } from '../log.js';
import * as tables from './tables.js';

export type Db = NodePgDatabase<typeof tables>;

const CONNECTIONS = 8;
/** Who gets no connection in this time is told to come again. */
const CONNECT_MS = 3000;
/** No statement of ours takes so long; one that does is stuck. */
const STATEMENT_MS = 60_000;

let pool: pg.Pool | undefined;
let opened: Db | undefined;
let closing = false;

/** The repository's root, where migrations and demo files lie; the start command names it. */
export function rootFolder(): string {
	return process.env.NOLVET_ROOT ?? process.cwd();
}

/** The database, opened at first use. Throws when DATABASE_URL is not set. */
export function db(): Db {
	if (opened) return opened;
	const connectionString = process.env.DATABASE_URL;
	if (!connectionString) throw new Error('DATABASE_URL is not set: start Nolvet with ./start');
	pool = new pg.Pool({
		connectionString,
		max: CONNECTIONS,
		connectionTimeoutMillis: CONNECT_MS,
		statement_timeout: STATEMENT_MS,
		idle_in_transaction_session_timeout: STATEMENT_MS,
		keepAlive: true
	});
	// A connection that drops while idle is replaced by the pool; without a listener it would end the process.
	pool.on('error', (error) => closing || log.warn({ reason: error.message }, 'database connection lost'));
	// So does one that drops while it is checked out: its query fails, and tells whoever asked.
	pool.on('connect', (client) => client.on('error', (error) => closing || log.warn({ reason: error.message }, 'database connection lost')));
	opened = drizzle(pool, { schema: tables, casing: 'snake_case' });
	return opened;
}

/** Brings the schema up to date, all missing migrations in one transaction. */
export async function migrateDatabase(): Promise<void> {
	await migrate(db(), { migrationsFolder: join(rootFolder(), 'src/lib/server/store/migrations') });
}

export async function closeDatabase(): Promise<void> {
	closing = true;
	await pool?.end();
}
