import { readFileSync } from 'node:fs';
import { must } from '../../demo/open';
import { Circuit } from '../circuit/elements';
import { restState } from '../circuit/machine';
import { readCircuit } from '../interchange/circuitFile';
import { readState, writeState } from '../interchange/stateFile';
import { boost, buck, cycleOf, machineOf, type Converter } from '../testing/circuits';
import { dot } from '../linear/dense';
import { cycleIntegrals, integrals, measure, type CycleIntegrals } from './measure';
import { visitNodes } from './nodes';
import { settleCycle } from './settle';
import { distortion, harmonics } from './spectrum';
import { emptyTrace, march, type Trace } from './march';
import { drawEnvelope, drawPoints } from './record';
import type { Pattern } from '../circuit/pattern';

const BASE: Converter = { line: 24, L: 20e-6, C: 20e-6, R: 150, T: 5e-6, D: 0.4, r: 0.02, drop: 0.4 };
const output = (p: Pattern): Float64Array => p.voltage('out');
const coil = (p: Pattern): Float64Array => p.current('L');

describe('what is drawn of a run', () => {
  test('the run does not depend on how densely it is drawn: same events, same end', () => {
    // Each on a machine of its own: one that has run before remembers the times that come again.
    const runs = [1, 1e-5, 1.3e-7].map((step) => {
      const m = machineOf(boost(BASE));
      const trace: Trace = emptyTrace();
      const end = march(m, restState(m), 2e-4, { trace, each: drawPoints([output], step, () => undefined) });
      if (!end.ok) throw new Error(end.problem.message);
      return { times: trace.all.map((j) => j.t), end: [...end.value.z] };
    });
    for (const r of runs) expect(r).toEqual(runs[0]);
  });

  test('points: both sides of every event, drawing points between, in order', () => {
    const m = machineOf(buck(BASE));
    const points: [number, number][] = [];
    march(m, restState(m), 2e-5, { each: drawPoints([(p) => p.voltage('sw')], 1e-6, (t, v) => void points.push([t, v[0]!])) });
    points.reduce((before, [t]) => (expect(t).toBeGreaterThanOrEqual(before), t), 0);
    // The first turn-off, at 2 µs: the switch node falls at one time, and both sides are there.
    const jump = points.findIndex(([, v], k) => k > 0 && points[k - 1]![1] > 20 && v < 1);
    expect(points[jump]![0]).toBeCloseTo(points[jump - 1]![0], 15);
    expect(points[jump]![0]).toBeCloseTo(2e-6, 12);
    for (let k = 1; k < 20; k++) expect(points.some(([t]) => Math.abs(t - k * 1e-6) < 1e-15)).toBe(true);
  });

  test('an envelope loses no extreme, however coarse its bins', () => {
    const m = machineOf(boost(BASE));
    const extremes = (bins: number): number[] => {
      const { envelope, each } = drawEnvelope([output, coil], 0, 3e-4, bins);
      march(m, restState(m), 3e-4, { each });
      return [Math.min(...envelope.least[0]!), Math.max(...envelope.most[0]!), Math.min(...envelope.least[1]!), Math.max(...envelope.most[1]!)];
    };
    const [one, many] = [extremes(1), extremes(977)];
    one.forEach((v, k) => expect(many[k]! - v).toBeCloseTo(0, 7));
  });

  test('on the settled cycle the envelope is the measured range', () => {
    const m = machineOf(boost(BASE));
    const cycle = cycleOf(m);
    const { envelope, each } = drawEnvelope([coil], 0, cycle.period, 7);
    march(m, cycle.state, cycle.period, { each });
    const { min, max } = measure(cycleIntegrals(cycle), coil);
    expect(Math.min(...envelope.least[0]!)).toBeCloseTo(min, 9);
    expect(Math.max(...envelope.most[0]!)).toBeCloseTo(max, 9);
  });
});

describe('states in files', () => {
  test('a run that goes on from a file is the run that never stopped', () => {
    const m = machineOf(Circuit.parse({ ...boost(BASE), modulators: [{ kind: 'pwm', id: 'M', gate: 'q', period: 5e-6, delay: 1.2e-6, control: ['duty', '0'] }] }));
    const whole = march(m, restState(m), 1.7e-4);
    const first = march(m, restState(m), 0.83e-4);
    if (!whole.ok || !first.ok) throw new Error();
    const text = writeState(m, first.value);
    const back = readState(m, text);
    if (!back.ok) throw new Error(back.problem.message);
    const second = march(m, back.value, 1.7e-4);
    if (!second.ok) throw new Error();
    for (let i = 0; i < m.layout.n; i++) expect(second.value.z[i]! / whole.value.z[i]!).toBeCloseTo(1, 11);
  });

  test.each([
    ['no JSON', '{'],
    ['another kind of file', '{"kind":"jump-reed circuit"}'],
    ['a state of another circuit', writeState(machineOf(buck({ ...BASE, D: 0.2 })), restState(machineOf(buck(BASE)))).replace('"D"', '"D9"')],
  ])('refused: %s', (what, text) => {
    const read = readState(machineOf(buck(BASE)), text);
    expect(read.ok ? '' : read.problem.code).toBe(what === 'no JSON' ? 'json' : 'state');
  });
});

