import type { Device } from '../circuit/devices';
import type { Prepared } from '../circuit/machine';
import { applyActive, rowTimes } from '../linear/dense';
import { exponentialStep, taylorAdvance } from '../linear/exponential';
import { climbInto } from '../linear/stepTable';
import { modalRates, modalSizes, modesOf, offChord, offMeanSlope, rateSizes, slopeReach, type Modes } from '../linear/modes';
import type { Interval } from '../orbit/cycle';
import { extremesAlong, lookedAt, type Looked, type Quantity } from '../orbit/measure';

/** What is watched of a run: a voltage or current of the circuit, the product of two (an instant power), or what that has summed up to (an energy). */
export type Watched = { row: Quantity } | { product: readonly [Quantity, Quantity]; sum?: true };

/** A stretch of a run as points: both sides of every event exactly, drawing points between, and every extreme of what is no product. */
export interface Points {
  /** s, never falling; an event stands at the same time twice */
  time: Float64Array;
  /** One array of values a quantity */
  values: Float64Array[];
  events: Events;
}

/** Changes of segment: when, of which device of the machine, and to which segment. */
export interface Events {
  time: Float64Array;
  device: Int32Array;
  segment: Int32Array;
}

/** Columns of numbers that grow a line at a time. @param room lines that are expected */
function growing(width: number, room = 512): { push(line: Float64Array): void; columns(): Float64Array[] } {
  const columns = Array.from({ length: width }, () => new Float64Array(room));
  let length = 0;
  return {
    push(line) {
      if (length === columns[0]!.length)
        for (let i = 0; i < width; i++) {
          const more = new Float64Array(Math.ceil(GROWS * length));
          more.set(columns[i]!);
          columns[i] = more;
        }
      for (let i = 0; i < width; i++) columns[i]![length] = line[i]!;
      length++;
    },
    // What is nearly full is not copied.
    columns: () => columns.map((c) => (length > FULL * c.length ? c.subarray(0, length) : c.slice(0, length))),
  };
}

/** By how much they grow, and from what share on they count as nearly full */
const [GROWS, FULL] = [1.25, 0.75];

/** A row by its entries that are not nothing: of most quantities one or two. */
interface Sparse {
  at: Int32Array;
  by: Float64Array;
}

function sparse(row: Float64Array): Sparse {
  const at = Int32Array.from(row.keys()).filter((i) => row[i] !== 0);
  return { at, by: Float64Array.from(at, (i) => row[i]!) };
}

/** row · z */
function of({ at, by }: Sparse, z: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < at.length; i++) sum += by[i]! * z[at[i]!]!;
  return sum;
}

function same(a: Float64Array, b: Float64Array): boolean {
  for (let i = a.length; i-- > 0; ) if (a[i] !== b[i]) return false;
  return true;
}

/** What a pattern needs to be recorded: rows of what is watched, each pair of a product one after the other. */
interface Rows {
  rows: Float64Array[];
  looked: Looked[];
  /** The same, their rates, and the rates of these */
  values: Sparse[];
  slopes: Sparse[];
  bends: Sparse[];
  /** What modes each is made of at most, row by row */
  sizes: Float64Array;
  /** How far each mode can move a slope off its mean within so many s, worked out anew where an interval is longer or much shorter */
  reach: Float64Array;
  reachOf: number;
  /** The same of each part of the drawing step */
  reaches: Float64Array[];
  modes: Modes;
  segments: number[];
  /** Φ of each part of the drawing step, from when it is first asked for; the run's own tables are left alone */
  phi: Float64Array[];
  /** The same of the step halved so many times, or doubled where that is below zero */
  halves: Map<number, Float64Array>;
}

/** By how much more than it may a bound of the modes may be off before steps of even length will not do, that of steps finer than 2^−FINE again, and points of an interval at most */
const [LOOSE, FAST, FINE, MOST] = [2, 3, 8, 4000];
/** By how much more than an interval its reach is worked out for: those that follow are hardly of the same length to the last bit */
const WIDER = 1.05;

/** A moment within an interval at which a row turns, and the state there; or that it turns once, from which slope. */
interface Turn {
  /** s into the interval, where it is known */
  t: number;
  row: number;
  slope: number;
  z?: Float64Array;
}

