import { readdirSync, readFileSync } from 'node:fs';
import { bareDemo, must, openDemo } from '../../demo/open';
import { buildMachine } from '../circuit/machine';
import { Circuit } from '../circuit/elements';
import { closedDesign } from '../evaluation/closedDesign';
import { cycleIntegrals, measure } from '../orbit/measure';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { readCircuit } from './circuitFile';
import { designNetlist } from './designNetlist';
import { netlistOf } from './netlist';
import { beginningOf, isNetlist, readNetlist, readNumber } from './readNetlist';

/** Mean and rms of each coil's current and each capacitor's voltage, by the name that the file gives them. */
function figures(circuit: Circuit, cycle: SettledCycle, named: (letter: string, id: string) => string): Record<string, number> {
  const g = cycleIntegrals(cycle);
  return Object.fromEntries(circuit.elements.flatMap((e): [string, number][] => {
    if (e.kind === 'inductor') {
      const m = measure(g, (p) => p.current(e.id));
      return [[`${named('L', e.id)} mean`, m.mean], [`${named('L', e.id)} rms`, m.rms], [`${named('L', e.id)} most`, m.max]];
    }
    if (e.kind !== 'capacitor' || e.esr === 0) return [];
    const m = measure(g, (p) => p.voltage(e.a, '0'));
    return [[`${named('C', e.id)} mean`, m.mean], [`${named('C', e.id)} rms`, m.rms]];
  }));
}

/** The same of what was read back: a capacitor's series resistance is an element by itself there. */
function readBack(text: string): Record<string, number> {
  const { circuit, begins } = must(readNetlist(text));
  const machine = must(buildMachine(circuit));
  const cycle = must(settleCycle(machine, { near: beginningOf(machine, begins) }));
  const g = cycleIntegrals(cycle);
  return Object.fromEntries(circuit.elements.flatMap((e): [string, number][] => {
    if (e.kind === 'inductor') {
      const m = measure(g, (p) => p.current(e.id));
      return [[`${e.id} mean`, m.mean], [`${e.id} rms`, m.rms], [`${e.id} most`, m.max]];
    }
    if (e.kind !== 'capacitor') return [];
    const m = measure(g, (p) => p.voltage(e.a, '0'));
    return [[`${e.id} mean`, m.mean], [`${e.id} rms`, m.rms]];
  }));
}

const plain = (letter: string, id: string): string => `${letter}_${id.replace(/[^A-Za-z0-9]+/g, '_')}`;

function compare(own: Record<string, number>, back: Record<string, number>): void {
  const largest = Math.max(...Object.values(own).map(Math.abs));
  expect(Object.keys(own).length).toBeGreaterThan(2);
  const off = Object.entries(own).map(([name, v]) => ({ name, by: Math.abs(back[name]! - v) / Math.max(Math.abs(v), 1e-3 * largest) }));
  expect(off.filter(({ by }) => !(by < 1e-6))).toEqual([]);
}

test.each(['cabin-lighting-rail', 'door-motor', 'gate-supplies', 'brake-magnet', 'sensor-supply', 'radio'])('%s: the netlist read back settles to the same figures to 1e-6', (name) => {
  const d = openDemo(name);
  const point = { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max, air: 25 };
  const { circuit, cycle } = must(closedDesign(d, point));
  compare(figures(circuit, cycle, plain), readBack(must(designNetlist(d, point))));
});

// Those with what has no line are refused by name; all others come back the same.
const files = readdirSync('demo/circuits');
test.each(files)('circuit %s comes back the same, or what has no line in it is named', (file) => {
  const circuit = must(readCircuit(readFileSync(`demo/circuits/${file}`, 'utf8')));
  const machine = must(buildMachine(circuit));
  const cycle = must(settleCycle(machine));
  const text = netlistOf(circuit, cycle, (n) => machine.layout.column.get(n), circuit.name);
  if (text.ok) compare(figures(circuit, cycle, plain), readBack(text.value));
  else expect(circuit.elements.some((e) => e.id === text.problem.where)).toBe(true);
});

test('on the mains there is none, and that is said', () => {
  const d = bareDemo('station-charger');
  expect(designNetlist(d, { line: 230, load: 1, air: 25 })).toMatchObject({ ok: false, problem: { code: 'netlist', where: 'brief.line' } });
});

