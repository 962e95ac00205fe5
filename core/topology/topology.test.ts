import fc from 'fast-check';
import { broken, CAPACITOR, DIODE, INDUCTOR, promises, specs, SWITCH, TRANSFORMER } from '../testing/briefs';
import type { Brief } from './brief';
import { TOPOLOGIES, topologyNamed } from './index';
import { capacitorRipple, carried, less } from './pieces';
import type { Spec, Topology } from './types';

describe.each(TOPOLOGIES.map((t) => [t.title, t] as const))('%s: what sizing promises is what the engine finds', (_, t) => {
  test('duty within 1 %, ripple within 3 %, rms and peak currents within 2 %, at every corner, in both modes', () => {
    const modes = new Set<string>();
    fc.assert(
      fc.property(specs(t), (spec) => {
        fc.pre(t.refuses(spec.brief) === undefined);
        const held = promises(t, spec);
        for (const m of held.modes) modes.add(m);
        expect(held.kept.filter(broken)).toEqual([]);
      }),
      // Shrinking would run thousands of cycles: the first counterexample is enough to work with.
      { numRuns: 20, endOnFailure: true },
    );
    if (t.places.some((p) => p.kind === 'diode')) expect([...modes].sort()).toEqual(['continuous', 'discontinuous']);
  });
});

describe('currents of straight pieces', () => {
  test('a triangle: mean half, rms 1/√3 of its peak', () => {
    const c = carried([{ seconds: 1, from: 0, to: 2 }, { seconds: 3, from: 2, to: 0 }]);
    [c.mean, c.rms, c.peak, c.peakToPeak].forEach((v, k) => expect(v).toBeCloseTo([1, 2 / Math.sqrt(3), 2, 2][k]!, 12));
  });
  test('ripple of a capacitor by a triangle of current: ΔI/8fC, and ΔI·ESR where that rules', () => {
    const pieces = less([{ seconds: 2e-6, from: 0, to: 1 }, { seconds: 3e-6, from: 1, to: 0 }], 0.5);
    expect(capacitorRipple(pieces, 1e-6, 0)).toBeCloseTo(5e-6 / (8 * 1e-6), 9);
    expect(capacitorRipple(pieces, 1, 0.1)).toBeCloseTo(0.1, 5);
  });
});

describe('sizing figures worked in textbooks', () => {
  /** Ideal parts but for a tiny resistance, so that the book's lossless figures come out. */
  const ideal = (t: Topology, brief: Partial<Brief>, L: number): Spec => ({
    brief: { line: { min: 10, max: 20 }, output: { voltage: 5 }, load: { min: 0.1, max: 1 }, loadStep: 0.5, frequency: 1e5, air: { min: 0, max: 50 }, rippleShare: 0.3, lineRipple: 0.5, ...brief },
    parts: Object.fromEntries(t.places.map((p) => [p.id, p.kind === 'switch' ? { ...SWITCH, onResistance: 1e-6 } : p.kind === 'diode' ? { ...DIODE, drop: 0, slopeResistance: 1e-6 } : p.kind === 'inductor' ? { ...INDUCTOR, resistance: 1e-6, inductance: L } : p.kind === 'transformer' ? TRANSFORMER : CAPACITOR])),
    drive: { voltage: 10, gateResistance: 3, deadTime: 2e-8 }, crossover: 1e4, allowed: { ripple: 0.05, deviation: 0.2, stress: 0.8 },
  });

  test('Erickson, Maksimović, ch. 5: a buck is continuous where K = 2L/RT is above 1 − D, and M = 2/(1 + √(1 + 4K/D²)) below', () => {
    const t = topologyNamed('buck-diode')!;
    const spec = ideal(t, { line: { min: 20, max: 24 }, output: { voltage: 12 }, load: { min: 0.05, max: 2 } }, 20e-6);
    const at = t.forecast(spec, t.size(spec), { line: 24, load: 0.2 });
    const K = (2 * 20e-6 * 1e5) / (12 / 0.2);
    expect(at.mode).toBe('discontinuous');
    expect(2 / (1 + Math.sqrt(1 + (4 * K) / at.duty ** 2))).toBeCloseTo(0.5, 4);
    expect(t.forecast(spec, t.size(spec), { line: 24, load: 1.6 }).mode).toBe('continuous');
  });
  test('Erickson, Maksimović, ch. 5: a boost in discontinuous conduction, M = (1 + √(1 + 4D²/K))/2', () => {
    const t = topologyNamed('boost-diode')!;
    const spec = ideal(t, { line: { min: 20, max: 24 }, output: { voltage: 48 }, load: { min: 0.01, max: 1 } }, 20e-6);
    const at = t.forecast(spec, t.size(spec), { line: 24, load: 0.1 });
    const K = (2 * 20e-6 * 1e5) / 480;
    expect((1 + Math.sqrt(1 + (4 * at.duty ** 2) / K)) / 2).toBeCloseTo(2, 4);
  });
  test('Erickson, Maksimović, ch. 5: an inverting buck-boost in discontinuous conduction, M = D/√K', () => {
    const t = topologyNamed('inverting')!;
    const spec = ideal(t, { line: { min: 20, max: 24 }, output: { voltage: 12 }, load: { min: 0.01, max: 1 } }, 20e-6);
    const at = t.forecast(spec, t.size(spec), { line: 24, load: 0.1 });
    expect(at.duty / Math.sqrt((2 * 20e-6 * 1e5) / 120)).toBeCloseTo(0.5, 4);
  });
  test('Erickson, Maksimović, ch. 8: right-half-plane zeros, R D′²/L of a boost and R D′²/(D L) of a buck-boost', () => {
    const boost = topologyNamed('boost-synchronous')!;
    const b = ideal(boost, { line: { min: 20, max: 24 }, output: { voltage: 48 }, load: { min: 0.1, max: 2 } }, 20e-6);
    expect(boost.rightHalfPlaneZero(b, boost.size(b), { line: 24, load: 2 })! / ((24 * 0.25) / (2 * Math.PI * 20e-6))).toBeCloseTo(1, 3);
    const inverting = topologyNamed('inverting')!;
    const i = ideal(inverting, { line: { min: 20, max: 24 }, output: { voltage: 24 }, load: { min: 0.1, max: 6 } }, 20e-6);
    expect(inverting.rightHalfPlaneZero(i, inverting.size(i), { line: 24, load: 6 })! / ((4 * 0.25) / (0.5 * 2 * Math.PI * 20e-6))).toBeCloseTo(1, 3);
  });
});
