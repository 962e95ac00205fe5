import fc from 'fast-check';
import demo from '../../demo/cabin-lighting-rail.json';
import { must } from '../../demo/open';
import { judge } from '../corners/corners';
import { preferred } from '../quantity';
import { complex, decibels, over, size, times } from '../linear/complex';
import { onResistance, windingResistance, type CapacitorPart, type InductorPart, type SwitchPart } from '../parts/schema';
import { editDesign, readDesign, readDesignValue, withoutLineFilter, type Design } from '.';
import { evaluate, remedyOf, sizeDesign, type Figures } from '../evaluation';

const read = (changes: Record<string, unknown> = {}): Design => {
  const base = readDesignValue(demo);
  if (!base.ok) throw new Error(base.problem.message);
  // The power stage by itself, on a stiff line.
  const edited = editDesign(withoutLineFilter(base.value), changes);
  if (!edited.ok) throw new Error(`${edited.problem.where}: ${edited.problem.message}`);
  return edited.value;
};
const at = (d: Design, line = 48, load = 8, air = 50): Figures => {
  const found = evaluate(d, { line, load, air }, { detail: true });
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
};

describe('sizing against hand calculation', () => {
  const { values, duty } = sizeDesign(read());
  test('inductance for a 35 % ripple at 60 V: 24 × 0.6 / (220 kHz × 0.35 × 8 A) = 23.4 µH, so 27 µH', () => {
    expect(values.L1!.wanted).toBeCloseTo(23.3766e-6, 10);
    expect(values.L1!.taken).toBe(27e-6);
  });
  test('input capacitor: 8 A × ¼ / (220 kHz × 1 V) = 9.09 µF, so two of 4.7 µF', () => {
    expect(values.C1!.wanted).toBeCloseTo(9.0909e-6, 9);
    expect(values.C1!.how).toBe('2 × 4.7 µF');
  });
  test('output capacitor: the load step asks for more than the ripple, 4 A (1/2π·20 kHz + 42 ns) / 0.425 V = 75.3 µF; five were taken', () => {
    expect(values.C2!.workings.map((w) => w.value).sort((a, b) => b - a)[0]).toBeCloseTo(75.29e-6, 7);
    expect(values.C2!.suggestedCount).toBe(6);
    expect(values.C2!.taken).toBeCloseTo(70e-6, 12);
  });
  test('each switch blocks 60 V and wants 66.7 V at nine tenths of its rating', () => {
    const { blocking } = sizeDesign(read());
    expect(blocking.Q1).toEqual({ most: 60, wanted: 60 / 0.9 });
    expect(blocking.Q2).toEqual(blocking.Q1);
    expect(at(read(), 60).duties.Q2!.voltage).toBeCloseTo(60, 0);
  });
  test('duty from 40 % to 67 % with its resistances', () => {
    expect(duty.min).toBeCloseTo((24 + 0.4 * (0.006 + 0.0094)) / (60 - 0.4 * 0.003), 9);
    expect(duty.max).toBeCloseTo((24 + 8 * (0.006 + 0.0094)) / (36 - 8 * 0.003), 9);
  });
  test('an override stands, and the suggestion stays known', () => {
    const { L1 } = sizeDesign(read({ 'parts.L1.inductance': 33e-6 })).values;
    expect(L1).toMatchObject({ taken: 33e-6, suggested: 27e-6, overridden: true });
  });
});

