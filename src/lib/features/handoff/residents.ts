export const NO_FILES: ReadonlyMap<string, string> = new Map();

/** The day as files carry it. */
export const today = (): string => new Date().toISOString().slice(0, 10);
