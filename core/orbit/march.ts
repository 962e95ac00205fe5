import { CircuitError } from '../circuit/error';
import { copyState, guardOwner, type Machine, type Prepared, type State } from '../circuit/machine';
import type { EventContext } from '../circuit/eventSources';
import { dot } from '../linear/dense';
import { BOUNDLESS, DEFAULT_TOLERANCE, type Tolerance } from '../linear/tolerance';
import { fail, ok, type Result } from '../problem';
import type { Budget } from './budget';
import type { Interval } from './cycle';
import { entered, never, passThrough, settleDevices, watchOf, type Passed } from './segments';
import { firesAtOnce, noise, type Watched } from './guards';
import { watch } from './watch';

/** Causes that are no event of the run: a clock, or an event before the run began. */
export const CLOCK = -1;
export const EARLIER = -2;

/**
 * What happened between two intervals, with all that its effect on a neighbouring run depends on:
 * the time it follows (a clock, a guard, or an earlier event it was delayed from) and what it reset.
 */
export interface Event {
  /** s, absolute */
  t: number;
  /**
   * CLOCK, or EARLIER than this run. Its own index: the guard below. Smaller: the event it follows, with a fixed
   * delay, or at once where that event left the guard positive already: then it moves as that one does.
   */
  cause: number;
  /** Whose clock or guard it is; empty for a gate edge under way */
  owner: string;
  /** Of its own guard: row in the pattern before, and dg/dt there (row·F z + slope) */
  gradient?: Float64Array;
  rate?: number;
  before: Prepared;
  after: Prepared;
  z: Float64Array;
  zAfter: Float64Array;
  /** Columns that were set: to a number, or to something whose gradient over z is a row */
  resets: { column: number; row?: Float64Array }[];
}

/** A run: intervals in one pattern each, and the events before each (none before the first). */
export interface Trace {
  intervals: Interval[];
  /** events[k] lie between interval k−1 and interval k */
  events: Event[][];
  /** All of them in order; causes are indices into this */
  all: Event[];
}

/** Events without any time passing before they are called chatter, besides a few ways through all pieces of what is bent. */
const MOST_AT_ONCE = 400;

export interface MarchOptions {
  /** Record intervals and events */
  trace?: Trace;
  /** Called after every interval: for drawing, streaming, progress; true stops the run */
  each?: (s: Interval, end: Float64Array) => boolean | void;
  /** At most so many events; when left out, EVENTS_A_TURN for each of the fastest periods and EVENTS_A_RUN besides */
  events?: number;
  /** Work that this is a part of, and ends with */
  budget?: Budget;
  tolerance?: Tolerance;
}

/** More in one period of what is fastest is no switching any more; runs with nothing that repeats have the second. */
const EVENTS_A_TURN = 2000;
const EVENTS_A_RUN = 1_000_000;

/** Units of the last place that a time is off by after some sums */
const LAST_PLACES = 16;

/** A trace that nothing has been recorded in. */
export const emptyTrace = (): Trace => ({ intervals: [], events: [], all: [] });

/**
 * Run a machine from a state until a time in s, exactly from event to event.
 * @returns the state there (the given one is left alone); problem "chatter", "no-pattern", "events", "overflow", "work"
 */
export function march(m: Machine, from: State, until: number, options: MarchOptions = {}): Result<State> {
  const s = copyState(from);
  try {
    return run(m, s, until, options);
  } catch (error) {
    if (error instanceof CircuitError) return { ok: false, problem: error.problem };
    throw error;
  }
}

