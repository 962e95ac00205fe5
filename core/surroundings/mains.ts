import { largestBetween, sharesAt } from '../linear/interpolate';
import type { Roles } from '../converter/roles';
import type { PartStress } from '../converter/stresses';
import type { DiodePart } from '../parts/schema';

/**
 * A stage on the mains, seen slowly: the mains moves so little within a switching period that at each of its angles
 * the stage stands as if on a dc line. So it is settled at some angles of the first quarter cycle, and what it
 * carries over the mains are means of what it carries there; the other three quarters are like the first.
 *
 * Means over the angle are Gauss–Legendre sums (Abramowitz, Stegun, "Handbook of Mathematical Functions", 25.4.29).
 * Source of the slow view: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18.
 */

/** An angle of the mains that a stage is settled at. */
export interface Angle {
  /** rad, from the mains' zero crossing */
  angle: number;
  /** Share of the quarter cycle that it stands for */
  weight: number;
}

/** What is found at one angle of the mains. */
export interface AtAngle extends Angle {
  /** A, mean over the switching period: what the reservoir takes there beyond its ripple */
  slow: number;
  /** V peak to peak of the output within the switching period */
  fast: number;
  duties: Record<string, PartStress>;
}

/** What a stage behind a rectifier has to say before it is settled anywhere. */
export interface MainsFed {
  /** Slot of the rectifier's diodes */
  rectifier: string;
  /** Diodes that conduct in a row; two of a bridge, where it says nothing */
  conducting?: 1 | 2;
  /** Slot of the capacitor that takes the power that beats */
  reservoir: string;
  /** Least rectified voltage that is drawn on, as a share of the output */
  least: number;
  /** rad from the zero crossing below which nothing is looked at, whatever the voltage */
  from?: number;
  /** Is the reservoir charged through it while the gates are still? */
  charges?: true;
  /** Drawn in pulses: no loop shapes the current, its command is held over the mains */
  pulsed?: true;
  /** The element whose rest ends a period in critical conduction, and the switch that is on then */
  rests?: string;
  switch: string;
}

/** V, crest of a mains whose rms is given. */
export const crestOf = (line: number): number => Math.SQRT2 * line;

/** V behind the rectifier at an angle, with so much drawn; Ω of one of its diodes, of which so many conduct in a row. */
export const rectified = (bridge: Pick<DiodePart, 'drop'>, line: number, angle: number, current: number, resistance: number, conducting = 2): number => crestOf(line) * Math.sin(angle) - conducting * (bridge.drop + resistance * current);

/** rad below which the mains is too low to draw on */
export const drawnFrom = ({ least, from = 0, conducting = 2 }: Pick<MainsFed, 'least' | 'from' | 'conducting'>, bridge: Pick<DiodePart, 'drop'>, line: number, output: number): number => Math.max(from, Math.asin(Math.min(0.9, (least * output + conducting * bridge.drop) / crestOf(line))));

/** Angles by which means are right to 1e-7 where one mode holds all along; and where it changes on the way, but nobody knows where */
export const [SMOOTH, ANGLES] = [6, 9];
/** Angles of all stretches between changes of the mode, shared out by their lengths, and of one at least */
const [SHARED_OUT, ONE] = [10, 3];

/**
 * The angles (rad) that a stage is settled at between `from` and the crest, which is the last of them, with what each stands for; what is missing to
 * one is where nothing is drawn. All is even about the crest: they are the first half of a rule over both its sides, which sees twice as
 * far into what they are a mean of as one over the quarter alone. Peaks stand at the crest.
 */
export function mainsAngles(from: number, count = ANGLES): Angle[] {
  const half = Math.PI / 2 - from;
  return gaussLegendre(2 * count - 1).slice(0, count).map(({ x, w }, k) => {
    const crest = k === count - 1;
    return { angle: crest ? Math.PI / 2 : Math.PI / 2 + half * x, weight: ((crest ? w / 2 : w) * half) / (Math.PI / 2) };
  });
}

/** The same where the mode changes at some angles on the way: what bends or jumps there is a mean of each side by itself. */
export function anglesAround(from: number, borders: readonly number[]): Angle[] {
  if (borders.length === 0) return mainsAngles(from);
  const count = (begin: number, end: number): number => Math.max(ONE, Math.round((SHARED_OUT * (end - begin)) / (Math.PI / 2 - from)));
  const up = borders.flatMap((end, k) => {
    const begin = k === 0 ? from : borders[k - 1]!;
    return gaussLegendre(count(begin, end)).map(({ x, w }) => ({ angle: begin + ((end - begin) * (1 + x)) / 2, weight: (w * (end - begin)) / 2 / (Math.PI / 2) }));
  });
  const last = borders.at(-1)!;
  return [...up, ...mainsAngles(last, count(last, Math.PI / 2))];
}

/** Nodes and weights on −1 … 1, by Newton on the Legendre polynomial from the usual guess. Source: Abramowitz, Stegun, Handbook of Mathematical Functions, 25.4.29. */
export function gaussLegendre(count: number): { x: number; w: number }[] {
  return Array.from({ length: count }, (_, k) => {
    let x = -Math.cos((Math.PI * (k + 0.75)) / (count + 0.5));
    let slope = 1;
    for (let round = 0; round < 20; round++) {
      let [before, now] = [1, x];
      for (let n = 2; n <= count; n++) [before, now] = [now, ((2 * n - 1) * x * now - (n - 1) * before) / n];
      slope = (count * (x * now - before)) / (x * x - 1);
      const step = now / slope;
      x -= step;
      if (Math.abs(step) < 1e-15) break;
    }
    return { x, w: 2 / ((1 - x * x) * slope * slope) };
  });
}

