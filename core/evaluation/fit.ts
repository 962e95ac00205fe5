import { inverse, Matrix, solve } from 'ml-matrix';
import type { Design } from '../design/schema';
import { degrees, phase, size, times, turn, type Complex } from '../linear/complex';
import type { Measured } from '../measured/types';
import { misfit, type Misfit } from '../measured/response';
import type { CapacitorPart, InductorPart } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print, type UnitName } from '../quantity';
import { ringingOf } from '../topology/common';
import type { OperatingPoint } from '../topology';
import { billOf, changedBill } from './bill';
import { modulatorAt, plantOf } from './compensator';
import { settleStage } from './settleStage';
import { standAt } from './standing';

/** One value found by fitting: what it was, what it is found to be, and half of the interval that it lies in with 95 % of trust. */
export interface FittedValue {
  id: 'inductance' | 'winding' | 'capacitance' | 'esr' | 'gain' | 'delay';
  title: string;
  unit: UnitName;
  was: number;
  is: number;
  within: number;
  /** What in the design takes it, where something does */
  changes?: Record<string, number>;
}

export interface Fit {
  values: FittedValue[];
  before: Misfit;
  after: Misfit;
  rounds: number;
  /** All that can be taken, together */
  changes: Record<string, number>;
}

/** Rounds at most, the step of the logarithm by which slopes are taken, what ends it, and the damping to begin with */
const [ROUNDS, STEP, DONE, DAMPED] = [40, 1e-3, 1e-3, 1e-2];
/** s: a delay that counts as one */
const MOMENT = 1e-9;
/** dB that a bench reads to, and the spread of what is known of a part before it is measured: as logarithms, the delay in hundredths of a period */
const READS = 0.1;
const KNOWN = [0.25, 0.7, 0.25, 0.7, 0.15, 20];
/** 95 % of a normal distribution lie within so many deviations */
const TRUST = 1.96;
/** dB and degrees that weigh alike: a degree of phase is as a ninth of a dB, the same share of the length of a vector */
const PER_DEGREE = (20 / Math.LN10) * (Math.PI / 180);

/**
 * Fit inductance, capacitance, their series resistances, gain and delay of a design's plant to what was measured, in the sense
 * of least squares of the distance in the logarithm of the response (gain and phase together), by Levenberg's and Marquardt's
 * damped steps. What the response does not tell (a double pole tells the product of L and C, and hardly more) stays near what the
 * design says: each value is taken to lie within its usual spread, and what was measured to be read to a tenth of a dB. Confidence
 * is that of the linearised problem.
 * Sources: Tarantola, "Inverse Problem Theory", ch. 3 (what is known before); Marquardt, "An algorithm for least-squares estimation of nonlinear parameters", J. SIAM 11 (1963), p. 431.
 * @param seen the point that it was measured at, where it does not say it
 * @returns problems "kind" (of a loop there is no plant to fit), "range" (nothing measured below half the switching frequency), those of settling
 */
