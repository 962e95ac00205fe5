import type { Circuit, Element, Waveform } from '../circuit/elements';
import { CIRCUIT_KIND } from '../circuit/elements';
import { COMMAND, HIGH } from '../control/command';
import { controllerElement, type Controller } from '../control/controller';
import type { Drive } from '../control/types';
import { fragment, type Timing } from '../converter/fragment';
import type { Roles } from '../converter/roles';
import type { DiodePart } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { besideLine, LINE, putLine } from '../surroundings/line';
import { rectified, type MainsFed } from '../surroundings/mains';
import { putLoads } from '../surroundings/loads';
import type { OperatingPoint, SizingInput, Topology } from '../topology';
import type { Bill } from './bill';

/** A power stage with line and load, what is what in it, and how its gates are to be driven: a loop away from a circuit. */
export interface Assembled {
  elements: readonly Element[];
  timings: readonly Timing[];
  roles: Roles;
  drive: Drive;
  /** s of the brief, or that one without a clock is looked for from */
  period: number;
  /** What the command is set by: the mean of the output, or that of the current drawn from the mains */
  target: number;
  /** What the command is looked for in, and where first; by the forecast, which takes a moment */
  range(): Range;
  /** The command, as a share of the full one, where it is not looked for but held over the mains */
  held?: number;
  /** s of its period, where what has no clock is kept off for longer than its current takes to rest */
  clock?: number;
  /** s: its modulator begins anew at each whole number of them, where it has no clock of its own */
  restarts?: number;
  /** Where the current of an element changes its way with the mains: diodes whose currents together are its size */
  sensedBy?: Readonly<Record<string, readonly string[]>>;
  /** What its outermost loop shall hold is set by an element of its own, and is no source */
  asked?: true;
  /** State near the settled cycle's beginning, by element */
  start(): Readonly<Record<string, number>>;
}

export type Range = ReturnType<Topology['duty']>;

/**
 * Power stage, line and load at a point as one list of elements, with what is what in it.
 * @param resistance Ω of each part at its temperature
 * @returns them; problem "value" where a part's value is none that can be computed with
 */
export function assemble({ topology: t, input, sizing, drive }: Bill, point: OperatingPoint, resistance: (slot: string) => number): Result<Assembled> {
  const f = fragment({ parts: input.parts, values: sizing.values, resistance });
  putLine(f, input.brief, t.mains ? onRectified(t.mains, input, point, t.mains.drawnAt(input, sizing, point), resistance) : point.line, t.fedAt);
  t.stage(f, input, sizing, point);
  f.whole();
  besideLine(f, input.brief, t.fedAt);
  putLoads(f, f.isConstantLoad() ? { ...input.brief, loadKind: 'constant-current' } : input.brief, point.load);
  if (f.timings.some((x) => x.kind === 'held')) f.put({ kind: 'voltage-source', id: HIGH, a: HIGH, b: '0', value: 2 });
  const unsound = f.elements.find((e) => unsoundValue(e) !== undefined);
  if (unsound) return fail('value', unsound.id, `no circuit can be made of these parts: the ${unsoundValue(unsound)} of ${unsound.id} is none that can be computed with`, 'look for a part whose values are nothing, or far from those of the others');
  const roles = f.roles(LINE);
  const clock = drive.clockAt?.(point);
  for (const p of t.slots) if (p.core) roles.parts[p.id]!.core = p.core;
  return ok({
    elements: f.elements, timings: f.timings, roles, drive, period: clock ?? drive.free?.(point) ?? 1 / input.brief.frequency, ...(clock === undefined ? {} : { clock }),
    target: roles.mains && !drive.held ? point.drawn! * Math.sin(point.angle!) : input.brief.output.voltage,
    ...(roles.mains && drive.held ? { held: point.command! / drive.held.full } : {}),
    range: () => drive.range?.(point) ?? t.duty(input, sizing, point),
    // Where nothing is to be expected the search begins at rest.
    start: () => Object.fromEntries(Object.entries(t.start(input, sizing, point)).filter(([, v]) => Number.isFinite(v))),
  });
}