describe('reading', () => {
  test('numbers with their scales and units', () => {
    for (const [text, v] of [['4.7u', 4.7e-6], ['10MEG', 1e7], ['22uH', 22e-6], ['1e-3', 1e-3], ['.5', 0.5], ['3m', 3e-3], ['100nF', 1e-7], ['2.2k', 2200], ['-12', -12]] as const) expect(readNumber(text)).toBeCloseTo(v, 12);
    for (const text of ['', 'x', '1.2.3', 'k', '--1', 'NaN', 'Infinity']) expect(readNumber(text)).toBeUndefined();
  });

  test('a plain file by hand: continued lines, comments, a divider and a low pass', () => {
    const { circuit, begins, ignored } = must(readNetlist('anything at all\n* a comment\nV1 in 0 PULSE(0 10 0 1n 1n 5u\n+ 10u)\nR1 in out 1k ; after\nC1 out 0 100n IC=5\nR2 out 0 1k\n.options x=1\n.tran 1u 1m\n.end\nrubbish'));
    expect(circuit.elements.map((e) => e.id)).toEqual(['V1', 'R1', 'C1', 'R2']);
    expect(begins).toEqual({ C1: 5 });
    expect(ignored).toHaveLength(2);
    const cycle = must(settleCycle(must(buildMachine(circuit))));
    // Half the time 10 V, halved by the divider.
    expect(measure(cycleIntegrals(cycle), (p) => p.voltage('out', '0')).mean).toBeCloseTo(2.5, 3);
  });

  test.each([
    ['Q1 a b c NPN', /kind that is not read/, 'line 2'],
    ['D1 a 0 DX', /kind that is not read/, 'line 2'],
    ['.include other.lib', /not read/, 'line 2'],
    ['X1 a b sub', /kind that is not read/, 'line 2'],
    ['R1 a 0 lots', /no value/, 'line 2'],
    ['S1 a 0 g 0 SW9', /no model/, 'line 2'],
    ['B1 a 0 V=sqrt(V(b))', /not read/, 'line 2'],
    ['R1 a 0 1\nR1 a 0 2', /twice/, 'line 3'],
    ['.model DX D(IS=1)', /none that is exact/, 'line 2'],
    ['V1 a 0 PULSE(0 1 0 5u 5u 0 10u)\nR1 a 0 1', /rises or falls for long/, 'V1'],
    ['L1 a 0 10u Rser=5m', /Rser of L1 is not read/, 'line 2'],
    ['R1 a 0 1k tc=0.01', /tc of R1 is not read/, 'line 2'],
    ['V1 a 0 5\nS1 a 0 a 0 M\n.model M SW(RON=1 ROFF=1meg VT=0.7)', /drops none of it/, 'line 3'],
    ['V1 a 0 5\nR1 a b 1\nV2 g 0 1\nS1 b 0 g 0 M\n.model M SW(RON=1 ROFF=1meg VT=0.5 VH=0.1)', /hysteresis VH/, 'line 5'],
    ['V1 a 0 5\nR1 a b 1\nV2 g 0 1\nS1 b 0 g 0 M\nS2 b 0 g 0 N\n.model M SW(RON=1 VT=0.5)\n.model N SW(RON=1 VT=2)', /turn at different voltages/, 'g'],
    ['V1 a 0 5\nR1 a b 1\nS1 b 0 g 0 M\n.model M SW(RON=1 ROFF=1meg VT=0.5)\nR2 g 0 1', /what drives this gate/, 'g'],
  ])('%s is refused where it stands', (line, message, where) => {
    expect(readNetlist(`title\n${line}\n.end`)).toMatchObject({ ok: false, problem: { code: 'netlist', where, message: expect.stringMatching(message) } });
  });

  test('names are the same whatever their case, and gnd is 0: a divider stays one', () => {
    const { circuit } = must(readNetlist('t\nV1 In GND PULSE(0 10 0 1n 1n 5u 10u)\nR1 IN out 1k\nR2 Out gnd 1k\nC1 OUT 0 1n'));
    const cycle = must(settleCycle(must(buildMachine(circuit))));
    expect(measure(cycleIntegrals(cycle), (p) => p.voltage('out', '0')).mean).toBeCloseTo(2.5, 3);
  });

  test('a gate turns at the threshold of its switches: where the edge passes it, or never', () => {
    const gate = (pulse: string, vt: number) => must(readNetlist(`t\nV1 a 0 5\nR1 a b 1\nV2 g 0 PULSE(${pulse})\nS1 b 0 g 0 M\n.model M SW(RON=1m ROFF=1meg VT=${vt} VH=0)`)).circuit;
    // From 0 to 5 V in 2 µs it is at 2 V after 0.8 µs, and again 1.2 µs into its fall.
    expect(gate('0 5 0 2u 2u 4u 20u', 2).modulators[0]).toMatchObject({ kind: 'timed', on: expect.closeTo(0.04, 12), off: expect.closeTo((2 + 4 + 1.2) / 20, 12) });
    expect(gate('0 1 0 1n 1n 4u 20u', 2)).toMatchObject({ modulators: [], elements: expect.arrayContaining([expect.objectContaining({ kind: 'resistor', id: 'S1', resistance: 1e6 })]) });
    expect(gate('3 5 0 1n 1n 4u 20u', 2).elements).toEqual(expect.arrayContaining([expect.objectContaining({ kind: 'resistor', id: 'S1', resistance: 1e-3 })]));
  });

  test('what is a netlist, and what is not', () => {
    expect(isNetlist('title\nR1 a b 1k\n.end')).toBe(true);
    for (const text of ['{"kind":"x"}', '', 'hello there', '[1]']) expect(isNetlist(text)).toBe(false);
  });
});
