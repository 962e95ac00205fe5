import fc from 'fast-check';
import { bareDemo, change, must } from '../../../demo/open';
import { evaluate } from '../../evaluation';
import { automaticDesigns } from '../../testing/automatic';
import { degrees, over, phase, radians, scale, size, times, turn } from '../../linear/complex';
import { valueAt } from '../rational';
import { transconductance } from './transconductance';
import type { Control } from '../types';

const control = (changes: Partial<Control> = {}): Control => ({ method: 'voltage', amplifier: 'transconductance', crossover: 1e4, phaseMargin: 60, ramp: 1, delay: 0, reference: 1.2, rounded: false, inputResistor: 10e3, transconductance: 1e-3, ...changes }) as Control;
const held = { output: 12, reference: 1.2 };
const { place, build, transfer } = transconductance;

test('placed on any plant that lags little enough the loop has the crossover and the margin asked for', () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-3, max: 1e3, noNaN: true }), fc.double({ min: 20, max: 110, noNaN: true }), fc.double({ min: 45, max: 70, noNaN: true }), fc.double({ min: 100, max: 1e6, noNaN: true }), (gain, lag, phaseMargin, crossover) => {
      const boost = phaseMargin + lag - 90;
      fc.pre(boost > 20 && boost < 84);
      const plant = scale(turn(radians(-lag)), gain);
      const loop = times(plant, valueAt(transfer(must(place(plant, control({ crossover, phaseMargin })))), crossover));
      expect(size(loop)).toBeCloseTo(1, 9);
      expect(180 + degrees(phase(loop))).toBeCloseTo(phaseMargin, 7);
    }),
  );
});

test('more lift than one zero gives is refused with what would help; a plant that lags little still gets a network', () => {
  const refused = place(turn(radians(-130)), control({ phaseMargin: 60 }));
  expect(refused.ok ? '' : [refused.problem.code, refused.problem.where]).toEqual(['boost', 'control.crossover']);
  const corners = must(place(turn(radians(-5)), control()));
  expect(corners.pole1! / corners.zero1!).toBeGreaterThan(1.9);
});

test('the network has the corners asked for: C(s) by its impedance, gm β Z(s)', () => {
  const wanted = { integrator: 300, zero1: 900, pole1: 80e3 };
  const { built, network } = must(build(wanted, control(), held));
  for (const key of Object.keys(wanted) as (keyof typeof wanted)[]) expect(built[key]! / wanted[key]).toBeCloseTo(1, 12);
  const part = (id: string): number => network.parts.find((p) => p.id === id)!.value;
  // Divided to the reference, 12 V are 1.2 V.
  expect((12 * part('lower')) / (part('R1') + part('lower'))).toBeCloseTo(1.2, 12);
  for (const f of [10, 1e3, 1e5]) {
    const s = 2 * Math.PI * f;
    const series = { re: part('R2'), im: -1 / (s * part('C1')) };
    const beside = { re: 0, im: -1 / (s * part('C2')) };
    const Z = over(times(series, beside), { re: series.re, im: series.im + beside.im });
    const C = scale(Z, part('gm') * 0.1);
    const found = valueAt(transfer(built), f);
    expect(size(over(found, C))).toBeCloseTo(1, 9);
    expect(degrees(phase(over(found, C)))).toBeCloseTo(0, 7);
  }
});

test('rounded to preferred values it keeps the gain between zero and pole to a few percent', () => {
  fc.assert(
    fc.property(fc.double({ min: 20, max: 5e3, noNaN: true }), fc.double({ min: 2, max: 50, noNaN: true }), fc.double({ min: 4, max: 400, noNaN: true }), (integrator, a, b) => {
      const wanted = { integrator, zero1: integrator * a, pole1: integrator * a * b };
      const { built } = must(build(wanted, control({ rounded: true }), held));
      const middle = Math.sqrt(wanted.zero1 * wanted.pole1);
      const gain = (c: typeof wanted): number => size(valueAt(transfer(c), middle));
      expect(Math.abs(gain(built as typeof wanted) / gain(wanted) - 1)).toBeLessThan(0.06);
    }),
  );
});

test('a zero above its pole can not be built', () => {
  const found = build({ integrator: 100, zero1: 2e4, pole1: 1e4 }, control(), held);
  expect(found.ok ? '' : found.problem.code).toBe('network');
});

test('on a plant of one pole the whole design has the crossover and margin that were asked for, with its network', () => {
  // A load of resistance and inductance is the filter itself: one zero is enough.
  const chopper = automaticDesigns().find((d) => d.topology === 'chopper')!;
  const d = change(chopper, { 'control.amplifier': 'transconductance', 'control.rounded': false, 'control.crossover': chopper.brief.frequency / 10, 'control.phaseMargin': 70 });
  const { line, load } = d.brief;
  const { loop } = must(evaluate(d, { line: (line.min + line.max) / 2, load: load.max, air: 25 }));
  expect(loop!.stable).toBe(true);
  expect(loop!.crossover / d.control.crossover).toBeCloseTo(1, 2);
  expect(Math.abs(loop!.phaseMargin - 70)).toBeLessThan(0.5);
  expect(loop!.network.parts.map((p) => p.id)).toEqual(['gm', 'R1', 'R2', 'C1', 'C2', 'lower']);
  expect(Object.keys(loop!.built)).toEqual(['integrator', 'zero1', 'pole1']);
});

test('a double pole asks for more lift than there is: refused by the field, with what would do', () => {
  const found = evaluate(change(bareDemo('cabin-lighting-rail'), { 'control.amplifier': 'transconductance' }), { line: 48, load: 8, air: 25 });
  const { loop } = must(found).problems;
  expect([loop?.code, loop?.where]).toEqual(['boost', 'control.crossover']);
});