export function fitPlant(d: Design, m: Measured, seen: OperatingPoint): Result<Fit> {
  const point = { ...seen, ...m.at };
  if (m.of !== 'plant') return fail('kind', m.title, 'only a plant is fitted', 'divide the loop by its compensator first');
  const f = m.frequency.filter((x) => x < 0.45 * d.brief.frequency);
  if (f.length < 8) return fail('range', m.title, `${f.length} points below ${print(0.45 * d.brief.frequency, 'Hz')} are too few to fit by`, 'measure where the plant bends');
  const bill = billOf(d);
  const { L, C } = ringingOf(bill.topology);
  const [coil, capacitor] = [d.parts[L] as InductorPart | undefined, d.parts[C] as CapacitorPart | undefined];
  if (coil?.kind !== 'inductor' || capacitor?.kind !== 'capacitor') return fail('kind', m.title, 'this power stage has no one inductor and capacitor to fit', 'compare it by eye');
  const { values } = bill.sizing;
  const was = { inductance: values[L]!.taken, winding: coil.resistance, capacitance: values[C]!.taken, esr: capacitor.esr, gain: 1, delay: d.control.delay };
  const ids = ['inductance', 'winding', 'capacitance', 'esr', 'gain'] as const;

  /** Response with each value times e^x, the last of x the delay in units of a moment's share of the period. */
  const unit = 0.01 / d.brief.frequency;
  function respond(x: readonly number[]): Result<Complex[]> {
    const [l, r, c, e, g] = x.map(Math.exp) as [number, number, number, number, number];
    const changed = changedBill(bill, { [L]: was.inductance * l, [C]: was.capacitance * c }, { [L]: { resistance: was.winding * r }, [C]: { esr: was.esr * e } });
    const standing = standAt(changed, point);
    if (!standing.ok) return standing;
    if (!standing.value.only) return fail('kind', m.title, 'a plant on the mains is not fitted', 'compare it by eye');
    const stage = settleStage(changed, standing.value.only, () => point.air);
    if (!stage.ok) return stage;
    const plant = plantOf(d, stage.value, [], 'output');
    if (!plant.ok) return plant;
    return ok(plant.value(f).map((v, i) => times(times({ re: v.re * g, im: v.im * g }, modulatorAt(d.control, f[i]!)), turn(-2 * Math.PI * f[i]! * x[5]! * unit))));
  }
  const index = new Map(m.frequency.map((x, i) => [x, i]));
  const off = (y: readonly Complex[], x: readonly number[]): number[] => [...distance(y), ...x.map((v, i) => -v / KNOWN[i]!)];
  const distance = (y: readonly Complex[]): number[] => y.flatMap((v, i) => {
    const k = index.get(f[i]!)!;
    let angle = m.phase[k]! - degrees(phase(v));
    angle -= 360 * Math.round(angle / 360);
    return [(m.gain[k]! - 20 * Math.log10(size(v))) / READS, (angle * PER_DEGREE) / READS];
  });
  const squares = (r: readonly number[]): number => r.reduce((s, v) => s + v * v, 0);

  let x = [0, 0, 0, 0, 0, 0];
  const first = respond(x);
  if (!first.ok) return first;
  let residual = off(first.value, x);
  let damping = DAMPED;
  let J = new Matrix(residual.length, x.length);
  let rounds = 0;
  for (let moving = true; moving && rounds < ROUNDS; rounds++) {
    for (let j = 0; j < x.length; j++) {
      const beside = x.map((v, i) => (i === j ? v + STEP : v));
      const moved = respond(beside);
      if (!moved.ok) return moved;
      const r = off(moved.value, beside);
      for (let i = 0; i < r.length; i++) J.set(i, j, -(r[i]! - residual[i]!) / STEP);
    }
    const A = J.transpose().mmul(J);
    const b = J.transpose().mmul(Matrix.columnVector(residual));
    let gained = false;
    for (let k = 0; k < 8 && !gained; k++) {
      const damped = A.clone();
      for (let i = 0; i < x.length; i++) damped.set(i, i, A.get(i, i) * (1 + damping));
      const step = solve(damped, b).to1DArray().map((v) => Math.max(-1, Math.min(1, v)));
      const next = x.map((v, i) => v + step[i]!);
      const there = respond(next);
      const r = there.ok ? off(there.value, next) : undefined;
      if (r && squares(r) < squares(residual)) {
        gained = true;
        moving = step.some((v, i) => Math.abs(v) > DONE * KNOWN[i]!);
        [x, residual] = [next, r];
        damping = Math.max(1e-9, damping / 5);
      } else damping *= 8;
    }
    if (!gained) break;
  }
  const A = J.transpose().mmul(J);
  // A bench that reads worse than it is taken to is believed less, one that reads better no more.
  const variance = Math.max(1, squares(residual) / Math.max(1, residual.length - x.length));
  const covariance = inverse(A);
  const spread = (i: number): number => TRUST * Math.sqrt(Math.max(0, variance * covariance.get(i, i)));
  const title: Record<(typeof ids)[number], [string, UnitName]> = { inductance: [`${L} inductance`, 'H'], winding: [`${L} winding`, 'Ω'], capacitance: [`${C} capacitance`, 'F'], esr: [`${C} series resistance of one`, 'Ω'], gain: ['gain', ''] };
  const found: FittedValue[] = ids.map((id, i) => {
    const is = was[id] * Math.exp(x[i]!);
    const takes: Record<(typeof ids)[number], Record<string, number> | undefined> = {
      inductance: { [`parts.${L}.inductance`]: is },
      winding: { [`parts.${L}.resistance`]: is },
      // So many as stand there make what was found.
      capacitance: { [`parts.${C}.capacitance`]: (capacitor.capacitance * is) / was.capacitance, [`parts.${C}.count`]: values[C]!.count! },
      esr: { [`parts.${C}.esr`]: is },
      gain: { 'control.ramp': d.control.ramp / is },
    };
    return { id, title: title[id][0], unit: title[id][1], was: was[id], is, within: is * spread(i), changes: rounded(takes[id]!) };
  });
  const delay = was.delay + x[5]! * unit;
  found.push({ id: 'delay', title: 'delay to the switch', unit: 's', was: was.delay, is: delay, within: spread(5) * unit, ...(delay > MOMENT ? { changes: rounded({ 'control.delay': delay }) } : {}) });
  const last = respond(x);
  const table = (y: readonly Complex[]) => (at: number): Complex => y[f.indexOf(at)] ?? { re: NaN, im: NaN };
  return ok({
    values: found, rounds,
    before: misfit(m, table(first.value))!,
    after: misfit(m, table(last.ok ? last.value : first.value))!,
    changes: Object.assign({}, ...found.map((v) => v.changes ?? {})),
  });
}

const rounded = (changes: Record<string, number>): Record<string, number> => Object.fromEntries(Object.entries(changes).map(([path, v]) => [path, Number(v.toPrecision(4))]));
