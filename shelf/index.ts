import { Part } from '../core/parts/schema';
import parts from './parts.json' with { type: 'json' };

/** The bundled parts, all made up; checked when they are loaded. */
export const SHELF: readonly Part[] = parts.map((p) => Part.parse(p));