describe('one operating point against hand calculation (0.5 %)', () => {
  const d = read();
  test.each([[36, 8], [48, 8], [60, 8], [48, 4.2], [60, 0.4]])('duty, ripple and rms at %d V, %d A', (line, load) => {
    const f = at(d, line, load);
    const t = (id: string): number => f.losses.parts.find((p) => p.id === id)!.temperature;
    const r1 = onResistance(d.parts.Q1 as SwitchPart, t('Q1'));
    const r2 = onResistance(d.parts.Q2 as SwitchPart, t('Q2'));
    const rl = windingResistance(d.parts.L1 as InductorPart, t('L1'));
    const duty = (24 + load * (r2 + rl)) / (line - load * (r1 - r2));
    const ripple = ((24 + load * (r2 + rl)) * (1 - duty)) / (220e3 * 27e-6);
    const within = (found: number, expected: number): void => expect(Math.abs(found / expected - 1)).toBeLessThan(0.005);
    within(f.cycle.duty, duty);
    within(f.cycle.signals.inductorCurrent!.peakToPeak, ripple);
    const trapezoid = Math.sqrt(load ** 2 + ripple ** 2 / 12);
    within(f.cycle.signals.inductorCurrent!.rms, trapezoid);
    within(f.duties.Q1!.rms, trapezoid * Math.sqrt(duty));
    within(f.duties.Q2!.rms, trapezoid * Math.sqrt(1 - duty));
    within(f.duties.C2!.rms, ripple / Math.sqrt(12));
    within(f.duties.C1!.rms, Math.sqrt(duty * (trapezoid ** 2 - duty * load ** 2)));
    // The series resistance adds in quadrature, to first order nothing: 0.6 mΩ here.
    within(f.cycle.signals.output!.peakToPeak, ripple / (8 * 220e3 * 70e-6));
  });

  test('power balance of the settled cycle to 1e-6, at any point', () => {
    fc.assert(
      fc.property(fc.double({ min: 36, max: 60, noNaN: true }), fc.double({ min: 0.4, max: 8, noNaN: true }), (line, load) => {
        const f = at(d, line, load);
        expect(Math.abs(f.detail!.balance.residual)).toBeLessThan(1e-6);
        expect(f.cycle.closure).toBeLessThan(1e-9);
        expect(f.cycle.conduction).toBe('continuous');
      }),
      { numRuns: 25 },
    );
  });

  test('temperatures and losses agree with one another: junction = air + sink × all + own path × own', () => {
    const f = at(d);
    const p = (id: string): number => f.losses.parts.find((x) => x.id === id)!.total;
    const sink = 50 + 7 * (p('Q1') + p('Q2'));
    expect(f.losses.parts[0]!.temperature).toBeCloseTo(sink + (1.3 + 0.8) * p('Q1'), 5);
    const hot = f.losses.parts[0]!.temperature;
    expect(f.losses.parts[0]!.mechanisms.conduction).toBeCloseTo(f.duties.Q1!.rms ** 2 * 0.009 * (1 + 0.0065 * (hot - 25)), 6);
  });

  test('efficiency is output over output and losses', () => {
    const { losses } = at(d);
    expect(losses.total).toBeCloseTo(losses.parts.reduce((s, x) => s + x.total, 0), 12);
    expect(losses.efficiency).toBeCloseTo(192 / (192 + losses.total), 5);
  });
});

describe('the averaged plant against the textbook buck (0.1 dB)', () => {
  test('Gvd = Vline (1 + s rC C) / (1 + …) with all resistances, 100 Hz to half fsw', () => {
    const d = read();
    for (const [line, load] of [[36, 8], [60, 8], [60, 0.4]] as const) {
      const f = at(d, line, load);
      const t = (id: string): number => f.losses.parts.find((p) => p.id === id)!.temperature;
      const r1 = onResistance(d.parts.Q1 as SwitchPart, t('Q1'));
      const r2 = onResistance(d.parts.Q2 as SwitchPart, t('Q2'));
      const rs = windingResistance(d.parts.L1 as InductorPart, t('L1')) + f.cycle.duty * r1 + (1 - f.cycle.duty) * r2;
      const C2 = d.parts.C2 as CapacitorPart;
      const [R, C, rc, L] = [24 / load, 70e-6, (C2.esr * C2.capacitance) / 70e-6, 27e-6];
      const { plant, averaged } = f.detail!.bode!;
      // Exact and averaged agree below 0.02 of the switching frequency (0.1 dB, 0.5°).
      plant.frequency.forEach((hz, i) => {
        if (hz > 0.02 * 220e3) return;
        expect(Math.abs(plant.gain[i]! - averaged!.gain[i]!)).toBeLessThan(0.1);
        expect(Math.abs(plant.phase[i]! - averaged!.phase[i]!)).toBeLessThan(0.5);
      });
      plant.frequency.forEach((hz, i) => {
        if (hz > 110e3) return;
        const w = 2 * Math.PI * hz;
        const esr = complex(rc, -1 / (w * C));
        const out = over(times(esr, complex(R)), complex(R + esr.re, esr.im));
        const chain = over(out, complex(out.re + rs, out.im + w * L));
        const expected = (line - load * (r1 - r2)) * size(chain);
        expect(Math.abs(averaged!.gain[i]! - decibels(expected))).toBeLessThan(0.1);
      });
    }
  });

  test('placed crossover and margin are met at the placement point with the exact network', () => {
    const f = at(read({ 'control.rounded': false }), 48, 8, 25);
    // Parts are warmer than the 25 °C of the placement: a little more damping.
    expect(Math.abs(f.loop!.crossover / 20e3 - 1)).toBeLessThan(0.01);
    expect(Math.abs(f.loop!.phaseMargin - 55)).toBeLessThan(1);
  });
});

