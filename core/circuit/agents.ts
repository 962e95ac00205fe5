import type { Circuit, ElementOf, Modulator, Waveform } from './elements';
import { hasSlope, isSource } from './layout';
import type { Pattern } from './pattern';

/**
 * Agents make things happen: modulators drive gates, moving sources pass their breakpoints. Each is a
 * small state machine on a few numbers of memory, with a clock (its next known time) and guards
 * (linear functions of z and t that act when they become positive).
 */

/** A guard's fixed part: its row in any pattern. */
export interface GuardRow {
  owner: string;
  row(p: Pattern): Float64Array;
}

/** A guard that is watched now: row·z + offset + slope·(t − from) > 0 fires. */
export interface ActiveGuard {
  /** Index into the agent's rows */
  index: number;
  offset: number;
  slope: number;
  from: number;
}

/** What an agent may do. */
export interface Hands {
  t: number;
  /** Value of one of the agent's rows now */
  value(index: number): number;
  /** Turn a gate on or off after `after` seconds; replaces what was under way for it from then on. */
  command(gate: string, on: boolean, after: number): void;
  /** Put a column of z to a value, or to what a row is now (a sampler). */
  set(column: string, value: number | { row: number }): void;
}

export interface Agent {
  id: string;
  rows: GuardRow[];
  /** Columns that samplers of this agent keep */
  held: string[];
  /** Gates this agent drives */
  gates: string[];
  /** s; 0 when it has none */
  period: number;
  begin(): number[];
  /** Absolute time of the next clock */
  next(memory: readonly number[]): number;
  clock(memory: number[], hands: Hands): void;
  active(memory: readonly number[]): ActiveGuard[];
  fire(memory: number[], index: number, hands: Hands): void;
  /** The same memory told from `shift` seconds later: a whole number of its periods */
  rebase(memory: readonly number[], shift: number): number[];
}

/** Clock index and times moved back: `perPeriod` clocks in each period, times at the given places of the memory. */
const rebased = (memory: readonly number[], shift: number, period: number, perPeriod: number, times: readonly number[]): number[] =>
  memory.map((v, i) => (i === 0 && perPeriod > 0 ? v - Math.round(shift / period) * perPeriod : times.includes(i) ? v - shift : v));

const NONE: ActiveGuard[] = [];
const minus = (a: Float64Array, b: Float64Array, scale = 1): Float64Array => a.map((v, i) => (v - b[i]!) * scale);

/** Command a gate and its complement with dead time between them. */
function drive(m: { gate: string; complement?: string | undefined; deadTime: number; delay?: number }, on: boolean, hands: Hands): void {
  const delay = m.delay ?? 0;
  const dead = m.complement === undefined ? 0 : m.deadTime;
  hands.command(m.gate, on, delay + (on ? dead : 0));
  if (m.complement !== undefined) hands.command(m.complement, !on, delay + (on ? 0 : dead));
}

const gatesOf = (m: Modulator): string[] => ('complement' in m && m.complement !== undefined ? [m.gate, m.complement] : [m.gate]);

function base(m: Modulator, rows: GuardRow[], period: number): Pick<Agent, 'id' | 'rows' | 'gates' | 'period' | 'held'> {
  return { id: m.id, rows, gates: gatesOf(m), period, held: [] };
}

/** memory: [index of the next edge; edges alternate on, off] */
function timed(m: Extract<Modulator, { kind: 'timed' }>): Agent {
  const T = m.period;
  // An off beyond the period's end stands in the next one: then the period begins with it.
  const wraps = m.off > 1;
  const edges = wraps ? [{ share: m.off - 1, on: false }, { share: m.on, on: true }] : [{ share: m.on, on: true }, { share: m.off, on: false }];
  return {
    ...base(m, [], T),
    begin: () => [0],
    next: ([k]) => (Math.floor(k! / 2) + edges[k! % 2]!.share) * T,
    clock(memory, hands) {
      hands.command(m.gate, edges[memory[0]! % 2]!.on, 0);
      memory[0]!++;
    },
    active: () => NONE,
    fire: () => undefined,
    rebase: (memory, shift) => rebased(memory, shift, T, 2, []),
  };
}

