import type { Piece } from './pieces';
import { root } from './root';

/** One output on a winding of its own. */
export interface Output {
  /** Its turns over those of the primary */
  ratio: number;
  /** V of its diode, Ω of diode and winding */
  drop: number;
  resistance: number;
  capacitance: number;
  esr: number;
  /** A */
  load: number;
}

/** Longest step as a share of a piece, and how fast steps grow to it */
const PARTS = 48;
const GROWS = 1.25;

/**
 * How outputs share what a core gives them: the windings have one voltage per turn, so each gets what drives its
 * resistance, less what its capacitor has been charged to meanwhile. Walked in short steps through the part of the
 * period in which anything is given; the difference of the capacitors' voltages at its beginning is found so that
 * each output gets what its load takes.
 *
 * @param given amps of the primary, in the order of time, that the secondaries carry together
 * @returns the current of each secondary, and V between output and ground that its capacitor is charged to while the first's is at `volts`
 */
export function shareOut(outputs: readonly Output[], given: readonly Piece[], volts: number): { currents: Piece[][]; volts: number[] } {
  if (outputs.length === 1) return { volts: [volts], currents: [given.map((g) => ({ seconds: g.seconds, from: g.from / outputs[0]!.ratio, to: g.to / outputs[0]!.ratio }))] };
  const [a, b] = outputs as [Output, Output];
  const period = given.reduce((sum, g) => sum + g.seconds, 0);
  const wanted = b.load * period;
  const excess = (ahead: number): number => walk(a, b, given, ahead).charge - wanted;
  // The further the second capacitor stands behind the first, the more it gets.
  const scale = a.drop / a.ratio + ((a.resistance + a.esr) * Math.max(...given.map((g) => Math.max(g.from, g.to)))) / a.ratio ** 2 + 1e-9;
  let [low, high] = [-scale, scale];
  for (let k = 0; k < 40 && excess(low) > 0; k++) low *= 2;
  for (let k = 0; k < 40 && excess(high) < 0; k++) high *= 2;
  const ahead = root(excess, low, high, 1e-7 * wanted);
  const { first, second } = walk(a, b, given, ahead);
  const standing = (volts + a.drop - a.esr * a.load) / a.ratio - ahead;
  return { currents: [first, second], volts: [volts, standing * b.ratio - b.drop + b.esr * b.load] };
}

/** The walk itself; `ahead`: volts of the primary by which the first winding's drop and capacitor stand above the second's. */
function walk(a: Output, b: Output, given: readonly Piece[], ahead: number): { first: Piece[]; second: Piece[]; charge: number } {
  const [ra, rb] = [(a.resistance + a.esr) / a.ratio ** 2, (b.resistance + b.esr) / b.ratio ** 2];
  const [ca, cb] = [a.capacitance * a.ratio ** 2, b.capacitance * b.ratio ** 2];
  const [la, lb] = [a.load * a.ratio, b.load * b.ratio];
  // s in which the two even out
  const evens = ((ra + rb) * ca * cb) / (ca + cb);
  const first: Piece[] = [];
  const second: Piece[] = [];
  let gap = ahead;
  let charge = 0;
  const part = (g: number): number => Math.min(g, Math.max(0, (gap + ra * g) / (ra + rb)));
  for (const g of given) {
    if (!(g.seconds > 0)) continue;
    if (g.from === 0 && g.to === 0) {
      first.push(g);
      second.push(g);
      gap += (-la / ca + lb / cb) * g.seconds;
      continue;
    }
    // Short steps at first, where the two even out, then longer ones; each is exact for a current that holds.
    const longest = g.seconds / PARTS;
    let h = Math.min(longest, evens / 8);
    for (let at = 0; at < g.seconds * (1 - 1e-12); h = Math.min(longest, h * GROWS)) {
      const step = Math.min(h, g.seconds - at);
      const amps = (t: number): number => g.from + ((g.to - g.from) * t) / g.seconds;
      const [before, middle, after] = [amps(at), amps(at + step / 2), amps(at + step)];
      const start = part(before);
      const between = (gap + ra * middle) / (ra + rb);
      if (between > 0 && between < middle) {
        const rests = (((middle - la) / ca + lb / cb) * (ra + rb)) / (1 / ca + 1 / cb) - ra * middle;
        gap = rests + (gap - rests) * Math.exp(-step / evens);
      } else {
        const own = part(middle);
        gap += ((middle - own - la) / ca - (own - lb) / cb) * step;
      }
      const end = part(after);
      second.push({ seconds: step, from: start / b.ratio, to: end / b.ratio });
      first.push({ seconds: step, from: (before - start) / a.ratio, to: (after - end) / a.ratio });
      charge += (((start + end) / 2) * step) / b.ratio;
      at += step;
    }
  }
  return { first, second, charge };
}
