import fc from 'fast-check';
import { must } from '../../../demo/open';
import type { Circuit, Element } from '../../circuit/elements';
import { buildMachine } from '../../circuit/machine';
import { add, degrees, over, phase, radians, scale, size, times, turn, type Complex } from '../../linear/complex';
import { settleCycle } from '../../orbit/settle';
import { SmallSignal } from '../../response/exact';
import { valueAt } from '../rational';
import type { Amplifier, Control } from '../types';
import { AMPLIFIERS, transferOf } from './index';
import { heldBy } from './network';
import { gainsOf, symmetricalOptimum } from './pi';

const control = (changes: Partial<Control> = {}): Control => ({ method: 'voltage', amplifier: '', crossover: 1e4, phaseMargin: 60, ramp: 1, delay: 0, reference: 2.5, rounded: false, inputResistor: 10e3, transconductance: 1e-3, openLoopGain: null, gainBandwidth: null, ...changes }) as Control;
const held = { output: 12, reference: 2.5 };
const double = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });

/** Gain and phase of plants with right-half-plane zeros, delay and resonances, each by its formula at jω. */
interface Plant {
  gain: number;
  f0: number;
  Q: number;
  right: number;
  delay: number;
  esr: number;
}
const anyPlant: fc.Arbitrary<Plant> = fc.record({ gain: double(0.1, 100), f0: double(200, 5e4), Q: double(0.3, 20), right: double(2e4, 1e7), delay: double(0, 1e-5), esr: double(2e3, 1e7) });
function plantAt(p: Plant, f: number): Complex {
  const zero = times({ re: 1, im: -f / p.right }, { re: 1, im: f / p.esr });
  const double = { re: 1 - (f / p.f0) ** 2, im: f / (p.f0 * p.Q) };
  return times(scale(over(zero, double), p.gain), turn(-2 * Math.PI * f * p.delay));
}

/** What each lifts at most, in degrees. */
const LIFTS: Record<string, number> = { 'type-one': 0, 'type-two': 85, transconductance: 85, pi: 88, 'type-three': 175, pid: 170 };
/** Degrees that it lifts at least; what is asked below has more margin than asked. */
const AT_LEAST: Record<string, number> = { 'type-one': 0, 'type-two': 0, transconductance: 0, pi: 5, 'type-three': 0, pid: 5 };

describe.each(AMPLIFIERS.filter((a) => a.id in LIFTS).map((a): [string, Amplifier] => [a.id, a]))('%s', (id, a) => {
  test('on 300 plants with right-half-plane zeros, delay and resonances: the crossover within 1 %, the margin within 0.5°, or why not', () => {
    fc.assert(
      fc.property(anyPlant, double(200, 2e5), double(30, 75), (p, crossover, phaseMargin) => {
        const plant = plantAt(p, crossover);
        let lag = degrees(phase(plant));
        if (lag > 0) lag -= 360;
        const boost = phaseMargin - lag - 90;
        const placed = a.place(plant, control({ crossover, phaseMargin }));
        if (!placed.ok) {
          expect([placed.problem.code, placed.problem.where]).toEqual(['boost', 'control.crossover']);
          expect(boost).toBeGreaterThanOrEqual(LIFTS[id]!);
          return;
        }
        const at = (f: number): Complex => times(plantAt(p, f), valueAt(a.transfer(placed.value), f));
        expect(size(at(crossover))).toBeCloseTo(1, 8);
        let margin = 180 + degrees(phase(at(crossover)));
        margin -= 360 * Math.round((margin - phaseMargin) / 360);
        if (boost > AT_LEAST[id]! && LIFTS[id]! > 0) expect(Math.abs(margin - phaseMargin)).toBeLessThan(1e-6);
        else expect(margin).toBeGreaterThan(phaseMargin - 0.5 - 1e-6);
      }),
      { numRuns: 300 },
    );
  });

  test('the network without rounding has the corners asked for, and divides the output to the reference', () => {
    fc.assert(
      fc.property(anyPlant, double(500, 5e4), (p, crossover) => {
        const placed = a.place(plantAt(p, crossover), control({ crossover }));
        fc.pre(placed.ok);
        const { built, network } = must(a.build(must(placed), control({ crossover }), held));
        for (const [key, f] of Object.entries(must(placed))) expect(built[key]! / f).toBeCloseTo(1, 9);
        const { upper, lower } = network.divider;
        expect((held.output * lower) / (upper + lower)).toBeCloseTo(held.reference, 9);
      expect(heldBy(network.divider, held.reference)).toBeCloseTo(held.output, 9);
        for (const part of network.parts) expect(part.value).toBeGreaterThan(0);
      }),
    );
  });

  test('rounded, it keeps gain and phase at the crossover to a few percent and degrees', () => {
    fc.assert(
      fc.property(anyPlant, double(500, 5e4), (p, crossover) => {
        const placed = a.place(plantAt(p, crossover), control({ crossover }));
        fc.pre(placed.ok);
        const { built } = must(a.build(must(placed), control({ crossover, rounded: true }), held));
        const off = over(valueAt(a.transfer(built), crossover), valueAt(a.transfer(must(placed)), crossover));
        // E12 steps by a fifth: what one capacitor is off by, zeros and gain are at most.
        expect(Math.abs(Math.log(size(off)))).toBeLessThan(0.12);
        expect(Math.abs(degrees(phase(off)))).toBeLessThan(7);
      }),
    );
  });
});

