import { z } from 'zod';

/**
 * A circuit is a list of elements between named nodes, as plain data. Node "0" is the reference.
 * Currents flow from node a to node b through an element; voltages are a minus b. SI units.
 */
export const REFERENCE = '0';

/** Names of elements, gates and nodes are keys of tables, where one of the language's own would be no entry but their ancestor. */
const id = z.string().min(1).max(60).refine((v) => v !== '__proto__', 'a name other than __proto__, which the language has taken');
const node = id;
const positive = z.number().positive();
const notNegative = z.number().nonnegative();
const two = { id, a: node, b: node };

/** What a source does over time. Times in s, phases in degrees. */
export const Waveform = z.union([
  z.number(),
  z.strictObject({ shape: z.literal('step'), from: z.number(), to: z.number(), at: notNegative }),
  z.strictObject({ shape: z.literal('ramp'), from: z.number(), to: z.number(), start: notNegative, duration: positive }),
  z.strictObject({ shape: z.literal('pulse'), low: z.number(), high: z.number(), delay: notNegative, width: positive, period: positive }),
  /** `changes`: of another amplitude from a time (s) on, its phase going on */
  z.strictObject({ shape: z.literal('sine'), offset: z.number().default(0), amplitude: z.number(), frequency: positive, phase: z.number().default(0), changes: z.array(z.tuple([notNegative, z.number()])).max(1000).optional() }),
  z.strictObject({ shape: z.literal('tones'), offset: z.number().default(0), tones: z.array(z.strictObject({ amplitude: z.number(), frequency: positive, phase: z.number().default(0) })).min(1).max(40) }),
  z.strictObject({ shape: z.literal('points'), points: z.array(z.tuple([notNegative, z.number()])).min(1).max(100_000) }),
]);
export type Waveform = z.infer<typeof Waveform>;

export const Resistor = z.strictObject({ kind: z.literal('resistor'), ...two, resistance: positive });
/** saturation: above |i| = current the slope of flux over current is that inductance; currents rising */
export const Inductor = z.strictObject({
  kind: z.literal('inductor'), ...two, inductance: positive,
  saturation: z.array(z.strictObject({ current: positive, inductance: positive })).min(1).max(12).optional(),
});
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
/** A constant current above `lowest` volts, a resistance below. */
export const CurrentLoad = z.strictObject({ kind: z.literal('current-load'), ...two, current: positive, lowest: positive });
/**
 * A constant power from `lowest` to `highest` volts (ten times as much when left out), in tangents: their slope, which
 * decides on stability, is good to `accuracy` everywhere (their value to its square). A resistance below, a constant current above.
 */
export const PowerLoad = z.strictObject({ kind: z.literal('power-load'), ...two, power: positive, lowest: positive, highest: positive.optional(), accuracy: z.number().min(1e-3).max(0.2).default(0.005) });
/** A string of diodes: nothing below the threshold, a resistance `slope` above. */
export const StringLoad = z.strictObject({ kind: z.literal('string-load'), ...two, threshold: notNegative, slope: positive, offConductance: positive.default(1e-7) });
const control = { plus: node, minus: node };
/** v(a,b) = gain · v(plus,minus) */
export const ControlledVoltage = z.strictObject({ kind: z.literal('controlled-voltage'), ...two, ...control, gain: z.number() });
/** i(a→b) = gain · v(plus,minus) */
export const ControlledCurrent = z.strictObject({ kind: z.literal('controlled-current'), ...two, ...control, gain: z.number() });
/** v(a,b) = gain · current of an element */
export const CurrentSense = z.strictObject({ kind: z.literal('current-sense'), ...two, of: id, gain: z.number() });
/** One pole: gain at dc, gain · bandwidth in Hz; drives node a against node b */
export const OpAmp = z.strictObject({ kind: z.literal('op-amp'), ...two, ...control, gain: positive, bandwidth: positive });
/**
 * v(a,b) = N(s)/D(s) · v(plus,minus), coefficients from the constant upwards, proper. With `low` or `high` it puts out no less and
 * no more; `tracking`, V per V, of what it would be beyond is taken off its input then, so that it does not wind up.
 */
export const Transfer = z.strictObject({
  kind: z.literal('transfer'), ...two, ...control, numerator: z.array(z.number()).min(1).max(7), denominator: z.array(z.number()).min(1).max(7),
  low: z.number().optional(), high: z.number().optional(), tracking: notNegative.default(0),
});

/** v(a,b) is high where v(plus,minus) has risen above hysteresis/2, low where it has fallen below −hysteresis/2; `delay` later. */
export const Comparator = z.strictObject({ kind: z.literal('comparator'), ...two, ...control, low: z.number().default(0), high: z.number().default(1), hysteresis: notNegative.default(0), delay: notNegative.default(0) });

/**
 * A difference equation: y[k] = (Σ b_i e[k−i] − Σ_{i≥1} a_i y[k−i]) / a_0 with e = v(plus,minus) taken at
 * (k + phase)·period, and v(a,b) = y held from `delay` after that until the next. With `low` or `high` what would lie
 * beyond is cut off, and what is kept of y is what went out, so that it does not wind up.
 */
export const Sampled = z.strictObject({
  kind: z.literal('sampled'), ...two, ...control, numerator: z.array(z.number()).min(1).max(12), denominator: z.array(z.number()).min(1).max(12).default([1]),
  period: positive, phase: z.number().min(0).lt(1).default(0), delay: notNegative.default(0), low: z.number().optional(), high: z.number().optional(),
});