function run(m: Machine, s: State, until: number, options: MarchOptions): Result<State> {
  const { trace } = options;
  const { time: moment } = options.tolerance ?? DEFAULT_TOLERANCE;
  let events = 0;
  let atOnce = 0;
  let current = m.prepare(s.segments);
  let between: Event[] = [];
  // Rounding of absolute times, far below what counts as two moments.
  const eps = 1e-3 * moment * Math.max(m.period, until - s.t, 1e-12);
  // The same of the run's end: what falls due within some units of its last place belongs to the run that goes on from there.
  const last = until - Math.max(1e-3 * eps, LAST_PLACES * Number.EPSILON * Math.abs(until));
  const turns = (until - s.t) / m.fastest;
  const most = options.events ?? (options.budget ? Infinity : turns > 0 ? Math.ceil(EVENTS_A_TURN * (turns + 5)) : EVENTS_A_RUN);
  const mostAtOnce = MOST_AT_ONCE + 4 * m.bent.reduce((sum, i) => sum + m.devices[i]!.bounds.length, 0);
  const counts = new Map<string, number>();
  /** What the latest happening at this very moment followed: what it left positive moves with it. */
  let latest: { cause: number } | undefined;
  /** No segments of the devices fit, but more is due at this very moment (gates that open and close together): they are asked again after it. */
  let unsettled = false;
  /** What has come together on the way to the segments that fit, where they did only then */
  const passing: { by?: Passed | undefined } = {};
  const settled = (p: Prepared): Prepared => {
    const found = settleDevices(m, s, p);
    passing.by = undefined;
    unsettled = found === undefined;
    if (!unsettled || nextClock(m, s, eps).time <= s.t) return found ?? p;
    passing.by = passThrough(m, s, p);
    if (!passing.by) throw noPattern(m, s.t);
    unsettled = false;
    return passing.by.found;
  };
  current = settled(current);
  /** What leakages alone hold apart comes together as a pattern begins: once, and again when a source has jumped. */
  const enter = (cause: number, before: Prepared): void => {
    const z = entered(current, s.z);
    const event: Event = { t: s.t, cause, owner: '', before, after: current, z: s.z, zAfter: z, resets: current.entry!.resets };
    s.z = z;
    // What this leaves positive moves with what began it.
    latest = { cause };
    if (!trace) return;
    trace.all.push(event);
    between.push(event);
  };
  /** Until when currents that disagree are followed as they die, and what began that; never mind where they agree. */
  let calm = Infinity;
  let stirred = CLOCK;
  let toEnter = true;

  while (s.t < last) {
    const { time: clock, eventSource } = nextClock(m, s, eps);
    let end = Math.min(clock, until, calm);
    // Only where time will pass: gates that are due at this very moment come first.
    if (toEnter && end > s.t) {
      toEnter = false;
      // What was still dying is begun anew with what has just happened.
      calm = Infinity;
      end = Math.min(clock, until);
      if (current.entry) {
        stirred = latest?.cause ?? CLOCK;
        if (disagrees(current, s.z)) {
          calm = s.t + DYING * current.entry.time;
          end = Math.min(end, calm);
          current = m.whole(s.segments);
        } else enter(stirred, current);
      }
    }
    const watched = watchedGuards(m, s);
    const now = unsettled ? -1 : firesAtOnce(current, watched.list, s.z);
    let fired = now;
    if (now < 0) {
      const duration = end - s.t;
      if (duration > 0) {
        const z0 = s.z;
        const arrival = watch(current, z0, duration, watched.list);
        fired = arrival.fired;
        if (arrival.time > 0) {
          const interval: Interval = { pattern: current, start: s.t, duration: arrival.time, z0 };
          if (trace) {
            trace.intervals.push(interval);
            trace.events.push(between);
            between = [];
          }
          s.z = arrival.z;
          s.t = fired < 0 ? end : s.t + arrival.time;
          if (arrival.time > eps) atOnce = 0;
          latest = undefined;
          const beyond = boundless(m, s.z);
          if (beyond !== undefined) return fail('overflow', beyond, `it grows without bound: past ${BOUNDLESS.toExponential(0)} at ${s.t.toPrecision(6)} s`, 'check the sign of its feedback, or limit it');
          if (options.each?.(interval, arrival.z)) return ok(s);
        }
      }
    }
    if (fired < 0 && s.t >= calm) {
      const before = current;
      current = m.prepare(s.segments);
      calm = Infinity;
      enter(stirred, before);
      continue;
    }
    // What falls due at the very end belongs to the run that goes on from there.
    if (fired < 0 && clock > last) break;
    if (++atOnce > mostAtOnce)
      return fail('chatter', fired >= 0 ? guardOwner(m, watched.list[fired]!.guard) : m.eventSources[eventSource]?.id ?? '', `it switches without end at ${s.t.toPrecision(6)} s`, 'give its comparison a delay, a hysteresis or a filter');
    m.work.events++;
    if (options.budget?.over()) return options.budget.exceeded();
    if (++events > most) return tooMany(counts, events, s.t);

    // What happens now: a guard's action, a gate edge under way, or an event source's clock.
    const event: Event = { t: s.t, cause: CLOCK, owner: '', before: current, after: current, z: s.z, zAfter: s.z, resets: [] };
    const index = trace ? trace.all.length : 0;
    let outward = true;
    const who = fired >= 0 ? guardOwner(m, watched.list[fired]!.guard) : eventSource >= 0 ? m.eventSources[eventSource]!.id : '';
    counts.set(who, (counts.get(who) ?? 0) + 1);
    event.owner = who;
    if (fired >= 0) {
      const w = watched.list[fired]!;
      const rate = dot(current.guards[w.guard]!.rate, s.z, current.size) + w.slope;
      const already = now >= 0 && (dot(current.guards[w.guard]!.row, s.z, current.size) + w.offset > noise(current, w, s.z) || !(rate > 0));
      if (already) event.cause = latest?.cause ?? EARLIER;
      else {
        event.cause = index;
        event.gradient = current.guards[w.guard]!.row;
        event.rate = rate;
      }
      const owner = watched.owners[fired]!;
      if (owner < 0) {
        // A bent device: continuous through its own change, nothing else happens.
        s.segments[m.bent[w.guard >> 1]!]! += w.guard & 1 ? 1 : -1;
        outward = false;
      } else {
        const a = m.eventSources[owner]!;
        a.fire(s.memory[owner]!, w.guard - m.guardsFrom[owner]!, contextFor(m, s, current, owner, event, already ? event.cause : index, trace !== undefined));
      }
    } else if (eventSource < 0) {
      // Edges of one command come together: between them two switches would be closed that never are.
      const next = s.pending.reduce((a, b) => (b.time < a.time ? b : a));
      event.cause = next.cause;
      if ('wake' in next) {
        s.pending = s.pending.filter((p) => p !== next);
        event.owner = m.eventSources[next.wake]!.id;
        m.eventSources[next.wake]!.clock(s.memory[next.wake]!, contextFor(m, s, current, next.wake, event, next.cause, trace !== undefined));
      } else {
        const together = s.pending.filter((p) => 'gate' in p && p.cause === next.cause && p.time <= next.time + eps);
        for (const p of together) if ('gate' in p) s.gates[p.gate] = p.on;
        s.pending = s.pending.filter((p) => !together.includes(p));
      }
    } else m.eventSources[eventSource]!.clock(s.memory[eventSource]!, contextFor(m, s, current, eventSource, event, CLOCK, trace !== undefined));

    applyGates(m, s);
    current = m.prepare(s.segments);
    passing.by = undefined;
    if (outward) current = settled(current);
    const passed = passing.by as Passed | undefined;
    event.after = passed?.via ?? current;
    event.zAfter = passed?.z ?? s.z;
    latest = { cause: event.cause };
    if (trace) {
      const happened = passed ? [event, { t: s.t, cause: event.cause, owner: '', before: passed.via, after: current, z: passed.z, zAfter: s.z, resets: passed.via.entry!.resets }] : [event];
      trace.all.push(...happened);
      between.push(...happened);
    }
    toEnter ||= current !== event.before || event.resets.length > 0;
  }
  s.t = until;
  if (trace && between.length > 0) trace.events.push(between);
  return ok(s);
}

