import { listed } from './words.js';

/** What the command line says. */
export const commandText = {
	about: 'Plan hardware timers exactly, predict their pins and measure recordings, without a screen.',
	derive: 'work a plan out: rates of the clock, register settings, figures and findings',
	demo: 'name the demo plans, or print one as a plan file',
	predict: 'predict every planned pin from 0 on, as a value change dump or as rows of edges',
	measure: 'measure every line of recordings: value change dumps, rows of edges or samples, and wave files, packed with gzip or not',
	plan: 'a plan file; - reads the standard input',
	recording: 'a recording; - reads the standard input',
	demoName: 'one of the names; left out: they are listed',
	json: 'print JSON, for other programs',
	time: 'how long, such as 20 ms',
	vcd: 'write a value change dump to this file',
	csv: 'write rows of edges to this file; without any file they go to the standard output',
	export: 'save plans with their history, recordings and own parts of a running server as one archive',
	import: 'take an archive in: plans that are here already are left, or go on where the archive is newer',
	all: 'everything: all plans and all own parts',
	onlyPlan: 'one plan, by the id in its address',
	server: 'where Nolvet runs',
	archive: 'the archive, a .tar.gz file',
	whatToExport: 'say what: --all, or --plan with an id',
	away: (server: string) => `${server} does not answer: is Nolvet running there? ./start tells its address`,
	noServer: (server: string) => `“${server}” is no address such as http://127.0.0.1:4180`,
	brokenOff: 'the server ended before the archive was whole',
	exported: (file: string, megabytes: string) => `${file}: ${megabytes} MB`,
	sent: (megabytes: string) => `${megabytes} MB sent`,
	warning: 'warning',
	nothingPlanned: 'no aim of this plan drives a pin as it stands; nolvet derive says why',
	timeColumn: 'time (s)',
	fileReasons: {
		ENOENT: 'there is no such file',
		EISDIR: 'this is a folder, a file is wanted',
		EACCES: 'it may not be read or written',
		ENOSPC: 'the disk is full'
	} as Record<string, string>,
	noDemo: (name: string, known: readonly string[]) => `there is no demo plan “${name}”; there are ${listed(known)}`,
	dumpComment: (plan: string) => `${plan}, as planned. Times are rounded to picoseconds.`,
	progress: (share: number) => `predicting, ${Math.floor(100 * share)} %`,
	bytesRead: (file: string, bytes: number) => `${file}: ${(bytes / 1e6).toFixed(1)} MB`,
	place: (line: number, byte: number) => `line ${line}, byte ${byte}: `,
	recordingLine: (file: string, kind: string, step: string, from: string) => `${file}: ${kind}, known to ${step} (${from})`,
	cutAt: (threshold: number, hysteresis: number) => `, high above ${threshold} give or take ${hysteresis}`,
	threshold: 'where samples are cut into levels; left out: half-way between the two levels found',
	hysteresis: 'how far beyond that a sample must lie; left out: a tenth of the span',
	timeUnit: 'the unit that rows write times in: s, ms, us, ns, ps or fs',
	step: 'what an edge can be off by, such as 20 ns',
	noNumber: (option: string, text: string) => `${option} “${text}”: a number is wanted`,
	noUnit: (text: string) => `--time-unit “${text}”: s, ms, us, ns, ps or fs is wanted`,
	noStep: (text: string) => `--step “${text}”: a time above 0, such as 20 ns, is wanted`,
	lineOfEdges: (name: string, edges: number) => `${name}: ${edges} ${edges === 1 ? 'edge' : 'edges'}`,
	statistics: (of: string, mean: string, min: string, max: string, count: number) => `${of} ${mean} (${min} to ${max}, of ${count})`
};

/** A planned line by its aim's name and what of the aim it is. */
export function lineName(aim: string, role: string): string {
	return role === 'pin' ? aim : `${aim} ${role}`;
}
