import pino from 'pino';

/** The server's log: a line of JSON each on the error stream, which leaves the other to what the start command tells. */
export const log = pino({ name: 'nolvet', base: undefined, timestamp: pino.stdTimeFunctions.isoTime }, pino.destination(2));
