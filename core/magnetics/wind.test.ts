import { bareDemo, change, must } from '../../demo/open';
import { GOODS, SHELF } from '../../shelf';
import { cornerPoints } from '../corners/corners';
import { evaluate } from '../evaluation';
import { choiceOf, windingStudy } from '../evaluation/winding';
import { partLosses, type InductorState } from '../loss';
import type { Wire } from '../parts/goods';
import { InductorPart } from '../parts/schema';
import { coreLoss, sineLoss, swingOf } from './flux';
import { bestWire, FULLEST, partOf, woundAs } from './wind';
import { factorAt } from './window';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 54, load: 6, air: 50 };
const study = must(windingStudy(rail, 'L1', point, GOODS, cornerPoints(rail)));
const wires = GOODS.filter((g): g is Wire => g.kind === 'wire');
const limit = 105;

test('what is found serves, from the smallest core on, and each loses less than the one before or is larger for nothing', () => {
  expect(study.cores.length).toBeGreaterThan(3);
  study.cores.forEach((w, k) => {
    expect(w.gap).toBeGreaterThan(0);
    expect(w.laid.fits).toBe(true);
    expect(w.peak).toBeLessThanOrEqual(FULLEST * w.material.maxFluxDensity + 1e-12);
    expect(w.temperature).toBeLessThanOrEqual(limit);
    if (k > 0) expect(w.core.coreVolume).toBeGreaterThan(study.cores[k - 1]!.core.coreVolume);
  });
});

test('taken into the design it is what was said: copper, what is added at frequency, core, temperature and flux', () => {
  for (const w of [study.cores[0]!, study.cores[2]!]) {
    const part = { ...partOf(w), inductance: study.duty.inductance };
    const d = change(rail, Object.fromEntries(Object.entries(part).map(([key, value]) => [`parts.L1.${key}`, value])));
    expect(InductorPart.safeParse(d.parts.L1).success).toBe(true);
    const f = must(evaluate(d, point));
    const found = f.losses.parts.find((p) => p.id === 'L1')!;
    expect(found.mechanisms.copper! / w.copper).toBeCloseTo(1, 1);
    expect(found.mechanisms['copper-ac']! / w.ac).toBeCloseTo(1, 1);
    expect(found.mechanisms.core! / w.iron).toBeCloseTo(1, 1);
    expect(Math.abs(found.temperature - w.temperature)).toBeLessThan(1.5);
    // And the design knows how it is wound.
    expect(choiceOf(d.parts.L1 as InductorPart)).toMatchObject({ turns: w.turns, parallel: w.parallel });
  }
});

test('of all wires that fit the best is the best', () => {
  const w = study.cores[0]!;
  const choice = { core: w.core, material: w.material, turns: w.turns, gaps: 1 };
  const best = bestWire(choice, wires, study.duty)!;
  for (const wire of wires)
    for (const parallel of [1, 2, 3, 5, 8]) {
      const other = woundAs({ ...choice, wire, parallel }, study.duty);
      // Foils upon one another are not looked for: they do not share a current.
      if (other.laid.fits && (wire.width === undefined || parallel === 1)) expect(other.total).toBeGreaterThanOrEqual(best.total * (1 - 1e-9));
    }
});

test('over the turns the core falls and the copper rises, and the least lies between', () => {
  const list = study.turns;
  expect(list.at(-1)!.copper).toBeGreaterThan(list[0]!.copper);
  expect(list.at(-1)!.iron).toBeLessThan(list[0]!.iron);
  const least = list.reduce((a, b) => (b.total < a.total ? b : a));
  expect(least.total).toBeLessThanOrEqual(Math.min(list[0]!.total, list.at(-1)!.total));
});

describe('the mechanism', () => {
  const w = study.cores[1]!;
  const part = InductorPart.parse({ ...(SHELF.find((p) => p.kind === 'inductor') as InductorPart), ...partOf(w) });
  const state = (spectrum: number[]): InductorState => ({ id: 'L1', part, rms: 5, resistance: 0.01, temperature: 60, frequency: 200e3, spectrum, voltages: [{ volts: 10, seconds: 2e-6 }, { volts: -10, seconds: 3e-6 }] });
  test('one multiple: I² R (F − 1), by hand; none where nothing is known of the winding', () => {
    const F = factorAt(part.winding!, part.winding!, part.turns, part.winding!.parallel, 200e3, 60);
    expect(partLosses('inductor', state([0.7]))['copper-ac']).toBeCloseTo(0.49 * 0.01 * (F - 1), 12);
    expect(partLosses('inductor', state([0, 0, 0.7]))['copper-ac']).toBeGreaterThan(0.49 * 0.01 * (F - 1));
    const { winding: _, ...plain } = part;
    expect('copper-ac' in partLosses('inductor', { ...state([0.7]), part: plain })).toBe(false);
    expect('copper-ac' in must(evaluate(change(rail, { 'parts.L1.winding': undefined }), point)).losses.parts.find((p) => p.id === 'L1')!.mechanisms).toBe(false);
  });
  test('half of the spectrum’s squares add up to that of the ripple', () => {
    // Triangle of ±1 A: rms 1/√3.
    const { spectrum, rms } = study.duty;
    const ripple = Math.sqrt(spectrum.reduce((sum, i) => sum + i * i, 0));
    expect(Math.hypot(6, ripple) / rms).toBeCloseTo(1, 2);
  });
});

test('a sine of the same swing: Steinmetz’s own equation, less than a steep triangle and more than a slow one', () => {
  const core = { turns: 10, coreArea: 1e-4, coreVolume: 5e-6, steinmetz: { k: 2.1, alpha: 1.42, beta: 2.55 } };
  const triangle = (duty: number): { volts: number; seconds: number }[] => [{ volts: 10 / duty, seconds: duty * 1e-5 }, { volts: -10 / (1 - duty), seconds: (1 - duty) * 1e-5 }];
  // Swing 10 V · 10 µs / (10 · 1e-4 m²) = 0.1 T whatever the duty: the sine does not see it.
  for (const duty of [0.1, 0.3, 0.5]) {
    expect(swingOf(core, triangle(duty))).toBeCloseTo(0.1, 12);
    expect(sineLoss(core, triangle(duty))).toBeCloseTo(5e-6 * 2.1 * 1e5 ** 1.42 * 0.05 ** 2.55, 12);
  }
  expect(coreLoss(core, triangle(0.1))).toBeGreaterThan(sineLoss(core, triangle(0.1)));
  expect(coreLoss(core, triangle(0.5))).toBeLessThan(sineLoss(core, triangle(0.5)));
});

test('a minor loop counts with its own swing: less than by the whole', () => {
  const core = { turns: 10, coreArea: 1e-4, coreVolume: 5e-6, steinmetz: { k: 2.1, alpha: 1.42, beta: 2.55 } };
  const plain = [{ volts: 10, seconds: 5e-6 }, { volts: -10, seconds: 5e-6 }];
  const dented = [{ volts: 10, seconds: 2e-6 }, { volts: -10, seconds: 0.5e-6 }, { volts: 10, seconds: 3.5e-6 }, { volts: -10, seconds: 5e-6 }];
  const ki = coreLoss(core, plain);
  const extra = coreLoss(core, dented) * 11e-6 - ki * 10e-6;
  const alone = coreLoss(core, [{ volts: 10, seconds: 0.5e-6 }, { volts: -10, seconds: 0.5e-6 }]) * 1e-6;
  expect(extra / alone).toBeCloseTo(1, 9);
});
