import type { Circuit, Element, Modulator } from '../circuit/elements';
import { buildMachine, type Machine, type State } from '../circuit/machine';
import type { Disturbance } from '../converter/step';
import type { TypeThree } from '../control/typeThree';
import { carryOver } from '../orbit/carry';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { ok, type Result } from '../problem';
import { COMMAND } from './assemble';
import { SENSE } from './additions/currentControl';
import type { SettledStage } from './settleStage';

/** The zero-volt source in series with what is fed back: where the loop can be broken and injected */
export const BREAK = 'loop';

/** What closes the loop around a stage. */
export interface Loop {
  compensator: TypeThree;
  /** V of the modulator's ramp, and s from its comparator to the switch */
  ramp: number;
  delay: number;
  /** What is fed back: the regulated output, or the current of an element over so many ohms */
  sensed: 'output' | { current: string; ohms: number };
  /** V that it shall be */
  reference: number;
}

/** A stage with its loop closed, settled from where the open one stands. */
export interface ClosedStage {
  circuit: Circuit;
  machine: Machine;
  cycle: SettledCycle;
}

const w = (f: number): number => 2 * Math.PI * f;
const product = (a: number, b: number): number[] => [1, 1 / w(a) + 1 / w(b), 1 / (w(a) * w(b))];

/** The circuit with compensator, modulator's ramp and delay in place of the fixed command; with a source of it on its way, where one is given. */
export function closedCircuit({ circuit, roles }: Pick<SettledStage, 'circuit' | 'roles'>, loop: Loop, by?: Disturbance): Circuit {
  const { compensator: c, ramp, delay, sensed, reference } = loop;
  const gain = w(c.integrator);
  const [plus, minus] = roles.outputs[0]!.nodes;
  const moved = (e: Element): Element => {
    // What the command is compared with is scaled as the ramp is.
    if (e.kind === 'current-sense' && e.id === SENSE) return { ...e, gain: e.gain * ramp };
    if (!by || e.id !== by.source || (e.kind !== 'voltage-source' && e.kind !== 'current-source') || by.to === by.from) return e;
    const { from, to, rise = 0 } = by;
    return { ...e, value: rise > 0 ? { shape: 'ramp', from, to, start: 0, duration: rise } : { shape: 'step', from, to, at: 0 } };
  };
  const driven = (m: Modulator): Modulator => {
    switch (m.kind) {
      case 'pwm':
        return { ...m, high: m.control[0] === COMMAND ? ramp : m.high, delay };
      case 'phase-shift':
        return { ...m, high: ramp, delay };
      case 'current-mode':
        return { ...m, slope: m.slope * ramp, delay };
      default:
        return m;
    }
  };
  return {
    ...circuit,
    elements: [
      ...circuit.elements.filter((e) => e.id !== COMMAND).map(moved),
      { kind: 'voltage-source', id: 'reference', a: 'reference', b: '0', value: reference },
      sensed === 'output'
        ? { kind: 'controlled-voltage', id: 'sense', a: 'sensed', b: '0', plus, minus, gain: 1 }
        : { kind: 'current-sense', id: 'sense', a: 'sensed', b: '0', of: sensed.current, gain: sensed.ohms },
      { kind: 'voltage-source', id: BREAK, a: 'sensed', b: 'fed back', value: 0 },
      { kind: 'transfer', id: 'compensator', a: COMMAND, b: '0', plus: 'reference', minus: 'fed back', numerator: product(c.zero1, c.zero2).map((v) => v * gain), denominator: [0, ...product(c.pole1, c.pole2)] },
    ],
    modulators: circuit.modulators.map(driven),
  };
}

/** Close the loop around a settled stage, and settle it again from where it stands. */
export function closeStage(stage: SettledStage, loop: Loop): Result<ClosedStage> {
  const circuit = closedCircuit(stage, loop);
  const machine = buildMachine(circuit);
  if (!machine.ok) return machine;
  const cycle = settleCycle(machine.value, { near: beginning(stage, machine.value, loop.ramp) });
  return cycle.ok ? ok({ circuit, machine: machine.value, cycle: cycle.value }) : cycle;
}

/** Near the closed cycle: the stage as it is, and the integrator where the command wants it. */
function beginning(stage: SettledStage, m: Machine, ramp: number): State {
  const state = carryOver(stage.machine, m, stage.cycle.state);
  const column = m.layout.column.get('compensator.0')!;
  const perState = m.prepare(state.segments).voltage(COMMAND)[column]!;
  state.z[column] = (stage.setting * ramp) / perState;
  return state;
}
