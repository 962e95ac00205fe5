import { vector } from './vector';
import { leadingBlock, leadingTimes } from './dense';
import { decompose } from './eigen';
import type { StepTable } from './stepTable';

/**
 * The modes of a pattern, and what they allow a quantity to do within a time.
 *
 * The rates y = z' of what moves obey y' = A y (sources that stand add nothing to them), so a quantity's slope is
 * a sum of modes, g'(t) = Σ c_k e^{λ_k t}. From the sizes of the c_k alone follows, over a time h,
 *
 *   how far g can be off its chord      Σ |c_k| min(h²|λ_k|/8, 2/|λ_k|)
 *   how far g' can be off its mean      Σ |c_k| min(h|λ_k|, 2)
 *
 * (times e^{Re λ h} for a mode that grows). Two that are nearly one (a double pole) have vectors nearly parallel and
 * parts that are huge and cancel: they count by what is left of both, e^{λt} (S + D t) with S their sum and D their
 * difference times half the distance, for which the bounds of D are h²/8 and 2/λ², h and 2/|λ|.
 *
 * These are bounds, not estimates: where they leave no room for an event or a further extreme there is none, and where
 * they do the time is halved. Fast modes that have died cost nothing, and fast modes that are alive are followed as
 * closely as they ask for.
 */
export interface Modes {
  /** How many: the leading entries of z that move */
  count: number;
  size: number;
  /** |λ|, 1/s */
  speed: Float64Array;
  /** Re λ, 1/s */
  re: Float64Array;
  /** Does the mode ring: Im λ, 1/s, of the first of a pair; zero for real ones and the second of a pair */
  im: Float64Array;
  /** The other of two real ones that are nearly one, for the first of them; −1 for all others */
  twin: Int32Array;
  /** The second of such two */
  second: Uint8Array;
  /** Does any mode grow? */
  grows: boolean;
  right: Float64Array;
  /** V⁻¹ F: modal parts of z' from z, count × size */
  from: Float64Array;
  /** V⁻¹, count × count */
  left: Float64Array;
  scale: Float64Array;
}

const known = new WeakMap<StepTable, Modes>();

/** The modes of a step table's pattern, worked out when they are first asked for. */
export function modesOf(stepTable: StepTable): Modes {
  let found = known.get(stepTable);
  if (!found) known.set(stepTable, (found = findModes(stepTable)));
  return found;
}

function findModes({ F, size, active: n }: StepTable): Modes {
  const { re, im, right, left, scale } = n === 0 ? NONE : decompose(leadingBlock(F, n, size), n);
  const from = new Float64Array(n * size);
  for (let k = 0; k < n; k++)
    for (let i = 0; i < n; i++) {
      const f = left[k * n + i]!;
      if (f !== 0) for (let j = 0; j < size; j++) from[k * size + j]! += f * F[i * size + j]!;
    }
  const speed = re.map((v, k) => Math.hypot(v, im[k]!));
  const fastest = speed.reduce((a, b) => Math.max(a, b), 0);
  const twin = new Int32Array(n).fill(-1);
  const second = new Uint8Array(n);
  for (let k = 0; k < n; k++)
    for (let other = k + 1; other < n && im[k] === 0 && !second[k] && twin[k] === -1; other++)
      if (im[other] === 0 && !second[other] && Math.abs(re[k]! - re[other]!) < TWINS * speed[k]!) {
        twin[k] = other;
        second[other] = 1;
      }
  return { count: n, size, speed, re, twin, second, im: im.map((v) => Math.max(0, v)), grows: re.some((v) => v > ROUNDING_OF_ZERO * fastest), right, from, left, scale };
}

/** Modes nearer to one another than that, as a share of them, are taken together. */
const TWINS = 0.2;

/** An eigenvalue of zero comes out as this share of the fastest, either way. */
const ROUNDING_OF_ZERO = 1e-13;

const NONE = { re: new Float64Array(0), im: new Float64Array(0), right: new Float64Array(0), left: new Float64Array(0), scale: new Float64Array(0) };

