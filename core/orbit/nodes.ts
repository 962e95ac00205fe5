import { vector } from '../linear/vector';
import { applyActive } from '../linear/dense';
import { taylorAdvance } from '../linear/exponential';
import { climb, phiAt, type StepTable } from '../linear/stepTable';
import { aliveRinging, fastestAlive, modalRates, modesOf } from '../linear/modes';
import { GAUSS_8 } from '../linear/quadrature';
import type { Prepared } from '../circuit/machine';
import type { Interval } from './cycle';

/** z at the nodes of an interval, with their weights in s. */
export interface Nodes {
  weights: number[];
  z: Float64Array[];
}

/** z at the nodes of an interval, kept: every product of quantities is summed from them. */
export function nodesOf(s: Interval): Nodes {
  const out: Nodes = { weights: [], z: [] };
  visitNodes(s, Infinity, (_, weight, z) => {
    out.weights.push(weight);
    out.z.push(z);
  });
  return out;
}

/** To rounding: below this share what rings adds nothing to an integral that is held to 1e-9. */
const FADED = 1e-12;

/**
 * Visit Gauss nodes over an interval in panels that begin as short as the fastest mode and double in length:
 * what is fast has died in a panel's first shorter neighbours, what is left is smooth in it. Panels stay
 * short against what rings as long as it does (a quarter turn: a product then makes half of one, good to 1e-11), and within
 * `longest` seconds. Products are summed from values at the nodes, since rows of a nearly open circuit have large
 * entries that cancel, and squares of them would not.
 *
 * @param see is told the absolute time, the weight in s and z there (a new vector each time)
 */
export function visitNodes(s: Interval, longest: number, see: (t: number, weight: number, z: Float64Array) => void): void {
  const { size, F, stepTable, norm } = s.pattern as Prepared;
  const modes = modesOf(stepTable);
  const rings = modes.im.some((v) => v > 0);
  const q = vector(modes.count);
  const most = Math.min(longest, stepTable.top / 2);
  /** Φ to each node and to the end of a panel, kept where panel follows panel of one length: as long as something rings */
  let steps: { length: number; phis: Float64Array[] } | undefined;
  let lastLength = 0;
  let z = s.z0;
  let t = 0;
  let next = Math.min(s.duration, most, 1 / Math.max(norm, 1e-300));
  const often = oftenIn(stepTable);
  while (t < s.duration) {
    modalRates(modes, z, q);
    // Where what is fast has died, or was never there, a panel is as long as what is left is slow.
    next = Math.max(next, Math.min(s.duration - t, most, 1 / fastestAlive(modes, z, q)));
    let h = next;
    if (rings) {
      const w = aliveRinging(modes, z, q, FADED);
      if (w > 0) h = Math.min(h, Math.PI / 2 / w);
    }
    const length = s.duration - t < 1.5 * h ? s.duration - t : h;
    if (length === lastLength && steps?.length !== length && s.duration - t > WORTH * length) steps = { length, phis: nodeSteps(stepTable, length) };
    lastLength = length;
    const kept = steps?.length === length ? steps.phis : h === next && length === h ? often(h) : undefined;
    for (let k = 0; k < GAUSS_8.length; k++) {
      const [x, w] = GAUSS_8[k]!;
      const dt = x * length;
      let at: Float64Array;
      if (kept) {
        at = vector(size);
        applyActive(kept[k]!, z, at, stepTable.active, size);
      } else if (norm * dt <= 1) {
        at = vector(size);
        taylorAdvance(F, z, dt, at, size, stepTable.active);
      } else at = climb(stepTable, z, dt);
      see(s.start + t + dt, w * length, at);
    }
    t += length;
    if (t >= s.duration * (1 - 1e-15)) break;
    if (kept) {
      const end = vector(size);
      applyActive(kept[GAUSS_8.length]!, z, end, stepTable.active, size);
      z = end;
    } else z = climb(stepTable, z, length);
    next = Math.min(2 * h, most);
  }
}

/** Φ to each node of a panel and to its end. */
const nodeSteps = (stepTable: StepTable, length: number): Float64Array[] => [...GAUSS_8.map(([x]) => phiAt(stepTable, x * length)), phiAt(stepTable, length)];

/** Panels of one length that an interval has left from which their Φ are worth their products: each takes as many as the climbs of a dozen panels */
const WORTH = 12;
/** Panels of one length and pattern after which their Φ are worth their products; and lengths kept of a pattern. */
const OFTEN = 40;
const MOST_LENGTHS = 64;
const panels = new WeakMap<StepTable, Map<number, { seen: number; phis?: Float64Array[] }>>();

/** Φ of the panels that interval after interval of a pattern begins with: a mains cycle has thousands of them. */
function oftenIn(stepTable: StepTable): (length: number) => Float64Array[] | undefined {
  let known = panels.get(stepTable);
  if (!known) panels.set(stepTable, (known = new Map()));
  const lengths = known;
  return (length) => {
    const found = lengths.get(length);
    if (!found) {
      if (lengths.size < MOST_LENGTHS) lengths.set(length, { seen: 1 });
      return undefined;
    }
    if (++found.seen >= OFTEN) found.phis ??= nodeSteps(stepTable, length);
    return found.phis;
  };
}
