import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { AIM_KINDS, kindOf } from '../../src/core/aims/index.js';
import { derivePlan } from '../../src/core/plan/index.js';
import { Dice, randomPlan, SHIPPED } from '../unit/randomPlans.js';
import {
	checkShape,
	codeShape,
	deriveShape,
	importSvdShape,
	measureShape,
	readBackShape,
	registersShape,
	type CheckOutput,
	type DeriveOutput,
	type MeasureOutput
} from '../../src/cli/shapes.js';

/** Drives the command as a script would: ./nolvet, which builds what is missing. */
let folder = '';
const at = (name: string) => join(folder, name);

function nolvet(args: string[], input = ''): { status: number | null; out: string; err: string } {
	const { status, stdout, stderr } = spawnSync('./nolvet', args, { input, encoding: 'utf8', maxBuffer: 1 << 28 });
	return { status, out: stdout, err: stderr };
}

beforeAll(() => {
	folder = mkdtempSync(join(tmpdir(), 'nolvet-cli-'));
	writeFileSync(at('demo.json'), nolvet(['demo', 'fernhollow']).out);
});
afterAll(() => rmSync(folder, { recursive: true }));

const changed = (change: (plan: { aims: Record<string, unknown>[]; clock: Record<string, string> }) => void): string => {
	const plan = JSON.parse(readFileSync(at('demo.json'), 'utf8')) as Parameters<typeof change>[0];
	change(plan);
	return JSON.stringify(plan);
};

describe('nolvet demo', () => {
	test('lists the demo plans, and prints one', () => {
		expect(nolvet(['demo']).out.split('\n')).toEqual(['fernhollow', 'fernhollow-lamp', 'fernhollow-vane', 'fernhollow-hand', '']);
		for (const name of ['fernhollow-lamp', 'fernhollow-vane', 'fernhollow-hand'])
			expect(nolvet(['derive', '-'], nolvet(['demo', name]).out).status).toBe(0);
	});
	test('one that is not there is refused with those that are', () => {
		const { status, err } = nolvet(['demo', 'other']);
		expect([status, err]).toEqual([
			2,
			'nolvet: there is no demo plan “other”; there are fernhollow, fernhollow-lamp, fernhollow-vane and fernhollow-hand\n'
		]);
	});
});

describe('nolvet derive', () => {
	test('tells settings, figures and rates exactly, in the shape that is promised', () => {
		const { status, out } = nolvet(['derive', at('demo.json'), '--json']);
		expect(status).toBe(0);
		const told: DeriveOutput = deriveShape.parse(JSON.parse(out));
		expect([told.plan, told.findings]).toEqual(['Fernhollow Observatory', []]);
		expect(told.nodes.loop).toEqual({ hz: '144000000/1' });
		const by = new Map(told.aims.map((aim) => [aim.id, aim]));
		expect(by.get('heater-a')).toMatchObject({
			kind: 'pwm',
			timer: 'timer-d',
			settings: { prescale: 1, reload: 59999, 'compare:ch1': 21000 },
			figures: { rate: '1200/1', duty: '7/20' },
			findings: []
		});
		expect(by.get('system-tick')!.settings).toMatchObject({ prescale: 1, reload: 89999, mode: 'down' });
		expect(by.get('dome-motor')!.settings).toMatchObject({ dead: 36 });
	});
	test('a stopped node is null', () => {
		const plan = changed((one) => {
			one.clock['timer-a-on'] = 'off';
		});
		const told = JSON.parse(nolvet(['derive', '-', '--json'], plan).out) as DeriveOutput;
		expect(told.nodes['timer-a-on']).toBeNull();
	});
	test('faults are a line each, and the exit says so', () => {
		const plan = changed((one) => {
			one.aims[0].rate = '1 GHz';
			one.aims[3].dead = 'long';
		});
		const { status, out } = nolvet(['derive', '-'], plan);
		expect(status).toBe(1);
		expect(out).toMatch(/^rate-too-fast aims\.0: 1 GHz is faster/m);
		expect(out).toMatch(/^field aims\.3\.dead: The dead time: /m);
	});
	test.each([
		['{', 'this is no JSON'],
		['{"version": 99}', 'version 99 is newer'],
		['[]', 'a plan file has a version'],
		['{"version": 5, "name": 7}', 'name: a text is wanted here']
	])('%j is unreadable, with the reason', (text, why) => {
		const { status, out, err } = nolvet(['derive', '-'], text);
		expect([status, out]).toEqual([2, '']);
		expect(err).toContain(why);
	});
	test('a file that is not there, and a word that is not known', () => {
		expect(nolvet(['derive', at('none.json')])).toMatchObject({
			status: 2,
			err: expect.stringContaining('there is no such file') as string
		});
		expect(nolvet(['derive', at('demo.json'), '--loud']).status).toBe(2);
		expect(nolvet(['dance']).status).toBe(2);
		expect(nolvet(['--help']).status).toBe(0);
	});
});

