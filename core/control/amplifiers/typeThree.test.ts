import fc from 'fast-check';
import { complex, degrees, phase, radians, scale, size, times, turn } from '../../linear/complex';
import { buildable, exactNetwork, networkCorners, preferredNetwork } from './network';
import { placeTypeThree } from './place';
import { valueAt } from '../rational';
import { networkRemark } from './remark';
import { typeThree } from './typeThree';
import type { TypeThree } from './network';

const compensatorGain = (c: TypeThree, f: number) => valueAt(typeThree.transfer({ ...c }), f);
const corners: (keyof TypeThree)[] = ['integrator', 'zero1', 'zero2', 'pole1', 'pole2'];
const anyCompensator = fc
  .record({
    integrator: fc.double({ min: 50, max: 5e4, noNaN: true }),
    zero1: fc.double({ min: 200, max: 1e4, noNaN: true }),
    zero2: fc.double({ min: 200, max: 1e4, noNaN: true }),
    ratio1: fc.double({ min: 1.5, max: 200, noNaN: true }),
    ratio2: fc.double({ min: 1.5, max: 200, noNaN: true }),
  })
  .map((c): TypeThree => ({ integrator: c.integrator, zero1: c.zero1, zero2: c.zero2, pole1: c.zero2 * c.ratio1, pole2: c.zero1 * c.ratio2 }));

describe('placement by the K factor', () => {
  test('the loop has just the wanted crossover and margin, for any plant that lags up to 230°', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-3, max: 1e3, noNaN: true }),
        fc.double({ min: 40, max: 190, noNaN: true }),
        fc.double({ min: 20, max: 70, noNaN: true }),
        fc.double({ min: 100, max: 1e6, noNaN: true }),
        (gain, lag, margin, fc0) => {
          // Below 23° of lift zeros and poles would meet: the next test.
          fc.pre(margin + lag - 90 > 23.1 && margin + lag - 90 < 170);
          const plant = scale(turn(radians(-lag)), gain);
          const placed = placeTypeThree(plant, fc0, margin);
          if (!placed.ok) throw new Error(placed.problem.message);
          const loop = times(plant, compensatorGain(placed.value.compensator, fc0));
          expect(size(loop)).toBeCloseTo(1, 9);
          expect(180 + degrees(phase(loop)) - (phase(loop) > 0 ? 360 : 0)).toBeCloseTo(margin, 7);
        },
      ),
    );
  });

  test('a plant that lags little gets zeros and poles that can still be built, and more margin than was asked for', () => {
    const plant = scale(turn(radians(-20)), 3);
    const placed = placeTypeThree(plant, 1e3, 55);
    if (!placed.ok) throw new Error(placed.problem.message);
    const loop = times(plant, compensatorGain(placed.value.compensator, 1e3));
    expect(size(loop)).toBeCloseTo(1, 9);
    expect(180 + degrees(phase(loop))).toBeGreaterThan(55);
    expect(placed.value.compensator.pole1).toBeGreaterThan(placed.value.compensator.zero1);
  });

  test('tabulated: a boost of 90° wants K = tan²(67.5°) = 5.83', () => {
    const placed = placeTypeThree(turn(radians(-120)), 1e4, 60);
    expect(placed.ok && placed.value.boost).toBeCloseTo(90, 9);
    expect(placed.ok && placed.value.k).toBeCloseTo(5.828, 3);
  });

  test('more lift than a type III has is refused with what would help', () => {
    const placed = placeTypeThree(turn(radians(-200)), 1e4, 70);
    expect(placed.ok ? '' : placed.problem.remedy).toBe('lower the crossover or the wanted phase margin');
  });
});

