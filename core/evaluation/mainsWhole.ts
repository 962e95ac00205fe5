import type { Element } from '../circuit/elements';
import { notchSteps, placeMainsLoop } from '../control/mainsLoop';
import type { MainsLoop } from '../response/voltageLoop';
import { FORWARD, REFERENCE_SOURCE, type Assembled, type Forward } from './assemble';
import { OFF_CONDUCTANCE, esrOf, type Timing } from '../converter/fragment';
import type { CapacitorPart, DiodePart } from '../parts/schema';
import { INPUT, LINE } from '../surroundings/line';
import { crestOf } from '../surroundings/mains';
import type { Bill } from './bill';

/**
 * A stage on the mains as one circuit, which takes no view of its slowness: the mains itself, the four diodes that turn it over, the
 * capacitors behind them, and a voltage loop that sets how much is drawn by what the output is off. So what the current loop can
 * not do is seen: what is drawn follows the mains as well as the controller makes it, and no better.
 *
 * The voltage loop (control/mainsLoop) is a program asked once in each switching period: conductance g = proportional and integral of the
 * error, behind its notch where it has one; current g·v, at most that which the current loop is scaled for. Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (average current control; its voltage loop).
 */

/** The node that the rectifier is fed at, where a filter stands before it */
const BRIDGE = 'bridge';

/** The node that what the output shall be stands on, V, and its source */
export const OUTPUT_REFERENCE = 'output reference';
/** The voltage loop */
export const VOLTAGE_LOOP = 'voltage loop';
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
  /** V that is fed forward to the command */
  forward?: Forward;
  resistance(slot: string): number;
}

/** S that the voltage loop draws in the mean where so much is fed to the load, losses left out: where it stands. */
export const conductanceOf = (output: number, load: number, line: number): number => (output * load) / line ** 2;

/** The voltage loop as a program: what it remembers, and its steps from what the output is off to the conductance that is drawn. */
function voltageProgram(loop: MainsLoop, perVolt: number, period: number, most: number): { memory: Record<string, number>; steps: string[] } {
  const integral = perVolt * 2 * Math.PI * loop.zero * period;
  const calm = ['off = wanted - output'];
  if (loop.notch) {
    const { b0, b1, a1, a2 } = notchSteps(loop.notch, period);
    calm.push(`calm = ${b0} * off + first`, `first = (${b1}) * off - (${a1}) * calm + second`, `second = ${b0} * off - (${a2}) * calm`);
  } else calm.push('calm = off');
  return {
    memory: loop.notch ? { whole: 0, first: 0, second: 0 } : { whole: 0 },
    steps: [...calm, `whole = clamp(whole + ${integral} * calm, 0, ${most})`, `conductance = clamp(whole + ${perVolt} * calm, 0, ${most})`],
  };
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
  const { alternates } = a.roles.mains!;
  const diodes = alternates === undefined ? [1, 2, 3, 4] : [1, 2];
  const parts = Object.fromEntries(Object.entries(a.roles.parts).map(([slot, { beside: _b, leg: _l, slow: _s, ...role }]) => [slot, slot === rectifier ? { elements: diodes.map((k) => (k === 1 ? rectifier : `${rectifier} ${k}`)) } : beside.includes(slot) ? { elements: [slot] } : role]));
  // A filter stands before the rectifier: what is between the line and the converter's input is between the mains and the bridge.
  const front = new Set(a.roles.front?.elements);
  const fedAt = topology.fedAt;
  const bridgeAt = fedAt === undefined ? 'mains' : BRIDGE;
  const before = (node: string): string => (node === '0' ? 'neutral' : node === fedAt ? 'mains' : node === INPUT ? bridgeAt : node);
  // What stands beside the line for the switching's sake is behind the bridge; where there is none, across the mains, which the stage hangs on itself.
  const [plus, minus] = alternates === undefined ? [LINE, '0'] : [bridgeAt, 'neutral'];
  const behindBridge = (e: Element): Element => ('a' in e && e.a === INPUT ? { ...e, a: plus, ...(alternates === undefined ? {} : { b: minus }) } as Element : alternates !== undefined && 'a' in e && e.a === LINE ? { ...e, a: bridgeAt } : e);
  const out = a.roles.outputs[0]!.nodes[0];
  const elements: Element[] = [
    { kind: 'voltage-source', id: LINE, a: 'mains', b: 'neutral', value: { shape: 'sine', offset: 0, amplitude: crestOf(on.line), frequency: on.mains, phase: 0, ...(on.changes && on.changes.length > 0 ? { changes: on.changes.map(([t, v]): [number, number] => [t, crestOf(v)]) } : {}) } },
    ...a.elements.flatMap((e): Element[] => (front.has(e.id) && 'a' in e && 'b' in e ? [{ ...e, a: before(e.a), b: before(e.b) } as Element] : [])),
    ...(alternates === undefined ? [diode(1, bridgeAt, LINE), diode(2, 'neutral', LINE), diode(3, '0', bridgeAt), diode(4, '0', 'neutral')] : [diode(1, '0', 'neutral'), diode(2, 'neutral', out)]),
    ...beside.map((slot): Element => ({ kind: 'capacitor', id: slot, a: plus, b: minus, capacitance: sizing.values[slot]!.taken, esr: esrOf(input.parts[slot] as CapacitorPart, sizing.values[slot]!.taken) })),
    ...a.elements.filter((e) => e.id !== LINE && e.id !== a.roles.front?.feeds && !front.has(e.id) && e.id !== slow?.id && !('a' in e && (e.a === behind || e.b === behind))).map(behindBridge),
    ...(alternates === undefined ? [] : otherHalf(a, alternates)),
    ...(a.drive.held ? [] : shapedBy(a, bill, on, reservoir, [plus, minus])),
  ];
  const { front: _front, ...rest } = a.roles;
  const { clock: _clock, held: _held, ...own } = a;
  // Where a command is held the one loop there is holds it, and no program asks for a current; what has no clock begins anew with each half cycle.
  return { ...own, ...(a.drive.held ? (a.drive.free ? { restarts: 1 / (2 * on.mains) } : {}) : { asked: true }), elements, ...(alternates === undefined ? {} : { timings: eachHalf(a.timings), sensedBy: { [a.roles.mains!.current]: diodes.map((k) => (k === 1 ? rectifier : `${rectifier} ${k}`)) } }), roles: { ...rest, parts } };
}

