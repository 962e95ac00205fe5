import fc from 'fast-check';
import { areaProduct, fringing, gapFor, inductanceAt, inductanceOf, type GappedCore } from './gap';
import { copperArea, foilOfRound, gaugeDiameter, layerFactor, resistivity, skinDepth, windingFactor, wireResistance } from '../parts/copper';
import { factorAt, lay, resistanceOf } from './window';

describe('copper', () => {
  test('skin depth: 66 µm √(MHz) at room temperature, and with the root of the resistivity over temperature', () => {
    // Textbooks: 66.1 µm at 1 MHz and 20 °C, 75 µm √(1 MHz) at 100 °C (Erickson, Maksimović, ch. 13: δ = 7.5 / √f cm).
    expect(skinDepth(1e6, 20)).toBeCloseTo(66.1e-6, 6);
    expect((skinDepth(100e3, 100) * Math.sqrt(100e3)) / 0.075).toBeCloseTo(1, 1);
    expect(skinDepth(50, 20)).toBeCloseTo(9.35e-3, 4);
    expect(skinDepth(1e5, 125) / skinDepth(1e5, 25)).toBeCloseTo(Math.sqrt(resistivity(125) / resistivity(25)), 12);
  });

  test('one foil: thin it is as at dc, thick only one depth of it carries', () => {
    expect(layerFactor(1e-3, 1)).toBeCloseTo(1, 12);
    // (sinh 2 + sin 2) / (cosh 2 − cos 2), by hand
    expect(layerFactor(1, 1)).toBeCloseTo(4.53616 / 4.17835, 4);
    expect(layerFactor(10, 1)).toBeCloseTo(10, 6);
    expect(layerFactor(30, 1)).toBe(30);
  });

  test('many foils: the same in the two forms that textbooks give', () => {
    // Erickson, Maksimović, eq. 13.72 ff.: φ [G1 + ⅔ (M² − 1)(G1 − 2 G2)]
    fc.assert(fc.property(fc.double({ min: 0.06, max: 15, noNaN: true }), fc.integer({ min: 1, max: 20 }), (d, m) => {
      const bottom = Math.cosh(2 * d) - Math.cos(2 * d);
      const g1 = (Math.sinh(2 * d) + Math.sin(2 * d)) / bottom;
      const g2 = (Math.sinh(d) * Math.cos(d) + Math.cosh(d) * Math.sin(d)) / bottom;
      expect(layerFactor(d, m) / (d * (g1 + (2 / 3) * (m * m - 1) * (g1 - 2 * g2)))).toBeCloseTo(1, 7);
    }));
    // And across the place where the series takes over.
    for (const m of [1, 3, 9]) expect(layerFactor(0.0500001, m) - layerFactor(0.0499999, m)).toBeLessThan(1e-6);
  });

  test('the best thickness of p layers is (15 / (5 p² − 1))^¼ depths, and costs a third more than dc', () => {
    // Hurley, Gath, Breslin, "Optimizing the AC resistance of multilayer transformer windings with arbitrary current waveforms", IEEE Trans. Power Electron. 15 (2000).
    for (const p of [2, 3, 6, 10]) {
      const at = (d: number): number => layerFactor(d, p) / d;
      let [best, least] = [0, Infinity];
      for (let d = 0.05; d < 3; d += 1e-4) if (at(d) < least) [best, least] = [d, at(d)];
      expect(best / (15 / (5 * p * p - 1)) ** 0.25).toBeCloseTo(1, 1);
      expect(layerFactor(best, p)).toBeGreaterThan(1.31);
      expect(layerFactor(best, p)).toBeLessThan(1.36);
    }
  });

  test('strands: 1 + π² ω² μ² N² n² d⁶ / (768 ρ² b²) where they are thin', () => {
    // Sullivan 1999, eq. 1; the square of copper that a round one is taken for here loses a twentieth more.
    const wire = { diameter: 0.1e-3, strands: 60, outerDiameter: 1.01e-3 };
    const [turns, height, f] = [30, 30 * 1.01e-3, 100e3];
    const omega = 2 * Math.PI * f;
    const wanted = (Math.PI ** 2 * omega ** 2 * (4e-7 * Math.PI) ** 2 * turns ** 2 * wire.strands ** 2 * wire.diameter ** 6) / (768 * resistivity(25) ** 2 * height ** 2);
    const found = windingFactor(wire, 1, wire.outerDiameter, f) - 1;
    expect(found / wanted).toBeGreaterThan(1);
    expect(found / wanted).toBeLessThan(1.06);
  });

  test('a round wire is the foil of its copper, thinned by what is none', () => {
    expect(foilOfRound(1e-3, 1e-3, 1e-3)).toBeCloseTo((Math.PI / 4) ** 0.75, 12);
    expect(foilOfRound(1e-3, 1.44e-3, 1e-3)).toBeCloseTo((Math.PI / 4) ** 0.75 / 1.2, 12);
  });

  test('wire gauges: 0.8118 mm is number 20, six numbers halve the diameter, and 33.3 Ω a kilometre', () => {
    // ASTM B258: 20 is 0.03196 inch, 10 is 0.1019 inch, 36 is 0.005 inch.
    expect(gaugeDiameter(20) * 1e3).toBeCloseTo(0.8118, 3);
    expect(gaugeDiameter(10) * 1e3).toBeCloseTo(2.588, 3);
    expect(gaugeDiameter(36) * 1e3).toBeCloseTo(0.127, 12);
    expect(gaugeDiameter(14) / gaugeDiameter(20)).toBeCloseTo(2.005, 3);
    expect(wireResistance({ diameter: gaugeDiameter(20), strands: 1, outerDiameter: 1e-3 }, 20) * 1e3).toBeCloseTo(33.3, 0);
    // 5 A through it: 9.7 A/mm².
    expect(5 / (copperArea({ diameter: gaugeDiameter(20), strands: 1, outerDiameter: 1e-3 }) * 1e6)).toBeCloseTo(9.66, 1);
  });
});

