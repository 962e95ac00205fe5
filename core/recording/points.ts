import type { Device } from '../circuit/devices';
import type { Prepared } from '../circuit/machine';
import { applyActive, leadingTimes, rowTimes } from '../linear/dense';
import { exponentialStep, taylorAdvance } from '../linear/exponential';
import { climbInto } from '../linear/stepTable';
import { modalRates, modalSizes, modesOf, offChord, offMeanSlope, rateSizes, slopeReach } from '../linear/modes';
import { dotSparse, sparse } from '../linear/sparse';
import type { Interval } from '../orbit/cycle';
import { extremesAlong, lookedAt, type Quantity } from '../orbit/measure';
import { columnsIn, columnsOf, grow, NONE } from './columns';
import { changesOf, noReach, reachOf, SERIES, seriesOf, TERMS, type Rows } from './rows';

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

/** By how much more than it may a bound of the modes may be off before steps of even length will not do, that of steps finer than 2^−FINE again, and points of an interval at most */
const [LOOSE, FAST, FINE, MOST] = [2, 3, 8, 4000];
/** A moment within an interval at which a row turns, and what all rows come to there; or that it turns once, from which slope. */
interface Turn {
  /** s into the interval, where it is known */
  t: number;
  row: number;
  slope: number;
  line: Float64Array | undefined;
}

/** Share of the largest that a quantity has been, of which nothing is to be seen */
const UNSEEN = 1e-10;
/** ‖F‖ t up to which a Taylor step is shorter than the step table */
const SHORT = 4;
/** That which takes it few terms, and that which takes it fewer than halves do */
const [SHORTEST, TAYLOR] = [0.1, 0.8];
/** To what share a state between events is worked out: nobody sees more of it, and the run does not go on from it */
const DRAWN = 1e-10;
/** Share of what a quantity has spanned so far, and of its size, by which it may be off the straight line between two points */
const [STRAIGHT, SMALL] = [1e-3, 5e-6];
/** Share of an interval to which a turning point is found: its height is right to the square of that */
const NEAR = 1e-4;
/** Parts of the drawing step that are drawn: none is much finer than it has to be */
const PARTS = [1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 14, 16, 20, 24, 28, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256];

/** Rounds in which a turning point is looked for */
const ROUNDS = 6;

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
  const shared: Shared = { rows: new Map(), spare: [] };
  return (shift = 0, from) => recordPoints(shared, watched, devices, step, shift, from);
}

/** What the stretches of a run have in common: rows by pattern, and room for lines that none of them is writing to. */
interface Shared {
  rows: Map<object, Rows>;
  spare: Float64Array[];
}

