import { Command, CommanderError, Option } from 'commander';
import { commandText } from '../lib/text/index.js';
import { check, type CheckOptions } from './check.js';
import { code, type CodeOptions } from './code.js';
import { exportArchive, importArchive, type ExportOptions } from './archive.js';
import { demo } from './demo.js';
import { derive } from './derive.js';
import { Unreadable } from './files.js';
import { importSvd, type ImportSvdOptions } from './importSvd.js';
import { measure, type MeasureOptions } from './measure.js';
import { predict } from './predict.js';
import { readBackOf, type ReadBackOptions } from './readBack.js';
import { registers } from './registers.js';

/** The command `nolvet`: the core without a screen. Exit 0: no fault; 1: faults; 2: unreadable, or wrongly asked. */
const program = new Command('nolvet').description(commandText.about).exitOverride().configureHelp({ showGlobalOptions: true });

program
	.command('derive')
	.description(commandText.derive)
	.argument('<plan>', commandText.plan)
	.option('--json', commandText.json)
	.action(async (plan: string, { json = false }: { json?: boolean }) => finish(await derive(plan, json)));

program
	.command('demo')
	.description(commandText.demo)
	.argument('[name]', commandText.demoName)
	.action((name?: string) => finish(demo(name)));

program
	.command('predict')
	.description(commandText.predict)
	.argument('<plan>', commandText.plan)
	.requiredOption('--for <time>', commandText.time)
	.option('--vcd <file>', commandText.vcd)
	.option('--csv <file>', commandText.csv)
	.action(async (plan: string, options: { for: string; vcd?: string; csv?: string }) => finish(await predict(plan, options)));

program
	.command('measure')
	.description(commandText.measure)
	.argument('<recording...>', commandText.recording)
	.option('--json', commandText.json)
	.option('--threshold <value>', commandText.threshold)
	.option('--hysteresis <value>', commandText.hysteresis)
	.option('--time-unit <unit>', commandText.timeUnit)
	.option('--step <time>', commandText.step)
	.action(async (recordings: string[], options: MeasureOptions) => finish(await measure(recordings, options)));

const several = (value: string, before: string[] = []): string[] => [...before, value];

program
	.command('check')
	.description(commandText.check)
	.argument('<plan>', commandText.plan)
	.argument('[recording...]', commandText.recording)
	.option('--map <map>', commandText.map, several)
	.option('--log <log>', commandText.log, several)
	.option('--columns <columns>', commandText.columns)
	.option('--instrument <ppm>', commandText.instrument)
	.option('--json', commandText.json)
	.option('--strict', commandText.strict)
	.option('--junit <file>', commandText.junit)
	.option('--dump <file>', commandText.dump)
	.option('--base <address>', commandText.base)
	.option('--hex', commandText.hexWords)
	.addOption(new Option('--grouped <way>', commandText.grouped).choices(['bytes', 'words']))
	.action(async (plan: string, recordings: string[], options: CheckOptions) => finish(await check(plan, recordings, options)));

program
	.command('registers')
	.description(commandText.registers)
	.argument('<plan>', commandText.plan)
	.option('--json', commandText.json)
	.action(async (plan: string, { json }: { json?: boolean }) => finish(await registers(plan, json ?? false)));

program
	.command('code')
	.description(commandText.code)
	.argument('<plan>', commandText.plan)
	.option('--out <folder>', commandText.out)
	.option('--style <file>', commandText.style)
	.option('--check <folder>', commandText.checkCode)
	.option('--json', commandText.json)
	.action(async (plan: string, options: CodeOptions) => finish(await code(plan, options)));

program
	.command('read-back')
	.description(commandText.readBack)
	.argument('<plan>', commandText.plan)
	.argument('<dump>', commandText.dump)
	.option('--base <address>', commandText.base)
	.option('--hex', commandText.hexWords)
	.addOption(new Option('--grouped <way>', commandText.grouped).choices(['bytes', 'words']))
	.option('--json', commandText.json)
	.action(async (plan: string, dump: string, options: ReadBackOptions) => finish(await readBackOf(plan, dump, options)));

program
	.command('import-svd')
	.description(commandText.importSvd)
	.argument('<file>', commandText.svd)
	.option('--out <part>', commandText.partOut)
	.option('--into <part>', commandText.partInto)
	.option('--take <peripheral>', commandText.takePeripheral, several)
	.option('--json', commandText.json)
	.action(async (file: string, options: ImportSvdOptions) => finish(await importSvd(file, options)));

const LOCAL = 'http://127.0.0.1:4180';

program
	.command('export')
	.description(commandText.export)
	.argument('<file>', commandText.archive)
	.option('--all', commandText.all)
	.option('--plan <id>', commandText.onlyPlan)
	.option('--server <address>', commandText.server, LOCAL)
	.action(async (file: string, options: ExportOptions) => finish(await exportArchive(file, options)));

program
	.command('import')
	.description(commandText.import)
	.argument('<file>', commandText.archive)
	.option('--server <address>', commandText.server, LOCAL)
	.action(async (file: string, { server }: { server: string }) => finish(await importArchive(file, server)));

function finish(code: number): void {
	process.exitCode = code;
}

// A reader that has seen enough, such as the head of a pipe, ends the command without a word.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
	if (error.code === 'EPIPE') process.exit(0);
	throw error;
});

try {
	await program.parseAsync();
} catch (error) {
	if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
	else if (error instanceof Unreadable) {
		process.stderr.write(`nolvet: ${error.message}\n`);
		process.exitCode = 2;
	} else throw error;
}