/** Largest of what is known at some angles, between them too: line and current go with the sine of the angle, and by that all else follows them smoothly. */
function largestAlong(at: readonly Pick<Angle, 'angle'>[], values: readonly number[]): number {
  // What stands at an angle in several ways counts by the largest of them.
  const largest = new Map<number, number>();
  at.forEach(({ angle }, i) => largest.set(angle, Math.max(values[i]!, largest.get(angle) ?? -Infinity)));
  return largestBetween([...largest.keys()].map(Math.sin), [...largest.values()]);
}

/**
 * What a part carries at some angles, as what it carries over the mains; where no angle stands it carries `idle` (rms).
 * Extremes are read only when asked for. `voltage` in place of the largest of those at the angles.
 */
export function overMains(at: readonly (Angle & { duty: PartStress })[], idle = 0, voltage?: (most: number) => number): PartStress {
  const rest = 1 - at.reduce((s, a) => s + a.weight, 0);
  const most = (of: (d: PartStress) => number): number => largestAlong(at, at.map((a) => of(a.duty)));
  return {
    mean: at.reduce((s, { weight, duty }) => s + weight * duty.mean, 0),
    rms: Math.sqrt(at.reduce((s, { weight, duty }) => s + weight * duty.rms ** 2, rest * idle ** 2)),
    get peak() {
      return Math.max(idle, most((d) => d.peak));
    },
    get peakToPeak() {
      return most((d) => d.peakToPeak);
    },
    get voltage() {
      const largest = most((d) => d.voltage);
      return voltage ? voltage(largest) : largest;
    },
  };
}

/** Of twice the mains frequency, in what the output takes: the fifth is below a thousandth */
const HARMONICS = 4;
/** Angles that a square of the sine times any of those is exactly seen by */
const FINE = 12;

/**
 * Slow voltage of a reservoir capacitor around its mean, over the angle: it takes what it is fed less what is drawn.
 * What it is fed is even about the crest, so the voltage is a sum of sines of even multiples of the angle.
 * @param fed A at each angle; the load's share, being constant, only sets the mean
 * @param frequency Hz of the mains
 * @returns V at an angle, V peak to peak, and the angle of the first quarter at which it is furthest from its mean
 */
export function slowRipple(at: readonly Angle[], fed: readonly number[], capacitance: number, frequency: number): { at(angle: number): number; peakToPeak: number; largest: number } {
  // Nearly all of it is the square of the sine, whose share a finer rule of its own sees; the angles see what is left.
  const square = ({ angle }: Pick<Angle, 'angle'>): number => Math.sin(angle) ** 2;
  const mean = (list: readonly Angle[], of: (a: Angle, i: number) => number): number => list.reduce((s, a, i) => s + a.weight * of(a, i), 0);
  const most = mean(at, (a, i) => fed[i]! * square(a)) / mean(at, (a) => square(a) ** 2);
  const fine = mainsAngles((Math.PI / 2) * (1 - mean(at, () => 1)), FINE);
  const amplitudes = Array.from({ length: HARMONICS }, (_, k) => {
    const n = 2 * (k + 1);
    const cosine = 2 * (mean(at, (a, i) => (fed[i]! - most * square(a)) * Math.cos(n * a.angle)) + most * mean(fine, (a) => square(a) * Math.cos(n * a.angle)));
    return cosine / (n * 2 * Math.PI * frequency * capacitance);
  });
  const voltage = (angle: number): number => amplitudes.reduce((s, a, k) => s + a * Math.sin(2 * (k + 1) * angle), 0);
  // Odd about the crest: what it sinks by before that it rises by after it.
  const largest = Array.from({ length: 91 }, (_, k) => (k * Math.PI) / 180).reduce((best, angle) => (Math.abs(voltage(angle)) > Math.abs(voltage(best)) ? angle : best), 0);
  return { at: voltage, peakToPeak: 2 * Math.abs(voltage(largest)), largest };
}

/** Angles that the switching's ripple between them is told by */
const BESIDE = 3;

/**
 * Ripple of the output over the mains: the slow one, and that of the switching where the slow one is largest.
 * @param at what the reservoir is fed at each angle in A, less a constant, and V peak to peak of the switching
 */
export function outputRipple(capacitance: number, frequency: number, at: readonly (Angle & { fed: number; fast: number })[]): { peakToPeak: number; slow(angle: number): number } {
  const slow = slowRipple(at, at.map((a) => a.fed), capacitance, frequency);
  const off = (a: Angle): number => Math.abs(a.angle - slow.largest);
  const beside = at.filter((a, i) => at.findIndex((x) => x.angle === a.angle) === i).toSorted((a, b) => off(a) - off(b)).slice(0, BESIDE);
  const shares = sharesAt(beside.map((a) => Math.sin(a.angle)), Math.sin(slow.largest));
  return { peakToPeak: slow.peakToPeak + beside.reduce((sum, a, i) => sum + shares[i]! * a.fast, 0), slow: slow.at };
}

/**
 * What the slots carry over the mains, from what they carry at its angles. In front of the source that stands for the
 * rectified line is the line's crest; behind it, the output with its slow ripple is on top of what is seen at an angle.
 * @param ripple reads V peak to peak of the output
 */
export function gatherOverMains({ line, parts, mains }: Roles, volts: number, load: number, at: readonly AtAngle[], ripple: () => number): Record<string, PartStress> {
  const voltage = (slot: string) => (most: number) => (parts[slot]!.leg === line || parts[slot]!.beside === line ? crestOf(volts) : most + ripple() / 2);
  return Object.fromEntries(Object.keys(at[0]!.duties).map((slot) => [slot, overMains(at.map(({ angle, weight, duties }) => ({ angle, weight, duty: duties[slot]! })), slot === mains!.reservoir ? load : 0, voltage(slot))]));
}