describe('changes show where they should', () => {
  test('three times the inductance: a third of the ripple', () => {
    const one = at(read());
    const three = at(read({ 'parts.L1.inductance': 81e-6 }));
    expect(one.duties.L1!.peakToPeak / three.duties.L1!.peakToPeak).toBeCloseTo(3, 2);
  });
  test('the same design and point give the same figures, bit for bit', () => {
    expect(JSON.stringify(at(read()))).toBe(JSON.stringify(at(read())));
  });
  test('figures are finite all over the region, whatever is typed within reason', () => {
    let computed = 0;
    fc.assert(
      fc.property(
        fc.double({ min: 1e-6, max: 1e-3, noNaN: true }), fc.double({ min: 5e3, max: 6e4, noNaN: true }), fc.double({ min: 36, max: 60, noNaN: true }), fc.double({ min: 0.4, max: 8, noNaN: true }),
        (L, crossover, line, load) => {
          const edited = editDesign(read(), { 'parts.L1.inductance': L, 'control.crossover': crossover });
          if (!edited.ok) return expect(edited.problem.remedy).not.toBe('');
          const found = evaluate(edited.value, { line, load, air: 50 }, { detail: true });
          if (!found.ok) return expect(found.problem.remedy).not.toBe('');
          computed++;
          const { waves, bode } = found.value.detail!;
          for (const list of [...waves.values, bode!.loop!.gain, bode!.loop!.phase]) expect(list.every(Number.isFinite)).toBe(true);
          expect(Number.isFinite(found.value.losses.efficiency)).toBe(true);
        },
      ),
      { numRuns: 40 },
    );
    // Crossovers above a tenth of a low bandwidth are refused, few others.
    expect(computed).toBeGreaterThan(20);
  });
});

describe('limits with a name', () => {
  test('a line below the output: the duty limit, not a wrong figure', () => {
    const found = evaluate(read(), { line: 20, load: 8, air: 50 });
    expect(found.ok ? '' : found.problem.code).toBe('duty-limit');
  });
  test('a sink far too small: runaway, by the part that runs away', () => {
    const found = evaluate(read({ 'sink.thermalResistance': 400 }), { line: 48, load: 8, air: 50 });
    // The cold stage stands, and says so.
    const { problems, heat, losses, cycle } = must(found);
    expect([problems.heat?.code, problems.heat?.where]).toEqual(['runaway', 'Q1']);
    expect(heat.rungs).toEqual([]);
    expect(losses.parts.every((p) => p.temperature === 50)).toBe(true);
    expect(cycle.signals.output!.mean).toBeCloseTo(24, 6);
    const judged = judge(read({ 'sink.thermalResistance': 400 }), { line: 48, load: 8, air: 50 }, found);
    expect(judged.requirements.filter((r) => !r.holds).map((r) => r.id)).toEqual(expect.arrayContaining(['junction', 'winding']));
  });
  test('a core that burns without bound has no cold figures either', () => {
    const found = evaluate(read({ 'parts.L1.coreVolume': 1e9, 'parts.L1.steinmetz.k': 1e307 }), { line: 48, load: 8, air: 50 });
    expect(found.ok ? found.value.losses.total : found.problem.code).toBe('runaway');
  });
  test('points that make no sense', () => {
    for (const point of [{ line: -1, load: 1, air: 25 }, { line: 48, load: -1, air: 25 }, { line: 48, load: 1, air: NaN }, { line: Infinity, load: 1, air: 25 }])
      expect(evaluate(read(), point).ok).toBe(false);
  });
});

