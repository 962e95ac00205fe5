import { z } from 'zod';

/**
 * A circuit is a list of elements between named nodes, as plain data. Node "0" is the reference.
 * Currents flow from node a to node b through an element; voltages are a minus b. SI units.
 */
export const REFERENCE = '0';

const id = z.string().min(1).max(60);
const node = z.string().min(1).max(60);
const positive = z.number().positive();
const notNegative = z.number().nonnegative();
const two = { id, a: node, b: node };

/** What a source does over time. Times in s, phases in degrees. */
export const Waveform = z.union([
  z.number(),
  z.strictObject({ shape: z.literal('step'), from: z.number(), to: z.number(), at: notNegative }),
  z.strictObject({ shape: z.literal('ramp'), from: z.number(), to: z.number(), start: notNegative, duration: positive }),
  z.strictObject({ shape: z.literal('pulse'), low: z.number(), high: z.number(), delay: notNegative, width: positive, period: positive }),
  z.strictObject({ shape: z.literal('sine'), offset: z.number().default(0), amplitude: z.number(), frequency: positive, phase: z.number().default(0) }),
  z.strictObject({ shape: z.literal('points'), points: z.array(z.tuple([notNegative, z.number()])).min(1).max(100_000) }),
]);
export type Waveform = z.infer<typeof Waveform>;

export const Resistor = z.strictObject({ kind: z.literal('resistor'), ...two, resistance: positive });
export const Inductor = z.strictObject({ kind: z.literal('inductor'), ...two, inductance: positive });
/** esr: series resistance, zero or above */
export const Capacitor = z.strictObject({ kind: z.literal('capacitor'), ...two, capacitance: positive, esr: notNegative.default(0) });
/** k among any number of inductors, the same for every pair; their first nodes are the dotted ends */
export const Coupling = z.strictObject({ kind: z.literal('coupling'), id, inductors: z.array(id).min(2), k: z.number().gt(-1).lt(1) });
/** Ideal transformer: first nodes are the dotted ends */
export const Transformer = z.strictObject({ kind: z.literal('transformer'), id, windings: z.array(z.strictObject({ a: node, b: node, turns: positive })).min(2) });
export const VoltageSource = z.strictObject({ kind: z.literal('voltage-source'), ...two, value: Waveform });
export const CurrentSource = z.strictObject({ kind: z.literal('current-source'), ...two, value: Waveform });
/** Two finite resistances, chosen by the gate signal that a modulator drives */
export const Switch = z.strictObject({ kind: z.literal('switch'), ...two, onResistance: positive, offConductance: notNegative.default(1e-7), gate: id });
/** i = (v − drop) / onResistance above the drop, (v − drop) · offConductance below it: continuous at the drop */
export const Diode = z.strictObject({ kind: z.literal('diode'), ...two, drop: notNegative.default(0), onResistance: positive, offConductance: positive.default(1e-7) });
const control = { plus: node, minus: node };
/** v(a,b) = gain · v(plus,minus) */
export const ControlledVoltage = z.strictObject({ kind: z.literal('controlled-voltage'), ...two, ...control, gain: z.number() });
/** i(a→b) = gain · v(plus,minus) */
export const ControlledCurrent = z.strictObject({ kind: z.literal('controlled-current'), ...two, ...control, gain: z.number() });
/** v(a,b) = gain · current of an element */
export const CurrentSense = z.strictObject({ kind: z.literal('current-sense'), ...two, of: id, gain: z.number() });
/** One pole: gain at dc, gain · bandwidth in Hz; drives node a against node b */
export const OpAmp = z.strictObject({ kind: z.literal('op-amp'), ...two, ...control, gain: positive, bandwidth: positive });
/** v(a,b) = N(s)/D(s) · v(plus,minus), coefficients from the constant upwards, proper */
export const Transfer = z.strictObject({ kind: z.literal('transfer'), ...two, ...control, numerator: z.array(z.number()).min(1).max(7), denominator: z.array(z.number()).min(1).max(7) });