describe('nolvet predict and measure', () => {
	test('what is predicted is measured again as it was planned, from a dump and from rows', () => {
		const wrote = nolvet(['predict', at('demo.json'), '--for', '20 ms', '--vcd', at('p.vcd'), '--csv', at('p.csv')]);
		expect(wrote).toEqual({ status: 0, out: '', err: '' });
		const { status, out } = nolvet(['measure', at('p.vcd'), at('p.csv'), '--json']);
		expect(status).toBe(0);
		const told: MeasureOutput = measureShape.parse(JSON.parse(out));
		expect(told.recordings.map((one) => ('kind' in one ? one.kind : 'refused'))).toEqual(['vcd', 'csv']);
		for (const one of told.recordings) {
			if (!('kind' in one)) continue;
			const motor = one.lines.find(({ name }) => /dome.motor.main/.test(name))!;
			// 20 kHz for 20 ms: 400 periods of 50 us, high for 29.5 us of each.
			expect(motor.quantities.period).toMatchObject({ count: 399, mean: '1/20000', min: '1/20000' });
			expect(motor.quantities.high).toMatchObject({ mean: '59/2000000', max: '59/2000000' });
			expect(motor.first).toBe('1/2000000');
		}
	});
	test('without a file the rows go to the standard output', () => {
		const { out } = nolvet(['predict', '-', '--for', '1 ms'], nolvet(['demo', 'fernhollow-vane']).out);
		expect(out.split('\n').slice(0, 2)).toEqual(['time (s),vane flaps flap A,vane flaps flap B,vane flaps flap C', '0,1,1,1']);
	});
	test('a time without a unit, and a plan without a pin, are refused', () => {
		expect(nolvet(['predict', at('demo.json'), '--for', '5'])).toMatchObject({ status: 2 });
		expect(
			nolvet(
				['predict', '-', '--for', '5 ms'],
				changed((plan) => plan.aims.splice(0))
			).err
		).toContain('drives a pin');
	});
	test('a recording that cannot be read is refused in its place, and the others are told', () => {
		writeFileSync(at('bad.vcd'), '$timescale 1 ns $end\n$enddefinitions $end\n');
		const { status, out, err } = nolvet(['measure', at('bad.vcd'), 'demo/recordings/heater-right.vcd', at('none.csv'), '--json']);
		const told: MeasureOutput = measureShape.parse(JSON.parse(out));
		expect(status).toBe(2);
		expect(told.recordings.map((one) => ('refused' in one ? one.refused.code : one.kind))).toEqual(['no-variables', 'vcd', 'unreadable']);
		expect(err).toContain('no $var among the declarations; at least one variable is wanted');
	});
	test('samples are cut as it is said, and what was said is printed back', () => {
		const rows = Array.from({ length: 40 }, (_, i) => `${i},${[0, 0, 1, 2, 3, 3, 2, 1][i % 8]}`).join('\n');
		const { out } = nolvet(
			['measure', '-', '--json', '--threshold', '2.5', '--hysteresis', '0.1', '--time-unit', 'ms', '--step', '5 us'],
			`t,v\n${rows}\n`
		);
		const [one] = measureShape.parse(JSON.parse(out)).recordings;
		if ('refused' in one) throw new Error(one.refused.message);
		expect([one.step, one.stepFrom, one.settings]).toEqual([
			'1/200000',
			'hand',
			{ all: { threshold: 2.5, hysteresis: 0.1 }, timeExponent: -3, step: '1/200000' }
		]);
		// Up at 3.5 ms and down at 5.5 ms, every 8 ms.
		expect([one.lines[0].first, one.lines[0].quantities.high!.mean, one.lines[0].quantities.period!.mean]).toEqual([
			'7/2000',
			'1/500',
			'1/125'
		]);
		for (const [option, value, why] of [
			['--threshold', 'high', 'a number is wanted'],
			['--time-unit', 'weeks', 's, ms, us, ns, ps or fs is wanted'],
			['--step', '0 s', 'a time above 0']
		])
			expect(nolvet(['measure', '-', option, value], 't,v\n0,1\n')).toMatchObject({
				status: 2,
				err: expect.stringContaining(why) as string
			});
	});
	test('the standard input is a recording too', () => {
		const { status, out } = nolvet(['measure', '-'], 'time (us),a\n0,0\n10,1\n30,0\n110,1\n130,0\n210,1\n');
		expect(status).toBe(0);
		// From rise to rise 100 us, high for 20 of them.
		expect(out).toContain('period 100 µs (100 µs to 100 µs, of 2)');
		expect(out).toContain('duty 20 %');
	});
});