/** What each mode moves of a quantity: row·V, count entries. */
export function modalRow(m: Modes, row: Float64Array): Float64Array {
  const out = vector(m.count);
  for (let i = 0; i < m.count; i++) {
    const f = row[i]!;
    if (f !== 0) for (let k = 0; k < m.count; k++) out[k]! += f * m.right[i * m.count + k]!;
  }
  return out;
}

/** Modal parts of z' at z, into out. */
export function modalRates(m: Modes, z: Float64Array, out: Float64Array): void {
  leadingTimes(m.from, z, out, m.count, m.size, m.size);
}

/** Bounds over a time, times this for the rounding of the modes themselves. */
const ROOM = 1.05;

/** Sizes of the parts S and D of what moves with mode k and, where it has one, its twin or conjugate; the next mode to look at is given back. */
function partsOf(m: Modes, row: Float64Array, q: Float64Array, k: number, out: { S: number; D: number }): number {
  const c = row[k]! * q[k]!;
  out.D = 0;
  if (m.second[k]) {
    out.S = 0;
    return k + 1;
  }
  const w = m.im[k]!;
  if (w > 0) {
    const [a, b, x, y] = [row[k]!, row[k + 1]!, q[k]!, q[k + 1]!];
    if (w < TWINS * m.speed[k]!) {
      out.S = Math.abs(a * x + b * y);
      out.D = Math.abs(a * y - b * x) * w;
    } else out.S = Math.sqrt((a ** 2 + b ** 2) * (x ** 2 + y ** 2));
    return k + 2;
  }
  const twin = m.twin[k]!;
  if (twin >= 0) {
    const d = row[twin]! * q[twin]!;
    out.S = Math.abs(c + d);
    out.D = (Math.abs(c - d) * Math.abs(m.re[k]! - m.re[twin]!)) / 2;
  } else out.S = Math.abs(c);
  return k + 1;
}

/** The slower of a mode and its twin, 1/s: what dies with both is bounded by it. */
const slower = (m: Modes, k: number): number => (m.twin[k]! >= 0 ? Math.min(m.speed[k]!, m.speed[m.twin[k]!]!) : m.speed[k]!);
/** Growth within h, where there is any */
const growth = (m: Modes, k: number, h: number): number => {
  const re = m.twin[k]! >= 0 ? Math.max(m.re[k]!, m.re[m.twin[k]!]!) : m.re[k]!;
  return re > 0 ? Math.exp(re * h) : 1;
};

const parts = { S: 0, D: 0 };

/** How far a quantity can be off its chord within h, from its modal row and the modal rates at the beginning. */
export function offChord(m: Modes, row: Float64Array, q: Float64Array, h: number): number {
  let sum = 0;
  for (let k = 0; k < m.count; ) {
    const next = partsOf(m, row, q, k, parts);
    const { S, D } = parts;
    if (S !== 0 || D !== 0) sum += offChordOf(m, k, S, D, h);
    k = next;
  }
  return ROOM * sum;
}

/** The same for one mode, or for a pair or two that are nearly one. */
function offChordOf(m: Modes, k: number, S: number, D: number, h: number): number {
  const s = slower(m, k);
  const hs = h * s;
  // A pair that is nearly double dies a little later than the slower of both by its distance.
  const one = S === 0 ? 0 : S * h * (hs < 4 ? hs / 8 : 2 / hs) * (s < m.speed[k]! ? 1 + TWINS : 1);
  const two = D === 0 ? 0 : D * h * h * (hs < 4 ? 1 / 8 : 2 / (hs * hs)) * (1 + TWINS);
  return (one + two) * growth(m, k, h);
}