/** Share of the largest that a quantity has been, of which nothing is to be seen */
const UNSEEN = 1e-10;
/** ‖F‖ t up to which a Taylor step is shorter than the step table */
const SHORT = 4;
/** And that which takes it few terms */
const SHORTEST = 0.1;
/** Share of what a quantity has spanned so far, and of its size, by which it may be off the straight line between two points */
const [STRAIGHT, SMALL] = [1e-3, 5e-6];
/** Share of an interval to which a turning point is found: its height is right to the square of that */
const NEAR = 1e-4;
/** Parts of the drawing step that are drawn: none is much finer than it has to be */
const PARTS = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128, 192, 256];

/** What the next stretch of a recording goes on with: what each sum has come to, by quantity, and what each row has spanned. */
export interface Carried {
  sums: Float64Array;
  lowest: Float64Array;
  highest: Float64Array;
}

/** What to hand to march as `each`, what has been recorded, and what the next stretch goes on with. */
export interface Recorder {
  each: (s: Interval, end: Float64Array) => void;
  points(): Points;
  carried: Carried;
}

/**
 * Record points of a run while it goes on: as many as it takes for straight lines between them to be right to a thousandth of what
 * each quantity has spanned so far. Nothing here changes the run.
 * @param devices of its machine, whose changes are its events
 * @param step s between drawing points at most, where something bends
 * @returns how a stretch of it is recorded: `shift` are s that times are told less by, `from` what the
 * stretch before has come to. What a pattern needs is worked out once for all stretches.
 */
export function recorderOf(watched: readonly Watched[], devices: readonly Device[], step: number): (shift?: number, from?: Carried) => Recorder {
  const shared: Shared = { rows: new Map(), room: 512, happenings: 512 };
  return (shift = 0, from) => recordPoints(shared, watched, devices, step, shift, from);
}

/** What the stretches of a run have in common: rows by pattern, and how many points and events are expected of the next. */
interface Shared {
  rows: Map<object, Rows>;
  room: number;
  happenings: number;
}