/** Gates of the other half cycle: those of the same switches, which change what they do */
const OTHER = ' b';
/** The element that stands for a switch of a pair in the other half cycle. */
export const otherHalfOf = (id: string): string => `${id}${OTHER}`;

/** Switches of a pair that change what they do with each half cycle, once more, for the gates of the other one. */
function otherHalf({ elements, roles }: Assembled, slot: string): Element[] {
  const pair = roles.parts[slot]!.elements.map((id) => elements.find((e) => e.id === id)! as Extract<Element, { kind: 'switch' }>);
  return pair.map((e, k) => ({ ...e, id: otherHalfOf(e.id), gate: `${pair[1 - k]!.gate}${OTHER}` }));
}

/** Their modulators: in each half cycle of the mains one of them lets its gates go. */
const eachHalf = (timings: readonly Timing[]): Timing[] => timings.flatMap((t): Timing[] =>
  t.kind === 'duty' ? [{ ...t, enable: ['mains', 'neutral'] }, { ...t, id: `${t.id}${OTHER}`, gate: `${t.gate}${OTHER}`, ...(t.complement === undefined ? {} : { complement: `${t.complement}${OTHER}` }), enable: ['neutral', 'mains'] }] : [t]);

/** What shapes the current: the program of the voltage loop, and what the output shall be. */
function shapedBy(a: Assembled, { input, sizing }: Bill, on: OnWhole, reservoir: string, fed: [string, string]): Element[] {
  const largest = (on.reference / on.ohms) * MOST;
  const most = (4 * largest) / crestOf(input.brief.line.min);
  const loop = placeMainsLoop(input.control, on.mains, sizing.values[reservoir]!.taken);
  const program = voltageProgram(loop, (loop.proportional * input.brief.output.voltage) / on.line ** 2, a.period, most);
  return [
    { kind: 'voltage-source', id: OUTPUT_REFERENCE, a: OUTPUT_REFERENCE, b: '0', value: input.brief.output.voltage },
    {
      kind: 'sampled-control', id: VOLTAGE_LOOP, period: a.period, phase: 0, delay: 0, memory: program.memory,
      inputs: { wanted: [OUTPUT_REFERENCE, '0'], output: [...(a.roles.outputs[0]!.sensed ?? a.roles.outputs[0]!.nodes)], ...(fed[0] === LINE ? { line: fed } : { volts: fed }) },
      // Without a bridge what is drawn from is what the mains has of either sign.
      steps: [...(fed[0] === LINE ? [] : ['line = max(volts, 0 - volts)']), ...program.steps, `drawn = clamp(conductance * line, 0, ${largest})`, `asked = ${on.ohms} * drawn`, ...(on.forward ? [`forward = max(${on.forward.level} - ${on.forward.perVolt} * line, 0)`] : [])],
      outputs: { asked: { a: REFERENCE_SOURCE, b: '0' }, ...(on.forward ? { forward: { a: FORWARD, b: '0' } } : {}) },
    },
  ];
}
