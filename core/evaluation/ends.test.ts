import fc from 'fast-check';
import { bareDemo, change, must } from '../../demo/open';
import { judge } from '../corners/corners';
import { requirementNamed } from '../corners/requirements';
import { editDesign, type Design } from '../design';
import { targetMask } from '../design/targetMask';
import { stepAnswer } from '../converter/step';
import { closedDesign } from './closedDesign';
import { evaluate } from './index';
import { maskAt } from './impedance';

/** What is asked of a loop besides its margins: its reference followed, its impedances, its gain at low frequencies. */

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 6, air: 40 };
const figures = (d: Design) => must(evaluate(d, point, { detail: true }));

describe('a step of the reference', () => {
  test('ends where it shall, and goes further beyond the less margin there is', () => {
    const found = [70, 50, 35].map((margin) => figures(change(rail, { 'control.phaseMargin': margin, 'control.rounded': false })).loop!.reference!);
    for (const { change: by, rise, settles } of found) {
      expect(by).toBeCloseTo(0.02 * 24, 9);
      expect(rise).toBeGreaterThan(0);
      expect(settles).toBeGreaterThan(rise);
    }
    expect(found[0]!.overshoot).toBeLessThan(found[1]!.overshoot);
    expect(found[1]!.overshoot).toBeLessThan(found[2]!.overshoot);
  });
  test('is what the circuit does when it is run on with its reference moved', () => {
    const d = change(rail, { 'control.rounded': false });
    const closed = must(closedDesign(d, { ...point, air: 25 }));
    const own = stepAnswer(closed.machine, closed.cycle, { source: 'reference', from: 24, to: 24 * 1.02 }, (p) => p.voltage('out'), 3e-4, () => undefined, 'in time')!;
    const { time, value } = must(evaluate(d, { ...point, air: 25 }, { detail: true })).detail!.referenceStep!;
    const drawn = (t: number): number => {
      const k = time.findIndex((x) => x >= t);
      return k <= 0 ? 0 : value[k - 1]! + ((t - time[k - 1]!) / (time[k]! - time[k - 1]!)) * (value[k]! - value[k - 1]!);
    };
    // Parts a few degrees warmer and samples at other phases of the period: to 2 % of the step.
    for (const k of [4, 12, 20, 40, 60]) expect(Math.abs(own.value[k]! - drawn(own.time[k]!))).toBeLessThan(0.02 * 0.48);
  });
  test('the curve begins with nothing and ends with the step', () => {
    const { detail, loop } = figures(rail);
    const { time, value } = detail!.referenceStep!;
    expect([time[0], value[0]]).toEqual([0, 0]);
    expect(value.at(-1)! / loop!.reference!.change).toBeCloseTo(1, 1);
    expect(Math.max(...value) / loop!.reference!.change - 1).toBeCloseTo(loop!.reference!.overshoot, 9);
  });
  test('of a current drawn from the mains there is none here', () => expect(must(evaluate(bareDemo('station-charger'), { line: 230, load: 1, air: 40 }, { detail: true })).loop!.reference).toBeUndefined());
});

describe('the input impedance', () => {
  test('at low frequencies a converter that holds its output is a negative resistance of V²/P (Middlebrook 1976)', () => {
    for (const name of ['cabin-lighting-rail', 'sensor-supply', 'door-motor']) {
      // A filter's capacitors would stand beside it.
      const d = bareDemo(name);
      const at = { line: d.brief.line.max, load: d.brief.load.max, air: 25 };
      const f = must(evaluate(d, at, { detail: true }));
      const { gain, phase } = f.detail!.bode!.inputImpedance!;
      // To what is stored inside, which turns it a little there already, and to what its own losses leave: they go with the line, and are no part of a constant power.
      expect(10 ** (gain[0]! / 20) / (at.line ** 2 / f.losses.input)).toBeGreaterThan(0.9);
      expect(10 ** (gain[0]! / 20) / (at.line ** 2 / f.losses.input)).toBeLessThan(1.15);
      expect(Math.abs(Math.abs(phase[0]!) - 180)).toBeLessThan(10);
    }
  });
});

