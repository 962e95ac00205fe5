import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { must } from '../../demo/open';
import { AMPLIFIERS, DISCRETISATIONS } from '../control';
import { controllerAt, continuous } from '../control/controller';
import { rationalOf, valueAt } from '../control/rational';
import { decibels, degrees, phase, size, times, turn, type Complex } from '../linear/complex';
import { readMeasured } from '../measured/read';
import type { Trace } from '../measured/types';
import { logSpaced } from '../response/system';
import { editPlant, isPlant, placedOn, plantFigures, plantOfTraces, readPlant, type PlantDocument } from '.';

/** A controller on measured plants, without any power stage. */

const capture = must(readMeasured(readFileSync('demo/measured/radio-plant.csv', 'utf8')));
const radio = must(plantOfTraces('radio', capture.traces));
const change = (p: PlantDocument, changes: Record<string, unknown>): PlantDocument => must(editPlant(p, changes));
const exact = { 'control.rounded': false };

/** What would have been measured of a plant. */
function traceOf(title: string, plant: (f: number) => Complex, from: number, to: number, count = 400): Trace {
  let turns = 0;
  let before: number | undefined;
  const frequency = logSpaced(from, to, count);
  const values = frequency.map(plant);
  return {
    title, frequency,
    gain: values.map((v) => decibels(size(v))),
    phase: values.map((v) => {
      const p = degrees(phase(v));
      if (before !== undefined && p - before > 180) turns--;
      if (before !== undefined && p - before < -180) turns++;
      before = p;
      return p + 360 * turns;
    }),
  };
}
/** A filter of two poles with a capacitor's zero behind a modulator, and a delay. */
const filter = (gain: number, f0: number, q: number, zero: number, delay: number) => (f: number): Complex => {
  const x = f / f0;
  const den = { re: 1 - x * x, im: x / q };
  const num = times({ re: gain, im: (gain * f) / zero }, turn(-2 * Math.PI * f * delay));
  const s = den.re ** 2 + den.im ** 2;
  return { re: (num.re * den.re + num.im * den.im) / s, im: (num.im * den.re - num.re * den.im) / s };
};

test('a capture alone gives a document with all that is usual, and a loop on it', () => {
  expect(radio).toMatchObject({ kind: 'jump-reed plant', name: 'radio', output: 5 });
  expect(radio.frequency).toBeGreaterThan(radio.measured[0]!.frequency.at(-1)!);
  const f = must(plantFigures(radio));
  expect(f.loops).toHaveLength(1);
  expect(f.on).toBe(radio.measured[0]!.title);
  expect(f.compensator.frequency.length).toBeGreaterThan(100);
});

test('placed for a crossover and a margin on any plant, every amplifier and every way to sample has them, or says why not', () => {
  const draw = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true });
  const kinds = AMPLIFIERS.filter((a) => a.id !== 'optocoupler').flatMap((a) => ['none', ...DISCRETISATIONS.map((d) => d.id)].map((sampled) => ({ amplifier: a.id, sampled })));
  let [placed, refused] = [0, 0];
  fc.assert(
    fc.property(fc.constantFrom(...kinds), draw(1, 30), draw(2.7, 3.7), draw(0.3, 6), draw(3.8, 5), draw(3.2, 4.2), draw(45, 65), (kind, gain, f0, q, zero, crossover, margin) => {
      const trace = traceOf('bench', filter(gain, 10 ** f0, q, 10 ** zero, 1e-6), 50, 100e3);
      const document = editPlant(must(plantOfTraces('bench', [trace])), { ...exact, frequency: 250e3, 'control.crossover': 10 ** crossover, 'control.phaseMargin': margin, 'control.amplifier': kind.amplifier, 'control.sampled': kind.sampled });
      fc.pre(document.ok);
      const found = plantFigures(must(document));
      if (!found.ok) {
        refused++;
        expect(found.problem.remedy.length).toBeGreaterThan(8);
        return;
      }
      const { margins } = found.value.loops[0]!;
      const crosses = margins.crossovers.find((c) => Math.abs(c.at / 10 ** crossover - 1) < 0.01);
      // What it can not reach with its own sampling in it is said.
      if (found.value.short) {
        expect(found.value.short.remedy.length).toBeGreaterThan(8);
        return;
      }
      // A network may lift more than was asked where its zero and pole would meet, and so may an integrator alone.
      expect(crosses).toBeDefined();
      expect(crosses!.margin).toBeGreaterThan(margin - 0.5);
      placed++;
    }),
    { numRuns: 300 },
  );
  expect(placed).toBeGreaterThan(60);
  expect(refused).toBeGreaterThan(10);
});

test('its loop is plant times controller, at every point that was measured', () => {
  const d = change(radio, { ...exact, 'control.crossover': 7e3 });
  const { built, loops, network } = must(plantFigures(d));
  const amplifier = AMPLIFIERS.find((a) => a.id === d.control.amplifier)!;
  expect(network.parts.length).toBeGreaterThan(3);
  const { frequency, gain } = d.measured[0]!;
  frequency.forEach((f, k) => expect(loops[0]!.loop.gain[k]).toBeCloseTo(gain[k]! + decibels(size(controllerAt(continuous(amplifier.transfer(built)), f))), 6));
});