function recordPoints(shared: Shared, watched: readonly Watched[], devices: readonly Device[], step: number, shift: number, from?: Carried): Recorder {
  const count = watched.length;
  const pairs = watched.map((w) => 'product' in w);
  const summed = watched.map((w) => 'product' in w && w.sum === true);
  const power = new Float64Array(count).fill(NaN);
  const totals = from?.sums.slice() ?? new Float64Array(count);
  const { rows } = shared;
  const kept = growing(count + 1, shared.room);
  const events = growing(3, shared.happenings);
  let before: number[] | undefined;
  // Time, and then the values.
  let now = new Float64Array(count + 1);
  let last = new Float64Array(count + 1).fill(NaN);
  const happened = new Float64Array(3);
  let [at, told] = [NaN, NaN];
  // By row, so that both factors of a product are looked at by themselves.
  const total = pairs.reduce((n, pair) => n + (pair ? 2 : 1), 0);
  const lowest = from?.lowest.slice() ?? new Float64Array(total).fill(Infinity);
  const highest = from?.highest.slice() ?? new Float64Array(total).fill(-Infinity);
  /** By how much each row may be off its chord */
  const rooms = new Float64Array(total);

  const prepared = (p: Prepared): Rows => {
    let own = rows.get(p);
    if (own) return own;
    const all = watched.flatMap((w) => ('row' in w ? [w.row(p)] : w.product.map((q) => q(p))));
    const looked = all.map((row) => lookedAt(p.stepTable, row));
    const bends = looked.map(({ rate }) => {
      const twice = new Float64Array(p.size);
      rowTimes(rate, p.F, twice, p.size);
      return sparse(twice);
    });
    own = { rows: all, looked, values: all.map(sparse), slopes: looked.map((l) => sparse(l.rate)), bends, sizes: Float64Array.from(looked.flatMap((l) => [...modalSizes(modesOf(p.stepTable), l.modal)])), reach: new Float64Array(modesOf(p.stepTable).count), reachOf: 0, reaches: [], modes: modesOf(p.stepTable), segments: devices.map((d) => p.segment(d.id)), phi: [], halves: new Map() };
    rows.set(p, own);
    return own;
  };
  const tell = (t: number, own: Rows, z: Float64Array): void => {
    now[0] = t - shift;
    at = told;
    told = now[0];
    for (let i = 1, k = 0; i <= count; i++) {
      let v = of(own.values[k++]!, z);
      if (pairs[i - 1]) v *= of(own.values[k++]!, z);
      if (summed[i - 1]) {
        // Straight between points, as all else is drawn.
        if (!Number.isNaN(power[i - 1]!)) totals[i - 1]! += ((told - at) * (v + power[i - 1]!)) / 2;
        power[i - 1] = v;
        v = totals[i - 1]!;
      }
      now[i] = v;
    }
    // Where nothing jumps the two sides of an event are one point.
    if (told === at && same(now, last)) return;
    kept.push(now);
    const spare = last;
    last = now;
    now = spare;
  };

  /** How far a row's slope may be off its mean at most, by what the modes reach. */
  const reached = ({ sizes }: Rows, k: number): number => {
    const n = offs.length;
    let sum = 0;
    for (let j = 0, i = k * n; j < n; j++, i++) sum += sizes[i]! * offs[j]!;
    return sum;
  };

  /** Moments within an interval at which something turns; on the way what each row spans is seen, and how fine it has to be drawn. */
  const turns: Turn[] = [];
  let bends = false;
  function look(own: Rows, p: Prepared, s: Interval, end: Float64Array, rates: Float64Array): number {
    turns.length = 0;
    if (s.duration > own.reachOf || s.duration < own.reachOf / WIDER ** 2) slopeReach(own.modes, (own.reachOf = WIDER * s.duration), own.reach);
    rateSizes(own.modes, rates, speeds);
    for (let j = 0; j < offs.length; j++) offs[j] = speeds[j]! * own.reach[j]!;
    let finer = 0;
    bends = false;
    for (let i = 0, k = 0; i < count; i++)
      for (let part = 0; part < (pairs[i] ? 2 : 1); part++, k++) {
        const looked = own.looked[k]!;
        const row = own.values[k]!;
        const slope = own.slopes[k]!;
        const y0 = of(row, s.z0);
        const y1 = of(row, end);
        let low = Math.min(y0, y1);
        let high = Math.max(y0, y1);
        const bound = reached(own, k);
        // Where its slope keeps its sign, or nothing is to be seen of what it can do besides, the ends are its extremes; where it changes it once it turns once; any other is searched.
        const seen = UNSEEN * Math.max(high, -low, highest[k]!, -lowest[k]!);
        if (s.duration * bound > seen && Math.abs(y1 - y0) <= s.duration * bound && Math.abs(y1 - y0) <= s.duration * offMeanSlope(own.modes, looked.modal, rates, s.duration)) {
          const d0 = of(slope, s.z0);
          const d1 = of(slope, end);
          const once = d0 * d1 < 0 && Math.abs(d1 - d0) > s.duration * offMeanSlope(own.modes, looked.modal, rates, s.duration, 2);
          if (once) {
            // As high as a parabola, which will do to tell what it spans.
            const top = y0 + (d0 * d0 * s.duration) / (2 * (d0 - d1));
            low = Math.min(low, top);
            high = Math.max(high, top);
            if (!pairs[i]) turns.push({ t: NaN, row: k, slope: d0 });
          } else {
            const e = extremesAlong(p.stepTable, own.rows[k]!, s.z0, s.duration, { looked, end, rates });
            low = e.min;
            high = e.max;
            if (!pairs[i]) {
              if (e.minAt > 0 && e.minAt < s.duration) turns.push({ t: e.minAt, row: k, slope: 0, z: e.minZ });
              if (e.maxAt > 0 && e.maxAt < s.duration) turns.push({ t: e.maxAt, row: k, slope: 0, z: e.maxZ });
            }
          }
        }
        if (low < lowest[k]!) lowest[k] = low;
        if (high > highest[k]!) highest[k] = high;
        // How far its middle is off the chord: by its slopes at both ends, which are no further from their mean than was seen above.
        const allowed = rooms[k] = Math.max(STRAIGHT * (highest[k]! - lowest[k]!), SMALL * Math.max(highest[k]!, -lowest[k]!));
        if ((s.duration / 4) * bound <= allowed) continue;
        bends = true;
        const off = (s.duration / 8) * Math.abs(of(slope, end) - of(slope, s.z0));
        if (off > allowed) finer = Math.max(finer, off / allowed);
      }
    // A chord half as long is off by a quarter.
    return finer > 0 ? s.duration / Math.sqrt(finer) : Infinity;
  }

  /** States while turning points are looked for: those of one step are told before the next. */
  const spares: Float64Array[] = [];
  let taken = 0;
  function spareOf(size: number): Float64Array {
    let own = spares[taken];
    if (own?.length !== size) spares[taken] = own = new Float64Array(size);
    taken++;
    return own;
  }

  /** Tell what turns between two points of an interval, in the order in which it does; and forget it. */
  function tellTurns(own: Rows, p: Prepared, s: Interval, from: Float64Array, since: number, to: Float64Array, until: number): void {
    if (turns.length === 0) return;
    taken = 0;
    let due = 0;
    for (let i = 0; i < turns.length; i++) {
      const turn = turns[i]!;
      if (!turn.z) {
        const d1 = of(own.slopes[turn.row]!, to);
        if (turn.slope * d1 > 0) {
          turn.slope = d1;
          continue;
        }
        turnWithin(turn, own, p, s, from, since, until, d1);
      } else if (!(turn.t < until)) continue;
      // Those that are due come first.
      turns[i] = turns[due]!;
      turns[due++] = turn;
    }
    if (due === 0) return;
    const those = turns.splice(0, due);
    if (due > 1) those.sort((a, b) => a.t - b.t);
    for (const { t, z } of those) tell(s.start + t, own, z!);
  }

  /** Φ of the drawing step halved so many times. */
  function halfway({ halves }: Rows, { F, size }: Prepared, j: number): Float64Array {
    let phi = halves.get(j);
    if (!phi) halves.set(j, (phi = exponentialStep(F, step / 2 ** j, size).phi));
    return phi;
  }

  /** A step put together from halves of the drawing step, and a Taylor step for what is left. */
  function halved(own: Rows, p: Prepared, z0: Float64Array, t: number, out: Float64Array): void {
    const { F, size, stepTable: { norm, active } } = p;
    let [z, left, k] = [z0, t, 0];
    for (let j = 0, h = step; left * norm > SHORTEST; j++, h /= 2)
      for (; left >= h; left -= h) {
        const to = ways[k++ & 1]!;
        applyActive(halfway(own, p, j), z, to, active, size);
        z = to;
      }
    taylorAdvance(F, z, left, out, size, active);
  }

  /**
   * When a row turns whose slope changes its sign between two points, and the state there: a secant, and from there Newton with the slope's
   * own slope. Steps are short, and each next one far shorter. The height is right to the square of what the moment is off by.
   */
  function turnWithin(turn: Turn, own: Rows, p: Prepared, s: Interval, from: Float64Array, since: number, until: number, d1: number): void {
    const { F, size, stepTable: { norm, active } } = p;
    let by = turn.slope === d1 ? 0 : ((until - since) * turn.slope) / (turn.slope - d1);
    let z = from;
    turn.t = since;
    for (let k = 0; k < 6 && turn.t + by >= since && turn.t + by <= until; k++) {
      turn.t += by;
      const out = spareOf(size);
      if (Math.abs(by) * norm > SHORT) climbInto(p.stepTable, s.z0, turn.t, out);
      else if (by * norm > 8 * SHORTEST) halved(own, p, z, by, out);
      else taylorAdvance(F, z, by, out, size, active);
      z = out;
      by = -of(own.slopes[turn.row]!, z) / of(own.bends[turn.row]!, z);
      if (Math.abs(by) <= NEAR * s.duration) break;
    }
    turn.z = z;
  }

  /** Is something so fast within an interval that steps of even length leave its chords off: a ringing that dies, a spike at its beginning? */
  function uneven(own: Rows, h: number, reach: Float64Array): boolean {
    for (let j = 0; j < offs.length; j++) offs[j] = speeds[j]! * reach[j]!;
    for (let k = 0; k < total; k++) {
      const bound = reached(own, k);
      // Half the time at the slope furthest from the mean and back: of an even bend four times what it is.
      if ((h / 2) * bound > 4 * LOOSE * rooms[k]! && offChord(own.modes, own.looked[k]!.modal, rates, h) > LOOSE * rooms[k]!) return true;
    }
    return false;
  }

  /** Points as far apart as the modes that are still alive allow: the drawing step halved or doubled. */
  function drawUnevenly(own: Rows, p: Prepared, s: Interval, end: Float64Array): void {
    const least = s.duration / MOST;
    let [t, j] = [0, 1];
    let z: Float64Array = s.z0;
    for (let n = 0; ; n++) {
      if (n > 0) modalRates(own.modes, z, rates);
      const off = (h: number): boolean => {
        for (let k = 0; k < total; k++) if (offChord(own.modes, own.looked[k]!.modal, rates, h) > (j > FINE ? FAST : 1) * rooms[k]!) return true;
        return false;
      };
      j--;
      while (step / 2 ** j > least && off(step / 2 ** j)) j++;
      const h = step / 2 ** j;
      if (t + h > s.duration * (1 - 1e-9)) break;
      const to = buffers[n & 1]!;
      applyActive(halfway(own, p, j), z, to, p.stepTable.active, p.size);
      tellTurns(own, p, s, z, t, to, t + h);
      [z, t] = [to, t + h];
      tell(s.start + t, own, z);
    }
    tellTurns(own, p, s, z, t, end, s.duration);
    tell(s.start + s.duration, own, end);
  }

  let ways: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];
  let buffers: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];
  let [rates, speeds, offs] = [new Float64Array(0), new Float64Array(0), new Float64Array(0)];
  const each = (s: Interval, end: Float64Array): void => {
    const p = s.pattern as Prepared;
    const own = prepared(p);
    if (before && before !== own.segments)
      for (let i = 0; i < own.segments.length; i++) {
        if (own.segments[i] === before[i]) continue;
        [happened[0], happened[1], happened[2]] = [s.start - shift, i, own.segments[i]!];
        events.push(happened);
      }
    before = own.segments;
    if (rates.length !== own.modes.count) [rates, speeds, offs] = [new Float64Array(own.modes.count), new Float64Array(own.modes.count), new Float64Array(own.modes.count)];
    modalRates(own.modes, s.z0, rates);
    const wanted = look(own, p, s, end, rates);
    tell(s.start, own, s.z0);
    if (buffers[0].length !== p.size) [buffers, ways] = [[new Float64Array(p.size), new Float64Array(p.size)], [new Float64Array(p.size), new Float64Array(p.size)]];
    let k = 0;
    while (k < PARTS.length - 1 && wanted * PARTS[k]! < step) k++;
    const h = wanted < s.duration ? step / PARTS[k]! : s.duration;
    if (h < s.duration && !own.reaches[k]) slopeReach(own.modes, h, (own.reaches[k] = new Float64Array(own.modes.count)));
    // Where far fewer will do than the drawing step would make, as while gates are let go for long.
    if (wanted < s.duration && wanted > 4 * step) return drawUnevenly(own, p, s, end);
    if (bends && uneven(own, h, h < s.duration ? own.reaches[k]! : own.reach)) return drawUnevenly(own, p, s, end);
    let [latest, since] = [s.z0, 0];
    if (h < s.duration) {
      const phi = (own.phi[k] ??= exponentialStep(p.F, h, p.size).phi);
      for (let j = 1; j * h < s.duration * (1 - 1e-9); j++) {
        const to = buffers[j & 1]!;
        applyActive(phi, latest, to, p.stepTable.active, p.size);
        tellTurns(own, p, s, latest, since, to, j * h);
        tell(s.start + j * h, own, to);
        [latest, since] = [to, j * h];
      }
    }
    tellTurns(own, p, s, latest, since, end, s.duration);
    tell(s.start + s.duration, own, end);
  };
  return {
    each,
    carried: { sums: totals, lowest, highest },
    points() {
      const [time, ...values] = kept.columns();
      shared.room = Math.ceil(1.04 * time!.length) + 16;
      const [at, device, segment] = events.columns();
      shared.happenings = Math.ceil(1.04 * at!.length) + 16;
      return { time: time!, values, events: { time: at!, device: new Int32Array(device!), segment: new Int32Array(segment!) } };
    },
  };
}
