import { readdirSync } from 'node:fs';
import { TOPOLOGIES, topologyNamed } from '../topology';
import { bareDemo, must, openDemo } from '../../demo/open';
import { SHELF } from '../../shelf';
import { candidates, changeBrief, chooseTopology, hangBranch, suggest } from '.';
import { checkDesign, editDesign, topologyOf, type Design } from '../design';
import { evaluate, sizeDesign } from '../evaluation';
import { sizingInputOf } from '../design/sizingInput';
import { best } from './suggest';

const rail = bareDemo('cabin-lighting-rail');

test.each(readdirSync('demo').filter((f) => f.endsWith('.json')).map((f) => f.replace('.json', '')))('demo %s: its balance closes', (name) => {
  const d = openDemo(name);
  const figures = must(evaluate(d, { line: d.brief.line.min, load: d.brief.load.max, air: d.brief.air.max }, { detail: true }));
  expect(Math.abs(figures.detail!.balance.residual)).toBeLessThan(1e-6);
});

describe('another topology for the demo brief', () => {
  test('those that can not serve it are ruled out with the field, the others have figures', () => {
    const list = candidates(rail, SHELF);
    expect(list.map((c) => c.id)).toEqual(TOPOLOGIES.map((t) => t.id));
    for (const c of list) {
      if (c.refusal) expect([c.refusal.where.startsWith('brief.'), c.refusal.remedy !== '']).toEqual([true, true]);
      else for (const v of [c.figures!.loss, c.figures!.switchStress, c.figures!.storedEnergy, c.figures!.capacitorCurrent]) expect(v).toBeGreaterThan(0);
    }
    const by = Object.fromEntries(list.map((c) => [c.id, c.figures]));
    // A diode burns more than a switch in its place; an inverting stage stores and stresses more than a buck.
    expect(by['buck-diode']!.loss).toBeGreaterThan(by['buck-synchronous']!.loss);
    expect(by.inverting!.storedEnergy).toBeGreaterThan(by['buck-diode']!.storedEnergy);
    expect(by['buck-diode']!.rightHalfPlaneZero).toBeUndefined();
    expect(by.inverting!.rightHalfPlaneZero).toBeGreaterThan(0);
  });

  test('taking a diode keeps what still fits and finds the diode on the shelf', () => {
    const taken = must(chooseTopology(must(editDesign(rail, { 'parts.L1.inductance': 33e-6 })), 'buck-diode', SHELF));
    expect([taken.parts.Q1!.part, taken.parts.L1!.part]).toEqual([rail.parts.Q1!.part, rail.parts.L1!.part]);
    expect(sizeDesign(taken).values.L1!.taken).toBe(33e-6);
    expect(taken.parts.D1!.kind).toBe('diode');
    expect(taken.parts.Q2).toBeUndefined();
    const light = must(evaluate(taken, { line: 60, load: 0.4, air: 50 }));
    expect(light.cycle.conduction).toBe('discontinuous');
    expect(Number.isFinite(light.loop!.deviation)).toBe(true);
    expect(must(evaluate(taken, { line: 48, load: 8, air: 50 })).cycle.conduction).toBe('continuous');
  });

  test('an inverting stage gets parts for line plus output, and a crossover below its right-half-plane zero', () => {
    const taken = must(chooseTopology(rail, 'inverting', SHELF));
    const t = topologyNamed('inverting')!;
    for (const slot of ['Q1', 'D1']) expect((taken.parts[slot] as { blockingVoltage: number }).blockingVoltage * 0.9).toBeGreaterThanOrEqual(84);
    const input = sizingInputOf(taken);
    expect(taken.control.crossover).toBeLessThanOrEqual(t.rightHalfPlaneZero(input, t.size(input), { line: 36, load: 8 })! / 3.9);
  });

  test('suggestions come best first and all fit; a shelf with nothing on it says so', () => {
    const t = topologyNamed('buck-synchronous')!;
    const input = sizingInputOf(rail);
    const list = suggest(t, input, t.size(input), 'Q1', SHELF);
    expect(list.length).toBeGreaterThan(3);
    list.forEach((s, k) => {
      expect(s.part.kind === 'switch' && s.part.blockingVoltage * 0.9 >= 60).toBe(true);
      if (k > 0) expect(s.merit).toBeGreaterThanOrEqual(list[k - 1]!.merit);
    });
    const none = chooseTopology(rail, 'buck-diode', []);
    expect(none.ok ? '' : none.problem.code).toBe('shelf');
    const unknown = chooseTopology(rail, 'nothing', SHELF);
    expect(unknown.ok ? '' : unknown.problem.code).toBe('unknown');
  });
});

test('a crossover above the right-half-plane zero can not have the phase asked for: refused with its reason', () => {
  const found = evaluate(must(editDesign(openDemo('door-motor'), { 'control.crossover': 60_000, 'control.phaseMargin': 75 })), { line: 20, load: 4, air: 50 });
  const { loop } = must(found).problems;
  expect([loop?.code, loop?.remedy !== '']).toEqual(['boost', true]);
});

