import { readdirSync, readFileSync } from 'node:fs';
import { buildMachine, type Machine, type Prepared } from '../core/circuit/machine';
import type { Circuit } from '../core/circuit/elements';
import { readCircuit } from '../core/interchange/circuitFile';
import { decibels, degrees, type Complex } from '../core/linear/complex';
import { gauge, meanProduct, measure } from '../core/orbit/measure';
import { settleCycle, type SettledCycle } from '../core/orbit/settle';
import { SmallSignal } from '../core/response/exact';
import { evaluate, readDesign } from '../core/design';

const folder = 'demo/circuits/';
const open = (name: string): Circuit => {
  const read = readCircuit(readFileSync(folder + name, 'utf8'));
  if (!read.ok) throw new Error(`${read.problem.where}: ${read.problem.message}`);
  return read.value;
};
const solve = (c: Circuit): { m: Machine; cycle: SettledCycle } => {
  const m = buildMachine(c);
  if (!m.ok) throw new Error(m.problem.message);
  const cycle = settleCycle(m.value);
  if (!cycle.ok) throw new Error(cycle.problem.message);
  return { m: m.value, cycle: cycle.value };
};

describe('every example circuit, settled', () => {
  test.each(readdirSync(folder))('%s: closes, keeps charge, flux and energy', (name) => {
    const circuit = open(name);
    const { cycle } = solve(circuit);
    expect(cycle.closure).toBeLessThan(1e-7);
    const g = gauge(cycle);
    let input = 0;
    let burnt = 0;
    for (const e of circuit.elements) {
      if (!('a' in e)) continue;
      const across = (p: { voltage(a: string, b?: string): Float64Array }): Float64Array => p.voltage(e.a, e.b);
      const through = (p: { current(id: string): Float64Array }): Float64Array => p.current(e.id);
      const scale = measure(g, across).rms + measure(g, through).rms + 1e-6;
      if (e.kind === 'inductor') expect(Math.abs(measure(g, across).mean)).toBeLessThan(1e-6 * scale);
      if (e.kind === 'capacitor') expect(Math.abs(measure(g, through).mean)).toBeLessThan(1e-6 * scale);
      const power = meanProduct(g, across, through);
      if (e.kind === 'resistor' || e.kind === 'diode' || e.kind === 'switch') burnt += power;
      // Series resistance of a capacitor by its own current, so that this is no identity of Kirchhoff's laws.
      else if (e.kind === 'capacitor') burnt += measure(g, through).rms ** 2 * e.esr;
      else if (e.kind !== 'inductor') input -= power;
    }
    expect(Math.abs(input - burnt)).toBeLessThan(1e-6 * Math.abs(input));
  });
});

test('conversion ratios of the examples by hand, within their drops', () => {
  const mean = (name: string, node: string): number => measure(gauge(solve(open(name)).cycle), (p) => p.voltage(node)).mean;
  expect(mean('boost.json', 'out') / (24 / 0.55)).toBeCloseTo(1, 1);
  expect(mean('cuk.json', 'out') / (-24 * (0.4 / 0.6))).toBeCloseTo(1, 1);
  expect(mean('sepic.json', 'out') / (18 * (0.45 / 0.55))).toBeCloseTo(1, 0);
  expect(mean('sepic-coupled.json', 'out') / mean('sepic.json', 'out')).toBeCloseTo(1, 1);
  expect(mean('forward-two-switch.json', 'out') / (110 * 0.6 * 0.42)).toBeCloseTo(1, 1);
  expect(mean('buck-three-phase.json', 'out') / (12 * 0.12)).toBeCloseTo(0.92, 1);
});

test('three phases a third apart: the output ripples at three times the frequency, by less than one phase', () => {
  const { cycle } = solve(open('buck-three-phase.json'));
  const g = gauge(cycle);
  const phases = ['L1', 'L2', 'L3'].map((id) => measure(g, (p) => p.current(id)));
  for (const p of phases) expect(p.mean).toBeCloseTo(phases[0]!.mean, 6);
  const sum = measure(g, (p) => p.current('L1').map((v, i) => v + p.current('L2')[i]! + p.current('L3')[i]!));
  expect(sum.peakToPeak).toBeLessThan(0.8 * phases[0]!.peakToPeak);
});

test('the lighting rail with its real network closed: its loop gain by series injection is the product’s', () => {
  const circuit = open('buck-closed-loop.json');
  const { m, cycle } = solve(circuit);
  const sides = [(p: Prepared) => p.voltage('out'), (p: Prepared) => p.voltage('fb')];
  const f = [500, 2000, 8000, 18_000];
  const [returned, sent] = new SmallSignal(m, cycle).respond('inject', sides, f);
  const read = readDesign(readFileSync('demo/cabin-lighting-rail.json', 'utf8'));
  if (!read.ok) throw new Error(read.problem.message);
  const design = evaluate(read.value, { line: 48, load: 8, air: 25 }, { detail: true });
  if (!design.ok) throw new Error(design.problem.message);
  const { loop } = design.value.detail!.bode;
  f.forEach((hz, i) => {
    const [a, b] = [returned![i]!, sent![i]!];
    const d = b.re ** 2 + b.im ** 2;
    const ratio: Complex = { re: -(a.re * b.re + a.im * b.im) / d, im: -(a.im * b.re - a.re * b.im) / d };
    const at = loop.frequency.findIndex((x) => x > hz);
    const share = Math.log(hz / loop.frequency[at - 1]!) / Math.log(loop.frequency[at]! / loop.frequency[at - 1]!);
    const expected = loop.gain[at - 1]! + share * (loop.gain[at]! - loop.gain[at - 1]!);
    // Real op-amp (10 MHz), warm against fixed resistances, and the ripple that comes back: within 1 dB and 6°.
    expect(Math.abs(decibels(Math.hypot(ratio.re, ratio.im)) - expected)).toBeLessThan(1);
    const phase = loop.phase[at - 1]! + share * (loop.phase[at]! - loop.phase[at - 1]!);
    const turn = (degrees(Math.atan2(ratio.im, ratio.re)) - phase + 540) % 360 - 180;
    expect(Math.abs(turn)).toBeLessThan(6);
  });
});

describe('circuit files that can not be used', () => {
  const text = readFileSync(`${folder}boost.json`, 'utf8');
  test.each([
    ['not JSON', 'boost', 'json', ''],
    ['another kind', '{"kind":"jump-reed design"}', 'kind', 'kind'],
    ['a negative inductance', text.replace('"33 µH"', '-1'), 'value', 'L1.inductance'],
    ['an inductance in volts', text.replace('"33 µH"', '"33 V"'), 'dimension', 'L1.inductance'],
    ['an unknown field', text.replace('"id": "L1"', '"id": "L1", "colour": 1'), 'value', 'L1'],
    ['a hundred thousand elements', JSON.stringify({ kind: 'jump-reed circuit', elements: Array.from({ length: 100_000 }, (_, i) => ({ kind: 'resistor', id: `R${i}`, a: 'a', b: '0', resistance: 1 })) }), 'size', 'elements'],
  ])('%s', (_, content, code, where) => {
    const read = readCircuit(content);
    expect(read.ok ? undefined : [read.problem.code, read.problem.where]).toEqual([code, where]);
  });
});
