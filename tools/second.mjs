/** Serves the built application beside another server, on the database that DATABASE_URL names. Prints its address. */
import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { serve } from './serve.mjs';

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..');
process.env.NOLVET_ROOT = root;
process.on('uncaughtException', (error) => console.error(`nolvet: unexpected: ${error.stack ?? error}`));
process.on('unhandledRejection', (error) => console.error(`nolvet: unexpected: ${error?.stack ?? error}`));
const server = await serve(root, Number(process.env.PORT ?? 0));
process.on('SIGTERM', () => void server.close().then(() => process.exit(0)));
console.log(`Nolvet is ready at ${server.address}`);
