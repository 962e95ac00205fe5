import { Part } from '../core/parts/schema';
import { Goods } from '../core/parts/goods';
import goods from './goods.json' with { type: 'json' };
import parts from './parts.json' with { type: 'json' };

/** The bundled parts, all made up; checked when they are loaded. */
export const SHELF: readonly Part[] = parts.map((p) => Part.parse(p));

/** Sinks, wires and core materials, made up as well. */
export const GOODS: readonly Goods[] = goods.map((g) => Goods.parse(g));
