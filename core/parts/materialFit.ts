import { Matrix, solve } from 'ml-matrix';
import { fail, ok, type Result } from '../problem';
import type { Material } from './goods';

/** Steinmetz parameters of a material from points of the curves that its maker gives. */

/** Hz, T of amplitude, W/m³. */
export interface LossPoint {
  frequency: number;
  amplitude: number;
  loss: number;
}

export interface MaterialFit {
  steinmetz: Material['steinmetz'];
  /** Root of the mean square of the logarithm it is off by: about the share */
  misfit: number;
  /** The point furthest off, and its share: above zero where the fit loses more */
  worst: { point: LossPoint; share: number };
}

/** Ratio of frequencies, and of amplitudes, that have to be seen for an exponent to be known */
const SPREAD = 1.2;

/**
 * k, α and β of W/m³ = k f^α B^β by least squares of the logarithms, where they are straight.
 * @returns the fit; problems "size" (fewer than three points), "range" (what is not above zero), "spread" (all at one frequency or amplitude, or along one line)
 */
export function fitSteinmetz(points: readonly LossPoint[]): Result<MaterialFit> {
  if (points.length < 3) return fail('size', 'points', `${points.length} points do not tell three parameters`, 'give three or more, at two frequencies and two amplitudes at least');
  const bad = points.findIndex((p) => !(p.frequency > 0) || !(p.amplitude > 0) || !(p.loss > 0));
  if (bad >= 0) return fail('range', `row ${bad + 1}`, 'a frequency, an amplitude or a loss is not above zero', 'give Hz, T and W/m³, all above zero');
  for (const [key, what] of [['frequency', 'frequency'], ['amplitude', 'amplitude']] as const) {
    const all = points.map((p) => p[key]);
    if (Math.max(...all) < SPREAD * Math.min(...all)) return fail('spread', 'points', `all are at one ${what}, so what it does is not known`, `add points at another ${what}`);
  }
  // Against their middle, so that the columns stand apart.
  const logs = points.map((p) => [Math.log(p.frequency), Math.log(p.amplitude), Math.log(p.loss)] as const);
  const middle = [0, 1, 2].map((k) => logs.reduce((sum, l) => sum + l[k]!, 0) / logs.length);
  const A = new Matrix(logs.map(([f, b]) => [f - middle[0]!, b - middle[1]!]));
  const y = Matrix.columnVector(logs.map((l) => l[2] - middle[2]!));
  const normal = A.transpose().mmul(A);
  if (normal.get(0, 0) * normal.get(1, 1) - normal.get(0, 1) ** 2 < 1e-6 * normal.get(0, 0) * normal.get(1, 1)) return fail('spread', 'points', 'frequency and amplitude rise together in all of them, so which does what is not known', 'add a point at another frequency and the same amplitude');
  const found = solve(normal, A.transpose().mmul(y));
  const [alpha, beta] = [found.get(0, 0), found.get(1, 0)];
  const k = Math.exp(middle[2]! - alpha * middle[0]! - beta * middle[1]!);
  if (!(alpha >= 1 && alpha <= 3 && beta >= 1 && beta <= 4)) return fail('range', 'points', `they make the loss go with f^${alpha.toPrecision(3)} B^${beta.toPrecision(3)}, which no core does`, 'look at their units: Hz, T of amplitude (half the swing), W/m³');
  const offs = points.map((p) => Math.log((k * p.frequency ** alpha * p.amplitude ** beta) / p.loss));
  const worst = offs.reduce((best, v, i) => (Math.abs(v) > Math.abs(offs[best]!) ? i : best), 0);
  return ok({ steinmetz: { k, alpha, beta }, misfit: Math.sqrt(offs.reduce((sum, v) => sum + v * v, 0) / offs.length), worst: { point: points[worst]!, share: Math.expm1(offs[worst]!) } });
}

/** Columns as makers give them: kHz, mT, kW/m³ (which is mW/cm³). */
const UNITS = { frequency: 1e3, amplitude: 1e-3, loss: 1e3 };

/**
 * Points as they are pasted, a line each: kHz, mT, kW/m³, parted by commas, semicolons, tabs or blanks; a first line of words is left out.
 * @returns them; problem "number" with the line
 */
export function readLossPoints(text: string): Result<LossPoint[]> {
  const points: LossPoint[] = [];
  const lines = text.split(/\r?\n/).map((l) => l.trim()).filter((l) => l !== '');
  if (lines.length > MOST) return fail('size', 'points', `${lines.length} lines are more than ${MOST}`, 'a curve or two of it will do');
  for (const [i, line] of lines.entries()) {
    const numbers = cellsOf(line).map((c) => Number(c.replace(',', '.')));
    if (i === 0 && numbers.every(Number.isNaN)) continue;
    if (numbers.length !== 3 || numbers.some((v) => !Number.isFinite(v))) return fail('number', `line ${i + 1}`, `"${line.slice(0, 40)}" is not three numbers`, 'give kHz, mT and kW/m³, as in 100 200 80');
    points.push({ frequency: numbers[0]! * UNITS.frequency, amplitude: numbers[1]! * UNITS.amplitude, loss: numbers[2]! * UNITS.loss });
  }
  return ok(points);
}

const MOST = 2000;

/** Cells of a line: a comma parts them only where nothing else does, and is a point otherwise. */
function cellsOf(line: string): string[] {
  for (const by of [/[;\t]/, /,?\s+/, /,/]) {
    const cells = line.split(by).map((c) => c.trim()).filter((c) => c !== '');
    if (cells.length >= 3) return cells;
  }
  return line.split(/[;,\s]+/);
}
