import { Circuit } from './elements';
import { z } from 'zod';
import { buildPattern, type Pattern } from './pattern';

type Loose = z.input<typeof Circuit>;
const build = (circuit: Loose, on: string[] = []): Pattern => {
  const built = buildPattern(Circuit.parse(circuit), new Map(on.map((id) => [id, 1])));
  if (!built.ok) throw new Error(built.problem.message);
  return built.value;
};

describe('patterns', () => {
  test('series R-L-C: the textbook state matrix', () => {
    const p = build({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 5 },
        { kind: 'resistor', id: 'R', a: 'in', b: 'm', resistance: 2 },
        { kind: 'inductor', id: 'L', a: 'm', b: 'out', inductance: 1e-3 },
        { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: 1e-6, esr: 0 },
      ],
    });
    expect(p.layout.states).toEqual(['L', 'C']);
    const expected = [-2 / 1e-3, -1 / 1e-3, 1 / 1e-3, 0, 1 / 1e-6, 0, 0, 0, ...Array.from({ length: 8 }, () => 0)];
    expected.forEach((v, i) => expect(p.F[i]).toBeCloseTo(v, 6));
  });

  test('a capacitor with series resistance divides with the load (Erickson, ch. 7 examples)', () => {
    const [R, r] = [8, 0.5];
    const p = build({
      elements: [
        { kind: 'current-source', id: 'I', a: '0', b: 'out', value: 1 },
        { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: 1e-5, esr: r },
        { kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: R },
      ],
    });
    // v_out = (R/(R+r)) v_C + (R r/(R+r)) i
    const row = p.voltage('out');
    expect(row[0]).toBeCloseTo(R / (R + r), 12);
    expect(row[1]).toBeCloseTo((R * r) / (R + r), 12);
    expect(p.F[0]).toBeCloseTo(-1 / ((R + r) * 1e-5), 6);
  });

  test('a switch is its on-resistance or its leakage, and currents obey Kirchhoff at every node', () => {
    const circuit: Loose = {
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 },
        { kind: 'switch', id: 'S', a: 'in', b: 'x', onResistance: 0.01, offConductance: 1e-7, gate: 'g' },
        { kind: 'resistor', id: 'R1', a: 'x', b: '0', resistance: 5 },
        { kind: 'inductor', id: 'L', a: 'x', b: '0', inductance: 1e-6 },
      ],
    };
    for (const on of [[], ['S']]) {
      const p = build(circuit, on);
      const [s, r, l] = ['S', 'R1', 'L'].map((id) => p.current(id)) as [Float64Array, Float64Array, Float64Array];
      for (let j = 0; j < p.size; j++) expect(s[j]! - r[j]! - l[j]!).toBeCloseTo(0, 9);
    }
    expect(build(circuit, ['S']).voltage('x')[1]).toBeCloseTo(5 / 5.01, 12);
  });

  test('a node that hangs in the air is named', () => {
    const built = buildPattern(
      Circuit.parse({ elements: [{ kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 1 }, { kind: 'inductor', id: 'L', a: 'in', b: 'nowhere', inductance: 1e-6 }] }),
      new Map(),
    );
    expect(built.ok ? '' : built.problem.message).toContain('nowhere');
  });

  test('two voltage sources across each other are named as a loop', () => {
    const built = buildPattern(
      Circuit.parse({
        elements: [
          { kind: 'voltage-source', id: 'V1', a: 'in', b: '0', value: 1 },
          { kind: 'voltage-source', id: 'V2', a: 'in', b: '0', value: 2 },
        ],
      }),
      new Map(),
    );
    expect(built.ok ? '' : built.problem.code).toBe('source-loop');
  });
});
