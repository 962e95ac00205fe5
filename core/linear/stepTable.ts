import { activeRows, apply, applyActive, composeRises, composeSteps, identity, rowNorm, rowTimes } from './dense';
import { copyOf, vector } from './vector';
import { halvings, shortRise, shortStep, taylorAdvance } from './exponential';

/**
 * The binary step table of one pattern: Φ for top, top/2, top/4 … computed once by doubling upwards.
 * Any time is then a sum of rungs, so the state at any time costs a few products and no exponential;
 * halving down the step table is bisection in time. Times that come again (a gate's on-time, period after
 * period) are kept as one Φ each: a step of nearly that time is a product and a short Taylor step.
 */
export interface StepTable {
  F: Float64Array;
  size: number;
  /** Leading entries of z that move */
  active: number;
  norm: number;
  /** Longest rung in s */
  top: number;
  /** rungs[k] = Φ(top / 2^k) */
  rungs: readonly Float64Array[];
  /** integrals[k] = Ψ(top / 2^k), from when they are first asked for */
  integrals?: readonly Float64Array[];
  /** Times that came again, with their Φ: a ring */
  known: { t: number; phi: Float64Array }[];
  /** digits[g][d] = Φ(d · top / 16^(g+1)), each from when it is first asked for; used once a step table is in steady use */
  digits: (Float64Array | undefined)[][];
  /** F, F², F³ …, as far as they have been asked for */
  powers: Float64Array[];
  /** Rungs below the last, for the digits of a step table in steady use */
  finer: Float64Array[];
  /** How often a run has begun an interval with it: what is only drawn does not count, or the run would depend on it */
  uses: number;
  /** The latest other times, and how often each has been asked for again: a ring */
  asked: Float64Array;
  times: Uint32Array;
  turn: number;
}

/** Uses after which four bits at a time are kept as one Φ: they take fifteen products to make, and save one in two from then on. */
const STEADY = 40;
/** Digits below the rungs: what Taylor is left with then takes three terms in place of eight. */
const FINER = 2;
const KNOWN = 6;
const ASKED = 6;
/** How often a time has to come again before its Φ pays */
const OFTEN = 6;
/** ‖F‖ |δ| up to which a time counts as one that is known */
const NEAR = 0.05;

/** Build a step table of F (size×size, 1/s) for times up to `top` s, with at least so many rungs, down to where a Taylor step takes over for every mode. */
export function buildStepTable(F: Float64Array, top: number, size: number, rungs = 8): StepTable {
  const norm = rowNorm(F, size);
  const active = activeRows(F, size);
  // A few rungs below where Taylor would do: a rung costs half a product on average, a Taylor term one.
  const count = Math.max(rungs, halvings(norm, top) + 5);
  const e = shortRise(F, top / 2 ** (count - 1), active, size);
  const square = vector(size * size);
  const list: Float64Array[] = [];
  for (let k = 0; k < count; k++) {
    // E(2h) = 2E(h) + E(h)², of which only the active rows have anything in them.
    if (k > 0) {
      composeRises(e, e, square, active, size);
      for (let i = 0; i < active * size; i++) e[i] = 2 * e[i]! + square[i]!;
    }
    const phi = copyOf(e);
    for (let i = 0; i < size; i++) phi[i * (size + 1)]! += 1;
    list.push(phi);
  }
  return { F, size, active, norm, top, rungs: list.reverse(), known: [], digits: Array.from({ length: ((count - 1) >> 2) + FINER }, () => []), powers: [], finer: [], uses: 0, asked: new Float64Array(ASKED).fill(Infinity), times: new Uint32Array(ASKED), turn: 0 };
}

/** Ψ of every rung: Ψ(2h) = Ψ(h) + Ψ(h)Φ(h), where what does not move adds up to h alone. */
function integralsOf(stepTable: StepTable): readonly Float64Array[] {
  if (stepTable.integrals) return stepTable.integrals;
  const { size, active, rungs } = stepTable;
  const list = [shortStep(stepTable.F, stepTable.top / 2 ** (rungs.length - 1), size).psi];
  for (let k = rungs.length - 1; k > 0; k--) {
    const below = list.at(-1)!;
    const next = vector(size * size);
    composeSteps(below, rungs[k]!, next, active, size);
    for (let i = 0; i < active * size; i++) next[i]! += below[i]!;
    for (let i = active; i < size; i++) next[i * (size + 1)] = 2 * below[i * (size + 1)]!;
    list.push(next);
  }
  return (stepTable.integrals = list.reverse());
}

/** The known time within reach of t. */
function nearest(stepTable: StepTable, t: number): { t: number; phi: Float64Array } | undefined {
  const reach = NEAR / stepTable.norm;
  for (const k of stepTable.known) if (Math.abs(k.t - t) <= reach) return k;
  return undefined;
}

/** Has this time been asked for often of late? It is remembered for the next one who asks. */
function again(stepTable: StepTable, t: number): boolean {
  const reach = NEAR / stepTable.norm;
  for (let i = 0; i < ASKED; i++) if (Math.abs(stepTable.asked[i]! - t) <= reach) return ++stepTable.times[i]! >= OFTEN;
  const at = stepTable.turn++ % ASKED;
  stepTable.asked[at] = t;
  stepTable.times[at] = 0;
  return false;
}

