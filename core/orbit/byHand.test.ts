import { createRequire } from 'node:module';
import { march } from './march';
import { restState } from '../circuit/machine';
import { must } from '../../demo/open';
import { boost, buck, buckBoost, machineOf, type Converter } from '../testing/circuits';

/** Converters of two states with their equations written out by hand, run from rest by a general solver: they know nothing of the engine. */

interface GeneralSolver {
  absoluteTolerance: number;
  relativeTolerance: number;
  solve(rate: (t: number, y: number[]) => number[], from: number, y: number[], to: number): { y: number[] };
}
const { Solver } = createRequire(__filename)('odex') as { Solver: new (n: number) => GeneralSolver };

/** Heavily loaded, so that the current never rests from the beginning on: R is below what the filter would ring with. */
const common: Converter = { line: 20, L: 20e-6, C: 20e-6, R: 0.4, T: 10e-6, D: 0.45, r: 0.02, drop: 0.7 };
const { line, L, C, R, T, D } = common;
const [r, drop] = [common.r!, common.drop!];
/** V at the output of what flows into capacitor (with r in series) and load: v = (vc + r i) R / (R + r). */
const out = (vc: number, i: number): number => ((vc + r * i) * R) / (R + r);
const charging = (vc: number, i: number): number => (i - out(vc, i) / R) / C;

type Rates = (i: number, vc: number) => [di: number, dv: number];
const WAYS: [string, ReturnType<typeof buck>, { on: Rates; off: Rates }][] = [
  ['buck', buck(common), { on: (i, v) => [(line - r * i - out(v, i)) / L, charging(v, i)], off: (i, v) => [(-drop - r * i - out(v, i)) / L, charging(v, i)] }],
  ['boost', boost(common), { on: (i, v) => [(line - r * i) / L, charging(v, 0)], off: (i, v) => [(line - drop - r * i - out(v, i)) / L, charging(v, i)] }],
  // The output is negative: the diode draws its current out of it.
  ['inverting', buckBoost(common), { on: (i, v) => [(line - r * i) / L, charging(v, 0)], off: (i, v) => [(out(v, -i) - drop - r * i) / L, charging(v, -i)] }],
];

test.each(WAYS)('%s: from rest through sixty periods, as a general solver has it, to a millionth', (_, circuit, { on, off }) => {
  const machine = machineOf(circuit);
  let state = restState(machine);
  const solver = new Solver(2);
  [solver.absoluteTolerance, solver.relativeTolerance] = [1e-12, 1e-12];
  let y = [0, 0];
  const [iL, vC] = ['L', 'C'].map((id) => machine.layout.column.get(id)!);
  for (let k = 0; k < 60; k++) {
    y = solver.solve((_t, [i, v]) => on(i!, v!), 0, y, D * T).y;
    y = solver.solve((_t, [i, v]) => off(i!, v!), 0, y, (1 - D) * T).y;
    // Never at rest, or the diode would have let go.
    expect(y[0]!).toBeGreaterThan(0);
    state = must(march(machine, state, (k + 1) * T));
    // Leakages of 1e-7 S in the switches are in the circuit and not in the equations.
    expect(Math.abs(state.z[iL!]! - y[0]!)).toBeLessThan(1e-6 * Math.max(1, Math.abs(y[0]!)) + 3e-6);
    expect(Math.abs(state.z[vC!]! - y[1]!)).toBeLessThan(1e-6 * Math.max(1, Math.abs(y[1]!)) + 3e-6);
  }
  expect(Math.abs(y[1]!)).toBeGreaterThan(1);
});
