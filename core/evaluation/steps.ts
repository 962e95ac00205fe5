import type { Waveform } from '../circuit/elements';
import { buildMachine } from '../circuit/machine';
import { stepAnswer, type Disturbance, type StepAnswer } from '../converter/step';
import type { Design } from '../design/schema';
import type { Quantity } from '../orbit/measure';
import { closed as closedCircuit, REFERENCE_SOURCE, type Loops } from './assemble';
import type { ClosedStage } from './closed';
import type { ReferenceStep } from './figures';
import type { SettledStage } from './settleStage';

/** What the output does after a step of the load, the line or the reference, by the closed circuit itself. */

/** What is drawn of an answer to a step. */
export type Curve = Pick<StepAnswer, 'time' | 'value'>;

/** What a loop is disturbed by at a point, by the brief: its load, or its line towards the end of the range that has room. */
interface Disturbances {
  load: Disturbance;
  line?: Disturbance;
}
export function disturbances({ circuit, roles: { line, outputs, mains } }: SettledStage, { brief }: Design): Disturbances {
  const { lineStep } = brief;
  const source = circuit.elements.find((e) => 'a' in e && e.id === line);
  const volts = source?.kind === 'voltage-source' && typeof source.value === 'number' ? source.value : 0;
  const up = volts + (lineStep ?? 0) <= brief.line.max * (1 + 1e-9);
  return {
    load: { source: outputs[0]!.step!, from: 0, to: brief.loadStep, rise: brief.loadStepTime },
    ...(lineStep !== undefined && !mains ? { line: { source: line, from: volts, to: volts + (up ? lineStep : -lineStep) } } : {}),
  };
}

/** Not known how far it goes: the loop is not stable, or its circuit can not be run. */
export const UNKNOWN: StepAnswer = { how: 'in time', time: [], value: [], deviation: Infinity, recovery: Infinity };

/** rad of the crossover that a step is followed for */
const FOLLOWED = 20;

const outputOf = (stage: SettledStage): Quantity => (p) => p.voltage(...stage.roles.outputs[0]!.nodes);

/** What its source does over time; nothing where it goes nowhere. */
const waveOf = ({ from, to, rise = 0 }: Disturbance): Waveform => (to === from ? from : rise > 0 ? { shape: 'ramp', from, to, start: 0, duration: rise } : { shape: 'step', from, to, at: 0 });

/** What a quantity, the output where none is named, does after a disturbance. */
export function answerTo(stage: SettledStage, closed: ClosedStage, loops: Loops, crossover: number, by: Disturbance, quantity = outputOf(stage)): StepAnswer {
  const stepped = (): ClosedStage['machine'] | undefined => {
    const built = buildMachine(closedCircuit(stage.assembled, loops, { [by.source]: waveOf(by) }));
    return built.ok ? built.value : undefined;
  };
  return stepAnswer(closed.machine, closed.cycle, by, quantity, FOLLOWED / (2 * Math.PI * crossover) + (by.rise ?? 0), stepped) ?? UNKNOWN;
}

/** Share that the reference steps up by */
const REFERENCE_STEP = 0.02;
/** Band about the new value in which it is there, as a share of the step */
const BAND = 0.1;

/**
 * What the output does after a step of its reference: followed as what it is off what it shall be, which comes back to nothing.
 */
export function referenceStep(stage: SettledStage, closed: ClosedStage, loops: Loops, crossover: number): { figures: ReferenceStep; curve: Curve } {
  const { reference } = loops;
  const change = REFERENCE_STEP * reference;
  const output = outputOf(stage);
  // Its own sense is one: volts of the reference are volts of the output.
  const off: Quantity = (p) => p.voltage(REFERENCE_SOURCE).map((v, i) => output(p)[i]! - v);
  const { how, time, value, recovery } = answerTo(stage, closed, loops, crossover, { source: REFERENCE_SOURCE, from: reference, to: reference + change }, off);
  // It begins where it was: the deviation at time nothing is the whole step.
  const gone = value.map((v, k) => (k === 0 ? 0 : v + change));
  const reaches = (share: number): number => {
    const k = gone.findIndex((v) => v >= share * change);
    if (k <= 0) return Infinity;
    const [a, b] = [gone[k - 1]!, gone[k]!];
    return time[k - 1]! + ((share * change - a) / (b - a)) * (time[k]! - time[k - 1]!);
  };
  const outside = gone.findLastIndex((v) => Math.abs(v - change) > BAND * change);
  return {
    figures: {
      change,
      overshoot: Math.max(0, Math.max(...gone) / change - 1),
      rise: reaches(0.9) - reaches(0.1),
      settles: outside === gone.length - 1 || gone.length === 0 ? recovery : time[outside + 1]!,
      answeredBy: how,
    },
    curve: { time, value: gone },
  };
}
