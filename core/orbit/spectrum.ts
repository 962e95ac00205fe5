import type { Prepared } from '../circuit/machine';
import { factorShifted, shiftedRoom, solveLeadingTransposed } from '../linear/complex';
import { dot, leadingBlock } from '../linear/dense';
import { modesOf } from '../linear/modes';
import type { StepTable } from '../linear/stepTable';
import { areaOf, endOf, type Interval } from './cycle';
import { rowsOf, type CycleIntegrals, type Quantity } from './measure';
import { visitNodes } from './nodes';

/** One harmonic of a quantity: amplitude (peak) and phase in radians against the cosine that starts with the period. */
export interface Harmonic {
  /** Multiple of the cycle's frequency */
  order: number;
  frequency: number;
  amplitude: number;
  phase: number;
}

/**
 * Fourier coefficients of a quantity over the cycle, c_k = (2/T) ∫ y e^{−jkωt} dt: the mean first (order 0), then `count` harmonics.
 *
 * In an interval z' = F z, so with u solving (jkω − F)ᵀ u = row, ∫ row·z e^{−jkωt} dt is u·z e^{−jkωt} at its beginning less that at its
 * end: exact, whatever rings in it, and u is the same for all intervals of a pattern. What rings at a multiple itself (a source that is a
 * sine) leaves no such u; there Gauss nodes are summed in pieces short against the highest multiple.
 */
export const harmonics = (g: CycleIntegrals, quantity: Quantity, count: number): Harmonic[] => harmonicsOf(g, [quantity], count)[0]!;

/** The same of several quantities. */
export function harmonicsOf({ cycle }: CycleIntegrals, quantities: readonly Quantity[], count: number): Harmonic[][] {
  const w = (2 * Math.PI) / cycle.period;
  const rowsOfEach = quantities.map((q) => rowsOf(q));
  const sums = quantities.map((): Sums => ({ re: new Float64Array(count + 1), im: new Float64Array(count + 1) }));
  for (const s of cycle.intervals) {
    const { stepTable } = s.pattern as Prepared;
    const rows = rowsOfEach.map((r) => r(s.pattern));
    rows.forEach((row, i) => (sums[i]!.re[0]! += dot(row, areaOf(s), row.length)));
    const weighings = rows.map((row) => weighingOf(stepTable, row, w, count));
    if (weighings.every((x) => x !== undefined)) addEnds(s, w, weighings, sums);
    else addNodes(s, w, rows, sums);
  }
  return sums.map(({ re, im }) =>
    Array.from(re, (_, order) => {
      const scale = (order === 0 ? 1 : 2) / cycle.period;
      return { order, frequency: order / cycle.period, amplitude: Math.hypot(re[order]!, im[order]!) * scale, phase: Math.atan2(im[order]!, re[order]!) };
    }),
  );
}

/** ∫ y e^{−jkωt} dt by k, V s or A s */
interface Sums {
  re: Float64Array;
  im: Float64Array;
}

/** u of a row for each multiple from the first on, one after another */
interface Weighing {
  row: Float64Array;
  w: number;
  count: number;
  re: Float64Array;
  im: Float64Array;
}

/** Of a pattern, the latest: angles of the mains come by one after another with the same patterns. */
const weighings = new WeakMap<StepTable, Weighing[]>();
const KEPT = 8;
/** Share of a multiple within which a mode of a pattern counts as ringing at it: so many times the rounding is lost at most */
const AT_IT = 1e-4;

function weighingOf(stepTable: StepTable, row: Float64Array, w: number, count: number): Weighing | undefined {
  let list = weighings.get(stepTable);
  if (!list) weighings.set(stepTable, (list = []));
  const known = list.find((x) => x.w === w && x.count >= count && x.row.every((v, i) => v === row[i]));
  if (known) return known;
  const { re: real, im: turns, count: modes } = modesOf(stepTable);
  for (let i = 0; i < modes; i++) {
    const k = Math.round(turns[i]! / w);
    if (k >= 1 && k <= count && Math.hypot(real[i]!, turns[i]! - k * w) < AT_IT * k * w) return undefined;
  }
  const { F, size, active } = stepTable;
  const [A, room] = [leadingBlock(F, active, size), shiftedRoom(active)];
  const found: Weighing = { row: row.slice(), w, count, re: new Float64Array(count * size), im: new Float64Array(count * size) };
  for (let k = 1; k <= count; k++) {
    if (!factorShifted(A, { re: 0, im: k * w }, room)) return undefined;
    const [re, im] = [found.re, found.im].map((v) => v.subarray((k - 1) * size, k * size)) as [Float64Array, Float64Array];
    re.set(row);
    solveLeadingTransposed(room, F, size, k * w, re, im);
  }
  list.push(found);
  if (list.length > KEPT) list.shift();
  return found;
}

/** Add what an interval gives, from its ends. */
function addEnds(s: Interval, w: number, list: readonly Weighing[], sums: readonly Sums[]): void {
  const { size } = s.pattern;
  const ends = [
    { z: s.z0, sign: 1, t: s.start },
    { z: endOf(s), sign: -1, t: s.start + s.duration },
  ];
  for (const { z, sign, t } of ends) {
    const [c, d] = [Math.cos(w * t), -Math.sin(w * t)];
    list.forEach((u, i) => {
      const { re, im } = sums[i]!;
      // e^{−jkωt} by turning on from one order to the next
      let [a, b] = [sign, 0];
      for (let k = 1, at = 0; k < re.length; k++, at += size) {
        [a, b] = [a * c - b * d, a * d + b * c];
        let [x, y] = [0, 0];
        for (let j = 0; j < size; j++) {
          x += u.re[at + j]! * z[j]!;
          y += u.im[at + j]! * z[j]!;
        }
        re[k]! += a * x - b * y;
        im[k]! += a * y + b * x;
      }
    });
  }
}

/** The same from nodes along it. */
function addNodes(s: Interval, w: number, rows: readonly Float64Array[], sums: readonly Sums[]): void {
  visitNodes(s, 2 / ((sums[0]!.re.length - 1) * w), (t, weight, z) => {
    const [c, d] = [Math.cos(w * t), -Math.sin(w * t)];
    rows.forEach((row, i) => {
      const { re, im } = sums[i]!;
      const y = dot(row, z, z.length) * weight;
      let [a, b] = [y, 0];
      for (let k = 1; k < re.length; k++) {
        [a, b] = [a * c - b * d, a * d + b * c];
        re[k]! += a;
        im[k]! += b;
      }
    });
  });
}

/** Total harmonic distortion, as a share, of a quantity whose fundamental is of the given order: rms of its multiples over its own (IEC 61000-4-7). */
export function distortion(list: readonly Harmonic[], fundamental = 1): number {
  const own = list[fundamental]!.amplitude;
  return Math.sqrt(list.filter((h) => h.order > fundamental && h.order % fundamental === 0).reduce((sum, h) => sum + h.amplitude ** 2, 0)) / own;
}