const name = z.string().regex(/^[A-Za-z_][A-Za-z0-9_]*$/).max(40);
/**
 * A controller that computes: at (k + phase)·period it reads its inputs, carries out its steps in order
 * ("e = reference - v", "i = clamp(i + 0.01 * e, 0, 1)") and puts out the named results `delay` later.
 * What stands in `memory` keeps its value until the next sample, and begins with the one given.
 */
export const SampledControl = z.strictObject({
  kind: z.literal('sampled-control'), id, inputs: z.record(name, z.tuple([node, node])), memory: z.record(name, z.number()).default({}),
  steps: z.array(z.string().max(400)).min(1).max(60), outputs: z.record(name, z.strictObject({ a: node, b: node })),
  period: positive, phase: z.number().min(0).lt(1).default(0), delay: notNegative.default(0),
});

export const Element = z.discriminatedUnion('kind', [
  Resistor, Inductor, Capacitor, Coupling, Transformer, VoltageSource, CurrentSource, Switch, Diode,
  ControlledVoltage, ControlledCurrent, CurrentSense, OpAmp, Transfer, Sampled,
  CurrentLoad, PowerLoad, StringLoad, Comparator, SampledControl,
]);

/** What a modulator looks at: a voltage between two nodes. */
const across = z.tuple([node, node]);
/** Gates stay off while this voltage is below 0.5 V. */
const enable = across.optional();

/** Gate on from `on` to `off`, as shares of the period (off may lie beyond the next period's start). */
export const Timed = z.strictObject({ kind: z.literal('timed'), id, enable, gate: id, period: positive, on: notNegative.lt(1), off: positive.lt(2) });

/**
 * Gate by comparing a control voltage with a carrier. trailing: on at the clock, off where the carrier
 * passes the control; leading: off at the clock, on there; double: symmetric about the clock.
 * natural: the control as it is; uniform: sampled at the clock.
 */
export const Pwm = z.strictObject({
  kind: z.literal('pwm'), id, enable, gate: id, complement: id.optional(), deadTime: notNegative.default(0), period: positive, phase: z.number().min(0).lt(1).default(0),
  carrier: z.enum(['trailing', 'leading', 'double']).default('trailing'), sampling: z.enum(['natural', 'uniform']).default('natural'),
  control: across, low: z.number().default(0), high: z.number().default(1),
  /** s from the comparator to the gate */
  delay: notNegative.default(0),
});

/** On at the clock, off where sense + slope · time passes the control (peak), or the mirror of it (valley). */
export const CurrentMode = z.strictObject({
  kind: z.literal('current-mode'), id, enable, gate: id, complement: id.optional(), deadTime: notNegative.default(0), period: positive, phase: z.number().min(0).lt(1).default(0),
  edge: z.enum(['peak', 'valley']).default('peak'), sense: across, control: across,
  /** V/s added to what is sensed */
  slope: notNegative.default(0), maxDuty: positive.max(1).default(0.95), blanking: notNegative.default(0),
  /** s from the comparator, and from the clock, to the gate */
  delay: notNegative.default(0),
});

/** On for a fixed time whenever sense falls below control; off for at least minOff. */
export const ConstantOnTime = z.strictObject({
  kind: z.literal('constant-on-time'), id, enable, gate: id, complement: id.optional(), deadTime: notNegative.default(0), onTime: positive, minOff: positive, sense: across, control: across,
  /** s from the comparator to the gate */
  delay: notNegative.default(0),
});

/**
 * On once sense has come down to rest, off once ramp has risen to control, and then off for minOff at least. Where it restarts it is off at
 * each whole number of those seconds, and begins anew.
 */
export const Critical = z.strictObject({
  kind: z.literal('critical'), id, enable, gate: id, complement: id.optional(), deadTime: notNegative.default(0), minOff: positive, sense: across, rest: across, ramp: across, control: across,
  /** s from the comparators to the gate */
  delay: notNegative.default(0),
  /** s */
  restarts: positive.optional(),
});

/** On below control − width/2, off above control + width/2. */
export const Hysteretic = z.strictObject({ kind: z.literal('hysteretic'), id, enable, gate: id, complement: id.optional(), deadTime: notNegative.default(0), sense: across, control: across, width: positive });

/**
 * Two legs of a full bridge, each on for half the period: gates of the first and its complement, of the
 * second and its complement. The second follows by (control − low)/(high − low) of the half period.
 */
export const PhaseShift = z.strictObject({
  kind: z.literal('phase-shift'), id, enable, gates: z.array(id).length(4), period: positive, phase: z.number().min(0).lt(1).default(0), deadTime: notNegative.default(0),
  control: across, low: z.number().default(0), high: z.number().default(1),
  /** s from comparison and clock to the gates */
  delay: notNegative.default(0),
});

export const Modulator = z.discriminatedUnion('kind', [Timed, Pwm, CurrentMode, ConstantOnTime, Critical, Hysteretic, PhaseShift]);

export const CIRCUIT_KIND = 'jump-reed circuit';

export const Circuit = z.strictObject({
  kind: z.literal(CIRCUIT_KIND).default(CIRCUIT_KIND),
  version: z.literal(1).default(1),
  name: z.string().max(80).default(''),
  elements: z.array(Element).min(1).max(400),
  modulators: z.array(Modulator).max(60).default([]),
  /** s: the period whose settled cycle is looked for; needed when no modulator has one */
  period: positive.optional(),
  /** Is the period the circuit's own, no clock's? It is looked for from the one stated */
  free: z.literal(true).optional(),
});

export type Element = z.infer<typeof Element>;
export type Modulator = z.infer<typeof Modulator>;
export type Circuit = z.infer<typeof Circuit>;
export type ElementOf<K extends Element['kind']> = Extract<Element, { kind: K }>;