/**
 * A difference equation: y[k] = (Σ b_i e[k−i] − Σ_{i≥1} a_i y[k−i]) / a_0 with e = v(plus,minus) taken at
 * (k + phase)·period, and v(a,b) = y held from `delay` after that until the next.
 */
export const Sampled = z.strictObject({
  kind: z.literal('sampled'), ...two, ...control, numerator: z.array(z.number()).min(1).max(12), denominator: z.array(z.number()).min(1).max(12).default([1]),
  period: positive, phase: z.number().min(0).lt(1).default(0), delay: notNegative.default(0),
});

export const Element = z.discriminatedUnion('kind', [
  Resistor, Inductor, Capacitor, Coupling, Transformer, VoltageSource, CurrentSource, Switch, Diode,
  ControlledVoltage, ControlledCurrent, CurrentSense, OpAmp, Transfer, Sampled,
]);

/** What a modulator looks at: a voltage between two nodes. */
const across = z.tuple([node, node]);

/** Gate on from `on` to `off`, as shares of the period (off may lie beyond the next period's start). */
export const Timed = z.strictObject({ kind: z.literal('timed'), id, gate: id, period: positive, on: notNegative.lt(1), off: positive.lt(2) });

/**
 * Gate by comparing a control voltage with a carrier. trailing: on at the clock, off where the carrier
 * passes the control; leading: off at the clock, on there; double: symmetric about the clock.
 * natural: the control as it is; uniform: sampled at the clock.
 */
export const Pwm = z.strictObject({
  kind: z.literal('pwm'), id, gate: id, complement: id.optional(), deadTime: notNegative.default(0), period: positive, phase: z.number().min(0).lt(1).default(0),
  carrier: z.enum(['trailing', 'leading', 'double']).default('trailing'), sampling: z.enum(['natural', 'uniform']).default('natural'),
  control: across, low: z.number().default(0), high: z.number().default(1),
  /** s from the comparator to the gate */
  delay: notNegative.default(0),
});

/** On at the clock, off where sense + slope · time passes the control (peak), or the mirror of it (valley). */
export const CurrentMode = z.strictObject({
  kind: z.literal('current-mode'), id, gate: id, complement: id.optional(), deadTime: notNegative.default(0), period: positive, phase: z.number().min(0).lt(1).default(0),
  edge: z.enum(['peak', 'valley']).default('peak'), sense: across, control: across,
  /** V/s added to what is sensed */
  slope: notNegative.default(0), maxDuty: positive.max(1).default(0.95), blanking: notNegative.default(0),
});

/** On for a fixed time whenever sense falls below control; off for at least minOff. */
export const ConstantOnTime = z.strictObject({
  kind: z.literal('constant-on-time'), id, gate: id, complement: id.optional(), deadTime: notNegative.default(0), onTime: positive, minOff: positive, sense: across, control: across,
});

/** On below control − width/2, off above control + width/2. */
export const Hysteretic = z.strictObject({ kind: z.literal('hysteretic'), id, gate: id, complement: id.optional(), deadTime: notNegative.default(0), sense: across, control: across, width: positive });

export const Modulator = z.discriminatedUnion('kind', [Timed, Pwm, CurrentMode, ConstantOnTime, Hysteretic]);

export const CIRCUIT_KIND = 'jump-reed circuit';

export const Circuit = z.strictObject({
  kind: z.literal(CIRCUIT_KIND).default(CIRCUIT_KIND),
  version: z.literal(1).default(1),
  name: z.string().max(80).default(''),
  elements: z.array(Element).min(1).max(400),
  modulators: z.array(Modulator).max(60).default([]),
  /** s: the period whose settled cycle is looked for; needed when no modulator has one */
  period: positive.optional(),
});

export type Element = z.infer<typeof Element>;
export type Modulator = z.infer<typeof Modulator>;
export type Circuit = z.infer<typeof Circuit>;
export type ElementOf<K extends Element['kind']> = Extract<Element, { kind: K }>;
