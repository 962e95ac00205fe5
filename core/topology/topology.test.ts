import fc from 'fast-check';
import { settleStage } from '../design/settleStage';
import type { CapacitorPart, DiodePart, InductorPart, SwitchPart } from '../parts/schema';
import { preferred } from '../quantity';
import { TOPOLOGIES, topologyNamed } from './index';
import { capacitorRipple, carried, less } from './pieces';
import type { Brief } from './brief';
import type { Spec, Topology } from './types';
import type { Part } from '../parts/schema';

const SWITCH: SwitchPart = { kind: 'switch', part: 'any', count: 1, blockingVoltage: 100, onResistance: 0.01, onResistanceRise: 0.006, gateCharge: 1e-8, switchingCharge: 3e-9, plateauVoltage: 4, outputCapacitance: 2e-10, recoveryCharge: 1e-8, recoveryCurrent: 10, bodyDiodeDrop: 0.8, junctionToCase: 1, caseToSink: 1, maxJunction: 150 };
const DIODE: DiodePart = { kind: 'diode', part: 'any', count: 1, blockingVoltage: 100, drop: 0.4, slopeResistance: 0.01, recoveryCharge: 0, recoveryCurrent: 10, junctionCapacitance: 1e-10, junctionToCase: 1, caseToSink: 1, maxJunction: 150 };
const INDUCTOR: InductorPart = { kind: 'inductor', part: 'any', inductance: null, resistance: 0.01, turns: 20, coreArea: 1e-4, coreVolume: 5e-6, maxFluxDensity: 0.3, steinmetz: { k: 2, alpha: 1.4, beta: 2.5 }, thermalResistance: 20, maxTemperature: 125 };
const CAPACITOR: CapacitorPart = { kind: 'capacitor', part: 'any', count: null, capacitance: 1e-6, esr: 5e-3, ratedVoltage: 100, ratedCurrent: 5 };

/** Output over line at the middle of what each kind is for. */
const RATIOS: Record<string, [number, number]> = { buck: [0.2, 0.7], boost: [1.4, 3], inverting: [0.3, 1.8], sepic: [0.3, 1.8], cuk: [0.3, 1.8] };

/** A brief inside a topology's domain, with parts whose drops are a percent or so, as a good design has them. */
function specs(t: Topology): fc.Arbitrary<Spec> {
  const [low, high] = RATIOS[t.id.split('-')[0]!]!;
  const number = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });
  return fc
    .record({ line: number(10, 200), spread: number(1.02, 1.3), ratio: number(low, high), power: number(10, 500), light: number(0.04, 0.3), frequency: number(5e4, 5e5), share: number(0.15, 0.6), loss: number(0.0005, 0.004), esr: number(0.01, 0.4) })
    .map(({ line, spread, ratio, power, light, frequency, share, loss, esr }) => {
      const voltage = line * ratio;
      const load = power / voltage;
      const R = voltage / load;
      const brief: Brief = {
        line: { min: line / spread, max: line * spread }, output: { voltage }, load: { min: load * light, max: load }, loadStep: load / 2, frequency,
        air: { min: 0, max: 50 }, rippleShare: share, lineRipple: line / 50,
      };
      // Small capacitors in the count that the brief wants, their resistance a part of what the ripple allows.
      const C = preferred(load / frequency / (0.05 * voltage), 'E12', 'up') / 10;
      const parts: Record<string, Part> = {};
      for (const p of t.places)
        parts[p.id] =
          p.kind === 'switch' ? { ...SWITCH, onResistance: loss * R * Math.min(1, 1 / ratio ** 2) }
          : p.kind === 'diode' ? { ...DIODE, drop: Math.min(0.8, 0.02 * voltage), slopeResistance: loss * R * Math.min(1, 1 / ratio ** 2) }
          : p.kind === 'inductor' ? { ...INDUCTOR, resistance: loss * R * Math.min(1, 1 / ratio ** 2) }
          : { ...CAPACITOR, capacitance: C, esr: (esr * 0.01 * voltage) / load };
      return { brief, parts, drive: { voltage: 10, gateResistance: 3, deadTime: 2e-8 }, crossover: frequency / 15, allowed: { ripple: 0.01 * voltage, deviation: 0.04 * voltage, stress: 0.8 } };
    });
}

describe.each(TOPOLOGIES.map((t) => [t.title, t] as const))('%s: what sizing promises is what the engine finds', (_, t) => {
  test('duty within 1 %, ripple within 3 %, rms and peak currents within 2 %, at every corner, in both modes', () => {
    const modes = new Set<string>();
    fc.assert(
      fc.property(specs(t), (spec) => {
        fc.pre(t.refuses(spec.brief) === undefined);
        const sizing = t.size(spec);
        const { line, load } = spec.brief;
        for (const at of [line.min, line.max].flatMap((v) => [load.min, load.max].map((i) => ({ line: v, load: i, air: 25 })))) {
          const promised = t.forecast(spec, sizing, at);
          const settled = settleStage(t, spec, sizing, at, () => 25);
          if (!settled.ok) throw new Error(`${settled.problem.message} at ${JSON.stringify(at)}`);
          const stage = settled.value;
          const found = t.duties((id) => stage.measure({ current: id }), (a, b) => stage.measure({ voltage: [a, b] }));
          modes.add(promised.mode);
          const dead = stage.cycle.stretches.some((s) => s.pattern.on.size === 0);
          // Just at the border of the modes either is right.
          if (Math.abs(promised.parts.L1!.mean / promised.parts.L1!.peak - 0.5) > 0.02) expect(dead ? 'discontinuous' : 'continuous').toBe(promised.mode);
          expect(Math.abs(stage.duty / promised.duty - 1)).toBeLessThan(0.01);
          const ripple = stage.measure({ voltage: [...t.output] }).peakToPeak;
          expect(Math.abs(ripple / promised.outputRipple - 1)).toBeLessThan(0.03);
          for (const { id } of t.places) {
            // C1 stands beside the stiff line; the small current of the branch that damps is told by an estimate.
            if (id === 'C1' || id === 'C4') continue;
            expect(Math.abs(found[id]!.rms / promised.parts[id]!.rms - 1)).toBeLessThan(0.02);
            expect(Math.abs(found[id]!.peak / promised.parts[id]!.peak - 1)).toBeLessThan(0.02);
          }
        }
      }),
      { numRuns: 80 },
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
    parts: Object.fromEntries(t.places.map((p) => [p.id, p.kind === 'switch' ? { ...SWITCH, onResistance: 1e-6 } : p.kind === 'diode' ? { ...DIODE, drop: 0, slopeResistance: 1e-6 } : p.kind === 'inductor' ? { ...INDUCTOR, resistance: 1e-6, inductance: L } : CAPACITOR])),
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
