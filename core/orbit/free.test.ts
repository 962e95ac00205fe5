import { Circuit } from '../circuit/elements';
import { must } from '../../demo/open';
import { machineOf } from '../testing/circuits';
import { march } from './march';
import { restState } from '../circuit/machine';
import { settleCycle, type SettleOptions } from './settle';
import { instability, multipliers } from './stability';
import { cycleIntegrals, integrals, range } from './measure';
import { decibels, degrees, over, phase, size } from '../linear/complex';
import { SmallSignal } from '../response/exact';
import { injectTones } from '../response/inject';

/** Cycles whose period is their own: no clock, a time on that begins where something is passed. */

/** A buck by constant on-time: on for so long whenever the current of its inductor has fallen to a command. */
const buck = (more: { line?: number; onTime?: number; L?: number; esr?: number; command?: number; R?: number } = {}): Circuit =>
  Circuit.parse({
    period: 4e-6, free: true,
    elements: [
      { kind: 'voltage-source', id: 'line', a: 'in', b: '0', value: more.line ?? 24 },
      { kind: 'switch', id: 'Q1', a: 'in', b: 'sw', onResistance: 0.01, gate: 'q' },
      { kind: 'switch', id: 'Q2', a: 'sw', b: '0', onResistance: 0.01, gate: 'p' },
      { kind: 'inductor', id: 'L1', a: 'sw', b: 'out', inductance: more.L ?? 10e-6 },
      { kind: 'capacitor', id: 'C2', a: 'out', b: '0', capacitance: 100e-6, esr: more.esr ?? 5e-3 },
      { kind: 'resistor', id: 'load', a: 'out', b: '0', resistance: more.R ?? 2 },
      { kind: 'current-sense', id: 'S', a: 'sensed', b: '0', of: 'L1', gain: 1 },
      { kind: 'voltage-source', id: 'command', a: 'command', b: '0', value: more.command ?? 3 },
    ],
    modulators: [{ kind: 'constant-on-time', id: 'M', gate: 'q', complement: 'p', onTime: more.onTime ?? 1.5e-6, minOff: 2e-7, sense: ['sensed', '0'], control: ['command', '0'] }],
  });
const settled = (c: Circuit, options: SettleOptions = {}) => must(settleCycle(machineOf(c), options));

test('its period is what it takes to fall by what it rose: by hand, Ton Vline / Vout', () => {
  const cycle = settled(buck());
  const g = cycleIntegrals(cycle);
  const out = integrals(g, (p) => p.voltage('out')).mean;
  // Resistances of a hundredth take their drops: of the line and of the output alike.
  expect(cycle.period / ((1.5e-6 * 24) / (out + 0.01 * (out / 2)))).toBeCloseTo(1, 3);
  expect(range(g, (p) => p.current('L1')).min).toBeCloseTo(3, 9);
  expect(cycle.free).toBe(true);
  expect(cycle.closure).toBeLessThan(1e-9);
});

test('run on from it, the circuit comes back after just that time, and again', () => {
  const m = machineOf(buck());
  const cycle = must(settleCycle(m));
  const later = must(march(m, cycle.state, cycle.state.t + 7 * cycle.period));
  cycle.state.z.forEach((v, i) => i < m.layout.n && expect(Math.abs(later.z[i]! - v)).toBeLessThan(1e-9 * Math.max(1, Math.abs(v))));
});

test('it is where a run from rest ends, whatever period it is looked for at', () => {
  const m = machineOf(buck());
  let state = restState(m);
  state = must(march(m, state, 8e-3));
  for (const guess of [2e-6, 3e-6, 6e-6]) {
    const cycle = settled(buck(), { period: guess, near: state });
    expect(cycle.period / settled(buck()).period).toBeCloseTo(1, 9);
  }
});

test('its mean can be regulated: the command and the period are found together', () => {
  const regulate = { quantity: (p: { voltage(a: string): Float64Array }) => p.voltage('out'), target: 9, source: 'command', min: 0, max: 20, guess: 3 };
  const cycle = settled(buck(), { regulate: regulate as never });
  const g = cycleIntegrals(cycle);
  expect(integrals(g, (p) => p.voltage('out')).mean).toBeCloseTo(9, 9);
  expect(range(g, (p) => p.current('L1')).min).toBeCloseTo(cycle.setting!, 8);
  // The time on is given: of a higher output it is a larger share of a shorter period.
  expect(1.5e-6 / cycle.period).toBeCloseTo((9 + 0.01 * 4.5) / 24, 2);
});

test('the multiplier of its phase, which is one, is none of it; the others say whether it stays', () => {
  const cycle = settled(buck());
  const all = multipliers(cycle);
  expect(all.every((x) => Math.abs(x.re - 1) > 1e-3)).toBe(true);
  expect(instability(cycle)).toBeUndefined();
  // The inductor's current is where the command has it at every turn-on: nothing of a deviation is left. The capacitor goes with C and the load beside what the ripple makes of the output's share in the mean current, 2 L / Ton.
  expect(all.some((x) => x.size < 1e-6)).toBe(true);
  const R = 1 / (1 / 2 + 1.5e-6 / (2 * 10e-6));
  expect(-cycle.period / Math.log(all[0]!.size) / (R * 100e-6)).toBeCloseTo(1, 2);
});

test('one that has a clock is not free', () => {
  const clocked = Circuit.parse({ ...buck(), modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: 4e-6, on: 0, off: 0.4 }, { kind: 'timed', id: 'N', gate: 'p', period: 4e-6, on: 0.4, off: 1 }] });
  expect(settleCycle(machineOf(clocked))).toMatchObject({ ok: false, problem: { code: 'period' } });
});

describe('small signals', () => {
  test('from the command to the output, the dc gain by hand: the load beside 2 L / Ton, for the ripple shrinks as the output rises', () => {
    const m = machineOf(buck({ esr: 1e-6 }));
    const small = new SmallSignal(m, must(settleCycle(m)));
    const [low, pole] = small.respond('command', [(p) => p.voltage('out')], [1, 1 / (2 * Math.PI * 100e-6 * (1 / (1 / 2 + 0.075)))])[0]!;
    expect(size(low!) * (1 / 2 + 1.5e-6 / (2 * 10e-6))).toBeCloseTo(1, 2);
    expect(size(pole!) / size(low!)).toBeCloseTo(Math.SQRT1_2, 2);
  });
  test('are what injection in time reads', () => {
    const c = buck();
    const m = machineOf(c);
    const cycle = must(settleCycle(m));
    const out = (p: { voltage(a: string): Float64Array }): Float64Array => p.voltage('out');
    const found = must(injectTones(c, 'command', [out], [3e3, 2e4, 6e4], { amplitude: 0.01, near: cycle.state }));
    const exact = new SmallSignal(m, cycle).respond('command', [out], found.map((x) => x.frequency))[0]!;
    found.forEach((x, k) => {
      const q = over(x.outputs[0]!, exact[k]!);
      expect(Math.abs(decibels(size(q)))).toBeLessThan(0.1);
      expect(Math.abs(degrees(phase(q)))).toBeLessThan(1);
    });
  });
});
