import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Circuit } from '../circuit/elements';
import { readCircuit } from '../interchange/circuitFile';

/** A circuit on which the engine was once wrong, slow or loud, by its name in core/testing/traps. */
export function circuitTrap(name: string): Circuit {
  const read = readCircuit(readFileSync(path.join(process.cwd(), 'core/testing/traps', `c-${name}.json`), 'utf8'));
  if (!read.ok) throw new Error(`${read.problem.where}: ${read.problem.message}`);
  return read.value;
}