describe('nolvet check', () => {
	const recorded = (name: string) => `demo/recordings/${name}`;
	const told = (args: string[]): { status: number | null; check: CheckOutput } => {
		const { status, out } = nolvet(['check', at('demo.json'), ...args, '--json']);
		return { status, check: checkShape.parse(JSON.parse(out)) };
	};

	test('a right pin is within, and nobody is suspected', () => {
		const { status, check } = told([recorded('heater-right.vcd'), '--instrument', '50']);
		expect([status, check.verdict, check.as_set, check.suspects, check.damage]).toEqual([0, 'within', 'within', [], []]);
		expect(check.lines[0]).toEqual({ file: recorded('heater-right.vcd'), line: 'heater_a', guessed: true, aim: 'heater-a', role: 'pin' });
		const rate = check.aims[0].quantities.find(({ of }) => of === 'frequency')!;
		expect([rate.planned, rate.within, rate.explained]).toEqual(['1200/1', true, true]);
	});
	test('one at half the rate is outside, and the prescaler that does it is named with its register', () => {
		const { status, check } = told([recorded('heater-half-rate.vcd'), '--instrument', '50']);
		expect([status, check.verdict]).toEqual([1, 'outside']);
		const [first] = check.suspects;
		expect([first.codes, first.where[0], first.explains]).toEqual([
			['prescale-one-more'],
			{ timer: 'timer-d', what: 'prescale', planned: 1, found: 2 },
			true
		]);
		expect(check.evidence.rows[0].codes).toEqual([]);
		expect(check.evidence.rows[1].cells.every((cell) => cell === null || Math.abs(cell) <= 1)).toBe(true);
	});
	test('a dump is one more witness: it holds to the right suspect, and speaks against another', () => {
		const files = [recorded('heater-half-rate.vcd'), '--instrument', '50', '--dump', at('witness.txt')];
		writeFileSync(at('witness.txt'), 'TIMERD.TICKDIV = 0x1\n');
		expect(told(files).check.suspects[0]).toMatchObject({ codes: ['prescale-one-more'], dump: 'holds' });
		writeFileSync(at('witness.txt'), 'TIMERD.TICKDIV = 0x0\n');
		expect(told(files).check.suspects[0]).toMatchObject({ codes: ['prescale-one-more'], dump: 'contradicts' });
		expect(nolvet(['check', at('demo.json'), ...files]).out).toContain('The dump speaks against it: timer-d prescale really is 1.');
		writeFileSync(at('witness.txt'), 'nothing\n');
		expect(nolvet(['check', at('demo.json'), ...files]).status).toBe(2);
	});
	test('two mistakes are named as a pair; a damaged recording is told, and nobody is suspected of it', () => {
		writeFileSync(at('lamp.json'), nolvet(['demo', 'fernhollow-lamp']).out);
		const lamp = nolvet(['check', at('lamp.json'), recorded('lamp-two-mistakes.vcd'), '--instrument', '20', '--json']);
		const { suspects } = checkShape.parse(JSON.parse(lamp.out));
		const pairs = [suspects[0], ...suspects[0].ties].map(({ codes }) => [...codes].sort().join(' '));
		expect([lamp.status, pairs]).toEqual([1, expect.arrayContaining(['digits-transposed prescale-code-neighbour'])]);
		const { status, check } = told([recorded('motor-damaged.vcd'), '--instrument', '20']);
		expect([status, check.verdict, check.suspects]).toEqual([0, 'within', []]);
		expect(check.damage.map(({ code, count }) => [code, count]).sort()).toEqual([
			['extra-glitches', 3],
			['missing-edges', 2]
		]);
	});
	test('what was wished decides the exit, what is set with --strict: a clock that is off alone is no fault of the aim', () => {
		const file = recorded('heater-right.vcd');
		expect(nolvet(['check', at('demo.json'), file]).status).toBe(0);
		expect(nolvet(['check', at('demo.json'), file, '--strict']).status).toBe(1);
		expect(nolvet(['check', at('demo.json'), file, '--strict', '--instrument', '50']).status).toBe(0);
	});
	test('a line is mapped as it is typed, with signs of the syntax in its name; a leader is another aim’s pin', () => {
		writeFileSync(at('odd.csv'), 'time (us),a:b=c/d\n0,0\n100,1\n391.667,0\n933.333,1\n1225,0\n1766.667,1\n2058.333,0\n');
		const { check } = told([at('odd.csv'), '--map', `${at('odd.csv')}:a\\:b\\=c/d=heater-b/leader`]);
		expect(check.lines[0]).toMatchObject({ line: 'a:b=c/d', aim: 'heater-a', role: 'pin', guessed: false });
	});
	test('a log is held against what the aim reads, and says what would explain it', () => {
		// Two edges a reading that nobody divided out: every rate is read as half.
		const rows = [2, 4, 8, 16, 32, 64].map((hz) => `${hz} Hz, ${hz / 2} Hz`).join('\n');
		writeFileSync(at('cups.txt'), `set, read\n${rows}\n`);
		const { status, check } = told(['--log', `${at('cups.txt')}=wind`, '--columns', 'set,read']);
		expect([status, check.aims[0].id, check.aims[0].quantities.length]).toEqual([1, 'wind', 6]);
		const codes = check.suspects.flatMap((one) => [one.codes[0], ...one.ties.map((tie) => tie.codes[0])]);
		expect(codes).toContain('capture-divisor-kept');
	});
	test('writes a JUnit file, with a failure for what is outside', () => {
		nolvet(['check', at('demo.json'), recorded('heater-half-rate.vcd'), '--instrument', '50', '--junit', at('junit.xml')]);
		const xml = readFileSync(at('junit.xml'), 'utf8');
		expect(xml).toMatch(/^<\?xml version="1\.0" encoding="UTF-8"\?>\n<testsuites name="Fernhollow Observatory">/);
		expect(xml).toContain('<testcase classname="dew heater A" name="verdict"><failure message="outside">');
		expect(xml).toContain('<testcase classname="dew heater A" name="pin duty"/>');
	});
	test.each([
		[['--map', 'nothing'], 'FILE:LINE=AIM/ROLE is wanted'],
		[['--map', 'x.vcd:a=heater-a/pin'], 'is no recording that was given'],
		[['--map', 'heater-right.vcd:none=heater-a/pin'], 'has no line “none”; it has heater_a and pps'],
		[['--map', 'heater-right.vcd:pps=nobody/pin'], 'there is no aim “nobody”'],
		[['--instrument', 'good'], 'parts per million are wanted'],
		[['--log', 'nothing'], 'FILE=AIM is wanted'],
		[['--log', 'none.txt=wind'], 'there is no such file']
	])('refuses %j, and says what is wanted', (args, why) => {
		const { status, err } = nolvet(['check', at('demo.json'), recorded('heater-right.vcd'), ...args]);
		expect([status, err]).toEqual([2, expect.stringContaining(why)]);
	});
});

