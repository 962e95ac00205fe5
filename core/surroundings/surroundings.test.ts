import { bareDemo, change } from '../../demo/open';
import type { CapacitorPart } from '../parts/schema';
import { editDesign, type Design } from '../design';
import { evaluate, sizeDesign, type Figures } from '../evaluation';
import { LOADS } from './loads';

/** What hangs on both ends of a converter: what it takes, what it does to small signals, and what it can not be. */

const rail = bareDemo('cabin-lighting-rail');
const KINDS = LOADS.map((l) => l.id);
const with_ = (kind: string, more: Record<string, unknown> = {}): Design => change(rail, { 'brief.loadKind': kind, ...(kind === 'diode-string' ? { 'brief.loadThreshold': 20 } : {}), ...more });
const at = { line: 54, load: 6, air: 40 };
const figures = (d: Design, point = at): Figures => {
  const found = evaluate(d, point, { detail: true });
  if (!found.ok) throw new Error(`${found.problem.where}: ${found.problem.message}`);
  return found.value;
};

describe('loads', () => {
  test.each(KINDS)('%s takes what is wanted at the voltage wanted, and the balance closes', (kind) => {
    const f = figures(with_(kind));
    // Tangents of a constant power are good to the square of their slope's 1 %.
    expect(Math.abs(f.losses.output / (24 * 6) - 1)).toBeLessThan(kind === 'constant-power' ? 1e-4 : 2e-5);
    expect(Math.abs(f.detail!.balance.residual)).toBeLessThan(1e-9);
    expect(f.loop!.stable).toBe(true);
  });

  test('with the duty held, the output rings down by half of what the load conducts to small signals over the output capacitance', () => {
    const { taken: C } = sizeDesign(rail).values.C2!;
    const decay = (kind: string): number => -Math.log(figures(with_(kind)).cycle.multiplier) * rail.brief.frequency;
    const still = decay('constant-current');
    const conducts: Record<string, number> = { resistance: 6 / 24, 'constant-power': -6 / 24, 'diode-string': 6 / (24 - 20) };
    // The capacitor's own resistance, and of the string that it takes over from it, are left out: some per cent.
    for (const [kind, g] of Object.entries(conducts)) expect((decay(kind) - still) / (g / (2 * C))).toBeCloseTo(1, 0.5);
  });

  test('a constant power grows by itself with the duty held, and the closed loop holds it', () => {
    const f = figures(with_('constant-power', { 'parts.L1.resistance': 1e-3 }), { line: 36, load: 8, air: 40 });
    expect(f.cycle.multiplier).toBeGreaterThan(1);
    expect(f.loop!.stable).toBe(true);
  });

  test('an inductance of the load between none and very much: from the resistance alone to a constant current', () => {
    const loop = (d: Design): number => figures(d).loop!.crossover;
    expect(loop(change(rail, { 'brief.loadInductance': 1e-9 })) / loop(rail)).toBeCloseTo(1, 4);
    expect(loop(change(rail, { 'brief.loadInductance': 0.1 })) / loop(with_('constant-current'))).toBeCloseTo(1, 3);
  });

  test('what can not be is refused with its field', () => {
    const refused = (d: Design, changes: Record<string, unknown>): string => {
      const edited = editDesign(d, changes);
      return edited.ok ? '' : edited.problem.where;
    };
    expect(refused(rail, { 'brief.loadKind': 'diode-string' })).toBe('brief.loadThreshold');
    expect(refused(rail, { 'brief.loadKind': 'diode-string', 'brief.loadThreshold': 24 })).toBe('brief.loadThreshold');
    expect(refused(rail, { 'brief.loadKind': 'constant-power', 'brief.loadInductance': 1e-4 })).toBe('brief.loadInductance');
    expect(refused(rail, { 'brief.loadKind': 'lamp' })).toBe('brief.loadKind');
    expect(refused(bareDemo('station-charger'), { 'brief.loadKind': 'constant-power' })).toBe('brief.loadKind');
    expect(refused(bareDemo('station-charger'), { 'brief.lineInductance': 1e-6 })).toBe('brief.lineInductance');
  });
});

describe('a line that is not stiff', () => {
  /** With an input capacitor so large that it holds its volts for much longer than a period */
  const held = change(rail, { 'parts.C1.capacitance': 4.7e-3 });

  test('its resistance takes its drop off what the converter is fed with, and out of no efficiency', () => {
    const [stiff, soft] = [figures(held), figures(change(held, { 'brief.lineResistance': 0.05 }))];
    // Duty × volts at the input is what it was: those are less by the mean current drawn, and while the switch draws by the rest in the capacitor's own resistance.
    const C1 = held.parts.C1 as CapacitorPart;
    const esr = (C1.esr * C1.capacitance) / sizeDesign(held).values.C1!.taken;
    const drawn = soft.losses.input / 54;
    const volts = 54 - 0.05 * drawn - (6 - drawn) * ((0.05 * esr) / (0.05 + esr));
    expect((soft.cycle.duty * volts) / (stiff.cycle.duty * 54)).toBeCloseTo(1, 3);
    expect(soft.losses.efficiency).toBeCloseTo(stiff.losses.efficiency, 3);
    expect(Math.abs(soft.detail!.balance.residual)).toBeLessThan(1e-9);
  });

  test('next to nothing of it is none', () => {
    const [stiff, soft] = [figures(rail), figures(change(rail, { 'brief.lineResistance': 1e-6 }))];
    expect(soft.loop!.crossover / stiff.loop!.crossover).toBeCloseTo(1, 4);
    expect(soft.duties.C1!.rms).toBeLessThan(0.01 * stiff.duties.C1!.rms);
  });

  test('its inductance against the negative resistance of the input: stable up to L = C R V²/P (Middlebrook 1976)', () => {
    // An input capacitor so large that the input takes constant power far above what it rings at.
    const slow = change(rail, { 'parts.C1.capacitance': 470e-6 });
    const C1 = slow.parts.C1 as CapacitorPart;
    const { taken: C } = sizeDesign(slow).values.C1!;
    const R = 0.1;
    const bound = (C * (R + (C1.esr * C1.capacitance) / C) * 36 ** 2) / (24 * 8);
    const stable = (share: number): boolean => figures(change(slow, { 'brief.lineInductance': share * bound, 'brief.lineResistance': R }), { line: 36, load: 8, air: 40 }).loop!.stable;
    expect([0.25, 0.9, 1.1, 4].map(stable)).toEqual([true, true, false, false]);
  });
});