function recordPoints(shared: Shared, watched: readonly Watched[], devices: readonly Device[], step: number, shift: number, from?: Carried): Recorder {
  const count = watched.length;
  const pairs = watched.map((w) => 'product' in w);
  const summed = watched.map((w) => 'product' in w && w.sum === true);
  const power = new Float64Array(count).fill(NaN);
  const totals = from?.sums.slice() ?? new Float64Array(count);
  const { rows } = shared;
  // A line is a time, and then the values.
  const kept = columnsIn(shared.spare.pop() ?? NONE, count + 1);
  const events = columnsIn(shared.spare.pop() ?? NONE, 3);
  let before: Rows | undefined;
  let [at, told] = [NaN, NaN];
  // By row, so that both factors of a product are looked at by themselves.
  const paired = pairs.flatMap((pair) => (pair ? [true, true] : [false]));
  const total = paired.length;
  const single = total === count;
  const lowest = from?.lowest.slice() ?? new Float64Array(total).fill(Infinity);
  const highest = from?.highest.slice() ?? new Float64Array(total).fill(-Infinity);
  /** The largest it has been, and by how much it may be off its chord */
  const [largest, rooms] = [new Float64Array(total), new Float64Array(total)];
  const spans = (k: number, low: number, high: number): void => {
    lowest[k] = Math.min(lowest[k]!, low);
    highest[k] = Math.max(highest[k]!, high);
    largest[k] = Math.max(highest[k]!, -lowest[k]!);
    rooms[k] = Math.max(STRAIGHT * (highest[k]! - lowest[k]!), SMALL * largest[k]!);
  };
  for (let k = 0; k < total; k++) spans(k, Infinity, -Infinity);

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
    own = { rows: all, looked, values: Float64Array.from(all.flatMap((row) => [...row])), slopes: sparse(looked.map((l) => l.rate)), bends: sparse(bends), sizes: Float64Array.from(looked.flatMap((l) => [...modalSizes(modesOf(p.stepTable), l.modal)])), reach: noReach(modesOf(p.stepTable).count), otherReach: noReach(modesOf(p.stepTable).count), reaches: [], modes: modesOf(p.stepTable), segments: devices.map((d) => p.segment(d.id)), after: new Map(), phi: [], halves: new Map() };
    rows.set(p, own);
    return own;
  };
  /** What the rows come to at a moment, and at both ends of the interval that is looked at */
  const series = Array.from({ length: TERMS }, () => new Float64Array(total));
  const [here, begin, final] = [new Float64Array(total), new Float64Array(total), new Float64Array(total)];
  const lineAt = (own: Rows, z: Float64Array, line: Float64Array): Float64Array => {
    leadingTimes(own.values, z, line, total, z.length, z.length);
    return line;
  };
  const tell = (t: number, own: Rows, z: Float64Array): void => write(t, lineAt(own, z, here));
  /** Devices that change at a moment, each with the segment that it goes to. */
  const happened = (t: number, changes: Int32Array): void => {
    for (let k = 0; k < changes.length; k += 2) {
      if (events.length === events.most) grow(events);
      const { room, most, length } = events;
      room[length] = t;
      room[most + length] = changes[k]!;
      room[2 * most + length] = changes[k + 1]!;
      events.length = length + 1;
    }
  };
  /** A product as it is, or what it has summed up to: straight between points, as all else is drawn. */
  const product = (i: number, v: number): number => {
    if (!summed[i]) return v;
    if (!Number.isNaN(power[i]!)) totals[i]! += ((told - at) * (v + power[i]!)) / 2;
    power[i] = v;
    return totals[i]!;
  };
  const write = (t: number, line: Float64Array): void => {
    if (kept.length === kept.most) grow(kept);
    const { room, most, length } = kept;
    at = told;
    told = t - shift;
    // Where nothing jumps the two sides of an event are one point.
    let again = told === at && length > 0;
    room[length] = told;
    for (let i = 0, k = 0, entry = most + length; i < count; i++, entry += most) {
      let v = line[k++]!;
      if (!single && pairs[i]) v = product(i, v * line[k++]!);
      room[entry] = v;
      if (again && v !== room[entry - 1]) again = false;
    }
    if (!again) kept.length++;
  };

  /** How far the slope of each row may be off its mean at most, by what the modes reach; and by how much most that is beyond what its chord may be off */
  const bounds = new Float64Array(total);
  let wildest = 0;
  const reached = ({ sizes }: Rows, k: number, by: Float64Array): number => {
    let sum = 0;
    for (let j = 0, n = speeds.length, i = k * n; j < n; j++, i++) sum += sizes[i]! * speeds[j]! * by[j]!;
    return sum;
  };

  /** Moments within an interval at which something turns; on the way what each row spans is seen, and how fine it has to be drawn. */
  const turns: Turn[] = [];
  function turnsOnce(own: Rows, k: number, bend: Float64Array, h: number, change: number): boolean {
    return change > h * reached(own, k, bend) || change > h * offMeanSlope(own.modes, own.looked[k]!.modal, rates, h, 2);
  }
  function look(own: Rows, p: Prepared, s: Interval, end: Float64Array, rates: Float64Array): number {
    if (turns.length > 0) turns.length = 0;
    const reach = reachOf(own, s.duration);
    rateSizes(own.modes, rates, speeds);
    const n = offs.length;
    for (let j = 0; j < n; j++) offs[j] = speeds[j]! * reach.by[j]!;
    leadingTimes(own.sizes, offs, bounds, total, n, n);
    leadingTimes(own.values, s.z0, begin, total, p.size, p.size);
    leadingTimes(own.values, end, final, total, p.size, p.size);
    let finer = 0;
    wildest = 0;
    for (let k = 0; k < total; k++) {
      const y0 = begin[k]!;
      const y1 = final[k]!;
      let low = Math.min(y0, y1);
      let high = Math.max(y0, y1);
      const bound = bounds[k]!;
      // Where its slope keeps its sign, or nothing is to be seen of what it can do besides, the ends are its extremes; where it changes it once it turns once; any other is searched.
      if (s.duration * bound > UNSEEN * largest[k]! && Math.abs(y1 - y0) <= s.duration * bound) {
        const d0 = dotSparse(own.slopes, k, s.z0);
        const d1 = dotSparse(own.slopes, k, end);
        const changes = d0 * d1 < 0;
        const once = changes && turnsOnce(own, k, reach.bend, s.duration, Math.abs(d1 - d0));
        if (once) {
          // As high as a parabola, which will do to tell what it spans.
          const top = y0 + (d0 * d0 * s.duration) / (2 * (d0 - d1));
          low = Math.min(low, top);
          high = Math.max(high, top);
          if (!paired[k]) turns.push({ t: NaN, row: k, slope: d0, line: undefined });
        } else if (changes || Math.abs(y1 - y0) <= s.duration * offMeanSlope(own.modes, own.looked[k]!.modal, rates, s.duration)) {
          const e = extremesAlong(p.stepTable, own.rows[k]!, s.z0, s.duration, { looked: own.looked[k]!, end, rates });
          low = e.min;
          high = e.max;
          if (!paired[k]) {
            if (e.minAt > 0 && e.minAt < s.duration) turns.push({ t: e.minAt, row: k, slope: 0, line: lineAt(own, e.minZ!, new Float64Array(total)) });
            if (e.maxAt > 0 && e.maxAt < s.duration) turns.push({ t: e.maxAt, row: k, slope: 0, line: lineAt(own, e.maxZ!, new Float64Array(total)) });
          }
        }
      }
      if (low < lowest[k]! || high > highest[k]!) spans(k, low, high);
      // How far its middle is off the chord: by its slopes at both ends, which are no further from their mean than was seen above.
      const allowed = rooms[k]!;
      if ((s.duration / 4) * bound <= allowed) continue;
      wildest = Math.max(wildest, bound / allowed);
      const off = (s.duration / 8) * Math.abs(dotSparse(own.slopes, k, end) - dotSparse(own.slopes, k, s.z0));
      if (off > allowed) finer = Math.max(finer, off / allowed);
    }
    // A chord half as long is off by a quarter.
    return finer > 0 ? s.duration / Math.sqrt(finer) : Infinity;
  }

  /** What the rows come to where something turns: those of one step are told before the next. */
  const spares: Float64Array[] = [];
  let taken = 0;

  /** Tell what turns between two points of an interval, in the order in which it does; and forget it. */
  function tellTurns(own: Rows, p: Prepared, s: Interval, from: Float64Array, since: number, to: Float64Array, until: number): void {
    taken = 0;
    let due = 0;
    for (let i = 0; i < turns.length; i++) {
      const turn = turns[i]!;
      if (!turn.line) {
        const d1 = dotSparse(own.slopes, turn.row, to);
        if (turn.slope * d1 > 0) {
          turn.slope = d1;
          continue;
        }
        turn.line = spares[taken++] ??= new Float64Array(total);
        if (!turnBySeries(turn, own, p, from, since, to, until, d1)) turnByStates(turn, own, p, s, from, since, until, d1);
      } else if (!(turn.t < until)) continue;
      // Those that are due come first, in their order.
      let k = due++;
      turns[i] = turns[k]!;
      for (; k > 0 && turns[k - 1]!.t > turn.t; k--) turns[k] = turns[k - 1]!;
      turns[k] = turn;
    }
    if (due === 0) return;
    for (let i = 0; i < due; i++) write(s.start + turns[i]!.t, turns[i]!.line!);
    for (let i = due; i < turns.length; i++) turns[i - due] = turns[i]!;
    for (let i = 0; i < due; i++) turns.pop();
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
    taylorAdvance(F, z, left, out, size, active, DRAWN);
  }

  /**
   * When a row turns whose slope changes its sign between two points, and what the rows come to there: by their Taylor series from the
   * nearer of both, row·Fᵏ z tᵏ / k!, of which the slope is another. @returns whether they are near enough for that
   */
  function turnBySeries(turn: Turn, own: Rows, p: Prepared, from: Float64Array, since: number, to: Float64Array, until: number, d1: number): boolean {
    const { size, stepTable: { norm } } = p;
    const after = ((until - since) * turn.slope) / (turn.slope - d1);
    const forward = 2 * after < until - since;
    let t = forward ? after : after - (until - since);
    const reach = SERIES * Math.abs(t);
    if (norm * reach > TAYLOR) return false;
    const rows = (own.series ??= seriesOf(own.rows, p));
    const z = forward ? from : to;
    let terms = 0;
    for (let power = 1, small = false; !small; terms++, power *= reach) {
      if (terms === TERMS) return false;
      leadingTimes(rows[terms]!, z, series[terms]!, total, size, size);
      small = terms > 1;
      for (let r = 0; r < total; r++) if (Math.abs(series[terms]![r]!) * power > DRAWN * largest[r]!) small = false;
    }
    for (let round = 0; ; round++) {
      // The row's slope and the slope of that, term by term.
      let [slope, bend] = [0, 0];
      for (let k = terms - 1; k > 0; k--) {
        bend = bend * t + slope;
        slope = slope * t + k * series[k]![turn.row]!;
      }
      const by = -slope / bend;
      t += by;
      if (!(Math.abs(t) <= reach)) return false;
      if (Math.abs(by) <= NEAR * (until - since)) break;
      if (round > ROUNDS) return false;
    }
    const line = turn.line!;
    for (let r = 0; r < total; r++) {
      let sum = 0;
      for (let k = terms - 1; k >= 0; k--) sum = sum * t + series[k]![r]!;
      line[r] = sum;
    }
    turn.t = forward ? since + t : until + t;
    return turn.t >= since && turn.t <= until;
  }

  /** The same from further away: from state to state, a secant and then Newton with the slope's own slope. */
  function turnByStates(turn: Turn, own: Rows, p: Prepared, s: Interval, from: Float64Array, since: number, until: number, d1: number): void {
    const { F, size, stepTable: { norm, active } } = p;
    let by = turn.slope === d1 ? 0 : ((until - since) * turn.slope) / (turn.slope - d1);
    let z = from;
    turn.t = since;
    for (let k = 0; k < ROUNDS && turn.t + by >= since && turn.t + by <= until; k++) {
      turn.t += by;
      const out = z === states[0] ? states[1] : states[0];
      if (Math.abs(by) * norm > SHORT) climbInto(p.stepTable, s.z0, turn.t, out);
      else if (by * norm > TAYLOR) halved(own, p, z, by, out);
      else taylorAdvance(F, z, by, out, size, active, DRAWN);
      z = out;
      by = -dotSparse(own.slopes, turn.row, z) / dotSparse(own.bends, turn.row, z);
      if (Math.abs(by) <= NEAR * s.duration) break;
    }
    lineAt(own, z, turn.line!);
  }

  /** Is something so fast within an interval that steps of even length leave its chords off: a ringing that dies, a spike at its beginning? */
  function uneven(own: Rows, h: number, whole: boolean, part: number): boolean {
    // Half the time at the slope furthest from the mean and back: of an even bend four times what it is. What moves it in less time moves it less.
    if ((h / 2) * wildest <= 4 * LOOSE) return false;
    const by = whole ? undefined : (own.reaches[part] ??= slopeReach(own.modes, h, new Float64Array(own.modes.count)));
    for (let k = 0; k < total; k++) {
      const room = (8 * LOOSE * rooms[k]!) / h;
      if (bounds[k]! > room && (!by || reached(own, k, by) > room) && offChord(own.modes, own.looked[k]!.modal, rates, h) > LOOSE * rooms[k]!) return true;
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
      if (turns.length > 0) tellTurns(own, p, s, z, t, to, t + h);
      [z, t] = [to, t + h];
      tell(s.start + t, own, z);
    }
    if (turns.length > 0) tellTurns(own, p, s, z, t, end, s.duration);
    write(s.start + s.duration, final);
  }

  let ways: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];
  let states: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];
  let buffers: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];
  let [rates, speeds, offs] = [new Float64Array(0), new Float64Array(0), new Float64Array(0)];
  const each = (s: Interval, end: Float64Array): void => {
    const p = s.pattern as Prepared;
    const own = prepared(p);
    if (before && before !== own) happened(s.start - shift, changesOf(before, own));
    before = own;
    if (rates.length !== own.modes.count) [rates, speeds, offs] = [new Float64Array(own.modes.count), new Float64Array(own.modes.count), new Float64Array(own.modes.count)];
    modalRates(own.modes, s.z0, rates);
    const wanted = look(own, p, s, end, rates);
    write(s.start, begin);
    if (buffers[0].length !== p.size) {
      const two = (): [Float64Array, Float64Array] => [new Float64Array(p.size), new Float64Array(p.size)];
      [buffers, ways, states] = [two(), two(), two()];
    }
    let k = 0;
    while (k < PARTS.length - 1 && wanted * PARTS[k]! < step) k++;
    const h = wanted < s.duration ? step / PARTS[k]! : s.duration;
    // Where far fewer will do than the drawing step would make, as while gates are let go for long.
    if (wanted < s.duration && wanted > 4 * step) return drawUnevenly(own, p, s, end);
    if (uneven(own, h, h === s.duration, k)) return drawUnevenly(own, p, s, end);
    let [latest, since] = [s.z0, 0];
    if (h < s.duration) {
      const phi = (own.phi[k] ??= exponentialStep(p.F, h, p.size).phi);
      for (let j = 1; j * h < s.duration * (1 - 1e-9); j++) {
        const to = buffers[j & 1]!;
        applyActive(phi, latest, to, p.stepTable.active, p.size);
        if (turns.length > 0) tellTurns(own, p, s, latest, since, to, j * h);
        tell(s.start + j * h, own, to);
        [latest, since] = [to, j * h];
      }
    }
    if (turns.length > 0) tellTurns(own, p, s, latest, since, end, s.duration);
    write(s.start + s.duration, final);
  };
  return {
    each,
    carried: { sums: totals, lowest, highest },
    points() {
      const [time, ...values] = columnsOf(kept);
      const [at, device, segment] = columnsOf(events);
      shared.spare.push(events.room, kept.room);
      return { time: time!, values, events: { time: at!, device: new Int32Array(device!), segment: new Int32Array(segment!) } };
    },
  };
}