describe('nolvet registers, code and read-back', () => {
	test('the set-up is told access by access, and what registers come to', () => {
		const { status, out } = nolvet(['registers', at('demo.json'), '--json']);
		const { accesses, registers, findings, quantities } = registersShape.parse(JSON.parse(out));
		expect([status, findings, accesses[0].for]).toEqual([0, [], ['clock.clock:crystal:on']]);
		expect(quantities['timer-d']).toMatchObject({ prescale: 1, reload: 59_999, 'compare:ch1': 21_000 });
		expect(registers.find(({ reg }) => reg === 'TIMERD.TOPVAL')).toMatchObject({ bits: 32, value: 59_999 });
		expect(nolvet(['registers', at('demo.json')]).out).toContain('timer-d: the period');
	});
	test('a plan whose part has no registers says so', () => {
		writeFileSync(
			at('bare.json'),
			changed((plan) => delete (plan as unknown as { part: { binding?: unknown } }).part.binding)
		);
		const bare = nolvet(['registers', at('bare.json')]);
		expect([bare.status, bare.err]).toEqual([2, expect.stringContaining('where its registers are')]);
		expect(nolvet(['code', at('bare.json')]).status).toBe(2);
	});
	test('code is written, is the same again, and is found out when it is no longer what the plan gives', () => {
		writeFileSync(at('style.json'), '{"prefix": "dome", "indent": 4}');
		const args = ['code', at('demo.json'), '--style', at('style.json')];
		expect(nolvet([...args, '--out', at('code')]).status).toBe(0);
		expect(readFileSync(at('code/dome.h'), 'utf8')).toContain('int dome_set_up(void);');
		expect(nolvet([...args, '--check', at('code')])).toMatchObject({ status: 0, out: '' });
		expect(codeShape.parse(JSON.parse(nolvet([...args, '--json']).out)).files['dome.c']).toBe(readFileSync(at('code/dome.c'), 'utf8'));
		writeFileSync(at('code/dome.h'), '');
		const other = nolvet([...args, '--check', at('code')]);
		expect([other.status, other.out]).toEqual([1, expect.stringContaining('dome.h: is not what the plan gives')]);
		writeFileSync(at('style.json'), '{"indent": 40}');
		const refused = nolvet(args);
		expect([refused.status, refused.err]).toEqual([2, expect.stringContaining('indent')]);
	});
	test('a dump is held against the plan', () => {
		writeFileSync(at('dump.txt'), 'TIMERD.TOPVAL = 0x0000EA60\nTIMERD.TICKDIV = 0x0\n');
		const { status, out } = nolvet(['read-back', at('demo.json'), at('dump.txt'), '--json']);
		const { differing, registers } = readBackShape.parse(JSON.parse(out));
		expect([status, differing]).toEqual([1, [{ quantity: 'timer-d.reload', planned: 59_999, read: 60_000 }]]);
		expect(registers.find(({ reg }) => reg === 'TIMERD.TOPVAL')).toMatchObject({ differing: 59_999 ^ 60_000 });
		writeFileSync(at('dump.txt'), 'TIMERD.TICKDIV = 0x0\n');
		expect(nolvet(['read-back', at('demo.json'), at('dump.txt')]).status).toBe(0);
		writeFileSync(at('dump.txt'), 'hello\n');
		expect(nolvet(['read-back', at('demo.json'), at('dump.txt')]).status).toBe(2);
	});
	test('a dump of plain bytes is taken from where it begins, one in groups once they are said to be words', () => {
		const { registers } = registersShape.parse(JSON.parse(nolvet(['registers', at('demo.json'), '--json']).out));
		const top = registers.find(({ reg }) => reg === 'TIMERD.TOPVAL')!;
		const read = (file: string, ...more: string[]) =>
			nolvet(['read-back', at('demo.json'), at(file), '--json', '--base', String(top.address), ...more]);
		const differing = (out: string) => readBackShape.parse(JSON.parse(out)).differing.map(({ read: there }) => there);
		writeFileSync(at('dump.bin'), Uint8Array.of(0x60, 0xea, 0, 0));
		expect(differing(read('dump.bin').out)).toEqual([60_000]);
		writeFileSync(at('grouped.txt'), '00000000 0000ea60\n');
		expect(read('grouped.txt')).toMatchObject({ status: 2, err: expect.stringContaining('as they lie in memory') as string });
		expect(differing(read('grouped.txt', '--grouped', 'words').out)).toEqual([60_000]);
		expect(read('grouped.txt', '--grouped', 'bits').status).toBe(2);
	});
});