/** memory: [index of the next clock, time of the last, watching: 0 none, 1 rising part, 2 falling part] */
function pwm(m: Extract<Modulator, { kind: 'pwm' }>): Agent {
  const T = m.period;
  const span = m.high - m.low;
  const uniform = m.sampling === 'uniform';
  const held = `held ${m.id}`;
  const control = (p: Pattern): Float64Array => {
    if (!uniform) return p.voltage(m.control[0], m.control[1]);
    const row = new Float64Array(p.size);
    row[p.layout.column.get(held)!] = 1;
    return row;
  };
  // 0: carrier above control turns off; 1: control above carrier turns on; 2: the control itself, for the sampler
  const rows: GuardRow[] = [
    { owner: m.id, row: (p) => control(p).map((v) => -v) },
    { owner: m.id, row: control },
    { owner: m.id, row: (p) => p.voltage(m.control[0], m.control[1]) },
  ];
  const double = m.carrier === 'double';
  const half = T / 2;
  return {
    ...base(m, rows, T),
    held: uniform ? [held] : [],
    begin: () => [0, -T, 0],
    next: ([k]) => (double ? (k! / 2 + m.phase) * T : (k! + m.phase) * T),
    clock(memory, hands) {
      const k = memory[0]!++;
      memory[1] = hands.t;
      const falling = double && k % 2 === 1;
      if (uniform && !falling) hands.set(held, { row: 2 });
      const level = hands.value(uniform ? 2 : 1);
      if (m.carrier === 'trailing') {
        memory[2] = level > m.low ? 1 : 0;
        drive(m, level > m.low, hands);
      } else if (m.carrier === 'leading') {
        // The carrier falls from high to low over the period; what is still on at the clock goes off.
        memory[2] = 2;
        drive(m, false, hands);
      } else {
        // On around the clock: from rest the pulse has to be begun, later it is under way already.
        memory[2] = falling ? 2 : level > m.low ? 1 : 0;
        if (!falling && (k === 0 || memory[2] === 0)) drive(m, memory[2] === 1, hands);
      }
    },
    active(memory) {
      const from = memory[1]!;
      if (memory[2] === 1) return [{ index: 0, offset: m.low, slope: span / (double ? half : T), from }];
      if (memory[2] === 2) return [{ index: 1, offset: -m.high, slope: span / (double ? half : T), from }];
      return NONE;
    },
    fire(memory, index, hands) {
      memory[2] = 0;
      drive(m, index === 1, hands);
    },
    rebase: (memory, shift) => rebased(memory, shift, T, double ? 2 : 1, [1]),
  };
}

/** memory: [index of the next clock, time of the last, watching, time of the latest switching] */
function currentMode(m: Extract<Modulator, { kind: 'current-mode' }>): Agent {
  const T = m.period;
  const peak = m.edge === 'peak';
  const difference = (p: Pattern): Float64Array =>
    minus(p.voltage(m.sense[0], m.sense[1]), p.voltage(m.control[0], m.control[1]), peak ? 1 : -1);
  // Three times a period: clock, end of blanking, largest duty.
  const offsets = [0, Math.min(m.blanking, m.maxDuty * T), m.maxDuty * T];
  return {
    ...base(m, [{ owner: m.id, row: difference }], T),
    begin: () => [0, -T, 0],
    next: ([k]) => (Math.floor(k! / 3) + m.phase) * T + offsets[k! % 3]!,
    clock(memory, hands) {
      const step = memory[0]! % 3;
      memory[0]!++;
      if (step === 0) {
        memory[1] = hands.t;
        memory[2] = 0;
        drive(m, peak, hands);
      } else if (step === 1) memory[2] = 1;
      else if (memory[2] === 1) {
        memory[2] = 0;
        drive(m, !peak, hands);
      }
    },
    active: (memory) => (memory[2] === 1 ? [{ index: 0, offset: 0, slope: m.slope, from: memory[1]! }] : NONE),
    fire(memory, _, hands) {
      memory[2] = 0;
      drive(m, !peak, hands);
    },
    rebase: (memory, shift) => rebased(memory, shift, T, 3, [1]),
  };
}

