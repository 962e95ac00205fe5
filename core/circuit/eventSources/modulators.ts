import { DEFAULT_TOLERANCE } from '../../linear/tolerance';
import type { Modulator } from '../elements';
import type { Pattern } from '../pattern';
import { minus, NONE, rebased, stepOf, type EventSource, type GuardRow, type EventContext } from './eventSource';

/** Command a gate and its complement with dead time between them. */
function drive(m: { gate: string; complement?: string | undefined; deadTime: number; delay?: number }, on: boolean, hands: EventContext): void {
  const delay = m.delay ?? 0;
  const dead = m.complement === undefined ? 0 : m.deadTime;
  hands.command(m.gate, on, delay + (on ? dead : 0));
  if (m.complement !== undefined) hands.command(m.complement, !on, delay + (on ? 0 : dead));
}

/** Gates that a modulator drives. */
export const gatesOf = (m: Modulator): string[] => (m.kind === 'phase-shift' ? m.gates : 'complement' in m && m.complement !== undefined ? [m.gate, m.complement] : [m.gate]);

function base(m: Modulator, rows: GuardRow[], period: number): Pick<EventSource, 'id' | 'rows' | 'gates' | 'period' | 'held'> {
  return { id: m.id, rows, gates: gatesOf(m), period, held: [] };
}

/** memory: [index of the next edge; edges alternate on, off] */
function timed(m: Extract<Modulator, { kind: 'timed' }>): EventSource {
  const T = m.period;
  // An off beyond the period's end stands in the next one: then the period begins with it.
  const wraps = m.off > 1;
  const edges = wraps ? [{ share: m.off - 1, on: false }, { share: m.on, on: true }] : [{ share: m.on, on: true }, { share: m.off, on: false }];
  return {
    ...base(m, [], T),
    begin: () => [0],
    next: ([k]) => (Math.floor(k! / 2) + edges[stepOf(k!, 2)]!.share) * T,
    clock(memory, hands) {
      hands.command(m.gate, edges[stepOf(memory[0]!, 2)]!.on, 0);
      memory[0]!++;
    },
    active: () => NONE,
    fire: () => undefined,
    rebase: (memory, shift) => rebased(memory, shift, T, 2, []),
  };
}

/** Share of a period that counts as one moment */
const MOMENT = DEFAULT_TOLERANCE.time;