describe('files that can not be used', () => {
  const text = JSON.stringify(demo);
  const problem = (t: string): { code: string; where: string; message: string; remedy: string } => {
    const r = readDesign(t);
    if (r.ok) throw new Error('it was taken');
    return r.problem;
  };
  const broken = (change: (d: any) => void): string => {
    const copy = structuredClone(demo) as any;
    change(copy);
    return JSON.stringify(copy);
  };

  test('the demo itself is read, and again after writing', () => {
    const once = readDesign(text);
    expect(once.ok && readDesign(JSON.stringify(once.value))).toEqual(once);
  });
  test('quantities as text', () => {
    const r = readDesign(broken((d) => { d.parts.L1.inductance = '33 µH'; d.brief.frequency = '220k'; }));
    expect(r.ok && (r.value.parts.L1 as InductorPart).inductance).toBe(33e-6);
    expect(r.ok && r.value.brief.frequency).toBe(220e3);
  });
  test.each([
    ['not JSON', '{"kind":', 'json', ''],
    ['another kind', '{"kind":"recipe"}', 'kind', 'kind'],
    ['a list', '[1,2]', 'kind', 'kind'],
    ['a newer version', broken((d) => { d.version = 9; }), 'version', 'version'],
    ['an unknown field', broken((d) => { d.brief.colour = 1; }), 'unknown-field', 'brief.colour'],
    ['a negative inductance', broken((d) => { d.parts.L1.inductance = -1e-6; }), 'range', 'parts.L1.inductance'],
    ['a current in volts', broken((d) => { d.brief.load.max = '8 V'; }), 'dimension', 'brief.load.max'],
    ['24 V from 12–18 V', broken((d) => { d.brief.line = { min: 12, max: 18 }; }), 'impossible', 'brief.output.voltage'],
    ['a missing part', broken((d) => { delete d.parts.Q2; }), 'missing', 'parts.Q2'],
    ['a part of another kind', broken((d) => { d.parts.Q2 = d.parts.L1; }), 'kind', 'parts.Q2.kind'],
    ['a part with no place', broken((d) => { d.parts.Q9 = d.parts.Q1; }), 'unknown-field', 'parts.Q9'],
    ['a missing field', broken((d) => { delete d.brief.frequency; }), 'type', 'brief.frequency'],
    ['ends swapped', broken((d) => { d.brief.line = { min: 60, max: 36 }; }), 'range', 'brief.line.min'],
    ['an unknown topology', broken((d) => { d.topology = 'sideways'; }), 'unknown', 'topology'],
    ['a number that is not one', broken((d) => { d.brief.line.max = null; }), 'type', 'brief.line.max'],
  ])('%s', (_, t, code, where) => {
    const p = problem(t);
    expect([p.code, p.where]).toEqual([code, where]);
    expect(p.message.length).toBeGreaterThan(5);
    expect(p.remedy.length).toBeGreaterThan(5);
  });
  test('whatever is in a file, reading it neither throws nor takes it by mistake', () => {
    fc.assert(fc.property(fc.json(), (t) => expect(readDesign(t).ok).toBe(false)));
    fc.assert(fc.property(fc.string(), (t) => expect(readDesign(t).ok).toBe(false)));
  });
  test('any one number replaced by anything: a design or a problem with a remedy', () => {
    fc.assert(
      fc.property(fc.constantFrom('line.min', 'line.max', 'output.voltage', 'load.max', 'frequency', 'rippleShare'), fc.oneof(fc.double(), fc.string(), fc.boolean(), fc.constant(null)), (path, value) => {
        const r = readDesign(broken((d) => {
          const keys = path.split('.');
          const last = keys.pop()!;
          keys.reduce((o, k) => o[k], d.brief)[last] = value;
        }));
        if (!r.ok) return expect(r.problem.remedy).not.toBe('');
        const found = evaluate(r.value, { line: r.value.brief.line.max, load: r.value.brief.load.max, air: 25 });
        if (found.ok) expect(found.value.cycle.duty > 0 && found.value.cycle.duty < 1).toBe(true);
        else expect(found.problem.remedy).not.toBe('');
      }),
      { numRuns: 200 },
    );
  });
});

test('inductances are rounded up to the chosen series, and what is typed stands', () => {
  const rail = readDesignValue(demo);
  if (!rail.ok) throw new Error(rail.problem.message);
  const taken = (changes: Record<string, unknown>): number => {
    const edited = editDesign(rail.value, changes);
    if (!edited.ok) throw new Error(edited.problem.message);
    return sizeDesign(edited.value).values.L1!.taken;
  };
  const { wanted } = sizeDesign(rail.value).values.L1!;
  for (const series of ['E3', 'E6', 'E12', 'E24', 'E48', 'E96', 'E192'] as const) {
    expect(taken({ series })).toBe(preferred(wanted, series, 'up'));
    expect(taken({ series })).toBeGreaterThanOrEqual(wanted);
  }
  expect(taken({})).toBe(preferred(wanted, 'E12', 'up'));
  expect(taken({ series: 'E3', 'parts.L1.inductance': 31e-6 })).toBe(31e-6);
});

describe('a stress above its limit says what would mend it', () => {
  const at = (id: string, unit: 'V' | 'A' | 'T', value: number, rating: number): string | undefined => remedyOf({ slot: 'C1', id: `C1/${id}`, title: 'stress', unit, value, rating }, 0.8);
  test('a rating that would do, or a core, or more of them; nothing where it holds', () => {
    expect(at('voltage', 'V', 50, 60)).toContain('rated 62.5 V or more');
    expect(at('current', 'A', 4, 4.5)).toContain('more in parallel');
    expect(at('flux', 'T', 0.3, 0.32)).toContain('larger core');
    expect(at('voltage', 'V', 48, 60)).toBeUndefined();
  });
});