/** memory: [next clock, 0 resting, 1 on, 2 may turn on] */
function constantOnTime(m: Extract<Modulator, { kind: 'constant-on-time' }>): Agent {
  const below = (p: Pattern): Float64Array => minus(p.voltage(m.control[0], m.control[1]), p.voltage(m.sense[0], m.sense[1]));
  return {
    ...base(m, [{ owner: m.id, row: below }], 0),
    begin: () => [0, 0],
    next: ([t]) => t!,
    clock(memory, hands) {
      if (memory[1] === 1) {
        memory[0] = hands.t + m.minOff;
        memory[1] = 0;
        drive(m, false, hands);
      } else {
        memory[0] = Infinity;
        memory[1] = 2;
      }
    },
    active: (memory) => (memory[1] === 2 ? [{ index: 0, offset: 0, slope: 0, from: 0 }] : NONE),
    fire(memory, _, hands) {
      memory[0] = hands.t + m.onTime;
      memory[1] = 1;
      drive(m, true, hands);
    },
    rebase: (memory, shift) => rebased(memory, shift, 1, 0, [0]),
  };
}

/** memory: [started, on] */
function hysteretic(m: Extract<Modulator, { kind: 'hysteretic' }>): Agent {
  const above = (p: Pattern): Float64Array => minus(p.voltage(m.sense[0], m.sense[1]), p.voltage(m.control[0], m.control[1]));
  return {
    ...base(m, [{ owner: m.id, row: above }, { owner: m.id, row: (p) => above(p).map((v) => -v) }], 0),
    begin: () => [0, 0],
    next: ([started]) => (started ? Infinity : 0),
    clock(memory, hands) {
      memory[0] = 1;
      memory[1] = hands.value(0) < 0 ? 1 : 0;
      drive(m, memory[1] === 1, hands);
    },
    active: (memory) => (memory[0] ? [{ index: memory[1] ? 0 : 1, offset: -m.width / 2, slope: 0, from: 0 }] : NONE),
    fire(memory, index, hands) {
      memory[1] = index === 0 ? 0 : 1;
      drive(m, memory[1] === 1, hands);
    },
    rebase: (memory) => [...memory],
  };
}

/** The breakpoints of a moving source in order: at a time, its value and slope from then on. */
function breakpoints(w: Exclude<Waveform, number>): { time: number; value: number; slope: number }[] {
  switch (w.shape) {
    case 'step':
      return [{ time: w.at, value: w.to, slope: 0 }];
    case 'ramp':
      return [
        { time: w.start, value: w.from, slope: (w.to - w.from) / w.duration },
        { time: w.start + w.duration, value: w.to, slope: 0 },
      ];
    case 'points':
      return w.points.map(([time, value], i) => {
        const next = w.points[i + 1];
        return { time, value, slope: next && next[0] > time ? (next[1] - value) / (next[0] - time) : 0 };
      });
    default:
      return [];
  }
}

/** A source with breakpoints; memory: [index of the next one] */
function moving(e: ElementOf<'voltage-source'> | ElementOf<'current-source'>): Agent | undefined {
  const w = e.value;
  if (typeof w === 'number' || w.shape === 'sine') return undefined;
  const common = { id: e.id, rows: [], held: [], gates: [], begin: () => [0], active: () => NONE, fire: () => undefined };
  if (w.shape === 'pulse')
    return {
      ...common,
      period: w.period,
      next: ([k]) => w.delay + Math.floor(k! / 2) * w.period + (k! % 2 ? w.width : 0),
      clock(memory, hands) {
        hands.set(e.id, memory[0]! % 2 ? w.low : w.high);
        memory[0]!++;
      },
      rebase: (memory, shift) => rebased(memory, shift, w.period, 2, []),
    };
  const list = breakpoints(w);
  return {
    ...common,
    period: 0,
    next: ([k]) => list[k!]?.time ?? Infinity,
    clock(memory, hands) {
      const b = list[memory[0]!++]!;
      hands.set(e.id, b.value);
      if (hasSlope(w)) hands.set(`${e.id} slope`, b.slope);
    },
    // What moves once and not again has no place in a cycle: it stays where it is.
    rebase: () => [list.length],
  };
}

