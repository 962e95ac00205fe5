import { writeFileSync } from 'node:fs';
import { z } from 'zod';
import { CircuitFile } from '../core/interchange/circuitFile';

/** npm run schema: the JSON Schema of circuit files, from the one description that checks them. */
const schema = z.toJSONSchema(CircuitFile, { io: 'input', target: 'draft-2020-12' });
writeFileSync('docs/circuit-file.schema.json', JSON.stringify({ title: 'Jump Reed circuit', ...schema }, null, 1) + '\n');