/** A state that has left every bound. */
function boundless(m: Machine, z: Float64Array): string | undefined {
  for (let i = 0; i < z.length; i++) if (!(Math.abs(z[i]!) < BOUNDLESS)) return [...m.layout.column].find(([, k]) => k === i)![0];
  return undefined;
}

function tooMany(counts: ReadonlyMap<string, number>, most: number, t: number): Result<never> {
  const busiest = [...counts].sort((a, b) => b[1] - a[1]).slice(0, 3);
  return fail('events', busiest.map(([id]) => id).filter((id) => id !== '').join(', '), `it switches more often than is followed: ${most.toLocaleString('en')} events by ${t.toPrecision(4)} s`, 'state a period that these repeat in, shorten the run, or widen their hysteresis');
}

/**
 * The next known time, and whose it is: an event source's clock, or −1 for what is under way. Of what falls due within rounding of
 * one moment the edges come first, then event sources in their order: sums of delays and of periods round differently, and
 * that shall not decide what a sampler sees.
 */
function nextClock(m: Machine, s: State, eps: number): { time: number; eventSource: number } {
  let first = Infinity;
  for (let i = 0; i < m.eventSources.length; i++) first = Math.min(first, m.eventSources[i]!.next(s.memory[i]!));
  for (const p of s.pending) first = Math.min(first, p.time);
  const edges = s.pending.reduce((least, p) => Math.min(least, p.time), Infinity);
  if (edges <= first + eps) return { time: Math.max(edges, s.t), eventSource: -1 };
  for (let i = 0; i < m.eventSources.length; i++) {
    const time = m.eventSources[i]!.next(s.memory[i]!);
    if (time <= first + eps) return { time: Math.max(time, s.t), eventSource: i };
  }
  return { time: Math.max(first, s.t), eventSource: -2 };
}

