import { must } from '../../demo/open';
import { Circuit } from '../circuit/elements';
import { buildMachine } from '../circuit/machine';
import { cycleIntegrals } from '../orbit/measure';
import { settleCycle } from '../orbit/settle';
import { givesWayTo, type GivesWay } from './handOver';

/** Who hands over to a switch that turns on: seen in the cycle, with no topology to say it. */

/** What gives way to a switch where it turns on; the elements named stand for slots of their own names. */
function toSwitch(id: string, slots: string[], elements: object[], modulators: object[]): GivesWay[] {
  const circuit = Circuit.parse({ elements, modulators });
  const machine = must(buildMachine(circuit));
  const cycle = must(settleCycle(machine));
  const { intervals } = cycle;
  const k = intervals.findIndex((s, i) => s.pattern.on.has(id) && !intervals[(i + intervals.length - 1) % intervals.length]!.pattern.on.has(id));
  const roles = { parts: Object.fromEntries(slots.map((slot) => [slot, { elements: [slot] }])) };
  return givesWayTo({ circuit, machine, roles, cycle, cycleIntegrals: cycleIntegrals(cycle) }, id, k);
}

const Q = (id: string, a: string, b: string): object => ({ kind: 'switch', id, a, b, onResistance: 1e-3, offConductance: 1e-8, gate: id });
const D = (id: string, a: string, b: string): object => ({ kind: 'diode', id, a, b, drop: 0.5, onResistance: 1e-3, offConductance: 1e-8 });
const L = (id: string, a: string, b: string, inductance = 10e-6): object => ({ kind: 'inductor', id, a, b, inductance });
const V = (volts: number): object => ({ kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: volts });
const C = { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: 100e-6, esr: 1e-3 };
const R = (ohms: number): object => ({ kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: ohms });
/** From `on` for half of the period or another share. */
const gate = (id: string, on: number, share = 0.5): object => ({ kind: 'timed', id: `M ${id}`, gate: id, period: 1e-5, on, off: on + share });

test('of two legs that switch at the very same moment, each has its own partner', () => {
  const legs = [Q('Q1', 'in', 'x'), Q('Q2', 'x', '0'), Q('Q3', 'in', 'y'), Q('Q4', 'y', '0'), L('L1', 'x', 'out'), L('L2', 'y', 'out')];
  const clocks = [gate('Q1', 0), gate('Q2', 0.5), gate('Q3', 0.5), gate('Q4', 0)];
  const slots = ['Q1', 'Q2', 'Q3', 'Q4'];
  const [first, ...more] = toSwitch('Q1', slots, [V(48), ...legs, C, R(2)], clocks);
  expect(more).toEqual([]);
  expect(first!.slot).toBe('Q2');
  expect(first!.from).toBe(0);
  // 24 V on 2 Ω, half in each leg: at the edge the current of its inductor stands at the valley, 6 − 48/4 · 5 µs / 10 µH.
  expect(first!.to).toBeCloseTo(48, 1);
  expect(first!.carried).toBeCloseTo(6 - (24 * 5e-6) / 10e-6 / 2, 1);
  expect(toSwitch('Q3', slots, [V(48), ...legs, C, R(2)], clocks).map((g) => g.slot)).toEqual(['Q4']);
});

test('in discontinuous conduction the diode has nothing to hand over, and blocks more from then on', () => {
  const [d] = toSwitch('Q1', ['Q1', 'D1'], [V(48), Q('Q1', 'in', 'x'), D('D1', '0', 'x'), L('L1', 'x', 'out'), C, R(200)], [gate('Q1', 0, 0.2)]);
  expect(d).toMatchObject({ slot: 'D1', carried: 0 });
  // The node rests at the output's voltage.
  expect(d!.from).toBeGreaterThan(10);
  expect(d!.to).toBeCloseTo(48, 1);
});

/** A forward stage of 2 : 1 whose free-wheeling diode carries the inductor's current while the switch is open; with a leakage, or none. */
const forward = (leakage: object[], from: string): object[] => [
  V(48), Q('Q1', 'p', '0'), L('Lm', from, 'p', 1e-3), ...leakage,
  { kind: 'transformer', id: 'T', windings: [{ a: from, b: 'p', turns: 2 }, { a: 's', b: '0', turns: 1 }] },
  D('D1', 's', 'x'), D('D2', '0', 'x'), D('D3', 'p', 'c'), { kind: 'voltage-source', id: 'Vc', a: 'c', b: '0', value: 120 }, { kind: 'resistor', id: 'Rs', a: 's', b: '0', resistance: 1e4 }, L('L1', 'x', 'out'), C, R(1),
];

test('through a winding: the diode that lets go, with its own current and its own voltage', () => {
  const way = toSwitch('Q1', ['Q1', 'D1', 'D2'], forward([], 'in'), [gate('Q1', 0, 0.3)]);
  const d = way.find((g) => g.slot === 'D2')!;
  expect(d.from).toBe(0);
  // Half of the line, less the drop of the other diode; the inductor's current before the edge.
  expect(d.to).toBeGreaterThan(23);
  expect(d.to).toBeLessThan(24);
  expect(d.carried).toBeGreaterThan(1);
});

test('two switches in series that turn on together share what gives way to them', () => {
  const stage = [V(48), Q('Q1', 'in', 'y'), Q('Q2', 'y', 'x'), { kind: 'resistor', id: 'Ra', a: 'in', b: 'y', resistance: 1e6 }, { kind: 'resistor', id: 'Rb', a: 'y', b: 'x', resistance: 1e6 }, D('D1', '0', 'x'), L('L1', 'x', 'out'), C, R(2)];
  for (const id of ['Q1', 'Q2']) expect(toSwitch(id, ['Q1', 'Q2', 'D1'], stage, [gate('Q1', 0), gate('Q2', 0)])).toEqual([expect.objectContaining({ slot: 'D1', share: 0.5 })]);
});

test('behind a leakage it lets go later and by itself', () => {
  const leak = [L('Lk', 'in', 'k', 1e-6), { kind: 'resistor', id: 'Rk', a: 'in', b: 'k', resistance: 200 }];
  expect(toSwitch('Q1', ['Q1', 'D1', 'D2'], forward(leak, 'k'), [gate('Q1', 0, 0.3)]).filter((g) => g.slot === 'D2')).toEqual([]);
});