/** V of the source that stands for the rectified mains at the angle of a point, A being drawn. */
function onRectified({ rectifier, conducting }: MainsFed, input: SizingInput, { line, angle }: OperatingPoint, drawn: number, resistance: (slot: string) => number): number {
  return rectified(input.parts[rectifier] as DiodePart, line, angle!, drawn, resistance(rectifier), conducting);
}

/** The node that the outer loop sets what the inner is to be at */
export const INNER_REFERENCE = 'inner reference';

const circuitOf = ({ drive, period, clock, restarts }: Assembled, elements: Element[], modulators: Circuit['modulators']): Circuit => ({ kind: CIRCUIT_KIND, version: 1, name: '', elements, modulators, ...(drive.free && restarts === undefined && clock === undefined ? { period, free: true as const } : {}) });

/** Its loops open: the command is a source of the duty, or of a share of the full command. */
export const opened = (a: Assembled, { elements, timings, drive } = a): Circuit =>
  circuitOf(a, [...elements, { kind: 'voltage-source', id: COMMAND, a: COMMAND, b: '0', value: a.held ?? 0.5 }, ...drive.elements(timings)], [...timings.map((x) => drive.modulator(x, undefined, a.clock)), ...(drive.further?.(timings) ?? [])]);

/** Its loops open, but driven as they drive it: the command is a source in the ramp's volts, and the delay to the switch is there. */
export const driven = (a: Assembled, { ramp, delay }: { ramp: number; delay: number }, { elements, timings, drive } = a): Circuit =>
  circuitOf(a, [...elements, { kind: 'voltage-source', id: COMMAND, a: COMMAND, b: '0', value: ramp / 2 }, ...drive.elements(timings, { ramp })], [...timings.map((x) => drive.modulator(x, { ramp, delay })), ...(drive.further?.(timings, { ramp }) ?? [])]);

/** What a loop feeds back: the regulated output, or the current of an element over so many ohms. */
export type SensedBy = 'output' | { current: string; ohms: number };

/** One loop around a stage, or around one that is closed inside of it. */
export interface Loop {
  /** V of its command per V that what is fed back is off */
  controller: Controller;
  sensed: SensedBy;
}

/** What closes a stage. */
export interface Loops {
  /** Inner first: each sets what the next inner one is to be, the innermost the modulator's command */
  loops: readonly Loop[];
  /** V of the modulator's ramp, and s from its comparator to the switch */
  ramp: number;
  delay: number;
  /** V that what the outermost feeds back shall be */
  reference: number;
  /** What of the duty that the line wants is fed forward to the command, V: `level` less `perVolt` for each V of the line as the converter sees it */
  forward?: Forward;
  /** V of it for each V of the line as the converter sees it, where it follows that */
  follows?: number;
}

export interface Forward {
  level: number;
  perVolt: number;
}

/** The source of that reference */
export const REFERENCE_SOURCE = 'reference';
/** The names of a loop's own elements: the zero-volt source in series with what is fed back, where it can be broken and injected, and its controller. The outermost first. */
export const namesOf = (outermost: boolean): { breaks: string; controller: string } => (outermost ? { breaks: 'loop', controller: 'compensator' } : { breaks: 'inner loop', controller: 'inner compensator' });

/** Currents of elements as one voltage of a node, V, over so many ohms. */
const sensing = (at: string, of: readonly string[], ohms: number): Element[] =>
  of.map((id, k): Element => ({ kind: 'current-sense', id: `${at === 'sensed' ? 'sense' : 'inner sense'}${k === 0 ? '' : ` ${k + 1}`}`, a: k === 0 ? at : `${at} ${k + 1}`, b: k === of.length - 1 ? '0' : `${at} ${k + 2}`, of: id, gain: ohms }));

/** The source that lets the gates go, where something does that over time */
export const ENABLE = 'enable';

/** What the innermost controller adds to what is fed forward, and the node of that */
const [CORRECTED, FORWARD] = ['corrected', 'fed forward'];
export { FORWARD };