function keep(stepTable: StepTable, t: number, phi: Float64Array): void {
  if (stepTable.known.length >= KNOWN) stepTable.known.shift();
  stepTable.known.push({ t, phi });
}

/** z after t ≥ 0 s from z0: one product where the time is known, else rungs for its bits; Taylor for what is left. */
export function advance(stepTable: StepTable, z0: Float64Array, t: number): Float64Array {
  const { F, size, active } = stepTable;
  if (!(t > 0)) return copyOf(z0);
  stepTable.uses++;
  let found = nearest(stepTable, t);
  if (!found && again(stepTable, t)) {
    phiAt(stepTable, t);
    found = stepTable.known.at(-1)!;
  }
  if (!found) return climb(stepTable, z0, t);
  const out = vector(size);
  if (t === found.t) {
    applyActive(found.phi, z0, out, active, size);
    return out;
  }
  const near = waysOf(size)[0];
  applyActive(found.phi, z0, near, active, size);
  taylorAdvance(F, near, t - found.t, out, size, active);
  return out;
}

/** Φ(top / 2^k), below the last rung too. */
function rungOf({ rungs, finer, F, top, active, size }: StepTable, k: number): Float64Array {
  const own = rungs[k] ?? finer[k - rungs.length];
  if (own) return own;
  const e = shortRise(F, top / 2 ** k, active, size);
  for (let i = 0; i < size; i++) e[i * (size + 1)]! += 1;
  return (finer[k - rungs.length] = e);
}

/** Φ of digit d of group g: of the bits that make it, one product each. */
function digit(stepTable: StepTable, g: number, d: number): Float64Array {
  const kept = stepTable.digits[g]!;
  const found = kept[d];
  if (found) return found;
  const { active, size } = stepTable;
  const bit = 31 - Math.clz32(d);
  const rung = rungOf(stepTable, 4 * (g + 1) - bit);
  if (d === 1 << bit) return (kept[d] = rung);
  const phi = vector(size * size);
  composeSteps(rung, digit(stepTable, g, d - (1 << bit)), phi, active, size);
  return (kept[d] = phi);
}

/**
 * Put a time together from what is kept: every Φ that it takes is handed over, longest first; the rest that is left to
 * Taylor is given back.
 */
function compose(stepTable: StepTable, t: number, take: (phi: Float64Array) => void): number {
  const { rungs, top, digits } = stepTable;
  let left = t;
  for (; left >= top; left -= top) take(rungs[0]!);
  let [k, h] = [1, top / 2];
  if (stepTable.uses > STEADY)
    for (let g = 0, unit = top / 16; g < digits.length; g++, unit /= 16, k += 4, h /= 16) {
      const d = Math.min(15, Math.floor(left / unit));
      // Rounding may leave a little less than nothing.
      if (!(d > 0)) continue;
      take(digit(stepTable, g, d));
      left -= d * unit;
    }
  for (; k < rungs.length; k++, h /= 2)
    if (left >= h) {
      take(rungs[k]!);
      left -= h;
    }
  return left;
}

/** The same by rungs alone: for times that will not come again. */
export function climb(stepTable: StepTable, z0: Float64Array, t: number): Float64Array {
  return climbInto(stepTable, z0, t, vector(stepTable.size));
}

let ways: [Float64Array, Float64Array] = [new Float64Array(64), new Float64Array(64)];
/** Room for two states that are under way. */
const waysOf = (size: number): [Float64Array, Float64Array] => (ways[0].length < size ? (ways = [new Float64Array(2 * size), new Float64Array(2 * size)]) : ways);

/** The same into a vector that is there, which is handed back; out must not be z0. */
export function climbInto(stepTable: StepTable, z0: Float64Array, t: number, out: Float64Array): Float64Array {
  const { F, size, active } = stepTable;
  const both = waysOf(size);
  let z = z0;
  let k = 0;
  const left = compose(stepTable, t, (phi) => {
    const to = both[k]!;
    applyActive(phi, z, to, active, size);
    z = to;
    k = 1 - k;
  });
  if (left > 0) taylorAdvance(F, z, left, out, size, active);
  else for (let i = 0; i < size; i++) out[i] = z[i]!;
  return out;
}

/** Φ(t), size×size, t ≥ 0 s, as a product of rungs; kept as a known time. */
export function phiAt(stepTable: StepTable, t: number): Float64Array {
  const found = nearest(stepTable, t);
  if (found?.t === t) return found.phi;
  const phi = copyOf(phiOnce(stepTable, t, found));
  if (!found) keep(stepTable, t, phi);
  return phi;
}

