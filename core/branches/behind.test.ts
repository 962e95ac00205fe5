import fc from 'fast-check';
import { bareDemo, change, must, openDemo } from '../../demo/open';
import { SHELF } from '../../shelf';
import { hangBranch, secondStages } from '../choice';
import { editDesign, topologyOf, type Design } from '../design';
import { evaluate } from '../evaluation';
import { regulatorOf } from '../evaluation/postRegulator';
import { holdCorners } from '../corners/corners';
import { printQuantity } from '../quantity';
import { schematic } from '../report/schematic';
import { beadOf, USUAL_BEAD } from './bead';
import { ringingFrom } from './loop';
import { rejectionAt, usualRegulator } from './regulator';

/** What stands behind an output: second stages and their feedback, beads, linear regulators; and what rings at a switch. */

const rail = bareDemo('cabin-lighting-rail');
const at = { line: 48, load: 8, air: 50 };
const figures = (d: Design, p = at) => must(evaluate(d, p, { detail: true }));

describe('a second stage', () => {
  const offer = must(secondStages(rail, SHELF));
  const way = (id: string) => offer.ways.find((w) => w.id === id)!;

  test('is offered with what it costs: bare it loses the loop, damped it does not', () => {
    expect(way('bare').stable).toBe(false);
    expect(way('damped').stable).toBe(true);
    expect(way('damped').phaseMargin).toBeGreaterThan(offer.now.phaseMargin - 5);
    expect(way('damped').ripple).toBeLessThan(offer.now.ripple / 5);
    // What is said of a way is what its design has.
    const f = must(evaluate(way('damped').design, { line: 48, load: 8, air: 25 }));
    expect([f.loop!.phaseMargin, f.cycle.outputRipple]).toEqual([way('damped').phaseMargin, way('damped').ripple]);
  });
  test('fed back before it the output is off by what its winding takes; behind it, by nothing', () => {
    const behind = figures(way('damped').design);
    const before = figures(way('before').design);
    expect(behind.cycle.signals.output!.mean).toBeCloseTo(24, 6);
    const copper = before.losses.parts.find((p) => p.id === 'L11')!.mechanisms.copper! / before.duties.L11!.rms ** 2;
    expect((24 - before.cycle.signals.output!.mean) / (copper * before.duties.L11!.mean)).toBeCloseTo(1, 3);
    expect(Math.abs(before.detail!.balance.residual)).toBeLessThan(1e-9);
  });
});

describe('a ferrite bead', () => {
  test('is offered with what it costs: fed back behind it, it rings in the loop of the rail; before it, not, and the output sags by its resistance', () => {
    const offer = must(secondStages(rail, SHELF, 'bead'));
    const [before, behind] = ['before', 'behind'].map((id) => offer.ways.find((w) => w.id === id)!);
    expect(behind!.stable).toBe(false);
    expect(before!.stable).toBe(true);
    expect(before!.phaseMargin).toBeGreaterThan(offer.now.phaseMargin - 5);
    const f = figures(before!.design);
    expect((24 - f.cycle.signals.output!.mean) / (8 * USUAL_BEAD.resistance)).toBeCloseTo(1, 2);
  });
  test('is an inductance beside a resistance that has the impedance of its table at both ends', () => {
    const { inductance, loss, resistance } = beadOf(USUAL_BEAD);
    const z = (f: number): number => {
      const x = 2 * Math.PI * f * inductance;
      return (x * loss) / Math.hypot(x, loss);
    };
    expect(z(1e6)).toBeCloseTo(6, 9);
    expect(z(1e10)).toBeCloseTo(100, 2);
    expect(resistance).toBe(0.01);
  });
  test('burns I² R, which counts; the balance closes', () => {
    const beaded = must(hangBranch(rail, 'bead', SHELF));
    const f = figures(beaded);
    const burnt = Object.values(f.losses.parts.find((p) => p.id === 'C11')!.mechanisms).reduce((a, b) => a + b, 0);
    expect(burnt / (8 ** 2 * USUAL_BEAD.resistance)).toBeCloseTo(1, 2);
    expect(Math.abs(f.detail!.balance.residual)).toBeLessThan(1e-9);
    const { input, output, total } = f.losses;
    expect(input - output - total).toBeCloseTo(0, 9);
    // The line's own exact power is what the losses add up to.
    const drawn = f.detail!.balance.input;
    expect(Math.abs(input / drawn - 1)).toBeLessThan(0.02);
  });
});

