export {
	accessText,
	codeWords,
	dumpTroubleText,
	orderFindingText,
	registerFindingText,
	stepText,
	svdFaultText,
	svdTroubleText
} from './code.js';
export { turnedRange, turnedText, turnedValue, turnedWish } from './turned.js';
export { hertz, seconds, ppm, percent, decimal, hundred, signed, hex, decade, quantityText, typedTime } from './numbers.js';
export { arithmetic, factorText, nodeName } from './clock.js';
export { problemText, wishProblemText } from './problems.js';
export { findingText, findingPlace, harmText } from './findings.js';
export { ledText, linkName } from './names.js';
export { intakeText, takenText } from './archive.js';
export type { Ended, Fate, Taken } from './archive.js';
export { fitText, readingText, readingTrouble, readingWord, readQuantityName, relationEnd, sweepRowText } from './readings.js';
export { clashPlace, clashValue } from './clash.js';
export { clockTreeText, documentText, documentsText, mismatchText } from './documents.js';
export { cardName, cardScale, cardTrouble, cardUnit } from './cards.js';
export { formatText } from './formats.js';
export { importText, stepFromText, troubleText } from './imports.js';
export type { ImportProgress, ImportState, ImportTrouble } from './imports.js';
export { sharedText } from './sharing.js';
export { cellText, figureName } from './figures.js';
export { formulaText } from './formulas.js';
export { linkText, registerForms, registerText } from './registers.js';
export { kindWords } from './kinds.js';
export { listed, ordinal } from './words.js';
export { profileKey, profilePlace, outputText, factorsText } from './part.js';
export {
	laidText,
	laneText,
	OUTCOME,
	quantityName,
	shownText,
	verdictText,
	noteText,
	misreadText,
	roleText,
	signsText,
	verdictOn
} from './bench.js';
export { commandText, lineName } from './command.js';
export { reportMarkdown } from './report.js';
export type { ReportOf } from './report.js';
export { damageText, dumpSaysText, mistakeText, residualText, tellText, turnedAroundText, whereText } from './suspects.js';
export { curveLabel, curveWords } from './curves.js';
export type { CurveWords } from './curves.js';
