import type { TypeThree } from '../control/typeThree';
import { Circuit } from '../circuit/elements';
import { buildMachine, type Machine, type State } from '../circuit/machine';
import { carryOver } from '../orbit/carry';
import { march } from '../orbit/march';
import { budgetOf } from '../orbit/budget';
import { settleCycle } from '../orbit/settle';
import { instability } from '../orbit/stability';
import { dot } from '../linear/dense';
import { COMMAND } from './assemble';
import { SENSE } from './additions/currentControl';
import type { SettledStage } from './settleStage';

/** A source that goes from one value to another, in `rise` seconds. */
export interface Disturbance {
  source: string;
  from: number;
  to: number;
  rise?: number;
}

/** A step of the closed loop, run in time: at each start of a period, V away from where it settled. */
export interface StepInTime {
  /** Does the closed cycle stay where it is? */
  stable: boolean;
  time: number[];
  value: number[];
}

/** Periods that a step is followed for at most: a loop that is so slow against its switching is not waited for, and said not to have come back. */
const MOST_PERIODS = 4000;
/** ns of an ordinary machine, likewise: most stages take a tenth of a millisecond a period */
const MOST_WORK = 0.8e9;
/** Share of its furthest below which the output has turned, and below which it is back */
const TURNED = 0.9;
const BACK = 0.05;
/** Share of the time asked for that is followed in any case */
const LEAST = 0.15;

/** The stage with its loop closed: compensator, modulator ramp and delay in place of the fixed duty. */
function closedCircuit(stage: SettledStage, target: number, c: TypeThree, ramp: number, delay: number, { source, from, to, rise = 0 }: Disturbance): Circuit {
  const [plus, minus] = stage.roles.outputs[0]!.nodes;
  const w = (f: number): number => 2 * Math.PI * f;
  const gain = w(c.integrator);
  const product = (a: number, b: number): number[] => [1, 1 / w(a) + 1 / w(b), 1 / (w(a) * w(b))];
  return Circuit.parse({
    ...stage.circuit,
    elements: [
      ...stage.circuit.elements.filter((e) => e.id !== COMMAND).map((e) => (e.kind === 'current-sense' && e.id === SENSE ? { ...e, gain: e.gain * ramp } : e.id === source && to !== from ? { ...e, value: rise > 0 ? { shape: 'ramp', from, to, start: 0, duration: rise } : { shape: 'step', from, to, at: 0 } } : e)),
      { kind: 'voltage-source', id: 'reference', a: 'reference', b: '0', value: target },
      { kind: 'controlled-voltage', id: 'sense', a: 'sensed', b: '0', plus, minus, gain: 1 },
      { kind: 'transfer', id: 'compensator', a: 'duty', b: '0', plus: 'reference', minus: 'sensed', numerator: product(c.zero1, c.zero2).map((v) => v * gain), denominator: [0, ...product(c.pole1, c.pole2)] },
    ],
    // What the command is compared with is scaled as the ramp is; its delay is left out there.
    modulators: stage.circuit.modulators.map((m) => (m.kind === 'pwm' ? { ...m, high: ramp, delay } : m.kind === 'current-mode' ? { ...m, slope: m.slope * ramp } : m)),
  });
}

/**
 * Close the loop around a settled stage and step its load or its line. For discontinuous conduction: a step leads out of
 * it, and no small-signal model spans that.
 */
export function stepInTime(stage: SettledStage, target: number, c: TypeThree, ramp: number, delay: number, disturbance: Disturbance, duration: number): StepInTime | undefined {
  const [still, stepped] = [disturbance.from, disturbance.to].map((to) => buildMachine(closedCircuit(stage, target, c, ramp, delay, { ...disturbance, to })));
  if (!still!.ok || !stepped!.ok) return undefined;
  const m = still!.value;
  const cycle = settleCycle(m, { near: beginning(stage, m, ramp) });
  if (!cycle.ok) return undefined;
  const T = m.period;
  const stable = instability(cycle.value) === undefined;
  const output = (s: State, of: Machine): number => {
    const p = of.prepare(s.segments);
    return dot(p.voltage(...stage.roles.outputs[0]!.nodes), s.z, p.size);
  };
  let state = carryOver(m, stepped!.value, cycle.value.state);
  const settled = output(state, stepped!.value);
  const begin = state.t;
  const time = [0];
  const value = [0];
  // On until the furthest of it has been seen, and no longer than it has been back for as long as it was away.
  let [furthest, away] = [0, 0];
  const budget = budgetOf(stepped!.value, MOST_WORK);
  for (let k = 1; k <= MOST_PERIODS && !budget.over(); k++) {
    const last = Math.abs(value.at(-1)!);
    if ((k - 1) * T >= duration && last <= TURNED * furthest) break;
    if ((k - 1) * T >= LEAST * duration && k > 2 * away && furthest > 0) break;
    const run = march(stepped!.value, state, begin + k * T);
    if (!run.ok) return undefined;
    state = run.value;
    time.push(k * T);
    value.push(output(state, stepped!.value) - settled);
    furthest = Math.max(furthest, Math.abs(value.at(-1)!));
    if (Math.abs(value.at(-1)!) > BACK * furthest) away = k;
  }
  return { stable, time, value };
}

/** Near the closed cycle: the stage as it is, and the integrator where the duty wants it. */
function beginning(stage: SettledStage, m: Machine, ramp: number): State {
  const state = carryOver(stage.machine, m, stage.cycle.state);
  const column = m.layout.column.get('compensator.0')!;
  const perState = m.prepare(state.segments).voltage('duty')[column]!;
  state.z[column] = (stage.setting * ramp) / perState;
  return state;
}
