import { change, must, openDemo } from '../../demo/open';
import type { Design } from '../design';
import { transformerStudy } from './transformer';
import { harmonics } from '../orbit/spectrum';
import { SHELF } from '../../shelf';
import type { TransformerPart } from '../parts/schema';
import { TOPOLOGIES } from '../topology';
import { automaticDesign } from '../testing/automatic';
import { cornerPoints } from '../corners/corners';
import { evaluate, warmedAt } from './evaluate';
import { windingSpectrum, windowOf } from './windings';

/** What the windings of every topology with a transformer carry. */

const wound = (SHELF.find((p) => p.kind === 'transformer') as TransformerPart).winding!;

test.each(TOPOLOGIES.filter((t) => t.windings).map((t) => [t.id, t] as const))('%s: the ampere turns of all windings together are what magnetises the core', (_, t) => {
  const d = automaticDesign(t, 0)!;
  for (const slot of Object.keys(t.windings!)) {
    const part = { ...(d.parts[slot] as TransformerPart), winding: wound };
    const { warm, standing } = must(warmedAt({ ...d, parts: { ...d.parts, [slot]: part } }, cornerPoints(d)[0]!));
    const { stage } = warm;
    const copper = stage.roles.parts[slot]!.copper!;
    const { windings } = windowOf(t, standing.bill.sizing, slot, part, copper);
    const spectrum = windingSpectrum(stage, slot);
    const core = harmonics(stage.cycleIntegrals, (p) => p.current(slot), 6);
    const largest = Math.max(...spectrum[0]!.map(([re, im], i) => Math.hypot(re, im) * windings[i]!.turns));
    for (let n = 1; n <= 6; n++) {
      const [re, im] = spectrum[n - 1]!.reduce(([a, b], [x, y], i) => [a + x * windings[i]!.turns, b + y * windings[i]!.turns], [0, 0]);
      const { amplitude, phase } = core[n]!;
      const own = (windings[0]!.turns * amplitude) / Math.SQRT2;
      // What damps the core takes a little as well.
      expect(Math.hypot(re! - own * Math.cos(phase), im! - own * Math.sin(phase))).toBeLessThan(2e-3 * largest);
    }
    expect(windings[0]!.primary).toBe(true);
    expect(windings.filter((w) => !w.primary).length).toBeGreaterThan(0);
  }
});

test('copper at frequency is lost where the part says how it is wound: positive, and of the order of the copper itself', () => {
  const t = TOPOLOGIES.find((x) => x.id === 'forward-two-switch') ?? TOPOLOGIES.find((x) => x.windings)!;
  const d = automaticDesign(t, 0)!;
  const point = cornerPoints(d)[0]!;
  const of = (strandDiameter?: number): Record<string, number> => must(evaluate({ ...d, parts: { ...d.parts, T1: { ...(d.parts.T1 as TransformerPart), winding: strandDiameter === undefined ? undefined : { ...wound, strandDiameter } } } }, point)).losses.parts.find((p) => p.id === 'T1')!.mechanisms;
  expect('copper-ac' in of()).toBe(false);
  const [thin, thick] = [of(0.03e-3), of(0.3e-3)];
  expect(thin['copper-ac']!).toBeGreaterThan(0);
  expect(thick['copper-ac']!).toBeGreaterThan(10 * thin['copper-ac']!);
});

test('what is said of a transformer’s windings is what the design loses, and with other strands what it then loses', () => {
  const d = openDemo('gate-supplies');
  const point = cornerPoints(d)[0]!;
  const study = must(transformerStudy(d, 'T1', point));
  const lost = (design: Design): Record<string, number> => must(evaluate(design, point)).losses.parts.find((p) => p.id === 'T1')!.mechanisms;
  const sum = (of: (w: (typeof study.windings)[number]) => number): number => study.windings.reduce((all, w) => all + of(w), 0);
  expect(sum((w) => w.dc) / lost(d).copper!).toBeCloseTo(1, 6);
  expect(sum((w) => w.ac) / lost(d)['copper-ac']!).toBeCloseTo(1, 6);
  // Made-up parts are wound as their leakage says.
  expect(study.leakage.estimated / study.leakage.stated).toBeGreaterThan(0.8);
  expect(study.leakage.estimated / study.leakage.stated).toBeLessThan(1.3);
  // Currents hardly move with it; the winding is a little warmer.
  for (const other of [study.strands.at(-3)!, study.orders[0]!]) {
    const found = lost(change(d, { 'parts.T1.winding': { ...study.winding, strandDiameter: other.strandDiameter, interfaces: other.interfaces } }));
    expect((found.copper! + found['copper-ac']!) / other.copper).toBeCloseTo(1, 1);
  }
  expect(study.factors.every((f, k) => k === 0 || f.factor >= study.factors[k - 1]!.factor)).toBe(true);
  const { winding: _, ...plain } = d.parts.T1 as TransformerPart;
  expect(must(transformerStudy({ ...d, parts: { ...d.parts, T1: plain } }, 'T1', point)).stated).toBe(false);
  expect(transformerStudy(d, 'Q1', point).ok).toBe(false);
});
