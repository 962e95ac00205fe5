import { stepResponse, type LinearSystem } from '../response/system';
import type { LadderStage } from './network';

/**
 * A ladder on a stiff line as a linear system. Input: A drawn at its beginning; output: A of the line.
 * States: V of each capacitor, then A of each winding. Inductances of leads and capacitances of windings are left out: they act far above where a filter rings.
 * At a node Σ (v − v_j) / r_j = what comes − what goes on, which gives v of the states.
 * Source: Desoer, Kuh, "Basic Circuit Theory" (1969), ch. 12 (state equations of ladders).
 */
export function ladderSystem(stages: readonly LadderStage[]): LinearSystem {
  const coils = stages.flatMap(({ series }) => (series ? [series] : []));
  const shunts = stages.flatMap((s, stage) => s.shunts.map((shunt) => ({ ...shunt, stage })));
  const n = shunts.length + coils.length;
  const coil = (stage: number): number => shunts.length + stage;
  const [A, b, c] = [new Float64Array(n * n), new Float64Array(n), new Float64Array(n)];
  stages.forEach((_, stage) => {
    const own = shunts.flatMap((s, j) => (s.stage === stage ? [{ ...s, j }] : []));
    const parallel = 1 / own.reduce((g, s) => g + 1 / s.resistance, 0);
    /** Adds `k` times the voltage of this node to row `row` */
    const addNode = (row: number, k: number): void => {
      for (const s of own) A[row * n + s.j]! += (k * parallel) / s.resistance;
      A[row * n + coil(stage)]! -= k * parallel;
      if (stage === 0) b[row]! += k * parallel;
      else A[row * n + coil(stage - 1)]! += k * parallel;
    };
    for (const s of own) {
      const rate = 1 / (s.resistance * s.capacitance);
      addNode(s.j, rate);
      A[s.j * n + s.j]! -= rate;
    }
    const { inductance, resistance } = coils[stage]!;
    addNode(coil(stage), 1 / inductance);
    A[coil(stage) * n + coil(stage)]! -= resistance / inductance;
    if (stage > 0) addNode(coil(stage - 1), -1 / coils[stage - 1]!.inductance);
  });
  c[n - 1] = 1;
  return { n, A, b: [b], c, d: [0] };
}

/** What the line delivers after 1 A more is drawn behind its filter. */
export interface LadderStep {
  /** s */
  time: number[];
  /** A of the line for each A drawn */
  value: number[];
  /** Beyond what it comes to, of it */
  overshoot: number;
  /** s from which it stays within 5 %; NaN where it still rings at the end */
  settles: number;
}

/** Points, periods of its slowest ringing that are followed, and times that it takes to settle where that is less */
const [POINTS, PERIODS, CLOSER] = [601, 8, 4];
const BAND = 0.05;

/** The step of a ladder of stages with a winding and capacitors each, with its resistances. */
export function ladderStep(stages: readonly LadderStage[]): LadderStep {
  const sum = (of: (s: LadderStage) => number): number => stages.reduce((all, s) => all + of(s), 0);
  const period = 2 * Math.PI * Math.sqrt(sum((s) => s.series!.inductance) * sum((s) => s.shunts.reduce((all, { capacitance }) => all + capacitance, 0)));
  const system = ladderSystem(stages);
  const over = (lasts: number): LadderStep => {
    const { time, value } = stepResponse(system, 0, lasts, POINTS);
    const inside = value.findLastIndex((v) => Math.abs(v - 1) > BAND) + 1;
    return { time, value, overshoot: Math.max(...value) - 1, settles: inside < POINTS ? time[inside]! : NaN };
  };
  const whole = over(PERIODS * period);
  // One that is damped is there long before: what is of interest is looked at closely.
  return Number.isFinite(whole.settles) ? over(Math.min(PERIODS * period, CLOSER * whole.settles)) : whole;
}
