import { bareDemo, change, must } from '../../demo/open';
import type { Design } from '../design';
import { add, decibels, degrees, over, phase, size, times, type Complex } from '../linear/complex';
import { injectedLoopGain, loopAt } from '../response/injectionPoint';
import type { OperatingPoint } from '../topology';
import { billOf } from './bill';
import { closeStage, type ClosedStage } from './closed';
import { compensatorsOf, loopsAround, loopsAsked, placementPoint } from './compensator';
import { closedDesign } from './closedDesign';
import { evaluate } from './index';
import { breakAt, placesOf, type PlaceId } from './places';
import { settleStage } from './settleStage';
import { standAt } from './standing';

/** One closed converter, its loops broken at one place or another. */

const rail = bareDemo('cabin-lighting-rail');
const cascade = change(rail, { 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 4e3, 'control.rounded': false });
const peak = change(rail, { 'control.method': 'peak-current', 'control.amplifier': 'type-two', 'control.rounded': false });
const one: Complex = { re: 1, im: 0 };

const closedAt = (d: Design, point: OperatingPoint = placementPoint(d)): ClosedStage => must(closedDesign(d, point));
/** The loop gain of a closed stage at a place. */
function gainAt(closed: ClosedStage, id: PlaceId, f: readonly number[]): Complex[] {
  const { closed: own, point } = must(breakAt(closed, id));
  return loopAt(own.machine, own.cycle, point)(f);
}
const apart = (a: Complex, b: Complex): { gain: number; phase: number } => {
  const q = over(a, b);
  return { gain: Math.abs(decibels(size(q))), phase: Math.abs(degrees(phase(q))) };
};

test('one loop is one loop: behind its amplifier it has the gain that it has at the output', () => {
  const closed = closedAt(rail);
  const f = [100, 3e3, 20e3, 80e3];
  const [output, command] = [gainAt(closed, 'output', f), gainAt(closed, 'command', f)];
  output.forEach((v, k) => {
    const off = apart(command[k]!, v);
    // The amplifier's own ripple goes through the modulator at one place and not at the other: aliases, at half the switching frequency and above.
    expect(off.gain).toBeLessThan(1e-6);
    expect(off.phase).toBeLessThan(1e-5);
  });
});

describe('a cascade', () => {
  const bill = billOf(cascade);
  const stage = must(settleStage(bill, must(standAt(bill, placementPoint(cascade))).only!, () => 25));
  const [inner, outer] = must(compensatorsOf(cascade));
  const asked = loopsAsked(bill, stage.roles, cascade);
  const loops = [inner!, outer!].map(({ controller }, k) => ({ sensed: asked[k]!.sensed, controller }));
  const closed = must(closeStage(stage, loopsAround(cascade, stage, loops)));
  const alone = must(closeStage(stage, loopsAround(cascade, stage, loops.slice(0, 1))));
  const f = [200, 2e3, 4e3, 12e3, 22e3];

  test('has three places, each with what is closed around it', () => {
    expect(placesOf(closed, stage.roles).map((p) => [p.id, p.slot])).toEqual([['output', undefined], ['current', 'L1'], ['command', undefined]]);
  });
  test('broken at the command it has all loops at once: 1 + T = (1 + Ti)(1 + To), Ti with the outer still', () => {
    const Ti = gainAt(alone, 'output', f);
    const To = gainAt(closed, 'output', f);
    gainAt(closed, 'command', f).forEach((T, k) => {
      const off = apart(add(one, T), times(add(one, Ti[k]!), add(one, To[k]!)));
      // Ripple through the modulator is in all of them, in each a little otherwise.
      expect(off.gain).toBeLessThan(0.1);
      expect(off.phase).toBeLessThan(1);
    });
  });
  test('the current loop with the outer closed around it: Ti / (1 + To (1 + Ti))', () => {
    const Ti = gainAt(alone, 'output', f);
    const To = gainAt(closed, 'output', f);
    gainAt(closed, 'current', f).forEach((T, k) => {
      const off = apart(T, over(Ti[k]!, add(one, times(To[k]!, add(one, Ti[k]!)))));
      expect(off.gain).toBeLessThan(0.1);
      expect(off.phase).toBeLessThan(1);
    });
  });
  test('each is what injection in time reads there', () => {
    for (const id of ['current', 'command'] as const) {
      const { closed: own, point } = must(breakAt(closed, id));
      const found = must(injectedLoopGain(own.circuit, point, [15e3], { amplitude: 1e-3 * cascade.control.reference, near: own.cycle.state }));
      const exact = loopAt(own.machine, own.cycle, point)([found[0]!.frequency])[0]!;
      const off = apart(found[0]!.loop, exact);
      expect(off.gain).toBeLessThan(0.2);
      expect(off.phase).toBeLessThan(1.5);
    }
  });
});

test('a compared current has its place at the comparator; there injection reads what is exact', () => {
  const closed = closedAt(peak);
  const { closed: own, point } = must(breakAt(closed, 'comparator'));
  const found = must(injectedLoopGain(own.circuit, point, [12e3], { amplitude: 1e-3, near: own.cycle.state }));
  const off = apart(found[0]!.loop, loopAt(own.machine, own.cycle, point)([found[0]!.frequency])[0]!);
  expect(off.gain).toBeLessThan(0.2);
  expect(off.phase).toBeLessThan(1.5);
});

test('a place that a design does not have is refused; the figures of one that it has stand beside those of the output', () => {
  expect(breakAt(closedAt(rail), 'comparator')).toMatchObject({ ok: false, problem: { code: 'place' } });
  expect(breakAt(closedAt(rail), 'current')).toMatchObject({ ok: false, problem: { code: 'place' } });
  const point = { line: 48, load: 6, air: 40 };
  const [plain, other] = [must(evaluate(cascade, point, { detail: true })), must(evaluate(cascade, point, { detail: true, place: 'current' }))];
  expect(other.loop!.crossover).toBe(plain.loop!.crossover);
  expect([plain.loop!.place, plain.detail!.bode!.place]).toEqual([undefined, undefined]);
  expect(other.loop!.place!.id).toBe('current');
  expect(other.detail!.bode!.place!.frequency.length).toBeGreaterThan(50);
  // About the crossover of the inner the outer does little: there its gain is one as well.
  const { frequency, gain } = other.detail!.bode!.place!;
  expect(Math.abs(gain[frequency.findIndex((f) => f >= other.loop!.inner!.crossover)]!)).toBeLessThan(1);
});