describe('networks', () => {
  test('an exact network has the corners it was made for', () => {
    fc.assert(
      fc.property(anyCompensator, fc.double({ min: 1e3, max: 1e6, noNaN: true }), (c, R1) => {
        const back = networkCorners(exactNetwork(c, R1, 24, 1.2));
        for (const k of corners) expect(Math.abs(back[k] / c[k] - 1)).toBeLessThan(1e-9);
      }),
    );
  });

  test('its impedances make that gain: −Zf / Zi by hand', () => {
    const c = { integrator: 740, zero1: 3200, zero2: 3300, pole1: 124e3, pole2: 120e3 };
    const n = exactNetwork(c, 2e4, 24, 1.2);
    const par = (a: { re: number; im: number }, b: { re: number; im: number }) => {
      const s = complex(a.re + b.re, a.im + b.im);
      const p = times(a, b);
      const d = s.re ** 2 + s.im ** 2;
      return complex((p.re * s.re + p.im * s.im) / d, (p.im * s.re - p.re * s.im) / d);
    };
    for (const f of [100, 3e3, 2e4, 3e5]) {
      const w = 2 * Math.PI * f;
      const zi = par(complex(n.R1), complex(n.R3, -1 / (w * n.C3)));
      const zf = par(complex(n.R2, -1 / (w * n.C1)), complex(0, -1 / (w * n.C2)));
      const gain = compensatorGain(c, f);
      expect(size(zf) / size(zi) / size(gain)).toBeCloseTo(1, 9);
      expect(degrees(phase(zf) - phase(zi) - phase(gain))).toBeCloseTo(0, 7);
    }
  });

  // Capacitors alone move them by 6 % and 1 dB at most; half a step of E96 of the voltage that is held (1.2 %) is worth 50 (1.2 %)² = (8.5 %)² more.
  test('preferred values move no zero by more than 10 % and no gain by more than 1.2 dB', () => {
    fc.assert(
      fc.property(anyCompensator, (c) => {
        const back = networkCorners(preferredNetwork(c, 2e4, 24, 1.2));
        for (const k of ['zero1', 'zero2'] as const) expect(Math.abs(Math.log(back[k] / c[k]))).toBeLessThan(Math.hypot(0.06, 0.085));
        expect(Math.abs(Math.log(back.integrator / c.integrator))).toBeLessThan(Math.hypot(0.115, 0.085));
      }),
      { numRuns: 60 },
    );
  });

  test('the divider sets the output: Vref (1 + R1 / Rlower)', () => {
    const n = exactNetwork({ integrator: 740, zero1: 3200, zero2: 3300, pole1: 124e3, pole2: 120e3 }, 2e4, 24, 1.2);
    expect(1.2 * (1 + n.R1 / n.lower)).toBeCloseTo(24, 9);
  });

  test('a zero above its pole can not be built', () => {
    expect(buildable({ integrator: 1, zero1: 10, zero2: 10, pole1: 100, pole2: 9 })).toBe(false);
  });
});

describe('what is said of a network', () => {
  const built = (c: TypeThree, R1: number) => {
    const found = typeThree.build({ ...c }, { method: 'voltage', amplifier: 'type-three', crossover: 1e4, phaseMargin: 60, ramp: 1, delay: 0, reference: 2.5, rounded: true, sampled: 'none', carrier: 'trailing', placedOn: '', inputResistor: R1 }, { output: 24, reference: 2.5 });
    if (!found.ok) throw new Error(found.problem.message);
    return found.value.network;
  };
  const slow: TypeThree = { integrator: 5, zero1: 300, zero2: 300, pole1: 4e4, pole2: 4e4 };
  test('usual values: nothing', () => expect(networkRemark(built({ integrator: 2e3, zero1: 2e3, zero2: 3e3, pole1: 1e5, pole2: 1e5 }, 2e4), 2e4)).toBeUndefined());
  test('R2 of some ohms beside microfarads: named, and scaled to usual values by what is proposed', () => {
    const said = networkRemark(built(slow, 1e3), 1e3)!;
    expect(said.text).toMatch(/^R2 of .*Ω.*C1 of .*µF.*: unusual values/);
    expect(said.change!.key).toBe('inputResistor');
    expect(networkRemark(built(slow, said.change!.value), said.change!.value)).toBeUndefined();
  });
  test('what nothing scales is said without a way out', () => {
    const { parts, divider } = built(slow, 1e3);
    expect(networkRemark({ parts, divider }, 1e3)!.change).toBeUndefined();
  });
});