describe('a mask of the output impedance', () => {
  const mask: [number, number][] = [[100, 0.05], [10e3, 0.05], [100e3, 0.5]];
  const masked = change(rail, { 'brief.impedanceMask': mask, 'requirements.impedance.on': true });

  test('stands straight between its points over the logarithms of both', () => {
    expect(maskAt(mask, 100)).toBeCloseTo(0.05, 12);
    expect(maskAt(mask, 1e3)).toBeCloseTo(0.05, 12);
    expect(maskAt(mask, Math.sqrt(10e3 * 100e3))).toBeCloseTo(Math.sqrt(0.05 * 0.5), 12);
    expect(maskAt(mask, 100e3)).toBeCloseTo(0.5, 12);
  });
  test('its share is the largest that the drawn curve has of it, and more where that lies between points', () => {
    const { loop, detail } = figures(masked);
    const { frequency, gain } = detail!.bode!.outputImpedance!;
    const drawn = Math.max(...frequency.flatMap((f, k) => (f >= 100 && f <= 100e3 ? [10 ** (gain[k]! / 20) / maskAt(mask, f)] : [])));
    expect(loop!.impedance!.share / drawn).toBeGreaterThan(1 - 1e-6);
    expect(loop!.impedance!.share / drawn).toBeLessThan(1.02);
    expect(loop!.impedance!.impedance).toBeCloseTo(loop!.impedance!.share * maskAt(mask, loop!.impedance!.at), 12);
  });
  test('half of it is twice the share; with no curves asked for it is the same', () => {
    const half = change(rail, { 'brief.impedanceMask': mask.map(([f, z]) => [f, z / 2]) });
    expect(figures(half).loop!.impedance!.share / figures(masked).loop!.impedance!.share).toBeCloseTo(2, 6);
    expect(must(evaluate(masked, point)).loop!.impedance!.share / figures(masked).loop!.impedance!.share).toBeCloseTo(1, 6);
  });
  test('to begin with it is the deviation allowed over the load step, 425 mV over 4 A', () => {
    const target = targetMask(rail);
    expect(target.map(([, z]) => z)).toEqual([0.11, 0.11]);
    expect(target[0]![0]).toBeLessThan(rail.control.crossover);
    expect(target[1]![0]).toBeGreaterThan(rail.control.crossover);
    expect(editDesign(rail, { 'brief.impedanceMask': target }).ok).toBe(true);
  });
  test('it is a requirement, held where it is asked for', () => {
    const share = figures(masked).loop!.impedance!.share;
    const standing = (d: Design) => judge(d, point).requirements.find((r) => r.id === 'impedance');
    expect(standing(masked)!.value).toBeCloseTo(share, 9);
    expect(standing(masked)!.holds).toBe(share <= 1);
    expect(standing(change(masked, { 'requirements.impedance.limit': share * 0.99 }))!.holds).toBe(false);
    expect(standing(rail)).toBeUndefined();
  });
  test.each([
    ['not rising', [[1e3, 1], [1e3, 2]], /do not rise/],
    ['beyond half the switching frequency', [[1e3, 1], [500e3, 2]], /above half the switching frequency/],
    ['one point', [[1e3, 1]], /./],
    ['nothing of an ohm', [[1e3, 0], [2e3, 1]], /./],
  ])('%s is refused by its field', (_, points, said) => {
    const edited = editDesign(rail, { 'brief.impedanceMask': points });
    expect(edited.ok ? '' : edited.problem.where).toContain('brief.impedanceMask');
    expect(edited.ok ? '' : edited.problem.message).toMatch(said);
  });
});

describe('the gain at low frequencies', () => {
  test('is that at the frequency named, where the gain falls all the way; a dip below it counts', () => {
    fc.assert(
      fc.property(fc.double({ min: 2, max: 3.6, noNaN: true }).map((e) => 10 ** e), (upTo) => {
        const d = change(rail, { 'brief.gainUpTo': upTo });
        const { loop, detail } = figures(d);
        const { frequency, gain } = detail!.bode!.loop;
        const least = Math.min(...frequency.flatMap((f, k) => (f <= upTo ? [gain[k]!] : [])));
        expect(loop!.lowGain!.gain).toBeLessThanOrEqual(least + 1e-9);
        expect(loop!.lowGain!.gain).toBeGreaterThan(least - 3);
        expect(loop!.lowGain!.at).toBeLessThanOrEqual(upTo * (1 + 1e-9));
        expect(must(evaluate(d, point)).loop!.lowGain!.gain).toBeCloseTo(loop!.lowGain!.gain, 6);
      }),
      { numRuns: 8 },
    );
  });
  test('it is a requirement in dB', () => {
    const d = change(rail, { 'brief.gainUpTo': 1e3, 'requirements.lowGain': { limit: 200, on: true } });
    expect(judge(d, point).requirements.find((r) => r.id === 'lowGain')).toMatchObject({ holds: false, limit: 200 });
    expect(requirementNamed('lowGain').direction).toBe('at least');
  });
});
