import fc from 'fast-check';
import { must } from '../../../demo/open';
import { add, complex, degrees, over, phase, radians, scale, size, times, turn, type Complex } from '../../linear/complex';
import { valueAt } from '../rational';
import type { Control } from '../types';
import { optocoupler } from './optocoupler';

const control = (changes: Partial<Control> = {}): Control => ({ crossover: 3e3, phaseMargin: 60, reference: 2.5, rounded: false, inputResistor: 10e3, transferRatio: 1, ratioSpread: 0.3, couplerPole: 60e3, pullUp: 1e3, pullUpSupply: 5, ...changes }) as Control;
const held = { output: 15, reference: 2.5 };
const { place, build, transfer } = optocoupler;

test('placed on plants that lag little the loop has crossover and margin, with the coupler’s own pole in it', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.1, max: 30, noNaN: true }), fc.double({ min: 20, max: 95, noNaN: true }), fc.double({ min: 500, max: 2e4, noNaN: true }), (gain, lag, crossover) => {
      const c = control({ crossover });
      const plant = scale(turn(radians(-lag)), gain);
      const placed = place(plant, c);
      if (!placed.ok) return expect(placed.problem.code).toBe('boost');
      expect(placed.value.pole1!).toBeLessThanOrEqual(60e3 * (1 + 1e-12));
      const loop = times(plant, valueAt(transfer(placed.value), crossover));
      expect(size(loop)).toBeCloseTo(1, 9);
      const margin = 180 + degrees(phase(loop));
      // Where no lift is wanted there is some all the same: more margin than asked.
      if (60 + lag - 90 > 5) expect(margin).toBeCloseTo(60, 6);
      else expect(margin).toBeGreaterThan(60 - 1e-6);
    }),
  );
});

test('C(s) by the network itself: the shunt integrates, the output leads through R3 besides, the transistor pulls R2 with its capacitances', () => {
  const wanted = { integrator: 900, zero1: 700, pole1: 12e3 };
  const { built, network } = must(build(wanted, control(), held));
  const part = (id: string): number => network.parts.find((p) => p.id === id)!.value;
  const own = 1 / (2 * Math.PI * 60e3 * part('R2'));
  for (const f of [50, 1e3, 2e4]) {
    const jw: Complex = { re: 0, im: 2 * Math.PI * f };
    // Shunt: v(cathode) = −v/(s R1 C1); the light source sees v − v(cathode) over R3.
    const light = scale(add(complex(1), over(complex(1), scale(jw, part('R1') * part('C1')))), 1 / part('R3'));
    const pulled = over(complex(part('R2')), add(complex(1), scale(jw, part('R2') * (part('C2') + own))));
    expect(size(add(over(times(light, pulled), valueAt(transfer(built), f)), complex(-1)))).toBeLessThan(1e-9);
  }
  for (const key of ['integrator', 'zero1', 'pole1'] as const) expect(built[key]! / wanted[key]).toBeCloseTo(1, 9);
});

test('a gain so small that the light source would get too little, a pole above the coupler’s, an output that leaves it nothing: refused by what would do', () => {
  const small = build({ integrator: 10, zero1: 700, pole1: 12e3 }, control(), held);
  expect(small.ok ? '' : [small.problem.where, small.problem.message]).toEqual(['control.crossover', expect.stringContaining('no longer pulls the command down')]);
  const fast = build({ integrator: 900, zero1: 700, pole1: 90e3 }, control(), held);
  expect(fast.ok ? '' : fast.problem.where).toBe('control.pole1');
  const low = build({ integrator: 900, zero1: 700, pole1: 12e3 }, control(), { output: 3.3, reference: 2.5 });
  expect(low.ok ? '' : low.problem.where).toBe('control.amplifier');
  const slow = place(turn(radians(-100)), control({ couplerPole: 2e3 }));
  expect(slow.ok ? '' : slow.problem.message).toContain('pole of the coupler');
});