const core: GappedCore = { area: 97e-6, pathLength: 55.7e-3, permeability: 2000, maxFluxDensity: 0.32, windowHeight: 20e-3, gaps: 1 };

describe('gap', () => {
  test('without one the core alone, with a wide one the gap alone', () => {
    expect(inductanceOf(core, 10, 0)).toBeCloseTo((100 * 4e-7 * Math.PI * 2000 * core.area) / core.pathLength, 12);
    const hard = { ...core, permeability: 1e9 };
    expect(inductanceOf(hard, 10, 1e-3) / ((100 * 4e-7 * Math.PI * core.area * fringing(core, 1e-3)) / 1e-3)).toBeCloseTo(1, 6);
  });

  test('the field that bulges out: by hand, and less of each where there are several', () => {
    // 1 + (1 / 9.849) ln(40 / 1)
    expect(fringing(core, 1e-3)).toBeCloseTo(1 + Math.log(40) / 9.849, 4);
    expect(fringing({ ...core, gaps: 4 }, 1e-3)).toBeLessThan(fringing(core, 1e-3));
    expect(fringing(core, 0)).toBe(1);
  });

  test('the gap that is found has the inductance wanted', () => {
    fc.assert(fc.property(fc.integer({ min: 3, max: 60 }), fc.double({ min: 0.001, max: 0.4, noNaN: true }), (turns, share) => {
      const wanted = inductanceOf(core, turns, share * core.windowHeight);
      expect(inductanceOf(core, turns, gapFor(core, turns, wanted)!) / wanted).toBeCloseTo(1, 9);
    }));
    expect(gapFor(core, 3, 1)).toBeUndefined();
    expect(gapFor(core, 100, 1e-9)).toBeUndefined();
  });

  test('inductance falls as the core fills: what was wanted without current, next to nothing beyond', () => {
    const gap = gapFor(core, 11, 27e-6)!;
    expect(inductanceAt(core, 11, gap, 0) / 27e-6).toBeCloseTo(1, 4);
    const full = (core.maxFluxDensity * 11 * core.area) / 27e-6;
    const falls = [0.5, 0.8, 1, 1.3, 2].map((share) => inductanceAt(core, 11, gap, share * full) / 27e-6);
    falls.forEach((v, k) => expect(v).toBeLessThanOrEqual(k === 0 ? 1.0001 : falls[k - 1]! + 1e-6));
    expect(falls[0]).toBeGreaterThan(0.99);
    expect(falls.at(-1)).toBeLessThan(0.2);
  });

  test('area product: by hand', () => {
    // 27 µH, 9 A peak, 8 A rms at 0.3 T, 5 A/mm², 0.4: 1944e-6 / 0.6e6
    expect(areaProduct(27e-6, 9, 8, 0.3, 5e6, 0.4)).toBeCloseTo(3.24e-9, 15);
  });
});

describe('window', () => {
  const window = { windowWidth: 7.5e-3, windowHeight: 12e-3, turnLength: 52e-3 };
  const wire = { diameter: 1.5e-3, strands: 1, outerDiameter: 1.62e-3 };

  test('layers, fill and resistance: by hand', () => {
    const laid = lay(window, wire, 11, 1);
    expect(laid).toMatchObject({ perLayer: 7, layers: 2, fits: true });
    expect(laid.fill).toBeCloseTo((11 * Math.PI * 0.75 ** 2) / 90, 6);
    expect(resistanceOf(window, wire, 11, 1)).toBeCloseTo((1.76e-8 * 11 * 52e-3) / (Math.PI * 0.75e-3 ** 2), 9);
    expect(resistanceOf(window, wire, 11, 2)).toBeCloseTo(resistanceOf(window, wire, 11, 1) / 2, 12);
    expect(lay(window, wire, 40, 1).fits).toBe(false);
    expect(lay({ ...window, windowHeight: 1e-3 }, wire, 1, 1).fits).toBe(false);
  });

  test('at dc as at dc, and never less; bundles keep it longer', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 60 }), fc.double({ min: 0, max: 7, noNaN: true }), (turns, exponent) => {
      const f = 10 ** exponent;
      expect(factorAt(window, wire, turns, 1, f)).toBeGreaterThanOrEqual(1 - 1e-12);
      expect(factorAt(window, wire, turns, 1, 1.1 * f)).toBeGreaterThanOrEqual(factorAt(window, wire, turns, 1, f) * (1 - 1e-3));
    }));
    const litz = { diameter: 0.05e-3, strands: 300, outerDiameter: 1.13e-3 };
    expect(factorAt(window, litz, 11, 1, 220e3)).toBeLessThan(factorAt(window, wire, 11, 1, 220e3) / 3);
  });
});