test('nolvet import-svd lists peripherals, takes their registers into a part, and says what is wrong with its line', () => {
	const text = (registers: string) =>
		`<device>\n<name>Wren 16</name><size>16</size>\n<peripherals><peripheral><name>TIMERA</name><baseAddress>0x100</baseAddress><registers>\n${registers}</registers></peripheral></peripherals></device>`;
	const top = '<register><name>TOP</name><addressOffset>2</addressOffset></register>';
	writeFileSync(at('wren.svd'), text(top));
	const told = nolvet(['import-svd', at('wren.svd'), '--out', at('wren.json')]);
	expect([told.status, told.out]).toEqual([0, 'TIMERA 0x100 1\n']);
	const part = JSON.parse(readFileSync(at('wren.json'), 'utf8')) as { id: string; binding: { blocks: unknown } };
	expect([part.id, part.binding.blocks]).toEqual(['wren-16', { TIMERA: { base: '0x100', bits: 16, registers: { TOP: { at: '0x2' } } } }]);
	writeFileSync(at('wren.svd'), text(`${top}<register><name>BAD</name>\n<addressOffset>0x8z</addressOffset></register>`));
	const partly = nolvet(['import-svd', at('wren.svd'), '--json']);
	const { findings, peripherals } = importSvdShape.parse(JSON.parse(partly.out));
	expect([partly.status, findings, peripherals[0].registers]).toEqual([1, [{ line: 5, fault: 'no-number', of: 'BAD' }], 1]);
	writeFileSync(at('wren.svd'), '<device><peripherals>');
	const refused = nolvet(['import-svd', at('wren.svd')]);
	expect([refused.status, refused.err]).toEqual([2, expect.stringContaining('no XML that is whole')]);
	expect(nolvet(['import-svd', at('wren.svd'), '--take', 'NONE']).status).toBe(2);
});

test('every key of settings and figures that an aim of any kind prints stands in docs/command.md', () => {
	const doc = readFileSync('docs/command.md', 'utf8');
	const keys = new Set<string>();
	const rolls = (seed: number) => Array.from({ length: 120 }, (_, i) => (seed * 7919 * (i + 3) ** 3) % 9973);
	for (const part of SHIPPED)
		for (const kind of AIM_KINDS)
			for (let seed = 1; seed <= 3; seed++) {
				for (const aim of derivePlan(randomPlan(new Dice(rolls(seed)), part, kind === 'follower' ? ['pwm', kind] : [kind])).aims) {
					for (const { name } of aim.figures) keys.add(name);
					for (const name of Object.keys(kindOf(aim.aim).set(aim))) keys.add(name.replace(/:.*/, ''));
				}
			}
	expect(keys.size).toBeGreaterThan(40);
	const told = new Set([...doc.matchAll(/`([a-z0-9-]+)[`:]/g)].map(([, key]) => key));
	expect([...keys].filter((key) => !told.has(key))).toEqual([]);
});
