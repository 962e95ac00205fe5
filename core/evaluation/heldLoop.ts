import { controllerAt } from '../control/controller';
import type { Rational } from '../control/types';
import type { Design } from '../design/schema';
import { times, type Complex } from '../linear/complex';
import { eigenvalues } from '../linear/eigen';
import { ok, type Result } from '../problem';
import { bode, margins } from '../response/margins';
import { refined } from '../response/refine';
import { stepFigures } from '../response/step';
import { logSpaced, type LinearSystem } from '../response/system';
import { printQuantity as print } from '../quantity';
import type { Landmark, OperatingPoint } from '../topology';
import type { Bill } from './bill';
import { capacitorZero, landmark } from '../topology/landmarks';
import { compensatorsOf, loopsAsked, modulatorAt } from './compensator';
import { frontOf } from './front';
import type { Looped } from './loop';
import { offCompensator } from './placing';
import { phaseShares } from './reading';
import { equationOf } from './sampled';
import type { Standing } from './standing';
import { disturbances } from './steps';
import type { SettledStage } from './settleStage';
import { slowPlant, slowPlantAt, type SlowPlant } from './slowPlant';

/** Products and sums of polynomials in s, from the constant upwards. */
const times2 = (a: readonly number[], b: readonly number[]): number[] => a.reduce<number[]>((out, v, i) => (b.forEach((w, j) => (out[i + j] = (out[i + j] ?? 0) + v * w)), out), []);
const plus = (a: readonly number[], b: readonly number[]): number[] => Array.from({ length: Math.max(a.length, b.length) }, (_, k) => (a[k] ?? 0) + (b[k] ?? 0));

/** A proper rational function of s as a system in the controllable form, its time in units of `unit` seconds. Source: Kailath, "Linear Systems", ch. 2. */
function systemOf({ numerator, denominator }: Rational, unit: number): LinearSystem {
  const n = denominator.length - 1;
  const scaled = (p: readonly number[]): number[] => Array.from({ length: n + 1 }, (_, k) => (p[k] ?? 0) / unit ** k / (denominator[n]! / unit ** n));
  const [num, den] = [scaled(numerator), scaled(denominator)];
  const A = new Float64Array(n * n);
  for (let i = 0; i < n - 1; i++) A[i * n + i + 1] = 1 / unit;
  for (let j = 0; j < n; j++) A[(n - 1) * n + j] = -den[j]! / unit;
  const b = new Float64Array(n);
  b[n - 1] = 1 / unit;
  return { n, A, b: [b], c: Float64Array.from({ length: n }, (_, k) => num[k]! - num[n]! * den[k]!), d: [num[n]!] };
}

const landmarksOf = ({ capacitance, esr, leak }: SlowPlant): Landmark[] => [
  landmark('pole of the reservoir', 'f = 1 / (2π R C),  1/R = 1/Rload − ∂i/∂Vout', `1 / (2π × ${print(1 / leak, 'Ω')} × ${print(capacitance, 'F')})`, leak / (2 * Math.PI * capacitance), 'what beats with the mains: it is a mean over that'),
  capacitorZero(esr, capacitance),
];

/** Of the mains frequency: where curves end, since the slow view does */
const [LOWEST, HIGHEST] = [1e-3, 20];
const GRID = 160;

/** The slow plant of a bill at a point, and the loop closed around it: V of the output from a step of the load in A. */
export function slowLoop(d: Design, bill: Bill, at: Pick<OperatingPoint, 'line' | 'load'>, level: number, transfer: Rational): { plant: SlowPlant; closed: LinearSystem } {
  const plant = slowPlant(bill, at, level);
  const zero = [1, plant.esr * plant.capacitance];
  const denominator = plus(times2([plant.leak, plant.capacitance], transfer.denominator), times2(zero, transfer.numerator).map((v) => (v * plant.gain) / d.control.ramp));
  return { plant, closed: systemOf({ numerator: times2(zero, transfer.denominator).map((v) => -v), denominator }, 1 / (2 * Math.PI * d.control.crossover)) };
}

/** The loop around a stage whose command is held, as other loops are told. @param network factors that its network's parts are off by @returns problems of placing and building it */
export function heldLoop(d: Design, standing: Standing, stage: SettledStage, level: number, withCurves: boolean, network?: Readonly<Record<string, number>>): Result<Looped> {
  const { bill } = standing;
  const compensators = compensatorsOf(d);
  if (!compensators.ok) return compensators;
  const [asked] = loopsAsked(bill, stage.roles, d);
  const compensator = network ? offCompensator(asked!, d.brief.frequency, compensators.value.at(-1)!, network) : compensators.value.at(-1)!;
  const { controller, built, placed, wanted, short } = compensator;
  // Sampled once in a switching period it is as good as continuous here.
  const transfer = controller.kind === 'continuous' ? controller : asked!.amplifier.transfer(built);
  const { plant, closed } = slowLoop(d, bill, standing, level, transfer);
  const plantAt = (f: number): Complex => times(slowPlantAt(plant, f), modulatorAt(d.control, f));
  const at = (f: number): Complex => times(plantAt(f), controllerAt(controller, f));
  const mains = d.brief.line.mains!;
  const { frequency, response } = refined(logSpaced(LOWEST * mains, HIGHEST * mains, GRID), (f) => f.map(at), []);
  const curve = bode(frequency, response);
  const stable = eigenvalues(closed.A, closed.n).every((v) => v.re < 0);
  const read = margins(at, curve, response, stable);
  const by = disturbances(stage, d);
  const step = stepFigures(closed, 0, by.load.to - by.load.from, stable, asked!.control.crossover, by.load.rise);
  // Within a switching period its command stands still: so it meets what stands before its line.
  const front = frontOf(stage, stage, withCurves);
  const sampled = equationOf(d, asked!, compensator, true);
  const pace = Number.isFinite(read.crossover) ? read.crossover : asked!.control.crossover;
  return ok({
    loop: {
      ...read, placed, wanted, built, network: compensator.network, ...(short ? { short } : {}), ...(sampled ? { sampled } : {}),
      stable, shares: phaseShares(d, asked!, compensator, at(pace), pace, true, []), modes: [], drive: stage.assembled.drive.figures, landmarks: landmarksOf(plant),
      deviation: step.deviation, recovery: step.recovery, answeredBy: 'voltage loop', places: [], ...(front ? { front: front.figures } : {}),
    },
    step: { ...step, how: 'linearised' },
    ...(withCurves ? { curves: { plant: bode(frequency, frequency.map(plantAt)), compensator: bode(frequency, frequency.map((f) => controllerAt(controller, f))), loop: curve, ...(front?.curves ? { front: front.curves } : {}) } } : {}),
  });
}