/** The same for a single use: in a buffer that the next call writes to again, or something of the step table's own. */
export function phiOnce(stepTable: StepTable, t: number, found = nearest(stepTable, t)): Float64Array {
  const { size, active } = stepTable;
  if (found?.t === t) return found.phi;
  // Two buffers take turns; nothing of the step table's own is written to.
  const [one, other] = buffersOf(size);
  let phi: Float64Array | undefined = found?.phi;
  const append = (p: Float64Array): void => {
    if (!phi) {
      phi = p;
      return;
    }
    const out = phi === one ? other : one;
    composeSteps(p, phi, out, active, size);
    phi = out;
  };
  const left = found ? t - found.t : compose(stepTable, t, append);
  if (left !== 0) append(shortPhi(stepTable, left));
  return phi ?? identity(size);
}

const buffers = new Map<number, [Float64Array, Float64Array, Float64Array]>();

function buffersOf(size: number): [Float64Array, Float64Array, Float64Array] {
  let found = buffers.get(size);
  if (!found) buffers.set(size, (found = [identity(size), identity(size), identity(size)]));
  return found;
}

/** Φ(h) = Σ hᵏ Fᵏ / k! where ‖F‖ |h| is one at most, in a buffer that the next call writes to again: it is added to what is one, so no more is seen of it than REST. */
function shortPhi({ F, norm, powers, size, active }: StepTable, h: number): Float64Array {
  const out = buffersOf(size)[2];
  out.fill(0, 0, active * size);
  for (let i = 0; i < active; i++) out[i * (size + 1)] = 1;
  if (powers.length === 0) powers.push(F);
  for (let [k, f, most] = [1, h, norm * Math.abs(h)]; k <= MOST_POWERS && most > REST; k++, f *= h / k, most *= (norm * Math.abs(h)) / k) {
    let power = powers[k - 1];
    if (!power) {
      power = vector(size * size);
      composeRises(F, powers[k - 2]!, power, active, size);
      powers.push(power);
    }
    for (let i = 0; i < active * size; i++) out[i]! += f * power[i]!;
  }
  return out;
}

const REST = 1e-18;
const MOST_POWERS = 20;

/** The rungs that make a time, longest first, and what is left of it. */
function rungsIn({ rungs, top }: StepTable, t: number): { list: number[]; left: number } {
  const list: number[] = [];
  let left = t;
  for (let k = 0, h = top; k < rungs.length; k++, h /= 2) for (; left >= h; left -= h) list.push(k);
  return { list, left };
}

/** ∫ z dt from z0 over a time, exact: Ψ(t) z0 = Ψ(a) z0 + Ψ(b) Φ(a) z0 …, rung by rung, and Taylor for what is left. */
export function areaAlong(stepTable: StepTable, z0: Float64Array, t: number): Float64Array {
  const { F, size, active, rungs } = stepTable;
  const integrals = integralsOf(stepTable);
  const { list, left } = rungsIn(stepTable, t);
  const area = vector(size);
  let z = copyOf(z0);
  let next = vector(size);
  for (const k of list) {
    apply(integrals[k]!, z, next, size);
    for (let i = 0; i < size; i++) area[i]! += next[i]!;
    applyActive(rungs[k]!, z, next, active, size);
    [z, next] = [next, z];
  }
  if (left > 0)
    series(left, z, (term) => {
      applyActive(F, term, next, active, size);
      next.fill(0, active);
      return next;
    }, area);
  return area;
}

/** rowᵀ Ψ(t): how ∫ row·z dt over a time follows from z0. Rung by rung from the end. */
export function rowOfArea(stepTable: StepTable, row: Float64Array, t: number): Float64Array {
  const { F, size, active, rungs } = stepTable;
  const integrals = integralsOf(stepTable);
  const { list, left } = rungsIn(stepTable, t);
  let out = vector(size);
  let next = vector(size);
  if (left > 0)
    series(left, row, (term) => {
      rowTimes(term, F, next, size);
      return next;
    }, out);
  for (const k of list.reverse()) {
    const [phi, psi] = [rungs[k]!, integrals[k]!];
    // What stands still has rows of the identity, and of the time.
    next.fill(0, 0, active);
    for (let i = active; i < size; i++) next[i] = out[i]! + row[i]! * psi[i * (size + 1)]!;
    for (let i = 0, at = 0; i < active; i++, at += size) {
      const [f, g] = [out[i]!, row[i]!];
      for (let j = 0; j < size; j++) next[j]! += f * phi[at + j]! + g * psi[at + j]!;
    }
    [out, next] = [next, out];
  }
  return out;
}

/** out += Σ hᵏ⁺¹ vₖ / (k+1)! with vₖ₊₁ = times(vₖ): the integral of an exponential over a time so short that the terms fall. */
function series(h: number, v: Float64Array, times: (term: Float64Array) => Float64Array, out: Float64Array): void {
  const term = v.map((x) => x * h);
  for (let i = 0; i < out.length; i++) out[i]! += term[i]!;
  for (let k = 2; k <= MOST_POWERS; k++) {
    const next = times(term);
    let largest = 0;
    for (let i = 0; i < out.length; i++) {
      const value = (next[i]! * h) / k;
      term[i] = value;
      out[i]! += value;
      largest = Math.max(largest, Math.abs(value) - REST * Math.abs(out[i]!));
    }
    if (!(largest > 0)) break;
  }
}