describe('several measurements', () => {
  const cold = traceOf('cold', filter(10, 1e3, 3, 40e3, 0), 100, 100e3);
  const hot = traceOf('hot', filter(14, 1.3e3, 1.5, 15e3, 2e-6), 100, 100e3);
  const both = change(must(plantOfTraces('bench', [cold, hot])), { ...exact, 'control.crossover': 8e3 });
  test('make a fan: each has its own loop and margins; it is placed on the one that is named', () => {
    const first = must(plantFigures(both));
    expect(first.loops.map((l) => l.title)).toEqual(['cold', 'hot']);
    expect(first.on).toBe('cold');
    expect(first.loops[0]!.margins.crossover / 8e3).toBeCloseTo(1, 2);
    expect(Math.abs(first.loops[1]!.margins.crossover / 8e3 - 1)).toBeGreaterThan(0.1);
    const other = must(plantFigures(change(both, { 'control.placedOn': 'hot' })));
    expect(other.on).toBe('hot');
    expect(other.loops[1]!.margins.crossover / 8e3).toBeCloseTo(1, 2);
  });
  test('one that is no longer there is not placed on; two of one name are refused', () => {
    expect(placedOn(change(both, { 'control.placedOn': 'lukewarm' })).title).toBe('cold');
    expect(editPlant(both, { measured: [both.measured[0], { ...both.measured[1], title: 'cold' }] })).toMatchObject({ ok: false, problem: { where: 'measured', message: expect.stringContaining('cold') } });
  });
});

test('overrides stand where they are put, the others where they are placed', () => {
  const free = must(plantFigures(change(radio, exact)));
  const one = must(plantFigures(change(radio, { ...exact, 'control.zero1': 2500 })));
  expect(one.wanted.zero1).toBe(2500);
  expect(one.placed).toEqual(free.placed);
  expect(one.wanted.pole1).toBe(free.wanted.pole1);
});

test('sampled: what that costs in phase, and its coefficients in words', () => {
  const f = must(plantFigures(change(radio, { 'control.amplifier': 'pid', 'control.sampled': 'pre-warped', 'control.crossover': 5e3 })));
  expect(f.sampled!.costs).toBeLessThan(0);
  expect(f.sampled!.fixed ?? f.sampled!.problem).toBeDefined();
  expect(f.continuous!.frequency.length).toBe(f.compensator.frequency.length);
  // It is worked off in the placement: the margin is what was asked for.
  expect(f.loops[0]!.margins.crossovers.some((c) => Math.abs(c.margin - 60) < 0.5)).toBe(true);
});

describe('what can not be is refused by its field', () => {
  test.each<[string, Record<string, unknown>, string]>([
    ['a crossover beyond half the switching frequency', { 'control.crossover': 1e6 }, 'control.crossover'],
    ['a reference above the output', { 'control.reference': 9 }, 'control.reference'],
    ['a margin of more than there is', { 'control.phaseMargin': 120 }, 'control.phaseMargin'],
    ['no measurement', { measured: [] }, 'measured'],
    ['a loop gain in the place of a plant', { measured: [{ ...radio.measured[0], of: 'loop' }] }, 'measured'],
    ['frequencies that do not rise', { measured: [{ ...radio.measured[0], frequency: radio.measured[0]!.frequency.toReversed() }] }, 'measured.0'],
    ['an amplifier that is none', { 'control.amplifier': 'spoon' }, 'control.amplifier'],
  ])('%s', (_, changes, where) => {
    const edited = editPlant(radio, changes);
    expect(edited.ok ? '' : edited.problem.where).toBe(where);
  });
  test('a crossover outside of what was measured has no figures, and what would do', () => {
    const found = plantFigures(change(radio, { frequency: 1e6, 'control.crossover': 200e3 }));
    expect(found).toMatchObject({ ok: false, problem: { where: 'control.crossover', remedy: expect.stringContaining('within') } });
  });
});

test('as a file it comes back as it went; other files are told apart', () => {
  const text = JSON.stringify(radio);
  expect(isPlant(text)).toBe(true);
  expect(must(readPlant(text))).toEqual(radio);
  expect(isPlant('{"kind":"jump-reed design"}')).toBe(false);
  expect(isPlant('hello')).toBe(false);
  expect(readPlant('{"kind":"jump-reed design"}')).toMatchObject({ ok: false, problem: { code: 'kind' } });
  expect(readPlant(JSON.stringify({ ...radio, version: 2 })).ok).toBe(false);
});

test('an integrator of a known plant by hand: on 1/(1 + jf/f0) a type I of ωi = ωc √(1 + (fc/f0)²) crosses at fc', () => {
  const [f0, fc_] = [10e3, 1e3];
  const d = change(must(plantOfTraces('pole', [traceOf('pole', (f) => valueAt(rationalOf(1 / (2 * Math.PI), [], [f0]), f), 10, 100e3)])), {});
  expect(d.measured[0]!.gain[0]).toBeLessThan(0);
  const one = must(plantOfTraces('flat', [traceOf('flat', (f) => ({ re: 1 / (1 + (f / f0) ** 2), im: -(f / f0) / (1 + (f / f0) ** 2) }), 10, 100e3)]));
  const { built } = must(plantFigures(change(one, { ...exact, 'control.amplifier': 'type-one', 'control.crossover': fc_, 'control.phaseMargin': 45 })));
  expect(built.integrator! / (fc_ * Math.sqrt(1 + (fc_ / f0) ** 2))).toBeCloseTo(1, 4);
});
