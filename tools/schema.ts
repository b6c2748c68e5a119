import { writeFileSync } from 'node:fs';
import { z } from 'zod';
import { checkShape, codeShape, deriveShape, importSvdShape, measureShape, readBackShape, registersShape } from '../src/cli/shapes.js';
import { partShape } from '../src/core/part/index.js';

/** Writes the JSON Schemas of what other programs read and write: part profiles, and what the command prints. */
const SHAPES = {
	part: partShape,
	'nolvet-derive': deriveShape,
	'nolvet-measure': measureShape,
	'nolvet-check': checkShape,
	'nolvet-registers': registersShape,
	'nolvet-code': codeShape,
	'nolvet-read-back': readBackShape,
	'nolvet-import-svd': importSvdShape
};

for (const [name, shape] of Object.entries(SHAPES))
	writeFileSync(`docs/${name}.schema.json`, JSON.stringify(z.toJSONSchema(shape, { io: 'input' }), null, '\t') + '\n');
