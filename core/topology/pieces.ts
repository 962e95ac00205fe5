/**
 * Currents made of straight pieces, as sizing draws them: a period is a list of pieces, and mean, rms and
 * peak follow in closed form. What the engine finds on the settled cycle is held against these in the tests.
 */
export interface Piece {
  seconds: number;
  /** A at its beginning and end */
  from: number;
  to: number;
}

/** What a part carries over a period, A. */
export interface Carried {
  mean: number;
  rms: number;
  /** Largest absolute value */
  peak: number;
  peakToPeak: number;
}

const sum = (list: readonly Piece[], of: (p: Piece) => number): number => list.reduce((s, p) => s + of(p), 0);

/** Mean, rms and peaks of a current of straight pieces. */
export function carried(pieces: readonly Piece[]): Carried {
  const period = sum(pieces, (p) => p.seconds);
  const ends = pieces.filter((p) => p.seconds > 0).flatMap((p) => [p.from, p.to]);
  return {
    mean: sum(pieces, (p) => (p.seconds * (p.from + p.to)) / 2) / period,
    rms: Math.sqrt(sum(pieces, (p) => (p.seconds * (p.from ** 2 + p.from * p.to + p.to ** 2)) / 3) / period),
    peak: Math.max(...ends.map(Math.abs)),
    peakToPeak: Math.max(...ends) - Math.min(...ends),
  };
}

/** The same current less a constant one of `amount` A. */
export const less = (pieces: readonly Piece[], amount: number): Piece[] => pieces.map((p) => ({ ...p, from: p.from - amount, to: p.to - amount }));

/**
 * Ripple, V peak to peak, of a capacitor with series resistance that takes a current of straight pieces and no
 * mean: v = esr·i + (1/C)∫i dt, with its turning points inside a piece where i = −esr·C·di/dt.
 */
export function capacitorRipple(pieces: readonly Piece[], capacitance: number, esr: number): number {
  let charge = 0;
  let least = Infinity;
  let most = -Infinity;
  const see = (v: number): void => {
    least = Math.min(least, v);
    most = Math.max(most, v);
  };
  for (const { seconds, from, to } of pieces) {
    if (!(seconds > 0)) continue;
    const slope = (to - from) / seconds;
    const at = (t: number): number => esr * (from + slope * t) + (charge + from * t + (slope * t * t) / 2) / capacitance;
    see(at(0));
    see(at(seconds));
    const turn = slope === 0 ? -1 : -esr * capacitance - from / slope;
    if (turn > 0 && turn < seconds) see(at(turn));
    charge += ((from + to) / 2) * seconds;
  }
  return most - least;
}

/** One interval of the period: how long, and the current at its beginning and end of what carries any. */
export interface Span {
  seconds: number;
  at: Readonly<Record<string, readonly [number, number]>>;
}

/** The current of one part through the intervals of a period; nothing where it is not named. */
export const through = (spans: readonly Span[], id: string): Piece[] => spans.map(({ seconds, at }) => ({ seconds, from: at[id]?.[0] ?? 0, to: at[id]?.[1] ?? 0 }));

/** The sum of n such currents, each a further n-th of the period later than the one before. */
export function superposed(pieces: readonly Piece[], n: number): Piece[] {
  const period = sum(pieces, (p) => p.seconds);
  const starts: number[] = [];
  pieces.reduce((t, p) => (starts.push(t), t + p.seconds), 0);
  const wrap = (t: number): number => ((t % period) + period) % period;
  const shifts = Array.from({ length: n }, (_, k) => (k * period) / n);
  const edges = [...new Set([0, ...starts.flatMap((t) => shifts.map((s) => wrap(t + s)))])].sort((a, b) => a - b);
  // Just inside of an interval, where no piece begins or ends.
  const at = (t: number, inside: number): number => {
    const x = wrap(inside);
    const k = Math.max(0, pieces.findLastIndex((p, i) => p.seconds > 0 && starts[i]! <= x));
    const p = pieces[k]!;
    return p.from + ((p.to - p.from) * (x - starts[k]! + (t - inside))) / p.seconds;
  };
  return edges.flatMap((from, k) => {
    const to = edges[k + 1] ?? period;
    if (to - from < 1e-12 * period) return [];
    const middle = (from + to) / 2;
    const total = (t: number): number => shifts.reduce((s, shift) => s + at(t - shift, middle - shift), 0);
    return [{ seconds: to - from, from: total(from), to: total(to) }];
  });
}
