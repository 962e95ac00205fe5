import type { Element } from '../circuit/elements';
import { REFERENCE_SOURCE, type Assembled } from './assemble';
import { OFF_CONDUCTANCE, esrOf } from '../converter/fragment';
import type { CapacitorPart, DiodePart } from '../parts/schema';
import { LINE } from '../surroundings/line';
import { crestOf, voltageLoopAt } from '../surroundings/mains';
import type { Bill } from './bill';

/**
 * A stage on the mains as one circuit, which takes no view of its slowness: the mains itself, the four diodes that turn it over, the
 * capacitors behind them, and a voltage loop that sets how much is drawn by what the output is off. So what the current loop can
 * not do is seen: what is drawn follows the mains as well as the controller makes it, and no better.
 *
 * The voltage loop is a program asked once in each switching period: conductance g = proportional and integral of the error, current
 * g·v, at most that which the current loop is scaled for. On power its plant is Vrms²/(Vout C s) per siemens, which places it at its share of the
 * mains frequency with 72° of margin. Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (average current control; its voltage loop).
 */

/** The node that what the output shall be stands on, V, and its source */
export const OUTPUT_REFERENCE = 'output reference';
/** The voltage loop */
export const VOLTAGE_LOOP = 'voltage loop';
/** Its zero, below its crossover by so much */
const ZERO_BELOW = 3;
/** Current at most, over the largest that the brief asks for */
const MOST = 1.25;

/** Hz of the mains nearest to that of the brief that whole switching periods fit into: both clocks then repeat together. */
export const mainsBeside = (mains: number, switching: number): number => switching / Math.round(switching / mains);

/** What the whole circuit is made for. */
export interface OnWhole {
  /** V rms */
  line: number;
  /** Hz, of the mains */
  mains: number;
  /** Changes of the line: s, V rms */
  changes?: readonly (readonly [number, number])[];
  /** Ω that the current loop measures by, and V at its largest */
  ohms: number;
  reference: number;
  resistance(slot: string): number;
}

/** S that the voltage loop draws in the mean where so much is fed to the load, losses left out: where it stands. */
export const conductanceOf = (output: number, load: number, line: number): number => (output * load) / line ** 2;

/** The voltage loop's proportional part (S/V) and what its integral gains in a period (S/V). */
export function voltageLoopOf({ input, sizing }: Pick<Bill, 'input' | 'sizing'>, reservoir: string, line: number, mains: number, period: number): { proportional: number; integral: number } {
  const crossing = 2 * Math.PI * voltageLoopAt(mains);
  const proportional = (crossing * sizing.values[reservoir]!.taken * input.brief.output.voltage) / line ** 2;
  return { proportional, integral: (proportional * crossing * period) / ZERO_BELOW };
}

/** A stage assembled at an angle of the mains, as the whole of it. */
export function wholeOf(a: Assembled, bill: Bill, on: OnWhole): Assembled {
  const { input, sizing, topology } = bill;
  const { rectifier } = topology.mains!;
  const reservoir = a.roles.mains!.reservoir;
  // The slow view's stand-in for the reservoir's slow current, and the source behind it.
  const slow = a.elements.find((e) => e.id === a.roles.parts[reservoir]!.slow);
  const behind = slow && 'b' in slow ? slow.b : undefined;
  const beside = Object.entries(a.roles.parts).flatMap(([slot, role]) => (role.beside === LINE ? [slot] : []));
  const bridge = input.parts[rectifier] as DiodePart;
  const diode = (k: number, from: string, to: string): Element => ({ kind: 'diode', id: k === 1 ? rectifier : `${rectifier} ${k}`, a: from, b: to, drop: bridge.drop, onResistance: on.resistance(rectifier), offConductance: OFF_CONDUCTANCE });
  const { proportional, integral } = voltageLoopOf(bill, reservoir, on.line, on.mains, a.period);
  const largest = (on.reference / on.ohms) * MOST;
  const most = (4 * largest) / crestOf(input.brief.line.min);
  const parts = Object.fromEntries(Object.entries(a.roles.parts).map(([slot, { beside: _b, leg: _l, slow: _s, ...role }]) => [slot, slot === rectifier ? { elements: [1, 2, 3, 4].map((k) => (k === 1 ? rectifier : `${rectifier} ${k}`)) } : beside.includes(slot) ? { elements: [slot] } : role]));
  const elements: Element[] = [
    { kind: 'voltage-source', id: LINE, a: 'mains', b: 'neutral', value: { shape: 'sine', offset: 0, amplitude: crestOf(on.line), frequency: on.mains, phase: 0, ...(on.changes && on.changes.length > 0 ? { changes: on.changes.map(([t, v]): [number, number] => [t, crestOf(v)]) } : {}) } },
    diode(1, 'mains', LINE), diode(2, 'neutral', LINE), diode(3, '0', 'mains'), diode(4, '0', 'neutral'),
    ...beside.map((slot): Element => ({ kind: 'capacitor', id: slot, a: LINE, b: '0', capacitance: sizing.values[slot]!.taken, esr: esrOf(input.parts[slot] as CapacitorPart, sizing.values[slot]!.taken) })),
    ...a.elements.filter((e) => e.id !== LINE && e.id !== slow?.id && !('a' in e && (e.a === behind || e.b === behind))),
    { kind: 'voltage-source', id: OUTPUT_REFERENCE, a: OUTPUT_REFERENCE, b: '0', value: input.brief.output.voltage },
    {
      kind: 'sampled-control', id: VOLTAGE_LOOP, period: a.period, phase: 0, delay: 0, memory: { whole: 0 },
      inputs: { wanted: [OUTPUT_REFERENCE, '0'], output: [...a.roles.outputs[0]!.nodes], line: [LINE, '0'] },
      steps: ['off = wanted - output', `whole = clamp(whole + ${integral} * off, 0, ${most})`, `drawn = clamp(clamp(whole + ${proportional} * off, 0, ${most}) * line, 0, ${largest})`, `asked = ${on.ohms} * drawn`],
      outputs: { asked: { a: REFERENCE_SOURCE, b: '0' } },
    },
  ];
  return { ...a, asked: true, elements, roles: { ...a.roles, parts } };
}