/** How far a quantity's slope can be off its mean within h; `order` 1 for the slope itself, 2 for the slope's slope. */
export function offMeanSlope(m: Modes, row: Float64Array, q: Float64Array, h: number, order: 1 | 2 = 1): number {
  let sum = 0;
  for (let k = 0; k < m.count; ) {
    const next = partsOf(m, row, q, k, parts);
    const { S, D } = parts;
    if (S !== 0 || D !== 0) {
      const s = m.speed[k]!;
      // Of the slope's slope: λ (S + D t) + D.
      const [one, two] = order === 1 ? [S, D] : [S * s + D, D * s];
      sum += (one * Math.min(h * s, 2) + two * h * Math.min(1, s === 0 ? 1 : 2 / (h * slower(m, k)))) * growth(m, k, h);
    }
    k = next;
  }
  return ROOM * sum;
}

/** How much of each mode a quantity is made of at most, count entries: |row·V|, of a ringing pair in its first. */
export function modalSizes(m: Modes, row: Float64Array): Float64Array {
  const out = vector(m.count);
  for (let k = 0; k < m.count; k++)
    if (m.im[k]! > 0) out[k] = Math.hypot(row[k]!, row[++k]!);
    else out[k] = Math.abs(row[k]!);
  return out;
}

/**
 * How far each mode can move a slope off its mean within h, for a modal rate of one, into out. Times `modalSizes` of a quantity and
 * `rateSizes` of the moment these add up to a bound that is never below `offMeanSlope`, and that grows with h: for many quantities
 * and moments at the price of one. `order` 2 of the slope's slope.
 */
export function slopeReach(m: Modes, h: number, out: Float64Array, order: 1 | 2 = 1): Float64Array {
  for (let k = 0; k < m.count; k++) {
    if (m.second[k]) continue;
    const s = m.speed[k]!;
    const twin = m.twin[k]!;
    const w = m.im[k]!;
    // What two that are nearly one are apart by.
    const apart = w > 0 ? (w < TWINS * s ? w : 0) : twin >= 0 ? Math.abs(m.re[k]! - m.re[twin]!) / 2 : 0;
    const [one, two] = order === 1 ? [1, apart] : [s + apart, apart * s];
    out[k] = ROOM * (one * Math.min(h * s, 2) + two * h * Math.min(1, s === 0 ? 1 : 2 / (h * slower(m, k)))) * growth(m, k, h);
    if (twin >= 0) out[twin] = out[k]!;
    if (w > 0) out[++k] = 0;
  }
  return out;
}

/** How fast each mode moves at a moment, count entries: |modal rate|, of a ringing pair in its first. */
export function rateSizes(m: Modes, q: Float64Array, out: Float64Array): void {
  for (let k = 0; k < m.count; k++)
    // Math.hypot takes care of what is too large to be squared, and its time.
    if (m.im[k]! > 0) out[k] = Math.sqrt(q[k]! ** 2 + q[++k]! ** 2);
    else out[k] = Math.abs(q[k]!);
}

/**
 * Does a quantity that is not above zero at the beginning stay so for h? From its values at both ends, one-sided, and so
 * closer than the chord of all: what rings swings about where the rest has it; a mode that decays from above lies below
 * its own chord however fast it is, and one that rises to its end is never above that.
 *
 * @param q modal rates at the beginning itself (those of an earlier moment bound sizes, but say nothing of signs)
 * @param rest s within which it has to be gone where it begins above zero
 */