describe('a brief that the present topology can not serve', () => {
  test.each([
    ['isolation', { isolated: true }],
    ['a second output', { further: [{ voltage: 12, load: { min: 0.2, max: 1 } }], isolated: true }],
  ])('%s: another is taken, and all its parts stand', (_, changes) => {
    const changed = must(changeBrief(rail, changes, SHELF));
    const taken = topologyNamed(changed.design.topology)!;
    expect([changed.taken, taken.isolated]).toEqual([taken.title, true]);
    expect(taken.outputs ?? 1).toBe(1 + (changed.design.brief.further?.length ?? 0));
    expect(checkDesign(changed.design)).toEqual([]);
    expect(must(evaluate(changed.design, { line: 48, load: 8, air: 50 })).losses.efficiency).toBeGreaterThan(0.8);
  });
  test('what it can serve is changed in place; what none can is refused with the field', () => {
    expect(must(changeBrief(rail, { loadStep: 2 }, SHELF)).taken).toBeUndefined();
    const none = changeBrief(rail, { further: [1, 2, 3].map(() => ({ voltage: 5, load: { min: 0.1, max: 1 } })) }, SHELF);
    expect(none.ok ? '' : none.problem.where).toBe('brief.further');
  });
});

describe('parts that are alike', () => {
  const two = must(chooseTopology(rail, 'buck-interleaved-2', SHELF));
  test('a phase carries half, each of its switches burns what one burns there, and the place counts both', () => {
    const f = must(evaluate(two, { line: 48, load: 8, air: 50 }, { detail: true }));
    expect(f.duties.L1!.mean).toBeCloseTo(4, 2);
    const { rms } = f.duties.Q1!;
    const loss = f.losses.parts.find((p) => p.id === 'Q1')!;
    const Q = two.parts.Q1!;
    if (Q.kind !== 'switch') throw new Error();
    const R = (Q.onResistance / Q.count) * (1 + Q.onResistanceRise * (loss.temperature - 25));
    expect(loss.mechanisms.conduction! / (2 * rms ** 2 * R)).toBeCloseTo(1, 5);
    expect(f.detail!.workings['Q1/conduction']!.numbers).toContain('2 alike');
    expect(Math.abs(f.detail!.balance.residual)).toBeLessThan(1e-9);
  });
  test('the ripple of the whole has twice the frequency: the output’s is smaller than with one phase', () => {
    const ripple = (d: Design): number => must(evaluate(d, { line: 48, load: 8, air: 50 })).cycle.signals.output!.peakToPeak;
    expect(ripple(two)).toBeLessThan(0.25 * ripple(rail));
  });
});

describe('what is hung stays where it can', () => {
  test('a branch goes along to another topology, and not to one without an output capacitor', () => {
    const hung = must(hangBranch(rail, 'damping', SHELF));
    const diode = must(chooseTopology(hung, 'buck-diode', SHELF));
    expect(Object.keys(diode.branches!)).toEqual(['B1']);
    expect(diode.parts.C11!.kind).toBe('capacitor');
    const chopped = must(chooseTopology(must(editDesign(hung, { 'brief.loadInductance': 10e-3 })), 'chopper', SHELF));
    expect([chopped.branches, chopped.parts.C11]).toEqual([undefined, undefined]);
  });
  test('the brake magnet’s load step is run in time, and stays within its limit', () => {
    const brake = openDemo('brake-magnet');
    const f = must(evaluate(brake, { line: 90, load: 1, air: 50 }, { detail: true }));
    expect(f.loop!.stable).toBe(true);
    expect(f.detail!.step!.value.some((v) => v < 0)).toBe(true);
    expect(f.loop!.deviation).toBeLessThan(brake.requirements.deviation.limit);
    expect(f.loop!.deviation).toBeCloseTo(Math.max(...f.detail!.step!.value.map(Math.abs)), 12);
  });
});

test('windings on one core: the flux is that of both currents, the loss of the core is counted once', () => {
  const radio = openDemo('radio');
  const f = must(evaluate(radio, { line: 9, load: 2, air: 50 }));
  expect(radio.parts.L2).toEqual(radio.parts.L1);
  expect([f.losses.parts.find((p) => p.id === 'L2')!.mechanisms.core, f.stresses.some((s) => s.id === 'L2/flux')]).toEqual([0, false]);
  expect(f.losses.parts.find((p) => p.id === 'L1')!.mechanisms.core).toBeGreaterThan(0);
  const part = radio.parts.L1!;
  if (part.kind !== 'inductor') throw new Error();
  const { taken } = sizeDesign(radio).values.L1!;
  expect(f.stresses.find((s) => s.id === 'L1/flux')!.value).toBeCloseTo((taken * (f.duties.L1!.peak + 0.9 * f.duties.L2!.peak)) / (part.turns * part.coreArea), 9);
});

test('the best part of the shelf is the first of all that fit, at every place of every demo', () => {
  for (const name of ['cabin-lighting-rail', 'door-motor', 'gate-supplies', 'station-charger']) {
    const d = openDemo(name);
    const t = topologyOf(d)!;
    const [input, sizing] = [sizingInputOf(d), sizeDesign(d)];
    for (const { id } of t.slots) {
      const [first] = suggest(t, input, sizing, id, SHELF);
      const { against, ...plain } = first ?? {};
      expect([id, best(t, input, sizing, id, SHELF)]).toEqual([id, first && plain]);
      // Against the present part, where that one fits: the first is no worse.
      if (against !== undefined) expect(against).toBeLessThanOrEqual(1);
    }
  }
});