/** memory: [index of the next clock, time of the last, watching: 0 none, 1 rising part, 2 falling part] */
function pwm(m: Extract<Modulator, { kind: 'pwm' }>): EventSource {
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
      const falling = double && stepOf(k, 2) === 1;
      if (uniform && !falling) hands.set(held, { row: 2 });
      const level = hands.value(uniform ? 2 : 1);
      // A pulse, or a gap, of less than a moment is none: rounding shall not decide whether there is one. What is sampled is known from here on.
      const above = level > m.low + MOMENT * span;
      const [never, always] = [uniform && !above, uniform && level > m.high - MOMENT * span];
      if (m.carrier === 'trailing') {
        memory[2] = above && !always ? 1 : 0;
        drive(m, above, hands);
      } else if (m.carrier === 'leading') {
        // The carrier falls from high to low over the period; what is still on at the clock goes off.
        memory[2] = never ? 0 : 2;
        drive(m, false, hands);
      } else {
        // On around the clock: from rest the pulse has to be begun, later it is under way already.
        memory[2] = falling ? (never ? 0 : 2) : above && !always ? 1 : 0;
        if (!falling && (k === 0 || memory[2] === 0)) drive(m, above, hands);
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
function currentMode(m: Extract<Modulator, { kind: 'current-mode' }>): EventSource {
  const T = m.period;
  const peak = m.edge === 'peak';
  const difference = (p: Pattern): Float64Array =>
    minus(p.voltage(m.sense[0], m.sense[1]), p.voltage(m.control[0], m.control[1]), peak ? 1 : -1);
  // Three times a period: clock, end of blanking, largest duty.
  const offsets = [0, Math.min(m.blanking, m.maxDuty * T), m.maxDuty * T];
  return {
    ...base(m, [{ owner: m.id, row: difference }], T),
    begin: () => [0, -T, 0],
    next: ([k]) => (Math.floor(k! / 3) + m.phase) * T + offsets[stepOf(k!, 3)]!,
    clock(memory, hands) {
      const step = stepOf(memory[0]!, 3);
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

/** memory: [0 at first, then no clock of its own; 0 resting, 1 on, 2 may turn on] */
function constantOnTime(m: Extract<Modulator, { kind: 'constant-on-time' }>): EventSource {
  const below = (p: Pattern): Float64Array => minus(p.voltage(m.control[0], m.control[1]), p.voltage(m.sense[0], m.sense[1]));
  return {
    ...base(m, [{ owner: m.id, row: below }], 0),
    begin: () => [0, 0],
    next: ([t]) => t!,
    clock(memory, hands) {
      if (memory[1] === 1) {
        memory[1] = 0;
        drive(m, false, hands);
        hands.wake(m.minOff);
      } else {
        // Off to begin with, its complement on.
        if (memory[0] !== Infinity) drive(m, false, hands);
        memory[0] = Infinity;
        memory[1] = 2;
      }
    },
    active: (memory) => (memory[1] === 2 ? [{ index: 0, offset: 0, slope: 0, from: 0 }] : NONE),
    fire(memory, _, hands) {
      memory[1] = 1;
      drive(m, true, hands);
      hands.wake(m.onTime);
    },
    rebase: (memory, shift) => rebased(memory, shift, 1, 0, [0]),
  };
}

/** memory: [index of the next restart; 0 resting, 1 on, 2 may turn on] */
function critical(m: Extract<Modulator, { kind: 'critical' }>): EventSource {
  const rows: GuardRow[] = [
    { owner: m.id, row: (p) => minus(p.voltage(m.rest[0], m.rest[1]), p.voltage(m.sense[0], m.sense[1])) },
    { owner: m.id, row: (p) => minus(p.voltage(m.ramp[0], m.ramp[1]), p.voltage(m.control[0], m.control[1])) },
  ];
  const T = m.restarts ?? 0;
  const rest = (memory: number[], hands: EventContext): void => {
    drive(m, false, hands);
    memory[1] = 0;
    hands.wake(m.minOff);
  };
  return {
    ...base(m, rows, T),
    begin: () => [0, 0],
    next: ([k]) => (T > 0 ? k! * T : k! > 0 ? Infinity : 0),
    clock(memory, hands) {
      // At a clock of its own, or woken from its rest.
      if (T > 0 ? hands.t >= memory[0]! * T - MOMENT * T : memory[0] === 0) {
        memory[0]!++;
        rest(memory, hands);
      } else if (memory[1] === 0) memory[1] = 2;
    },
    active: (memory) => (memory[1] === 0 ? NONE : [{ index: memory[1] === 1 ? 1 : 0, offset: 0, slope: 0, from: 0 }]),
    fire(memory, index, hands) {
      if (index === 1) return rest(memory, hands);
      memory[1] = 1;
      drive(m, true, hands);
    },
    rebase: (memory, shift) => rebased(memory, shift, T > 0 ? T : 1, T > 0 ? 1 : 0, []),
  };
}

/** memory: [started, on] */
function hysteretic(m: Extract<Modulator, { kind: 'hysteretic' }>): EventSource {
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

/**
 * Two legs of half the period each; the second follows the first by (control − low)/(high − low) of a half
 * period. memory: [index of the next clock, time of the last, watching]
 */
function phaseShift(m: Extract<Modulator, { kind: 'phase-shift' }>): EventSource {
  const half = m.period / 2;
  const [a, aNot, b, bNot] = m.gates;
  const leg = (gate: string, complement: string, on: boolean, hands: EventContext): void => drive({ gate, complement, deadTime: m.deadTime, delay: m.delay }, on, hands);
  const control = (p: Pattern): Float64Array => p.voltage(m.control[0], m.control[1]);
  /** The second leg does what the first did at the latest clock. */
  const follow = (memory: number[], hands: EventContext): void => {
    memory[2] = 0;
    leg(b!, bNot!, stepOf(memory[0]!, 2) === 1, hands);
  };
  return {
    ...base(m, [{ owner: m.id, row: (p) => control(p).map((v) => -v) }], m.period),
    begin: () => [0, -m.period, 0],
    next: ([k]) => (k! / 2 + m.phase) * m.period,
    clock(memory, hands) {
      // A lag of the whole half period or more ends here.
      if (memory[2] === 1) follow(memory, hands);
      leg(a!, aNot!, stepOf(memory[0]!, 2) === 0, hands);
      memory[0]!++;
      memory[1] = hands.t;
      memory[2] = 1;
      if (-hands.value(0) <= m.low) follow(memory, hands);
    },
    active: (memory) => (memory[2] === 1 ? [{ index: 0, offset: m.low, slope: (m.high - m.low) / half, from: memory[1]! }] : NONE),
    fire: (memory, _, hands) => follow(memory, hands),
    rebase: (memory, shift) => rebased(memory, shift, m.period, 2, [1]),
  };
}

/** V at which a modulator is enabled */
const ENABLE = 0.5;

/**
 * The same modulator with its gates held off while the voltage of its enable is below a half; it goes on
 * counting meanwhile. memory: its own, then [1 enabled, 0 disabled, −1 not looked yet; gates that it wants on, as bits]
 */
function withEnable(inner: EventSource, enable: readonly [string, string]): EventSource {
  const level = (p: Pattern): Float64Array => p.voltage(enable[0], enable[1]);
  const up = inner.rows.length;
  const from = inner.begin().length;
  const [flag, wanted] = [from, from + 1];
  const bit = (gate: string): number => 1 << inner.gates.indexOf(gate);
  const guarded = (memory: number[], hands: EventContext): EventContext => ({
    ...hands,
    command(gate, on, after) {
      memory[wanted] = on ? memory[wanted]! | bit(gate) : memory[wanted]! & ~bit(gate);
      if (memory[flag] === 1) hands.command(gate, on, after);
    },
  });
  return {
    ...inner,
    rows: [...inner.rows, { owner: inner.id, row: level }, { owner: inner.id, row: (p) => level(p).map((v) => -v) }],
    begin: () => [...inner.begin(), -1, 0],
    next: (memory) => (memory[flag] === -1 ? 0 : inner.next(memory)),
    clock(memory, hands) {
      if (memory[flag] === -1) memory[flag] = hands.value(up) > ENABLE ? 1 : 0;
      else inner.clock(memory, guarded(memory, hands));
    },
    active: (memory) => [...inner.active(memory), memory[flag] === 1 ? { index: up + 1, offset: ENABLE, slope: 0, from: 0 } : { index: up, offset: -ENABLE, slope: 0, from: 0 }],
    fire(memory, index, hands) {
      if (index < up) return inner.fire(memory, index, guarded(memory, hands));
      memory[flag] = index === up ? 1 : 0;
      for (const gate of inner.gates) hands.command(gate, index === up && (memory[wanted]! & bit(gate)) !== 0, 0);
    },
    rebase: (memory, shift) => [...inner.rebase(memory.slice(0, from), shift), memory[flag]!, memory[wanted]!],
  };
}

function plain(m: Modulator): EventSource {
  switch (m.kind) {
    case 'timed':
      return timed(m);
    case 'pwm':
      return pwm(m);
    case 'current-mode':
      return currentMode(m);
    case 'constant-on-time':
      return constantOnTime(m);
    case 'critical':
      return critical(m);
    case 'hysteretic':
      return hysteretic(m);
    case 'phase-shift':
      return phaseShift(m);
  }
}

/** The event source of a modulator. */
export const modulator = (m: Modulator): EventSource => (m.enable ? withEnable(plain(m), m.enable) : plain(m));