describe('what stands behind the output is drawn there', () => {
  const place = (d: Design, id: string): number => topologyOf(d)!.drawing.symbols.find((s) => s.id === id)!.x;
  test('a bead before its capacitor, which it opens', () => {
    const beaded = must(hangBranch(rail, 'bead', SHELF));
    expect(topologyOf(beaded)!.drawing.symbols.find((s) => s.id === 'B1 bead')).toMatchObject({ slot: 'C11', turn: 1 });
    expect(['C2', 'B1 bead', 'C11', 'load'].map((id) => place(beaded, id))).toEqual(['C2', 'B1 bead', 'C11', 'load'].map((id) => place(beaded, id)).toSorted((a, b) => a - b));
  });
  test('a regulator last before the load, with its volts', () => {
    const reference = openDemo('reference-supply');
    const { symbols } = topologyOf(reference)!.drawing;
    const before = symbols.filter((s) => s.symbol !== 'load').map((s) => s.x);
    expect(place(reference, 'regulator')).toBe(Math.max(...before));
    expect(place(reference, 'load')).toBeGreaterThan(place(reference, 'regulator') + 26);
    const f = figures(reference, { line: 25, load: 0.6, air: 50 });
    expect(schematic(reference, f)).toContain(printQuantity(regulatorOf(reference)!.regulator.voltage, 'V'));
  });
});

describe('a linear post-regulator', () => {
  const reference = openDemo('reference-supply');
  const point = { line: 25, load: 0.6, air: 50 };
  const { regulator } = regulatorOf(reference)!;

  test('burns what lies between, and its own current; its junction is warm by that', () => {
    const f = figures(reference, point);
    const out = f.cycle.signals.output!;
    const watts = (out.mean - regulator.voltage) * 0.6 + out.mean * regulator.groundCurrent;
    expect(f.post!.watts).toBeCloseTo(watts, 12);
    expect(f.post!.junction).toBeCloseTo(50 + watts * regulator.thermalResistance, 9);
    expect(f.losses.parts.find((p) => p.id === 'post-regulator')!.total).toBeCloseTo(watts, 12);
    // The load gets what the regulator makes.
    expect(f.losses.output).toBeCloseTo(regulator.voltage * 0.6, 4);
    expect(f.post!.headroom).toBeCloseTo(out.min - regulator.voltage - regulator.dropout, 12);
    expect(f.heat.rungs.some((r) => r.id.endsWith('junction') && r.limit === regulator.maxJunction)).toBe(true);
  });
  test('ripple behind it: all of it divided by the rejection, where that is the same everywhere', () => {
    const flat = change(reference, { 'branches.B2.regulator': { ...regulator, rejection: [[1e3, 40]] } });
    const f = figures(flat, point);
    // Twenty-four multiples of a ripple that falls with their square: a hundredth is left out.
    expect(f.post!.ripple / (f.cycle.signals.output!.peakToPeak / 100)).toBeCloseTo(1, 1);
  });
  test('rejection: straight in the logarithm between its points, level beyond', () => {
    const r = { rejection: [[1e3, 60], [1e5, 40]] as [number, number][] };
    expect([10, 1e3, 1e4, 1e5, 1e7].map((f) => rejectionAt(r, f))).toEqual([60, 60, expect.closeTo(50, 9), 40, 40]);
  });
  test('the demo holds at every corner; one without headroom is refused, or fails where it is the ripple that takes it', () => {
    expect(holdCorners(reference).holding).toBe(9);
    const refused = editDesign(reference, { 'branches.B2.regulator': { ...regulator, voltage: 5.8 } });
    expect(refused.ok ? '' : refused.problem.where).toBe('branches.B2.regulator.voltage');
    const tight = change(reference, { 'branches.B2.regulator': { ...regulator, voltage: 5.6 } });
    expect(holdCorners(tight).worst.find((w) => w.id === 'headroom')!.holds).toBe(false);
    const twice = hangBranch(reference, 'regulator', SHELF);
    expect(twice.ok ? '' : twice.problem.message).toContain('two linear regulators');
    const wrong = editDesign(reference, { 'branches.B2.regulator': { ...usualRegulator(6), rejection: [[1e5, 40], [1e3, 60]] } });
    expect(wrong.ok ? '' : wrong.problem.message).toContain('row 2');
  });
});

test('ringing with and without a known capacitor gives back what rings', () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-9, max: 1e-6, noNaN: true }), fc.double({ min: 1e-11, max: 1e-8, noNaN: true }), fc.double({ min: 0.1, max: 10, noNaN: true }), (L, C, share) => {
      const f = (c: number): number => 1 / (2 * Math.PI * Math.sqrt(L * c));
      const found = ringingFrom(f(C), share * C, f(C + share * C))!;
      expect(found.stray / L).toBeCloseTo(1, 9);
      expect(found.parasitic / C).toBeCloseTo(1, 9);
    }),
  );
  expect(ringingFrom(1e7, 1e-9, 1.1e7)).toBeUndefined();
});
