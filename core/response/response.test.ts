import fc from 'fast-check';
import { valueAt } from '../control/rational';
import { typeThree } from '../control/amplifiers/typeThree';
import { complex, scale, decibels, degrees, over, phase, radians, size, times, turn, type Complex } from '../linear/complex';
import { closeLoop, dominantPole } from '../testing/averagedLoop';
import { bode, margins } from './margins';
import { stepFigures } from './step';
import { frequencyResponse, logSpaced, stepResponse, type LinearSystem } from './system';

const compensatorGain = (c: Record<string, number>, f: number): Complex => valueAt(typeThree.transfer(c), f);

/** Second order from two inputs: LC filter, input 0 a voltage, input 1 a current drawn from the output. */
function filter(L: number, C: number, R: number, gain: number): LinearSystem {
  return {
    n: 2,
    A: Float64Array.of(0, -1 / L, 1 / C, -1 / (R * C)),
    b: [Float64Array.of(gain / L, 0), Float64Array.of(0, -1 / C)],
    c: Float64Array.of(0, 1),
    d: [0, 0],
  };
}

describe('responses', () => {
  test('LC filter against its formula at any frequency', () => {
    const [L, C, R] = [27e-6, 70e-6, 3];
    const f = logSpaced(10, 1e6, 80);
    const found = frequencyResponse(filter(L, C, R, 48), 0, f);
    f.forEach((hz, i) => {
      const s = 2 * Math.PI * hz;
      const expected = over(complex(48), complex(1 - s * s * L * C, (s * L) / R));
      expect(decibels(size(found[i]!) / size(expected))).toBeCloseTo(0, 8);
      expect(degrees(phase(found[i]!) - phase(expected))).toBeCloseTo(0, 7);
    });
  });

  test('step of an R-C: 1 − e^(−t/RC) at every point', () => {
    const system: LinearSystem = { n: 1, A: Float64Array.of(-100), b: [Float64Array.of(100)], c: Float64Array.of(1), d: [0] };
    const { time, value } = stepResponse(system, 0, 0.05, 33);
    time.forEach((t, i) => expect(value[i]).toBeCloseTo(1 - Math.exp(-100 * t), 12));
  });
});

describe('margins', () => {
  const loopOf = (loop: (f: number) => Complex, from = 1, to = 1e6) => {
    const f = logSpaced(from, to, 200);
    return margins(loop, bode(f, f.map(loop)));
  };

  test('an integrator with a delay: phase margin 90° − 360° fc t, gain margin where the phase is −180°', () => {
    const t = 2e-6;
    const found = loopOf((f) => times(complex(0, -1e4 / f), turn(-2 * Math.PI * f * t)));
    expect(found.crossover).toBeCloseTo(1e4, 6);
    expect(found.phaseMargin).toBeCloseTo(90 - 360 * 1e4 * t, 8);
    expect(found.phaseCrossover / (1 / (4 * t))).toBeCloseTo(1, 9);
    expect(found.gainMargin).toBeCloseTo(decibels(1 / (4 * t) / 1e4), 8);
    expect(found.slope).toBeCloseTo(-20, 5);
    expect(found.delayMargin).toBeCloseTo(found.phaseMargin / 360 / 1e4, 12);
  });

  test('third order k/(1+s)³: the gain margin is 8/k (textbook limit)', () => {
    const third = (k: number) => (f: number) => {
      const pole = complex(1, f);
      return over(complex(k), times(pole, times(pole, pole)));
    };
    const found = loopOf(third(4), 1e-3, 1e3);
    expect(found.gainMargin).toBeCloseTo(decibels(2), 8);
    expect(found.phaseCrossover).toBeCloseTo(Math.sqrt(3), 8);
    expect(loopOf(third(16), 1e-3, 1e3).phaseMargin).toBeLessThan(0);
  });

  test('k (s + 1)²/s³ is stable only while k > ½: its gain may fall by 2k, and rise by any amount (Routh)', () => {
    const f = logSpaced(1e-3, 1e3, 200);
    const loop = (x: number): Complex => {
      const s = complex(0, x);
      const lead = complex(1, x);
      return over(scale(times(lead, lead), 3), times(s, times(s, s)));
    };
    const found = margins(loop, bode(f, f.map(loop)), undefined, true);
    expect(found.falls!.by).toBeCloseTo(decibels(6), 8);
    expect(found.falls!.at).toBeCloseTo(1, 8);
    expect(found.gainMargin).toBe(Infinity);
    // Of a loop that is not known to be stable the same crossing reads as too much gain.
    const unknown = margins(loop, bode(f, f.map(loop)));
    expect([unknown.falls, unknown.gainMargin]).toEqual([undefined, -found.falls!.by]);
  });

  test('a loop that never crosses has no crossover, and says so with what is not a number', () => {
    const found = loopOf(() => complex(0.1));
    expect(found.crossover).toBeNaN();
    expect(found.gainMargin).toBe(Infinity);
    expect(found.closest).toBeCloseTo(1.1, 9);
  });

  test('distance from −1 is one over the largest sensitivity', () => {
    const loop = (f: number): Complex => over(complex(2), complex(1 - f * f, 0.3 * f));
    const fine = logSpaced(0.01, 100, 100_000).map((f) => {
      const l = loop(f);
      return Math.hypot(1 + l.re, l.im);
    });
    expect(loopOf(loop, 0.01, 100).closest).toBeCloseTo(Math.min(...fine), 6);
  });
});

