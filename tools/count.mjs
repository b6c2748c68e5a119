/**
 * Adds up what the test runners wrote into a folder, names every test that failed with its reason, and closes with the counts
 * of all. Arguments: the folder, how many steps broke.
 */
import { readFileSync } from 'node:fs';
import { join, relative } from 'node:path';

const [folder, broken] = process.argv.slice(2);
let passed = 0;
let failed = 0;

function read(name) {
	try {
		return readFileSync(join(folder, name), 'utf8');
	} catch {
		return undefined;
	}
}

for (const name of ['unit.json', 'server.json', 'attack.json', 'browser.json']) {
	const text = read(name);
	if (text === undefined) continue;
	const { numPassedTests, numFailedTests, testResults } = JSON.parse(text);
	passed += numPassedTests;
	failed += numFailedTests;
	for (const { name: file, message, assertionResults } of testResults) {
		if (message) console.log(`FAILED ${relative('.', file)}\n${message}`);
		for (const test of assertionResults.filter(({ status }) => status === 'failed'))
			console.log(`FAILED ${relative('.', file)} > ${test.fullName}\n${test.failureMessages.join('\n')}\n`);
	}
}
const conformance = /conformance: (\d+) passed, (\d+) failed/.exec(read('conformance.txt') ?? '');
if (conformance) {
	passed += Number(conformance[1]);
	failed += Number(conformance[2]);
}
// A broken step without a failed test of its own, such as lint, is a failure too.
if (Number(broken) > 0 && failed === 0) failed = Number(broken);
if (passed === 0 && failed === 0) failed = 1;
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed > 0 || Number(broken) > 0 ? 1 : 0;
