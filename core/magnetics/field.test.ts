import fc from 'fast-check';
import { layerFactor, skinDepth } from '../parts/copper';
import { fieldFactor, leakageOf, lossAt, ownFactor, sectionsOf, strandsOf, type InWindow, type WoundWindow } from './field';

/** Copper of several windings in one window. */

const TURN = 2e-5;
const windowOf = (windings: InWindow[], interfaces: number, strandDiameter = 0.2e-3): WoundWindow => ({ windings, winding: { windowHeight: 20e-3, strandDiameter, interfaces, insulation: 0 }, windowArea: 120e-6, copperShare: 0.3 });
const two = (n1: number, n2: number): InWindow[] => [{ turns: n1, share: 0.5, primary: true }, { turns: n2, share: 0.5, primary: false }];
/** Ω at dc of each */
const dc = (w: WoundWindow): number[] => w.windings.map(({ turns, share }) => (TURN * turns ** 2) / share);
/** Thickness over depth of the strands of a winding */
function thickness(w: WoundWindow, i: number, f: number): number {
  const { diameter, pitch } = strandsOf(w, i);
  return ((Math.PI / 4) ** 0.75 * diameter * Math.sqrt(diameter / pitch)) / skinDepth(f, 25);
}

test('both factors as the textbook has them: 2 F + G / 2 of a single layer in its own field is that of one foil', () => {
  fc.assert(fc.property(fc.double({ min: 1e-3, max: 40, noNaN: true }), (v) => {
    // A foil with all its field at one side: ΔH = H, the mean H / 2.
    expect((ownFactor(v) + fieldFactor(v) / 4) / layerFactor(v, 1)).toBeCloseTo(1, 6);
    // And of m foils, Dowell.
    const m = 5;
    const all = Array.from({ length: m }, (_, k) => ownFactor(v) + fieldFactor(v) * (k + 0.5) ** 2).reduce((a, b) => a + b, 0) / m;
    expect(all / layerFactor(v, m)).toBeCloseTo(1, 6);
  }), { numRuns: 200 });
});

test('one winding alone is Dowell’s; at dc each has I² R, whatever the others carry', () => {
  const alone = windowOf([{ turns: 24, share: 1, primary: true }], 1);
  const { build, pitch } = strandsOf(alone, 0);
  for (const f of [20e3, 100e3, 1e6]) expect(lossAt(alone, [[3, 4]], f, TURN, 25)[0]! / (25 * dc(alone)[0]! * layerFactor(thickness(alone, 0, f), build / pitch))).toBeCloseTo(1, 9);
  for (const interfaces of [1, 2, 3, 4]) {
    const w = windowOf([...two(30, 10), { turns: 3, share: 0.1, primary: false }], interfaces);
    lossAt(w, [[1, 0], [-2, 1], [0, 3]], 1e-3, TURN, 25).forEach((watts, i) => expect(watts / ([1, 5, 9][i]! * dc(w)[i]!)).toBeCloseTo(1, 9));
  }
});

test('primary upon secondary in balance: each as if it were alone; between its halves a quarter of the rise where strands are thin', () => {
  const [f, n1, n2] = [150e3, 40, 8];
  const balanced: [number, number][] = [[1, 0], [-n1 / n2, 0]];
  const rise = (interfaces: number): number[] => {
    const w = windowOf(two(n1, n2), interfaces, 0.05e-3);
    const ohms = dc(w);
    return lossAt(w, balanced, f, TURN, 25).map((watts, i) => watts / (balanced[i]![0] ** 2 * ohms[i]!) - 1);
  };
  const w = windowOf(two(n1, n2), 1, 0.05e-3);
  const { build, pitch } = strandsOf(w, 0);
  expect(rise(1)[0]! / (layerFactor(thickness(w, 0, f), build / pitch) - 1)).toBeCloseTo(1, 6);
  for (const i of [0, 1]) expect(rise(2)[i]! / rise(1)[i]!).toBeCloseTo(0.25, 2);
  for (const i of [0, 1]) expect(rise(4)[i]! / rise(1)[i]!).toBeCloseTo(1 / 16, 2);
});

test('a winding that carries nothing burns in the field of the others, and more where that is larger', () => {
  // Field: nothing outside the secondary, I between it and the primary, where a screen of a third winding stands.
  const w = windowOf([{ turns: 20, share: 0.4, primary: true }, { turns: 20, share: 0.4, primary: false }, { turns: 5, share: 0.2, primary: false }], 1);
  const idle = lossAt(w, [[2, 0], [-2, 0], [0, 0]], 200e3, TURN, 25)[2]!;
  expect(idle).toBeGreaterThan(0);
  expect(lossAt(w, [[4, 0], [-4, 0], [0, 0]], 200e3, TURN, 25)[2]! / idle).toBeCloseTo(4, 9);
  // With the secondary against the primary in phase the field adds up instead of going to nothing at the leg.
  const against = lossAt(w, [[2, 0], [-2, 0], [0, 0]], 200e3, TURN, 25)[0]!;
  expect(lossAt(w, [[2, 0], [2, 0], [0, 0]], 200e3, TURN, 25)[0]!).toBeGreaterThan(1.5 * against);
});

test('sections: all turns of each winding are somewhere, ends half as thick, faces as many as asked', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 1, max: 3 }), (interfaces, others) => {
    const windings: InWindow[] = [{ turns: 10, share: 0.5, primary: true }, ...Array.from({ length: others }, () => ({ turns: 5, share: 0.5 / others, primary: false }))];
    const list = sectionsOf(windings, interfaces);
    windings.forEach((_, i) => expect(list.filter((s) => s.winding === i).reduce((sum, s) => sum + s.part, 0)).toBeCloseTo(1, 12));
    const faces = list.filter((s, k) => k > 0 && windings[s.winding]!.primary !== windings[list[k - 1]!.winding]!.primary).length;
    expect(faces).toBe(interfaces);
  }));
});

test('leakage: μ₀ l / h (x₁ + x₂) / 3 of two, by the faces squared, and the insulation between', () => {
  // Snelling, ch. 11; two windings of 3 mm each in a window of 20 mm, a mean turn of 60 mm.
  const one = leakageOf(windowOf(two(10, 10), 1), 60e-3);
  expect(one).toBeCloseTo((4e-7 * Math.PI * 60e-3 * (6e-3 / 3)) / 20e-3, 15);
  for (const n of [2, 3, 4]) expect((one / leakageOf(windowOf(two(10, 10), n), 60e-3)) / n ** 2).toBeCloseTo(1, 9);
  const insulated = windowOf(two(10, 10), 2);
  const more = leakageOf({ ...insulated, winding: { ...insulated.winding, insulation: 0.2e-3 } }, 60e-3) - leakageOf(insulated, 60e-3);
  expect(more).toBeCloseTo((4e-7 * Math.PI * 60e-3 * 2 * 0.2e-3 * 0.25) / 20e-3, 15);
});
