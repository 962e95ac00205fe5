import { Circuit } from './elements';
import { islandsOf } from './islands';
import { layoutOf } from './layout';
import { buildPattern } from './pattern';

/** Where voltages can move with nothing but inductors, sources of current and leakages to mind, and the current that leaves. */

const LOW = 1e-4;
const circuit = (...elements: object[]): Circuit => Circuit.parse({ elements: [{ kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 }, ...elements], modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: 1e-5, on: 0, off: 0.5 }] });
/** Rows of the islands by name of their columns, nothing left out. */
const rows = (c: Circuit, on: string[] = []): Record<string, number>[] => {
  const layout = layoutOf(c);
  const names = [...layout.column.keys()];
  return islandsOf(c, (id) => (on.includes(id) ? 1 : 0), layout, LOW).map(({ row }) => Object.fromEntries(names.flatMap((name, k) => (Math.abs(row[k]!) > 1e-12 ? [[name, row[k]!]] : []))));
};
const Q = { kind: 'switch', id: 'Q', a: 'x', b: '0', onResistance: 0.01, gate: 'q' };
const L = (id: string, a: string, b: string): object => ({ kind: 'inductor', id, a, b, inductance: 1e-5 });

describe('islands', () => {
  test('of two the one that is fast enough is eliminated, in whichever order they stand; the slow one is kept', () => {
    const quick = [L('L1', 'in', 'x'), { ...Q, offConductance: 1e-9 }];
    // 1 H on 50 µS: dies within 50 µs, ten periods.
    const slow = [{ ...L('L2', 'in', 'y'), inductance: 1 }, { ...Q, id: 'S', a: 'y', offConductance: 5e-5 }];
    const between = { kind: 'inductor', id: 'L3', a: 'x', b: 'y', inductance: 1 };
    for (const c of [circuit(...quick, ...slow), circuit(...slow, ...quick), circuit(...quick, between, ...slow), circuit(...slow, between, ...quick)]) {
      const built = buildPattern(c, new Map(), layoutOf(c), 1e-5);
      if (!built.ok) throw new Error(built.problem.message);
      const { off } = built.value.entry!;
      expect(off).toHaveLength(1);
      expect(Math.abs(off[0]![layoutOf(c).column.get('L1')!]!)).toBeCloseTo(1, 9);
    }
  });
  test('a node between an inductor and an open switch: its current is what leaves; held by the switch, there is none', () => {
    const c = circuit(L('L', 'in', 'x'), Q);
    expect(rows(c)).toEqual([{ L: -1 }]);
    expect(rows(c, ['Q'])).toEqual([]);
  });
  test('two inductors in series on a leakage: what they differ by', () => {
    const c = circuit(L('L1', 'in', 'x'), L('L2', 'x', 'y'), { kind: 'resistor', id: 'R', a: 'y', b: '0', resistance: 1 }, Q);
    expect(rows(c)).toEqual([{ L1: -1, L2: 1 }]);
  });
  test('a source of current counts as an inductor does', () => {
    const c = circuit(L('L', 'in', 'x'), { kind: 'current-source', id: 'I', a: 'x', b: '0', value: 1 }, Q);
    expect(rows(c)).toEqual([{ L: -1, I: 1 }]);
  });

  /** A leakage inductance before a core of n1 : n2, whose other winding feeds a diode. */
  const coupled = (n1: number, n2: number): Circuit =>
    circuit(
      L('leak', 'in', 'p'), L('core', 'p', 'x'), { kind: 'transformer', id: 'T', windings: [{ a: 'p', b: 'x', turns: n1 }, { a: 's', b: '0', turns: n2 }] }, { ...Q },
      { kind: 'diode', id: 'D', a: 's', b: 'out', drop: 0.5, onResistance: 0.01 }, { kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: 10 },
    );
  test.each([[16, 6], [1, 1], [3, 50]])('a core of %d : %d turns whose diode is open moves as one: leakage and core carry the same', (n1, n2) => {
    // The switch holds x; p moves, and s with it by the turns, which costs nothing.
    expect(rows(coupled(n1, n2), ['Q'])).toEqual([{ leak: -1, core: 1 }]);
  });
  test('with its diode conducting the winding is held by the load', () => {
    expect(rows(coupled(16, 6), ['Q', 'D'])).toEqual([]);
    // With the switch open as well, only both its ends together can move: all that comes in by the leakage.
    expect(rows(coupled(16, 6), ['D'])).toEqual([{ leak: -1 }]);
  });
});
