import { writeFileSync } from 'node:fs';
import { z } from 'zod';
import { partShape } from '../src/core/part/index.js';

/** Writes the JSON Schema of part profiles, for editors and other tools. */
writeFileSync('docs/part.schema.json', JSON.stringify(z.toJSONSchema(partShape), null, '\t') + '\n');
