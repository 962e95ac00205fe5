import { buildMachine } from '../circuit/machine';
import { COMMAND } from '../control/command';
import { fixedStepper } from '../control/fixedPoint';
import type { Design } from '../design/schema';
import { dot } from '../linear/dense';
import { carryOver } from '../orbit/carry';
import { march } from '../orbit/march';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import { driven } from './assemble';
import { billOf } from './bill';
import { compensatorsOf, loopsAsked } from './compensator';
import { countsOf, fixedOf } from './sampled';
import { settleStage } from './settleStage';
import { standAt } from './standing';

/** What the exported integers do on the converter itself. */
export interface Proof {
  /** s from the load step, and V of the output less where it stood, at the sample instants */
  time: number[];
  value: number[];
  /** V, largest */
  deviation: number;
  /** Counts that the modulator's command wanders between at rest, and V peak to peak of the output at the sample instants meanwhile */
  wanders: { counts: number; volts: number };
}

/** Periods before the step, the last part of them at which it is at rest, and periods that the step is followed for, in radians of the crossover */
const [BEFORE, REST, FOLLOWED] = [600, 200, 40];

/**
 * The exported integer arithmetic in the loop of the running converter: at each sample instant the output is read in steps of the
 * converter, the very integers are computed, and what they give is the modulator's command from the next period on. Run at rest,
 * then through the load step of the brief.
 * @returns problem "sampled" where the controller is none that is exported and sets the duty by the output, those of settling and running
 */
export function proveOnConverter(d: Design, point: OperatingPoint): Result<Proof> {
  const bill = billOf(d);
  const standing = standAt(bill, point);
  if (!standing.ok) return standing;
  const compensators = compensatorsOf(d);
  if (!compensators.ok) return compensators;
  const only = standing.value.only;
  const [compensator] = compensators.value;
  if (!only || compensators.value.length > 1 || compensator!.controller.kind !== 'sampled') return fail('sampled', 'control.sampled', 'what is run here is one sampled controller that sets the duty by the output', 'realise a single loop on a dc line sampled');
  const stage = settleStage(bill, only, () => point.air);
  if (!stage.ok) return stage;
  const { roles, assembled, setting, machine: open, cycle } = stage.value;
  const [asked] = loopsAsked(bill, roles, d);
  const counts = countsOf(d, asked!, compensator!, true);
  const fixed = fixedOf(d, counts, d.control.crossover);
  if (!fixed.ok) return fixed;
  const machine = buildMachine(driven(assembled, d.control));
  if (!machine.ok) return machine;
  const m = machine.value;
  const { period: T, phase } = compensator!.controller;
  const step = ((d.control.converterRange as number) / 2 ** (d.control.converterBits as number)) * (asked!.held.output / asked!.held.reference);
  const reference = Math.round(d.brief.output.voltage / step);
  const begins = setting * counts.most;
  const control = fixedStepper(fixed.value, begins);
  const command = m.layout.column.get(COMMAND)!;
  const load = m.layout.column.get(roles.outputs[0]!.step!)!;
  const [plus, minus] = roles.outputs[0]!.nodes;
  let state = carryOver(open, m, cycle.state);
  state.z[command] = setting * d.control.ramp;
  const start = state.t;
  const after = Math.ceil(FOLLOWED / (2 * Math.PI * d.control.crossover) / T);
  const seen: number[] = [];
  const given: number[] = [];
  for (let k = 0; k < BEFORE + after; k++) {
    if (k === BEFORE) state.z[load] = d.brief.loadStep;
    const sampled = march(m, state, start + (k + phase) * T);
    if (!sampled.ok) return sampled;
    const v = dot(m.prepare(sampled.value.segments).voltage(plus, minus), sampled.value.z, m.layout.size);
    seen.push(v);
    const y = control(reference - Math.round(v / step));
    given.push(y);
    const whole = march(m, sampled.value, start + (k + 1) * T);
    if (!whole.ok) return whole;
    state = whole.value;
    state.z[command] = (y / counts.most) * d.control.ramp;
  }
  const spread = (list: readonly number[]): number => Math.max(...list) - Math.min(...list);
  const rest = (list: readonly number[]): number[] => list.slice(BEFORE - REST, BEFORE);
  const stood = rest(seen).reduce((s, v) => s + v, 0) / REST;
  const value = seen.slice(BEFORE).map((v) => v - stood);
  return ok({ time: value.map((_, k) => (k + phase) * T), value, deviation: Math.max(...value.map(Math.abs)), wanders: { counts: spread(rest(given)), volts: spread(rest(seen)) } });
}