/** The command as the sum of both. @param asked a program of the circuit's own puts out what is fed forward */
const forwarded = ({ level, perVolt }: Forward, asked: boolean): Element[] => [
  ...(asked
    ? []
    : ([
        { kind: 'voltage-source', id: 'forward level', a: 'forward level', b: '0', value: level },
        { kind: 'controlled-voltage', id: FORWARD, a: FORWARD, b: 'forward level', plus: '0', minus: LINE, gain: perVolt },
      ] as const)),
  { kind: 'controlled-voltage', id: 'command sum', a: COMMAND, b: CORRECTED, plus: FORWARD, minus: '0', gain: 1 },
];

/** Its loops closed; with sources that do something over time, by their ids, where that is given: among them one that lets the gates go. */
export function closed(a: Assembled, { loops, ramp, delay, reference, follows, forward }: Loops, over: Readonly<Record<string, Waveform>> = {}): Circuit {
  const { elements, timings, roles, drive } = a;
  const [plus, minus] = roles.outputs[0]!.sensed ?? roles.outputs[0]!.nodes;
  const around = loops.map(({ controller, sensed }, k): Element[] => {
    const outermost = k === loops.length - 1;
    const { breaks, controller: id } = namesOf(outermost);
    const [at, fed] = outermost ? ['sensed', 'fed back'] : ['inner sensed', 'inner fed back'];
    return [
      ...(sensed === 'output' ? [{ kind: 'controlled-voltage', id: at === 'sensed' ? 'sense' : 'inner sense', a: at!, b: '0', plus, minus, gain: 1 } as const] : sensing(at!, a.sensedBy?.[sensed.current] ?? [sensed.current], sensed.ohms)),
      { kind: 'voltage-source', id: breaks, a: at!, b: fed!, value: 0 },
      controllerElement(controller, id, k === 0 ? (forward ? CORRECTED : COMMAND) : INNER_REFERENCE, outermost ? REFERENCE_SOURCE : INNER_REFERENCE, fed!),
    ];
  });
  const moved = (e: Element): Element => ((e.kind === 'voltage-source' || e.kind === 'current-source') && Object.hasOwn(over, e.id) ? { ...e, value: over[e.id]! } : e);
  return circuitOf(
    a,
    [
      ...elements.map(moved),
      ...drive.elements(timings, { ramp }),
      ...(a.asked ? [] : [follows === undefined ? moved({ kind: 'voltage-source', id: REFERENCE_SOURCE, a: REFERENCE_SOURCE, b: '0', value: reference }) : ({ kind: 'controlled-voltage', id: REFERENCE_SOURCE, a: REFERENCE_SOURCE, b: '0', plus: LINE, minus: '0', gain: follows } as const)]),
      ...(forward ? forwarded(forward, a.asked === true) : []),
      // Of controllers that sample at one moment the outer is asked first: the inner goes by what it says.
      ...around.toReversed().flat(),
      ...(Object.hasOwn(over, ENABLE) ? [moved({ kind: 'voltage-source', id: ENABLE, a: ENABLE, b: '0', value: 1 })] : []),
    ],
    [...timings.map((x) => ({ ...drive.modulator(x, { ramp, delay, ...(a.restarts === undefined ? {} : { restarts: a.restarts }) }), ...enabling(x, Object.hasOwn(over, ENABLE)) })), ...(drive.further?.(timings, { ramp }) ?? [])],
  );
}

/** What lets a modulator's gates go: a source of its own that does something over time, or the half of the mains that it drives. */
const enabling = (t: Timing, own: boolean): { enable?: [string, string] } => (own ? { enable: [ENABLE, '0'] } : t.kind === 'duty' && t.enable ? { enable: [...t.enable] } : {});

const POSITIVE = new Set(['resistance', 'inductance', 'capacitance', 'onResistance']);
const NOT_NEGATIVE = new Set(['esr', 'drop', 'offConductance']);

/** A value that no circuit can have: no number, or nothing where there has to be something. */
function unsoundValue(e: Element): string | undefined {
  for (const [key, value] of Object.entries(e)) {
    if (typeof value !== 'number') continue;
    if (!Number.isFinite(value) || (POSITIVE.has(key) && !(value > 0)) || (NOT_NEGATIVE.has(key) && !(value >= 0))) return key;
  }
  return e.kind === 'transformer' && e.windings.some((w) => !(w.turns > 0 && Number.isFinite(w.turns))) ? 'turns' : undefined;
}
