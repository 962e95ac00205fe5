/** Share of an interval that golden section cuts off */
const GOLDEN = (3 - Math.sqrt(5)) / 2;

/**
 * Least value of a function within an interval that it has one minimum in: the parabola through the three best points,
 * golden section where that does not close in (Brent 1973, Algorithms for Minimization without Derivatives, chapter 5).
 * @param width of the interval at which it is found; the value is off by its square
 */
export function findMinimum(f: (x: number) => number, low: number, high: number, { width, rounds = 60 }: { width: number; rounds?: number }): { at: number; value: number; count: number } {
  let [a, b] = [low, high];
  // The least so far, the second least, and the one that was second before
  let [x, w, v] = Array<number>(3).fill(a + GOLDEN * (b - a)) as [number, number, number];
  let [fx, fw, fv] = Array<number>(3).fill(f(x)) as [number, number, number];
  let [step, before] = [0, 0];
  let count = 1;
  for (; count < rounds; count++) {
    const middle = (a + b) / 2;
    if (Math.abs(x - middle) <= 2 * width - (b - a) / 2) break;
    // Vertex of the parabola through the three, as p/q away from x
    const r = (x - w) * (fx - fv);
    const t = (x - v) * (fx - fw);
    const q = 2 * (t - r);
    const away = q === 0 ? Infinity : ((x - w) * r - (x - v) * t) / q;
    if (Math.abs(away) < Math.abs(before) / 2 && x + away > a + width && x + away < b - width) [before, step] = [step, away];
    else {
      before = x < middle ? b - x : a - x;
      step = GOLDEN * before;
    }
    const u = x + (Math.abs(step) >= width ? step : Math.sign(step || middle - x) * width);
    const fu = f(u);
    if (fu <= fx) {
      if (u < x) b = x;
      else a = x;
      [v, fv, w, fw, x, fx] = [w, fw, x, fx, u, fu];
    } else {
      if (u < x) a = u;
      else b = u;
      if (fu <= fw || w === x) [v, fv, w, fw] = [w, fw, u, fu];
      else if (fu <= fv || v === x || v === w) [v, fv] = [u, fu];
    }
  }
  return { at: x, value: fx, count };
}