/** Guards to watch from here: every bent device's, and what the event sources look at. */
function watchedGuards(m: Machine, s: State): { list: Watched[]; owners: number[] } {
  const list: Watched[] = [];
  const owners: number[] = [];
  for (let i = 0; i < 2 * m.bent.length; i++) {
    if (never(m, s, i)) continue;
    list.push(watchOf(i));
    owners.push(-1);
  }
  for (let a = 0; a < m.eventSources.length; a++)
    for (const g of m.eventSources[a]!.active(s.memory[a]!)) {
      list.push({ guard: m.guardsFrom[a]! + g.index, offset: g.offset + g.slope * (s.t - g.from), slope: g.slope });
      owners.push(a);
    }
  return { list, owners };
}

const NOTHING = new Float64Array(0);

/** What an event source can do at an event; gradients are there where the run is traced. */
function contextFor(m: Machine, s: State, p: Prepared, eventSource: number, event: Event, cause: number, tracing: boolean): EventContext {
  return {
    t: s.t,
    value: (index) => dot(p.guards[m.guardsFrom[eventSource]! + index]!.row, s.z, p.size),
    row: (index) => (tracing ? p.guards[m.guardsFrom[eventSource]! + index]!.row : NOTHING),
    command(gate, on, after) {
      const time = s.t + after;
      s.pending = s.pending.filter((x) => !('gate' in x) || x.gate !== gate || x.time < time);
      if (after === 0) s.gates[gate] = on;
      else s.pending.push({ time, gate, on, cause });
    },
    wake: (after) => void s.pending.push({ time: s.t + after, wake: eventSource, cause }),
    set(column, to) {
      const at = m.layout.column.get(column)!;
      if (s.z === event.z) s.z = s.z.slice();
      if (typeof to === 'number') {
        s.z[at] = to;
        event.resets.push({ column: at });
      } else if ('gradient' in to) {
        s.z[at] = to.value;
        event.resets.push(to.gradient.length > 0 ? { column: at, row: to.gradient } : { column: at });
      } else {
        const { row } = p.guards[m.guardsFrom[eventSource]! + to.row]!;
        s.z[at] = dot(row, event.z, p.size);
        event.resets.push({ column: at, row });
      }
    },
  };
}

function applyGates(m: Machine, s: State): void {
  m.devices.forEach((d, i) => {
    if (d.gate !== undefined) s.segments[i] = s.gates[d.gate] ? 1 : 0;
  });
}

/** Time constants after which nothing is left of a disagreement. */
const DYING = 60;

/** Share of the largest current by which currents may disagree without anybody missing what dies with them. */
const AGREEING = 1e-8;

/** Do currents that only leakages hold apart disagree by more than those would have it? */
function disagrees({ entry, layout }: Prepared, z: Float64Array): boolean {
  let most = 0;
  for (let i = 0; i < layout.n; i++) if (layout.kind[i] === 'A') most = Math.max(most, Math.abs(z[i]!));
  return entry!.off.some((row) => Math.abs(dot(row, z, z.length)) > AGREEING * most);
}

const noPattern = (m: Machine, t: number): CircuitError =>
  new CircuitError({ code: 'no-pattern', where: m.bent.map((i) => m.devices[i]!.id).join(', '), message: `no state of these elements fits at ${t.toPrecision(6)} s`, remedy: 'give diodes a resistance and a drop of usual size, and a constant-power load a capacitor' });