describe('harmonics', () => {
  const square = machineOf(
    Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 },
        { kind: 'switch', id: 'Q', a: 'in', b: 'x', onResistance: 1e-6, offConductance: 1e-12, gate: 'q' },
        { kind: 'resistor', id: 'R', a: 'x', b: '0', resistance: 1 },
      ],
      modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: 1e-5, on: 0, off: 0.25 }],
    }),
  );

  test('of a pulse of a quarter of the period: (2V/kπ) sin(kπ/4), centred on the pulse', () => {
    const list = harmonics(cycleIntegrals(cycleOf(square)), (p) => p.voltage('x'), 12);
    expect(list[0]!.amplitude).toBeCloseTo(2.5, 5);
    for (let k = 1; k <= 12; k++) {
      expect(list[k]!.amplitude).toBeCloseTo(Math.abs((20 / (k * Math.PI)) * Math.sin((k * Math.PI) / 4)), 4);
      expect(list[k]!.frequency).toBeCloseTo(k * 1e5, 6);
    }
    expect(list[1]!.phase).toBeCloseTo(-Math.PI / 4, 5);
  });

  test('their squares add up to the rms (Parseval)', () => {
    const g = cycleIntegrals(cycleOf(machineOf(buck({ ...BASE, R: 6 }))));
    const list = harmonics(g, coil, 200);
    const { mean, rms } = integrals(g, coil);
    const sum = list.slice(1).reduce((s, h) => s + h.amplitude ** 2 / 2, mean ** 2);
    expect(Math.sqrt(sum) / rms).toBeCloseTo(1, 6);
    expect(distortion(list)).toBeGreaterThan(0);
  });
});

describe('harmonics from the ends of the intervals', () => {
  /** The same summed from Gauss nodes along the way. */
  const byNodes = ({ cycle }: CycleIntegrals, quantity: (p: Pattern) => Float64Array, count: number): number[] => {
    const w = (2 * Math.PI) / cycle.period;
    return Array.from({ length: count + 1 }, (_, k) => {
      let [re, im] = [0, 0];
      for (const s of cycle.intervals) {
        const row = quantity(s.pattern);
        visitNodes(s, 2 / (count * w), (t, weight, z) => {
          const y = dot(row, z, z.length) * weight;
          re += y * Math.cos(k * w * t);
          im -= y * Math.sin(k * w * t);
        });
      }
      return (Math.hypot(re, im) * (k === 0 ? 1 : 2)) / cycle.period;
    });
  };
  const largest = (list: readonly number[]): number => Math.max(...list.map(Math.abs));

  test.each(['boost.json', 'buck-closed-loop.json', 'flyback.json', 'full-bridge-phase-shift.json'])('%s: every node’s voltage, as nodes along the cycle have it', (name) => {
    const circuit = must(readCircuit(readFileSync(`demo/circuits/${name}`, 'utf8')));
    const g = cycleIntegrals(cycleOf(machineOf(circuit)));
    const nodes = [...new Set(circuit.elements.flatMap((e) => ('a' in e ? [e.a] : [])))].filter((n) => n !== '0');
    for (const node of nodes) {
      const quantity = (p: Pattern): Float64Array => p.voltage(node);
      const own = harmonics(g, quantity, 40).map((h) => h.amplitude);
      const other = byNodes(g, quantity, 40);
      const size = Math.max(1e-9, largest(own));
      own.forEach((v, k) => expect(Math.abs(v - other[k]!) / size).toBeLessThan(1e-10));
    }
  });

  test('a source that is a sine rings at the multiple itself: nodes take over, and it is found', () => {
    const m = machineOf(Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: { shape: 'sine', amplitude: 3, frequency: 1e3 } },
        { kind: 'resistor', id: 'R', a: 'in', b: 'out', resistance: 100 },
        { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: 1e-6 },
      ],
      modulators: [],
    }));
    const list = harmonics(cycleIntegrals(must(settleCycle(m))), (p) => p.voltage('out'), 5);
    expect(list[1]!.amplitude).toBeCloseTo(3 / Math.hypot(1, 2 * Math.PI * 1e3 * 1e-4), 9);
    for (const k of [0, 2, 3, 4, 5]) expect(list[k]!.amplitude).toBeLessThan(1e-9);
  });
});

test('a shifted clock shifts the waveform and leaves its measures alone', () => {
  const at = (phase: number): ReturnType<typeof measure> => {
    const c = boost(BASE);
    return measure(cycleIntegrals(cycleOf(machineOf({ ...c, modulators: [{ ...(c.modulators[0] as object), phase }] } as Circuit))), output);
  };
  const [a, b] = [at(0), at(0.37)];
  for (const key of ['mean', 'rms', 'min', 'max'] as const) expect(b[key] / a[key]).toBeCloseTo(1, 9);
});