export function staysBelow(m: Modes, row: Float64Array, q: Float64Array, h: number, g0: number, g1: number, rest = 0): boolean {
  let [first, last] = [g0, g1];
  /** Above the chord of the rest: as a parabola at most (slow modes), and in any other way */
  let [bend, above] = [0, 0];
  for (let k = 0; k < m.count; ) {
    const next = partsOf(m, row, q, k, parts);
    const { S, D } = parts;
    const [s, re, im] = [m.speed[k]!, m.re[k]!, m.im[k]!];
    if (S === 0 && D === 0) {
      k = next;
      continue;
    }
    const single = D === 0 && m.twin[k]! < 0;
    if (single && im === 0 && row[k]! * q[k]! * re > 0) {
      // A e^(λt) with A > 0.
    } else if (h * slower(m, k) < 4) bend += offChordOf(m, k, S, D, h);
    else if (single && im > 0) {
      // g' = a x + b y with (x, y)' = [re im; −im re] (x, y): the swing is its integral.
      const [a, b, x, y] = [row[k]!, row[k + 1]!, q[k]!, q[k + 1]!];
      const [u, v] = [(a * re + b * im) / s ** 2, (b * re - a * im) / s ** 2];
      const [e, c, i] = [Math.exp(re * h), Math.cos(im * h), Math.sin(im * h)];
      first -= u * x + v * y;
      last -= e * (u * (c * x + i * y) + v * (c * y - i * x));
      above += (S / s) * growth(m, k, h);
    } else if (single && re < 0) first -= (row[k]! * q[k]!) / re;
    else above += offChordOf(m, k, S, D, h);
    k = next;
  }
  if (Math.max(first, last) + ROOM * (above + bend) < 0) return true;
  // Falling as a whole by more than the parabola rises at its beginning: below a line from there on.
  const fall = g1 - g0 + 4 * ROOM * bend;
  return above === 0 && first === g0 && fall < 0 && g0 * h + rest * fall <= 0;
}

/**
 * By how much a quantity has risen after a time, and its slope there, from its modal row and the modal rates at the
 * beginning: a few exponentials for any time, as good as the modes are. Good for where to look; what is found is the step table's.
 */
export function riseBy(m: Modes, row: Float64Array, q: Float64Array, t: number, out: { rise: number; slope: number }): void {
  out.rise = out.slope = 0;
  for (let k = 0; k < m.count; k++) {
    const [re, im] = [m.re[k]!, m.im[k]!];
    if (im > 0) {
      const [a, b, x, y] = [row[k]!, row[k + 1]!, q[k]!, q[k + 1]!];
      const [e, c, s] = [Math.exp(re * t), Math.cos(im * t), Math.sin(im * t)];
      const [xt, yt] = [e * (c * x + s * y), e * (c * y - s * x)];
      out.slope += a * xt + b * yt;
      out.rise += ((a * re + b * im) * (xt - x) + (b * re - a * im) * (yt - y)) / m.speed[k]! ** 2;
      k++;
    } else {
      const c = row[k]! * q[k]!;
      if (c === 0) continue;
      const gone = Math.expm1(re * t);
      out.slope += c * (1 + gone);
      out.rise += c * (re === 0 ? t : gone / re);
    }
  }
}

/**
 * The fastest ringing that is still alive, rad/s: of the modes that ring, those whose swing is above `share` of the
 * largest entry of z, all entries weighing alike (balanced). Zero when none is.
 */
export function aliveRinging(m: Modes, z: Float64Array, q: Float64Array, share: number): number {
  let most = 0;
  for (let i = 0; i < m.count; i++) most = Math.max(most, Math.abs(z[i]!) / m.scale[i]!);
  let fastest = 0;
  for (let k = 0; k < m.count; k++) {
    const w = m.im[k]!;
    if (!(w > fastest) || 3 * w < Math.abs(m.re[k]!)) continue;
    if (Math.hypot(q[k]!, q[k + 1]!) > share * most * m.speed[k]!) fastest = w;
  }
  return fastest;
}

/**
 * The fastest of all modes, ringing or not, that is alive, 1/s: one whose part in z is more than the rounding of the largest entry.
 * What is none of these has died, or was never there; what grows counts however small it is.
 */
export function fastestAlive(m: Modes, z: Float64Array, q: Float64Array): number {
  let most = 0;
  for (let i = 0; i < m.count; i++) most = Math.max(most, Math.abs(z[i]!) / m.scale[i]!);
  let fastest = 0;
  for (let k = 0; k < m.count; k++) if (m.speed[k]! > fastest && (m.re[k]! > 0 || Math.abs(q[k]!) > GONE * most * m.speed[k]!)) fastest = m.speed[k]!;
  return fastest;
}

/** Some units of the last place */
const GONE = 1e-15;
