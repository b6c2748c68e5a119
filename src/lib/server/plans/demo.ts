import { asc, eq } from 'drizzle-orm';
import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
	fernhollow,
	fernhollowHand,
	fernhollowLamp,
	fernhollowVane,
	insertStep,
	type Instrument,
	type Plan,
	type Sweep
} from '../../../core/plan/index.js';
import { readPairs } from '../../../core/readings/index.js';
import { db, rootFolder } from '../store/db.js';
import { createPlan, loadPlan, saveSteps } from './plans.js';
import { runImport, takeFile } from '../recordings/imports.js';
import { onceDone, lines } from '../store/tables.js';

/** A recording of the demo (demo/recordings), and which line of which aim each of its lines shows; those that are left out show none. */
interface Shown {
	file: string;
	lines: ({ aim: string; role?: string } | undefined)[];
	/** What its instrument states; left out: it is the recorder of the bench. */
	instrument?: string;
}

const heater = { aim: 'heater-a' };
const BENCH: Instrument = { id: 'recorder', name: 'bench recorder', time: '20 ppm', amplitude: '', lowest: '', highest: '25 MHz' };
const METER: Instrument = { id: 'meter', name: 'hand meter', time: '100 ppm', amplitude: '1 %', lowest: '1 Hz', highest: '100 kHz' };
const GENERATOR: Instrument = {
	id: 'generator',
	name: 'signal generator',
	time: '2 ppm',
	amplitude: '',
	lowest: '1 mHz',
	highest: '10 MHz'
};

const MAIN: Shown[] = [
	// The simulator that wrote the dumps rounds half of its clock's period to a picosecond.
	{ file: 'heater-half-rate.vcd', lines: [heater], instrument: '20 ppm' },
	{ file: 'heater-right.vcd', lines: [heater], instrument: '20 ppm' },
	{ file: 'heater-scope.csv', lines: [heater], instrument: '0' },
	{ file: 'heater-wrong-duty.csv', lines: [heater], instrument: '0' },
	{ file: 'heaters-staggered.vcd', lines: [heater, { aim: 'heater-b' }, { aim: 'heater-c' }] },
	{
		file: 'motor.vcd',
		lines: [
			{ aim: 'dome-motor', role: 'main' },
			{ aim: 'dome-motor', role: 'complementary' }
		]
	},
	{
		file: 'motor-damaged.vcd',
		lines: [
			{ aim: 'dome-motor', role: 'main' },
			{ aim: 'dome-motor', role: 'complementary' }
		]
	},
	{ file: 'focus-coil.csv', lines: [{ aim: 'focus-coil' }] },
	{ file: 'focus-coil-filtered.wav', lines: [] },
	{
		file: 'azimuth.csv',
		lines: [
			{ aim: 'azimuth', role: 'a' },
			{ aim: 'azimuth', role: 'b' }
		]
	},
	{
		file: 'shutter.vcd',
		lines: [
			{ aim: 'shutter', role: 'trigger' },
			{ aim: 'shutter', role: 'pin' }
		]
	},
	{ file: 'wind.csv', lines: [{ aim: 'wind', role: 'input' }] },
	{ file: 'strobe.vcd', lines: ['clock', 'left', 'right'].map((name) => ({ aim: 'strobe', role: `strobe ${name}` })) }
];

/** Lays the demo plans into a new database, each once: a demo that was deleted stays deleted. The main board comes last and so stands first. */
export async function layInDemo(): Promise<void> {
	if (await once('demo-boards')) {
		await layIn(fernhollowVane(), [{ file: 'flaps.csv', lines: ['A', 'B', 'C'].map((flap) => ({ aim: 'flaps', role: `flap ${flap}` })) }]);
		await layIn(fernhollowLamp(), [
			{ file: 'lamp.vcd', lines: [{ aim: 'lamp' }] },
			{ file: 'lamp-two-mistakes.vcd', lines: [{ aim: 'lamp' }] }
		]);
	}
	if (await once('demo-hand')) {
		const knob = sweep('knob-duty', 'knob against the lamp', 'knob', 'count>duty', await log('knob-duty.txt'), { readBy: METER.id });
		await layIn({ ...fernhollowHand(), instruments: [BENCH, METER], sweeps: [knob] }, [
			{ file: 'reading-lamp.vcd', lines: [{ aim: 'reading-lamp' }] }
		]);
	}
	if (await once('demo-1')) {
		const wind = sweep('wind-sweep', 'generator against wind cups', 'wind', 'rate>rate', await log('wind-sweep.txt'), {
			setBy: GENERATOR.id
		});
		const readings = [
			{ id: 'reading-1', aim: 'dome-motor', of: 'frequency', line: 'main', value: '20.00 kHz', error: '', by: METER.id },
			{ id: 'reading-2', aim: 'heater-a', of: 'duty', line: 'pin', value: '35.0 %', error: '0.2 %', by: METER.id }
		];
		await layIn({ ...fernhollow(), instruments: [BENCH, METER, GENERATOR], readings, sweeps: [wind] }, MAIN);
	}
}

async function once(name: string): Promise<boolean> {
	return (await db().insert(onceDone).values({ name }).onConflictDoNothing().returning()).length > 0;
}

const log = async (name: string) => readPairs(await readFile(join(rootFolder(), 'demo/logs', name), 'utf8'));

function sweep(id: string, name: string, aim: string, of: string, read: ReturnType<typeof readPairs>, by: Partial<Sweep>): Sweep {
	const [setUnit, readUnit] = read.units;
	return { id, name, aim, of, setUnit, readUnit, error: '', setBy: '', readBy: '', ...by, rows: read.rows };
}

/** Stores a plan, and its recordings with what they show. */
async function layIn(plan: Plan, shown: readonly Shown[]): Promise<void> {
	const named = plan.instruments.some(({ id }) => id === BENCH.id) ? plan : { ...plan, instruments: [...plan.instruments, BENCH] };
	const id = await createPlan(named);
	let mapped = 0;
	for (const { file, lines: roles, instrument } of shown) {
		const recording = await takeFile(id, { name: file, body: createReadStream(join(rootFolder(), 'demo/recordings', file)) });
		await runImport(recording);
		const found = await db().select({ name: lines.name }).from(lines).where(eq(lines.recordingId, recording)).orderBy(asc(lines.number));
		for (const [i, role] of roles.entries()) {
			if (!role || !found[i]) continue;
			const by: Record<string, string> = instrument === undefined ? { by: BENCH.id } : {};
			const mapping: Record<string, string> = {
				id: `demo-${mapped + 1}`,
				recording,
				line: found[i].name,
				...role,
				instrument: instrument ?? BENCH.time,
				...by
			};
			const { revision } = (await loadPlan(id))!;
			await saveSteps(id, revision, [
				{ kind: 'edit', merged: false, step: insertStep(['mappings', mapped++], mapping, 'map a line to an aim') }
			]);
		}
	}
}