describe('what an op-amp lacks', () => {
  /** The network of an amplifier around an op-amp, as elements; the response of its output to the input, by the engine. */
  function byCircuit(parts: Record<string, number>, gain: number, gainBandwidth: number, f: number): Complex {
    const R = (id: string, x: string, y: string): Element => ({ kind: 'resistor', id, a: x, b: y, resistance: parts[id]! });
    const C = (id: string, x: string, y: string): Element => ({ kind: 'capacitor', id, a: x, b: y, capacitance: parts[id]!, esr: 0 });
    const circuit: Circuit = {
      kind: 'jump-reed circuit', version: 1, name: '', period: 1e-5, modulators: [],
      elements: [
        { kind: 'voltage-source', id: 'in', a: 'in', b: '0', value: 1 },
        R('R1', 'in', 'minus'),
        R('lower', 'minus', '0'),
        ...(parts.R3 === undefined ? [] : [R('R3', 'in', 'm3'), C('C3', 'm3', 'minus')]),
        ...(parts.R2 === undefined ? [C('C1', 'minus', 'out')] : [R('R2', 'minus', 'm2'), C('C1', 'm2', 'out')]),
        ...(parts.C2 === undefined ? [] : [C('C2', 'minus', 'out')]),
        { kind: 'op-amp', id: 'amplifier', a: 'out', b: '0', plus: '0', minus: 'minus', gain, bandwidth: gainBandwidth / gain },
      ],
    };
    const machine = must(buildMachine(circuit));
    const cycle = must(settleCycle(machine));
    return scale(new SmallSignal(machine, cycle).respond('in', [(p) => p.voltage('out')], [f])[0]![0]!, -1);
  }

  test.each(AMPLIFIERS.filter((a) => a.real && 'gainBandwidth' in a.settings).map((a): [string, Amplifier] => [a.id, a]))('%s: as the circuit of network and op-amp answers', (_, a) => {
    const c = control({ crossover: 3e4, openLoopGain: 70, gainBandwidth: 1e6 });
    // A plant that lags by 60°, less than any of them can not serve.
    const placed = must(a.place(scale(turn(radians(-25)), 0.5), { ...c, phaseMargin: 60 }));
    const { built, network } = must(a.build(placed, c, held));
    const parts = Object.fromEntries(network.parts.map((p) => [p.id, p.value]));
    const real = transferOf(a, built, network, c);
    for (const f of [10, 1e3, 3e4, 4e5]) {
      const off = over(valueAt(real, f), byCircuit(parts, 10 ** (70 / 20), 1e6, f));
      expect(size(add(off, { re: -1, im: 0 }))).toBeLessThan(1e-6);
    }
    // Its gain ends at dc, times what the divider leaves: 70 dB less 13.6 dB.
    expect(20 * Math.log10(size(valueAt(real, 1e-3)))).toBeCloseTo(70 + 20 * Math.log10(2.5 / 12), 3);
    expect(transferOf(a, built, network, control())).toEqual(a.transfer(built));
  });
});

describe('worked figures', () => {
  test('the K factor, tabulated: type II lifts 60° by K = 3.73, type III 120° by K = 13.9 (Powercon 10, 1983)', () => {
    const two = must(AMPLIFIERS.find((a) => a.id === 'type-two')!.place(turn(radians(-90)), control({ phaseMargin: 60 })));
    expect(1e4 / two.zero1!).toBeCloseTo(3.732, 3);
    expect(two.pole1! / 1e4).toBeCloseTo(3.732, 3);
    const three = must(AMPLIFIERS.find((a) => a.id === 'type-three')!.place(turn(radians(-150)), control({ phaseMargin: 60 })));
    expect(three.pole1! / three.zero1!).toBeCloseTo(13.93, 2);
  });

  test('symmetrical optimum (Kessler 1958; Leonhard, ch. 7): a = 2 gives 36.9° at 1/(2 Tσ), kp = T1/(2 k Tσ), Tn = 4 Tσ', () => {
    const so = symmetricalOptimum(5, 0.2, 1e-3);
    const { kp, ki } = gainsOf(so);
    expect([kp, kp / ki]).toEqual([expect.closeTo(20, 9), expect.closeTo(4e-3, 12)]);
    expect(so.phaseMargin).toBeCloseTo(36.87, 2);
    // On the plant itself: gain of one and that margin at the crossover.
    const jw = { re: 0, im: 2 * Math.PI * so.crossover };
    const plant = over({ re: 5, im: 0 }, times(scale(jw, 0.2), { re: 1, im: jw.im * 1e-3 }));
    const loop = times(plant, over(add(scale(jw, kp), { re: ki, im: 0 }), jw));
    expect(size(loop)).toBeCloseTo(1, 9);
    expect(180 + degrees(phase(loop)) - 360 * Math.round((180 + degrees(phase(loop)) - 37) / 360)).toBeCloseTo(so.phaseMargin, 7);
  });

  test('a PI by bandwidth and margin on R + sL: at fc the plant lags 45° where fc = R/2πL, and 75° want a zero at fc/√3', () => {
    const [R, L] = [2, 1e-3];
    const fc0 = R / (2 * Math.PI * L);
    const plant = over({ re: 1, im: 0 }, { re: R, im: R });
    const { integrator, zero1 } = must(AMPLIFIERS.find((a) => a.id === 'pi')!.place(plant, control({ crossover: fc0, phaseMargin: 75 })));
    // boost = 75° + 45° − 90° = 30°: fz = fc / tan 30°
    expect(zero1! / fc0).toBeCloseTo(Math.sqrt(3), 9);
    // |C| = |R + jR|: kp √(1 + 3) = 2 √2
    expect(gainsOf({ integrator: integrator!, zero1: zero1! }).kp).toBeCloseTo(Math.SQRT2, 9);
  });
});
