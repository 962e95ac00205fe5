import { bareDemo, change, must } from '../../demo/open';
import { evaluate } from '../evaluation';
import { cornersOf, edgesIn, fieldOf, firstCells, measuresOf, refine, spotKey, type Spot } from './field';

const rail = bareDemo('cabin-lighting-rail');

/** Known values of a function on the corners and middles of cells, as a field has them. */
function sampled(f: (u: number, v: number) => number, limit: number): ReturnType<typeof fieldOf> {
  const known = new Map<string, Spot>();
  let cells = firstCells();
  for (;;) {
    for (const c of cells) for (const [u, v] of [...cornersOf(c), [c.u + c.size / 2, c.v + c.size / 2] as [number, number]]) known.set(spotKey(u, v), { u, v, values: [f(u, v)] });
    const next = refine(cells, known, 0, limit);
    if (next.length === cells.length) return { cells, known, measure: 0 };
    cells = next;
  }
}

test('cells are small where a circle is crossed and large elsewhere; its edge lies on it, and it is as long as it is', () => {
  const { cells, known } = sampled((u, v) => Math.hypot(u - 0.5, v - 0.5), 0.3);
  const smallest = Math.min(...cells.map((c) => c.size));
  expect(cells.length).toBeLessThan(500);
  const edges = cells.flatMap((c) => edgesIn(c, known, 0, 0.3));
  for (const [u, v] of edges) expect(Math.abs(Math.hypot(u - 0.5, v - 0.5) - 0.3)).toBeLessThan(smallest ** 2 / 0.3);
  const length = edges.reduce((sum, [a, b, c, d]) => sum + Math.hypot(c - a, d - b), 0);
  // Chords of a circle are shorter by the square of their angle over 24.
  expect(Math.abs(length / (2 * Math.PI * 0.3) - 1)).toBeLessThan((smallest / 0.3) ** 2 / 8);
  // Cells cover the square, each place once.
  expect(cells.reduce((sum, c) => sum + c.size ** 2, 0)).toBeCloseTo(1, 12);
});

test('a flat measure is not refined at all; one that ends is, along its end', () => {
  expect(sampled((u, v) => u + v, 5).cells.length).toBe(16);
  expect(sampled((u) => (u > 0.4 ? NaN : 1), 5).cells.length).toBeGreaterThan(60);
});

test('measures of a design over line and air are those that evaluate gives; the edge of a requirement lies where it is met', () => {
  const d = change(rail, { 'requirements.ripple.limit': 0.016 });
  const at = { line: 48, load: 8, air: 50 };
  const { cells, known, measure } = fieldOf(d, ['line', 'load'], at, 'ripple');
  const spot = [...known.values()].find((s) => s.u === 0.5 && s.v === 1)!;
  const found = must(evaluate(d, at));
  const all = measuresOf(d);
  expect(all.map((m) => m.value(found))).toEqual(spot.values);
  const edges = cells.flatMap((c) => edgesIn(c, known, measure, 0.016));
  expect(edges.length).toBeGreaterThan(3);
  const { line, load } = d.brief;
  for (const [u, v] of edges.slice(0, 3)) {
    const there = must(evaluate(d, { line: line.min + u * (line.max - line.min), load: load.min + v * (load.max - load.min), air: 50 }));
    expect(Math.abs(there.cycle.outputRipple / 0.016 - 1)).toBeLessThan(0.01);
  }
});
