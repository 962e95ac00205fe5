import type { Circuit } from '../circuit/elements';
import { integrals, meanProduct, type CycleIntegrals } from './measure';

/** W that each element takes, as a mean over the cycle; sources that give are negative. */
export interface Powers {
  elements: Record<string, number>;
  /** W given by all that give */
  given: number;
  /** W given less W taken, as a share of what is given: what rounding and the settling have left */
  residual: number;
}

/**
 * Power of every element on a settled cycle, each by its own exact integral (1/T) ∫ v i dt; capacitors by their series
 * resistance, ideal inductors and transformers by nothing.
 */
export function powersOf(circuit: Circuit, g: CycleIntegrals): Powers {
  const elements: Record<string, number> = {};
  for (const e of circuit.elements) {
    if (e.kind === 'coupling' || e.kind === 'inductor' || e.kind === 'transformer') continue;
    if (e.kind === 'capacitor') elements[e.id] = integrals(g, (p) => p.current(e.id)).rms ** 2 * e.esr;
    else if (e.kind === 'sampled-control') for (const [name, { a, b }] of Object.entries(e.outputs)) elements[`${e.id}.${name}`] = meanProduct(g, (p) => p.voltage(a, b), (p) => p.current(`${e.id}.${name}`));
    else elements[e.id] = meanProduct(g, (p) => p.voltage(e.a, e.b), (p) => p.current(e.id));
  }
  const all = Object.values(elements);
  const given = -all.filter((w) => w < 0).reduce((a, b) => a + b, 0);
  return { elements, given, residual: given > 0 ? -all.reduce((a, b) => a + b, 0) / given : 0 };
}
