import { buildMachine } from '../circuit/machine';
import { COMMAND } from '../control/command';
import { fixedStepper } from '../control/fixedPoint';
import type { Design } from '../design/schema';
import { dot } from '../linear/dense';
import type { Quantity } from '../orbit/measure';
import { carryOver } from '../orbit/carry';
import { march } from '../orbit/march';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import { driven } from './assemble';
import { billOf } from './bill';
import { meanOf } from './closed';
import { compensatorsOf, loopsAsked, quantityOf } from './compensator';
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

/** A controller in integers, in the loop of the running converter. */
interface Computing {
  /** V of what it is told, of a machine's pattern */
  sensed: Quantity;
  /** V in a count of that */
  step: number;
  control(error: number): number;
  perVolt: number;
  /** Counts that stand at its output now */
  stands: number;
}

/**
 * The exported integer arithmetic in the loop of the running converter: at each sample instant what is fed back is read in steps of
 * the converter, the very integers are computed, and what they give stands from the next period on: as the modulator's command, or
 * as what the loop inside is to hold. Run at rest, then through the load step of the brief.
 * @returns problem "sampled" where the controllers are none that are exported, those of settling and running
 */
export function proveOnConverter(d: Design, point: OperatingPoint): Result<Proof> {
  const bill = billOf(d);
  const standing = standAt(bill, point);
  if (!standing.ok) return standing;
  const compensators = compensatorsOf(d);
  if (!compensators.ok) return compensators;
  const only = standing.value.only;
  const outermost = compensators.value.at(-1)!.controller;
  if (!only || outermost.kind !== 'sampled') return fail('sampled', 'control.sampled', 'what is run here are sampled controllers on a dc line', 'realise the loop sampled');
  const stage = settleStage(bill, only, () => point.air);
  if (!stage.ok) return stage;
  const { roles, assembled, setting, machine: open, cycle } = stage.value;
  const machine = buildMachine(driven(assembled, d.control));
  if (!machine.ok) return machine;
  const m = machine.value;
  const asked = loopsAsked(bill, roles, d);
  const lsb = (d.control.converterRange as number) / 2 ** (d.control.converterBits as number);
  const loops: Computing[] = [];
  for (const [k, { sensed, held, control }] of asked.entries()) {
    const counts = countsOf(d, asked[k]!, compensators.value[k]!, k === 0);
    const fixed = fixedOf(d, counts, control.crossover);
    if (!fixed.ok) return fixed;
    // Where it has to stand: at the duty, or where what is inside of it stands.
    const begins = (k === 0 ? setting * d.control.ramp : meanOf(stage.value, asked[k - 1]!.sensed)) * counts.perVolt;
    loops.push({ sensed: quantityOf(sensed, roles), step: lsb * (sensed === 'output' ? held.output / held.reference : 1), control: fixedStepper(fixed.value, begins), perVolt: counts.perVolt, stands: begins });
  }
  const { period: T, phase } = outermost;
  const [inner, outer] = [loops[0]!, loops.at(-1)!];
  const reference = Math.round(d.brief.output.voltage / outer.step);
  const command = m.layout.column.get(COMMAND)!;
  const load = m.layout.column.get(roles.outputs[0]!.step!)!;
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
    const pattern = m.prepare(sampled.value.segments);
    const read = loops.map(({ sensed }) => dot(sensed(pattern), sampled.value.z, m.layout.size));
    seen.push(read.at(-1)!);
    // All at once: what one asks of the next stands from the next period on.
    const next = loops.map((l, i) => l.control((loops[i + 1]?.stands ?? reference) - Math.round(read[i]! / l.step)));
    const whole = march(m, sampled.value, start + (k + 1) * T);
    if (!whole.ok) return whole;
    state = whole.value;
    loops.forEach((l, i) => (l.stands = next[i]!));
    given.push(inner.stands);
    state.z[command] = inner.stands / inner.perVolt;
  }
  const spread = (list: readonly number[]): number => Math.max(...list) - Math.min(...list);
  const rest = (list: readonly number[]): number[] => list.slice(BEFORE - REST, BEFORE);
  const stood = rest(seen).reduce((s, v) => s + v, 0) / REST;
  const value = seen.slice(BEFORE).map((v) => v - stood);
  return ok({ time: value.map((_, k) => (k + phase) * T), value, deviation: Math.max(...value.map(Math.abs)), wanders: { counts: spread(rest(given)), volts: spread(rest(seen)) } });
}
