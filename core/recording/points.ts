import type { Device } from '../circuit/devices';
import type { Prepared } from '../circuit/machine';
import { applyActive, dot, rowTimes } from '../linear/dense';
import { exponentialStep } from '../linear/exponential';
import { climb } from '../linear/stepTable';
import { modalRates, modesOf, offMeanSlope, type Modes } from '../linear/modes';
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

/** Lines of so many numbers, one after the other, that grow by doubling. */
function growing(width: number): { push(line: Float64Array): void; columns(): Float64Array[] } {
  let room = new Float64Array(512 * width);
  let length = 0;
  return {
    push(line) {
      if (length === room.length) {
        const more = new Float64Array(2 * length);
        more.set(room);
        room = more;
      }
      for (let i = 0; i < width; i++) room[length++] = line[i]!;
    },
    columns: () =>
      Array.from({ length: width }, (_, i) => {
        const column = new Float64Array(length / width);
        for (let k = 0; k < column.length; k++) column[k] = room[k * width + i]!;
        return column;
      }),
  };
}

/** What a pattern needs to be recorded: rows of what is watched, each pair of a product one after the other. */
interface Rows {
  rows: Float64Array[];
  looked: Looked[];
  /** Rates of the rates */
  bends: Float64Array[];
  modes: Modes;
  segments: number[];
  /** Φ of drawing steps, each half of the one before, from when it is first asked for; the run's own tables are left alone */
  phi: Float64Array[];
}

/** Share of what a quantity has spanned so far, and of its size, by which it may be off the straight line between two points */
const [STRAIGHT, SMALL] = [1e-3, 5e-6];
/** Share of an interval to which a turning point is found: its height is right to the square of that */
const NEAR = 1e-4;
/** Halvings of the drawing step at most */
const FINEST = 8;

/**
 * Record points of a run while it goes on: as many as it takes for straight lines between them to be right to a thousandth of what
 * each quantity has spanned so far. Nothing here changes the run.
 * @param devices of its machine, whose changes are its events
 * @param step s between drawing points at most, where something bends
 * @param shift s that times are told less by
 * @param sums what each sum has come to before, by quantity; they are gone on with
 * @returns what to hand to march as `each`, and what has been recorded
 */
