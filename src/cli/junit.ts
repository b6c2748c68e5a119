import { mistakeText } from '../lib/text/index.js';
import type { Checked } from './check.js';

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&apos;' };

function escaped(text: string): string {
	return text.replaceAll(/[&<>"']/g, (sign) => ENTITIES[sign]);
}

/** The verdicts as a JUnit file: a test for each aim and each of its quantities. */
export function junitOf({ plan, whole, logs, asWished }: Checked): string {
	const nameOf = (aim: string) => plan.aims.find(({ id }) => id === aim)!.name;
	const cases = [
		...whole.aims.flatMap((aim) => [
			{ suite: nameOf(aim.aim), name: 'verdict', outcome: aim.asWished },
			...aim.quantities.map(({ of, role, asSet, asWished: wished }) => ({
				suite: nameOf(aim.aim),
				name: `${role} ${of}`,
				outcome: asSet ? ((wished ?? asSet).within ? ('within' as const) : ('outside' as const)) : ('undecided' as const)
			}))
		]),
		...logs.map(({ aim, outcome }) => ({ suite: nameOf(aim), name: 'log', outcome }))
	];
	const why = whole.findings.suspects.filter(({ explains }) => explains).map(({ codes }) => mistakeText(codes));
	const lines = cases.map(({ suite, name, outcome }) => {
		const head = `<testcase classname="${escaped(suite)}" name="${escaped(name)}"`;
		if (outcome === 'within') return `    ${head}/>`;
		if (outcome === 'undecided') return `    ${head}><skipped message="undecided"/></testcase>`;
		return `    ${head}><failure message="outside">${escaped(why.join('; '))}</failure></testcase>`;
	});
	const count = (outcome: string) => cases.filter((one) => one.outcome === outcome).length;
	return [
		'<?xml version="1.0" encoding="UTF-8"?>',
		`<testsuites name="${escaped(plan.name)}">`,
		`  <testsuite name="${escaped(`${plan.name}: ${asWished}`)}" tests="${cases.length}" failures="${count('outside')}" skipped="${count('undecided')}">`,
		...lines,
		'  </testsuite>',
		'</testsuites>',
		''
	].join('\n');
}