describe('closed loop', () => {
  const plant = filter(27e-6, 70e-6, 3, 48);
  const comp = { integrator: 740, zero1: 3200, zero2: 3300, pole1: 124e3, pole2: 120e3 };
  const cascade = (delay: number) => ({
    integrator: comp.integrator,
    leads: [{ zero: comp.zero1, pole: comp.pole1 }, { zero: comp.zero2, pole: comp.pole2 }],
    modulator: 0.4,
    delay,
  });

  test('its response to a load is Z / (1 + L) with L by the formula, delay and all', () => {
    for (const delay of [0, 2e-7]) {
      const closed = closeLoop(plant, cascade(delay));
      const f = logSpaced(50, 1.5e5, 60);
      const found = frequencyResponse(closed, 0, f);
      const z = frequencyResponse(plant, 1, f);
      const p = frequencyResponse(plant, 0, f);
      f.forEach((hz, i) => {
        const loop = times(times(p[i]!, compensatorGain(comp, hz)), times(complex(0.4), turn(-2 * Math.PI * hz * delay)));
        const expected = over(z[i]!, complex(1 + loop.re, loop.im));
        // The Padé delay is good to 1e-4 rad below 0.15/delay.
        expect(Math.hypot(found[i]!.re - expected.re, found[i]!.im - expected.im) / size(expected)).toBeLessThan(delay === 0 ? 1e-9 : 2e-4);
      });
    }
  });

  test('a load step ends where it began: the integrator takes all of it', () => {
    const closed = closeLoop(plant, cascade(2e-7));
    expect(dominantPole(closed).rate).toBeLessThan(0);
    const { value } = stepResponse(closed, 0, 5e-3, 50);
    expect(Math.abs(value.at(-1)!)).toBeLessThan(1e-7);
  });

  test('the deviation is the largest of the exact response, not of the drawing points', () => {
    const closed = closeLoop(plant, cascade(2e-7));
    const found = stepFigures(closed, 0, 4, true, 2e4);
    const fine = stepResponse(closed, 0, found.time.at(-1)!, 40_001).value.map((v) => Math.abs(4 * v));
    const most = fine.reduce((a, b) => Math.max(a, b));
    expect(found.deviation).toBeGreaterThanOrEqual(most * (1 - 1e-12));
    expect(found.deviation / most).toBeCloseTo(1, 6);
  });

  test('a pole in the right half-plane just when the margins say so', () => {
    fc.assert(
      fc.property(fc.double({ min: 100, max: 60_000, noNaN: true }), (integrator) => {
        const wild = { ...comp, integrator };
        const f = logSpaced(10, 5e6, 2000);
        const p = (hz: number): Complex => frequencyResponse(plant, 0, [hz])[0]!;
        const loop = (hz: number): Complex => times(times(p(hz), compensatorGain(wild, hz)), times(complex(0.4), turn(-2 * Math.PI * hz * 2e-7)));
        const found = margins(loop, bode(f, f.map(loop)));
        fc.pre(Math.abs(found.phaseMargin) > 3); // at the edge the Padé delay decides
        const { rate } = dominantPole(closeLoop(plant, { ...cascade(2e-7), integrator }));
        expect(rate < 0).toBe(found.phaseMargin > 0);
      }),
      { numRuns: 40 },
    );
  });
});

test('radians and degrees', () => expect(degrees(radians(57))).toBeCloseTo(57, 12));