export function recordPoints(watched: readonly Watched[], devices: readonly Device[], step: number, shift = 0, sums: Float64Array = new Float64Array(watched.length)): { each: (s: Interval, end: Float64Array) => void; points(): Points; sums: Float64Array } {
  const count = watched.length;
  const pairs = watched.map((w) => 'product' in w);
  const summed = watched.map((w) => 'product' in w && w.sum === true);
  const power = new Float64Array(count).fill(NaN);
  const totals = sums.slice();
  const kept = growing(count + 1);
  const events = growing(3);
  const rows = new Map<object, Rows>();
  let before: number[] | undefined;
  // Time, and then the values.
  const now = new Float64Array(count + 1);
  const last = new Float64Array(count + 1).fill(NaN);
  const happened = new Float64Array(3);
  let [at, told] = [NaN, NaN];
  // By row, so that both factors of a product are looked at by themselves.
  const total = pairs.reduce((n, pair) => n + (pair ? 2 : 1), 0);
  const [lowest, highest] = [new Float64Array(total).fill(Infinity), new Float64Array(total).fill(-Infinity)];

  const prepared = (p: Prepared): Rows => {
    let own = rows.get(p);
    if (own) return own;
    const all = watched.flatMap((w) => ('row' in w ? [w.row(p)] : w.product.map((q) => q(p))));
    const looked = all.map((row) => lookedAt(p.stepTable, row));
    const bends = looked.map(({ rate }) => {
      const twice = new Float64Array(p.size);
      rowTimes(rate, p.F, twice, p.size);
      return twice;
    });
    own = { rows: all, looked, bends, modes: modesOf(p.stepTable), segments: devices.map((d) => p.segment(d.id)), phi: [] };
    rows.set(p, own);
    return own;
  };
  const tell = (t: number, own: Rows, z: Float64Array, size: number): void => {
    now[0] = t - shift;
    at = told;
    told = now[0];
    let moved = now[0] !== last[0];
    for (let i = 1, k = 0; i <= count; i++) {
      let v = dot(own.rows[k++]!, z, size);
      if (pairs[i - 1]) v *= dot(own.rows[k++]!, z, size);
      if (summed[i - 1]) {
        // Straight between points, as all else is drawn.
        if (!Number.isNaN(power[i - 1]!)) totals[i - 1]! += ((now[0] - at) * (v + power[i - 1]!)) / 2;
        power[i - 1] = v;
        v = totals[i - 1]!;
      }
      now[i] = v;
      moved ||= v !== last[i];
    }
    // Where nothing jumps the two sides of an event are one point.
    if (!moved) return;
    for (let i = 0; i <= count; i++) last[i] = now[i]!;
    kept.push(now);
  };

  /** Moments within an interval at which something turns, with the states there; on the way what each row spans is seen, and how fine it has to be drawn. */
  const turns: { t: number; z: Float64Array }[] = [];
  function look(own: Rows, p: Prepared, s: Interval, end: Float64Array, rates: Float64Array): number {
    turns.length = 0;
    let finer = 0;
    const known = { looked: own.looked[0]!, end, rates };
    for (let i = 0, k = 0; i < count; i++)
      for (let part = 0; part < (pairs[i] ? 2 : 1); part++, k++) {
        const looked = (known.looked = own.looked[k]!);
        const row = own.rows[k]!;
        const [y0, y1, d0, d1] = [dot(row, s.z0, p.size), dot(row, end, p.size), dot(looked.rate, s.z0, p.size), dot(looked.rate, end, p.size)];
        let [low, high] = y0 < y1 ? [y0, y1] : [y1, y0];
        // Where its slope keeps its sign the ends are its extremes; where it changes it once it turns once; any other is searched.
        if (Math.abs(y1 - y0) <= s.duration * offMeanSlope(own.modes, looked.modal, rates, s.duration)) {
          const once = d0 * d1 < 0 && Math.abs(d1 - d0) > s.duration * offMeanSlope(own.modes, looked.modal, rates, s.duration, 2);
          const found = once ? turning(p, looked, own.bends[k]!, s, d0, d1) : undefined;
          if (found) {
            const y = dot(row, found.z, p.size);
            [low, high] = [Math.min(low, y), Math.max(high, y)];
            if (!pairs[i]) turns.push(found);
          } else {
            const e = extremesAlong(p.stepTable, row, s.z0, s.duration, known);
            [low, high] = [e.min, e.max];
            if (!pairs[i]) {
              if (e.minAt > 0 && e.minAt < s.duration) turns.push({ t: e.minAt, z: e.minZ });
              if (e.maxAt > 0 && e.maxAt < s.duration) turns.push({ t: e.maxAt, z: e.maxZ });
            }
          }
        }
        if (low < lowest[k]!) lowest[k] = low;
        if (high > highest[k]!) highest[k] = high;
        // How far its middle is off the chord, by its slopes at both ends.
        const off = (s.duration / 8) * Math.abs(d1 - d0);
        const allowed = Math.max(STRAIGHT * (highest[k]! - lowest[k]!), SMALL * Math.max(highest[k]!, -lowest[k]!));
        if (off > allowed) finer = Math.max(finer, off / allowed);
      }
    if (turns.length > 1) turns.sort((a, b) => a.t - b.t);
    // A chord half as long is off by a quarter.
    return finer > 0 ? s.duration / Math.sqrt(finer) : Infinity;
  }

  /**
   * Where a slope changes its sign just once: a secant, and from there Newton with the slope's own slope. Where that is small
   * against the interval the extreme is right to its cube; undefined where not.
   */
  function turning(p: Prepared, looked: Looked, bends: Float64Array, s: Interval, d0: number, d1: number): { t: number; z: Float64Array } | undefined {
    const { size } = p.stepTable;
    let t = (s.duration * d0) / (d0 - d1);
    let z = climb(p.stepTable, s.z0, t);
    for (let k = 0; k < 4; k++) {
      const by = -dot(looked.rate, z, size) / dot(bends, z, size);
      if (!(Math.abs(by) < 0.2 * s.duration) || !(t + by > 0) || !(t + by < s.duration)) return undefined;
      if (Math.abs(by) < NEAR * s.duration) return { t, z };
      t += by;
      z = climb(p.stepTable, s.z0, t);
    }
    return { t, z };
  }

  let buffers: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];
  let rates = new Float64Array(0);
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
    if (rates.length !== own.modes.count) rates = new Float64Array(own.modes.count);
    modalRates(own.modes, s.z0, rates);
    const wanted = look(own, p, s, end, rates);
    tell(s.start, own, s.z0, p.size);
    let next = 0;
    if (wanted < s.duration) {
      const k = Math.min(FINEST, Math.max(0, Math.ceil(Math.log2(step / wanted))));
      const h = Math.min(step, wanted) === wanted ? step / 2 ** k : step;
      const phi = (own.phi[k] ??= exponentialStep(p.F, h, p.size).phi);
      if (buffers[0].length !== p.size) buffers = [new Float64Array(p.size), new Float64Array(p.size)];
      let z: Float64Array = s.z0;
      for (let j = 1; j * h < s.duration * (1 - 1e-9); j++) {
        for (; next < turns.length && turns[next]!.t < j * h; next++) tell(s.start + turns[next]!.t, own, turns[next]!.z, p.size);
        const to = buffers[j & 1]!;
        applyActive(phi, z, to, p.stepTable.active, p.size);
        z = to;
        tell(s.start + j * h, own, z, p.size);
      }
    }
    for (; next < turns.length; next++) tell(s.start + turns[next]!.t, own, turns[next]!.z, p.size);
    tell(s.start + s.duration, own, end, p.size);
  };
  return {
    each,
    sums: totals,
    points() {
      const [time, ...values] = kept.columns();
      const [at, device, segment] = events.columns();
      return { time: time!, values, events: { time: at!, device: Int32Array.from(device!), segment: Int32Array.from(segment!) } };
    },
  };
}
