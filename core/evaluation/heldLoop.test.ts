import { bareDemo, change, must } from '../../demo/open';
import type { Rational } from '../control/types';
import type { SwitchPart } from '../parts/schema';
import { checkDesign } from '../design/check';
import { CRITICAL, HELD_DUTY } from '../control/held';
import { multipliers } from '../orbit/stability';
import { mainsQuality } from '../schedule/mainsQuality';
import { wholeMains } from '../schedule/onMains';
import { measure, cycleIntegrals } from '../orbit/measure';
import { eigenvalues } from '../linear/eigen';
import { closedDesign } from './closedDesign';
import { evaluate } from './evaluate';
import { slowLoop } from './heldLoop';
import { injectedLoop } from './injected';
import { standAt } from './standing';
import { tuneMains } from './tuneMains';

/** The charger made to draw by itself: a quarter of its power, at 20 kHz, without what stands before its line. */
const held = (method: string) => change(bareDemo('station-charger'), {
  'control.method': method, 'control.sampled': 'none', 'control.amplifier': 'type-two', 'control.crossover': 8, 'control.phaseMargin': 60, 'control.carrier': 'trailing',
  'brief.frequency': 20e3, 'brief.output.voltage': 400, 'brief.load': { min: 0.15, max: 0.6 }, 'brief.loadStep': 0.2, 'parts.L1.inductance': null, 'parts.C2.count': 2, 'brief.lineRipple': 20, 'parts.C1.capacitance': 2.2e-7, 'parts.L1.steinmetz.k': 0.05, 'control.delay': 1e-9,
});
const at = { line: 230, load: 0.6, air: 25 };

describe.each([HELD_DUTY, CRITICAL])('%s', (method) => {
  const d = held(method);
  const figures = must(evaluate(d, at));

  test('the loop as it is asked for, at the line that it is placed at; above it the gain goes with the square of the line', () => {
    const [low, middle, high] = [184, 224, 264].map((line) => must(evaluate(d, { ...at, line })).loop!);
    expect(middle!.crossover / 8).toBeCloseTo(1, 1);
    expect(middle!.phaseMargin).toBeGreaterThan(55);
    expect(low!.crossover).toBeLessThan(middle!.crossover);
    expect(high!.crossover).toBeGreaterThan(middle!.crossover);
    expect(figures.loop!.answeredBy).toBe('voltage loop');
  });

  test('the whole circuit over a cycle of the mains: it feeds what is asked, draws what the angles say, and comes back as slowly as the slow loop', () => {
    const closed = must(closedDesign(d, at));
    const whole = wholeMains(d, at, closed);
    const { cycle } = must(whole.settled());
    const g = cycleIntegrals(cycle);
    expect(measure(g, (p) => p.voltage('out')).mean / 400).toBeCloseTo(1, 6);
    // C1 sags within a period by the ripple that it is sized for, 20 V of 300, which the angles leave out: less of it in critical conduction, which draws half as much at once.
    for (const id of ['L1', 'D1']) expect(Math.abs(measure(g, (p) => p.current(id)).rms / figures.duties[id]!.rms - 1)).toBeLessThan(method === CRITICAL ? 0.005 : 0.02);
    // The slowest mode: its rate, by the whole and by the mean over the mains.
    const slowest = Math.log(multipliers(cycle).map((m) => m.size).sort((a, b) => b - a)[0]!) / whole.period;
    const standing = must(standAt(closed.bill, at));
    const { closed: slow } = slowLoop(d, closed.bill, standing, standing.mains!.level(), closed.loops.loops[0]!.controller as Rational);
    const rates = eigenvalues(slow.A, slow.n).map((v) => v.re).sort((a, b) => b - a);
    expect(slowest / rates[0]!).toBeCloseTo(1, 1);
    const quality = must(mainsQuality(d, at));
    // C1 leads.
    expect(quality.displacement).toBeGreaterThan(0.95);
    // A boost bends the more the nearer the crest comes to its output, where its duty is held; in critical conduction it does not.
    if (method === CRITICAL) expect(quality.distortion).toBeLessThan(0.1);
    else expect(quality.distortion).toBeGreaterThan(0.15);
  });

  test('what is burnt at each edge counts as often as it switches there, not as the brief has it', () => {
    const Q1 = d.parts.Q1 as SwitchPart;
    const gates = figures.losses.parts.find((p) => p.id === 'Q1')!.mechanisms.gate! / (Q1.gateCharge * d.drive.voltage * 20e3);
    if (method === CRITICAL) expect(gates).toBeGreaterThan(2);
    // But for the share near the zero crossing in which nothing is drawn.
    else expect(Math.abs(gates - 1)).toBeLessThan(0.05);
  });

  test('what makes no sense is told: a loop as fast as the mains, too much inductance, tuning and injecting what is not there', () => {
    expect(checkDesign({ ...d, control: { ...d.control, crossover: 200 } })).toMatchObject([{ where: 'control.crossover' }]);
    expect(tuneMains(d, at)).toMatchObject({ ok: false, problem: { where: 'control.method' } });
    expect(injectedLoop(d, at, [8])).toMatchObject({ ok: false, problem: { where: 'control.method' } });
    if (method === HELD_DUTY) expect(evaluate(change(d, { 'parts.L1.inductance': 5e-3 }), at)).toMatchObject({ ok: false, problem: { code: 'conduction', where: 'parts.L1.inductance' } });
  });
});
