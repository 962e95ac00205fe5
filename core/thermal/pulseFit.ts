import { fcnnlsVector } from 'ml-fcnnls';
import { Matrix } from 'ml-matrix';
import { fail, ok, type Result } from '../problem';
import { ladderOfModes, pulseResponse, type Rung } from './ladder';

/** A ladder from the curve of a pulse's impedance that makers draw: K/W after so many s of a constant heat. */

export interface PulseFit {
  /** Terms of the sum of exponentials, fastest first */
  modes: Rung[];
  /** Root of the mean square of the share it is off by, and the most */
  misfit: number;
  worst: { at: number; share: number };
}

/** Terms at most, the misfit that is good enough, and points that are looked at of many */
const [MOST_TERMS, GOOD, LOOKED_AT] = [6, 0.01, 80];
/** Factors that a time constant is moved by, from the coarsest on */
const MOVES = [2.5, 1.6, 1.25, 1.1, 1.04, 1.015];
const MOST_ROWS = 2000;

/**
 * Points as they are pasted: s, K/W a line. A first line of words is left out.
 * @returns them; problems "number", "order", "size", "empty" with the line
 */
export function readPulse(text: string): Result<[number, number][]> {
  const points: [number, number][] = [];
  const lines = text.split(/\r?\n/);
  if (lines.length > MOST_ROWS) return fail('size', 'curve', `${lines.length} lines are more than ${MOST_ROWS}`, 'ten points a decade tell all there is');
  for (const [i, raw] of lines.entries()) {
    const line = raw.trim();
    if (line === '') continue;
    const cells = line.split(/[;\t]|,?\s+|,/).map((c) => c.trim()).filter((c) => c !== '');
    const [t, z] = cells.map((c) => Number(c.replace(',', '.')));
    if (points.length === 0 && cells.every((c) => Number.isNaN(Number(c)))) continue;
    if (cells.length !== 2 || !Number.isFinite(t) || !Number.isFinite(z)) return fail('number', `line ${i + 1}`, `"${line.slice(0, 40)}" is not a time and a resistance`, 'give s and K/W, as in 0.01 0.25');
    if (!(t! > 0) || !(z! > 0)) return fail('range', `line ${i + 1}`, 'its time or resistance is not above zero', 'leave it out');
    const last = points.at(-1);
    if (last && !(t! > last[0])) return fail('order', `line ${i + 1}`, 'its time does not come after the one before', 'give times that rise');
    points.push([t!, z!]);
  }
  if (points.length < 3) return fail('empty', 'curve', `${points.length} points do not make a curve`, 'give a few a decade, to where it no longer rises');
  return ok(points);
}

/**
 * The fewest terms R (1 − e^(−t/τ)) that come near the points, each point by its share: resistances for given time constants by least
 * squares with none below zero (Lawson, Hanson, "Solving Least Squares Problems", ch. 23), the constants moved one after the other for as
 * long as that brings them nearer.
 * @param points s, K/W, times rising
 */
export function fitPulse(points: readonly (readonly [number, number])[]): Result<PulseFit> {
  const every = Math.ceil(points.length / LOOKED_AT);
  const some = points.filter((_, k) => k % every === 0 || k === points.length - 1);
  const [first, last] = [some[0]![0], some.at(-1)![0]];
  let best: Terms | undefined;
  for (let n = 1; n <= Math.min(MOST_TERMS, Math.floor((some.length + 1) / 2)) && !(best && best.misfit < GOOD); n++) {
    const found = nearest(some, Array.from({ length: n }, (_, k) => first * (last / first) ** ((k + 0.5) / n)));
    // A term more has to bring something.
    if (!best || found.misfit < 0.8 * best.misfit) best = found;
  }
  const rungs = best!.terms.map((m): Rung => ({ resistance: m.resistance, capacity: m.constant / m.resistance }));
  if (rungs.length === 0 || !ladderOfModes(rungs)) return fail('fit', 'curve', 'no ladder rises as these points do', 'look at their units: s and K/W');
  const offs = points.map(([t, z]) => ({ at: t, share: pulseResponse(rungs, t) / z - 1 }));
  return ok({ modes: rungs, misfit: Math.sqrt(offs.reduce((sum, o) => sum + o.share ** 2, 0) / offs.length), worst: offs.reduce((a, b) => (Math.abs(b.share) > Math.abs(a.share) ? b : a)) });
}

interface Terms {
  terms: { resistance: number; constant: number }[];
  misfit: number;
}

/** From these time constants on, each moved by ever finer factors while the misfit falls. */
function nearest(points: readonly (readonly [number, number])[], from: readonly number[]): Terms {
  let constants = [...from];
  let best = against(points, constants);
  for (const factor of MOVES)
    for (let moved = true; moved; ) {
      moved = false;
      for (let k = 0; k < constants.length; k++)
        for (const f of [factor, 1 / factor]) {
          const tried = constants.with(k, constants[k]! * f);
          const found = against(points, tried);
          if (found.misfit < best.misfit * (1 - 1e-6)) [best, constants, moved] = [found, tried, true];
        }
    }
  return { ...best, terms: best.terms.toSorted((a, b) => a.constant - b.constant) };
}

/** Resistances, none negative, of these time constants that come nearest to the points by their shares. */
function against(points: readonly (readonly [number, number])[], constants: readonly number[]): Terms {
  const rows = points.map(([t, z]) => constants.map((tau) => -Math.expm1(-t / tau) / z));
  const found = fcnnlsVector(new Matrix(rows), points.map(() => 1)).K.to1DArray();
  const off = rows.reduce((sum, row) => sum + (row.reduce((all, v, k) => all + v * found[k]!, 0) - 1) ** 2, 0);
  return { terms: constants.flatMap((constant, k) => (found[k]! > 0 ? [{ resistance: found[k]!, constant }] : [])), misfit: Math.sqrt(off / points.length) };
}