/** Value of a source before its first breakpoint (and its quadrature, for a sine at t = 0). */
export function firstValue(w: Waveform): { value: number; quadrature: number } {
  if (typeof w === 'number') return { value: w, quadrature: 0 };
  switch (w.shape) {
    case 'step':
    case 'ramp':
      return { value: w.from, quadrature: 0 };
    case 'pulse':
      return { value: w.low, quadrature: 0 };
    case 'points':
      return { value: w.points[0]![1], quadrature: 0 };
    case 'sine': {
      const angle = (w.phase * Math.PI) / 180;
      return { value: w.amplitude * Math.sin(angle), quadrature: w.amplitude * Math.cos(angle) };
    }
  }
}

/**
 * A difference equation. What it keeps are held columns: the output, the output under way, and the
 * inputs and outputs of earlier samples; a sample is a linear reset of them all at once.
 * memory: [index of the next clock; with a delay, samples and outputs alternate]
 */
function sampled(e: ElementOf<'sampled'>): Agent {
  const lead = e.denominator[0]!;
  const b = e.numerator.map((v) => v / lead);
  const a = e.denominator.slice(1).map((v) => v / lead);
  const name = (what: string): string => `held ${e.id}${what}`;
  const inputs = b.slice(1).map((_, i) => name(`.e${i + 1}`));
  const outputs = a.map((_, i) => name(`.y${i + 1}`));
  const delayed = e.delay > 0;
  const result = delayed ? name('.next') : name('');
  const unit = (p: Pattern, column: string, factor = 1): Float64Array => {
    const row = new Float64Array(p.size);
    row[p.layout.column.get(column)!] = factor;
    return row;
  };
  const error = (p: Pattern): Float64Array => p.voltage(e.plus, e.minus);
  const equation = (p: Pattern): Float64Array => {
    const row = error(p).map((v) => v * b[0]!);
    inputs.forEach((column, i) => (row[p.layout.column.get(column)!]! += b[i + 1]!));
    outputs.forEach((column, i) => (row[p.layout.column.get(column)!]! -= a[i]!));
    return row;
  };
  const rows: GuardRow[] = [equation, error, ...[...inputs, ...outputs, result].map((column) => (p: Pattern) => unit(p, column))].map((row) => ({ owner: e.id, row }));
  const perPeriod = delayed ? 2 : 1;
  return {
    id: e.id,
    rows,
    held: [name(''), ...(delayed ? [result] : []), ...inputs, ...outputs],
    gates: [],
    period: e.period,
    begin: () => [0],
    next: ([k]) => (Math.floor(k! / perPeriod) + e.phase) * e.period + (k! % perPeriod) * e.delay,
    clock(memory, hands) {
      const output = memory[0]! % perPeriod === 1;
      memory[0]!++;
      if (output) return hands.set(name(''), { row: rows.length - 1 });
      hands.set(result, { row: 0 });
      inputs.forEach((column, i) => hands.set(column, { row: i === 0 ? 1 : 2 + i - 1 }));
      outputs.forEach((column, i) => hands.set(column, { row: i === 0 ? 0 : 2 + inputs.length + i - 1 }));
    },
    active: () => NONE,
    fire: () => undefined,
    rebase: (memory, shift) => rebased(memory, shift, e.period, perPeriod, []),
  };
}

/** All agents of a circuit. */
export function agentsOf(circuit: Circuit): Agent[] {
  const modulators = circuit.modulators.map((m): Agent => {
    switch (m.kind) {
      case 'timed':
        return timed(m);
      case 'pwm':
        return pwm(m);
      case 'current-mode':
        return currentMode(m);
      case 'constant-on-time':
        return constantOnTime(m);
      case 'hysteretic':
        return hysteretic(m);
    }
  });
  // Samplers first: a modulator whose clock falls on a sample compares with what was just computed.
  const samplers = circuit.elements.flatMap((e) => (e.kind === 'sampled' ? [sampled(e)] : []));
  return [...samplers, ...modulators, ...circuit.elements.filter(isSource).flatMap((e) => moving(e) ?? [])];
}
