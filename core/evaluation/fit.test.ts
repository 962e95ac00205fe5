import { bareDemo, change, must } from '../../demo/open';
import type { Measured } from '../measured/types';
import type { CapacitorPart } from '../parts/schema';
import { degrees, phase, size, times } from '../linear/complex';
import { logSpaced } from '../response/system';
import { billOf, changedBill } from './bill';
import { modulatorAt, placementPoint, plantOf } from './compensator';
import { compareMeasured, evaluate, fitPlant } from './index';
import { settleStage } from './settleStage';
import { standAt } from './standing';

const rail = bareDemo('cabin-lighting-rail');
const point = placementPoint(rail);

/** What the rail would show on the bench with other values than it was designed with. */
function captured(factors: { L: number; C: number; esr: number; delay: number }, noise = 0): Measured {
  const bill = billOf(rail);
  const real = changedBill(bill, { L1: bill.sizing.values.L1!.taken * factors.L, C2: bill.sizing.values.C2!.taken * factors.C }, { C2: { esr: (rail.parts.C2 as CapacitorPart).esr * factors.esr } });
  const plant = must(plantOf(rail, must(settleStage(real, must(standAt(real, point)).only!, () => point.air)), [], 'output'));
  let seed = 99;
  const random = (): number => {
    seed = (seed * 48271) % 2147483647;
    return seed / 2147483647 - 0.5;
  };
  const frequency = logSpaced(300, 90e3, 60);
  const exact = plant(frequency);
  const response = frequency.map((f, i) => times(exact[i]!, modulatorAt({ ...rail.control, delay: rail.control.delay + factors.delay }, f)));
  return { title: 'bench', of: 'plant', frequency, gain: response.map((v) => 20 * Math.log10(size(v)) + noise * random()), phase: response.map((v) => degrees(phase(v)) + 8 * noise * random()) };
}

test('values that a plant was made with are found from its response: L C to 1 %, the delay to 50 ns, each within what is told', () => {
  const fit = must(fitPlant(rail, captured({ L: 1.12, C: 0.85, esr: 1, delay: 4e-7 }), point));
  const of = (id: string) => fit.values.find((v) => v.id === id)!;
  const share = (id: string): number => of(id).is / of(id).was;
  expect(Math.abs((share('inductance') * share('capacitance')) / (1.12 * 0.85) - 1)).toBeLessThan(0.01);
  expect(Math.abs(of('delay').is - of('delay').was - 4e-7)).toBeLessThan(5e-8);
  for (const [id, factor] of [['inductance', 1.12], ['capacitance', 0.85], ['gain', 1]] as const) expect(Math.abs(of(id).is - factor * of(id).was)).toBeLessThan(of(id).within);
  // What the response hardly tells is told as loosely.
  expect(of('esr').within / of('esr').is).toBeGreaterThan(of('inductance').within / of('inductance').is);
  expect(fit.after.gain).toBeLessThan(0.05 * fit.before.gain);
  expect(fit.rounds).toBeLessThan(20);
});

test('a bench that reads badly is believed less: what is told is wider, and what is true lies within', () => {
  const [quiet, loud] = [0.05, 1.5].map((noise) => must(fitPlant(rail, captured({ L: 1.12, C: 0.85, esr: 1, delay: 0 }, noise), point)));
  for (const fit of [quiet!, loud!]) {
    const gain = fit.values.find((v) => v.id === 'gain')!;
    expect(Math.abs(gain.is - 1)).toBeLessThan(1.5 * gain.within);
  }
  expect(loud!.values[4]!.within).toBeGreaterThan(2 * quiet!.values[4]!.within);
});

test('taken, the design shows what was measured', () => {
  const bench = captured({ L: 1.12, C: 0.85, esr: 1, delay: 2e-7 });
  const fit = must(fitPlant(rail, bench, point));
  const fitted = change(rail, { ...fit.changes, measured: [bench] });
  const [compared] = must(evaluate(fitted, point, { detail: true })).detail!.measured!;
  expect(compared!.misfit!.gain).toBeLessThan(0.3);
  expect(compared!.misfit!.phase).toBeLessThan(2);
});

test('placed on what was measured, its loop has the crossover and the margin asked for', () => {
  const bench = captured({ L: 1.12, C: 0.85, esr: 1, delay: 2e-7 });
  const d = change(rail, { measured: [bench], 'control.placedOn': 'bench', 'control.rounded': false, 'control.crossover': 15e3 });
  const { detail } = must(evaluate(d, point, { detail: true }));
  const [c] = detail!.measured!;
  expect(Math.abs(c!.margins.crossover / 15e3 - 1)).toBeLessThan(0.01);
  expect(Math.abs(c!.margins.phaseMargin - d.control.phaseMargin)).toBeLessThan(0.5);
  // Beyond what was measured there is nothing to place on.
  const beyond = evaluate(change(d, { 'control.crossover': 95e3 }), point);
  expect(must(beyond).problems.loop?.where).toBe('control.crossover');
});

test('a loop gain measured gives the plant by its compensator: compared as what it is', () => {
  const f = must(evaluate(rail, point, { detail: true }));
  const { loop } = f.detail!.bode!;
  const kept = loop.frequency.flatMap((x, i) => (x > 500 && x < 80e3 ? [i] : []));
  const m: Measured = { title: 'loop', of: 'loop', frequency: kept.map((i) => loop.frequency[i]!), gain: kept.map((i) => loop.gain[i]! + 1), phase: kept.map((i) => loop.phase[i]!) };
  const c = compareMeasured(rail, f.detail!.bode!, { ...m, frequency: m.frequency.slice(0, 800), gain: m.gain.slice(0, 800), phase: m.phase.slice(0, 800) });
  expect(c.misfit!.gain).toBeCloseTo(1, 6);
  expect(c.margins.crossover).toBeGreaterThan(f.loop!.crossover);
  expect(must({ ok: true, value: fitPlant(rail, m, point) }).ok).toBe(false);
});
