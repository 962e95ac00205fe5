import { Circuit } from '../circuit/elements';
import { decibels, degrees, over, phase, size } from '../linear/complex';
import { boost, buck, cycleOf, machineOf, peakBoost, type Converter } from '../testing/circuits';
import { SmallSignal } from './exact';
import { injectTones } from './inject';
import { injectedLoopGain, loopGain, injectionPointAt } from './injectionPoint';
import type { Pattern } from '../circuit/pattern';

const BASE: Converter = { line: 24, L: 20e-6, C: 20e-6, R: 4, T: 5e-6, D: 0.4, r: 0.02, drop: 0.4 };
const output = (p: Pattern): Float64Array => p.voltage('out');

/** A peak-current boost with its voltage loop closed by an integrating amplifier. */
const closed = (): Circuit => {
  const open = peakBoost({ ...BASE, D: 0, R: 8 }, 0, 1.5e6);
  return Circuit.parse({
    ...open,
    elements: [
      ...open.elements.filter((e) => e.id !== 'control'),
      { kind: 'voltage-source', id: 'reference', a: 'ref', b: '0', value: 40 },
      { kind: 'voltage-source', id: 'place', a: 'out', b: 'fb', value: 0 },
      { kind: 'resistor', id: 'Rfb', a: 'fb', b: '0', resistance: 1e5 },
      { kind: 'transfer', id: 'U', a: 'control', b: '0', plus: 'ref', minus: 'fb', numerator: [4000, 0.4], denominator: [1, 1, 2e-6] },
    ],
  });
};

test('loop gain at a place of a peak-current loop: exact, and by several tones at once', () => {
  const circuit = closed();
  const place = injectionPointAt(circuit, 'place');
  if (!place.ok) throw new Error(place.problem.message);
  const m = machineOf(circuit);
  const cycle = cycleOf(m);
  const seen: number[] = [];
  const injected = injectedLoopGain(circuit, place.value, [1e3, 3e3, 9e3, 20e3, 60e3], { amplitude: 0.02, tonesAtOnce: 3, progress: (done, of) => void seen.push(done / of) });
  if (!injected.ok) throw new Error(injected.problem.message);
  const exact = loopGain(m, cycle, place.value, injected.value.map((x) => x.frequency));
  expect(injected.value).toHaveLength(5);
  expect(Math.max(...seen)).toBe(1);
  injected.value.forEach((x, i) => {
    const q = over(exact[i]!, x.loop);
    expect(x.good).toBe(true);
    expect(Math.abs(decibels(size(q)))).toBeLessThan(0.02);
    expect(Math.abs(degrees(phase(q)))).toBeLessThan(0.1);
  });
  // An integrator: the gain falls, and more than one at the lowest frequency.
  expect(size(exact[0]!)).toBeGreaterThan(1);
  expect(size(exact.at(-1)!)).toBeLessThan(1);
});

test('tones of one run share no harmonics: each is read as if alone', () => {
  const circuit = buck(BASE);
  const f = [2e3, 4e3, 6e3, 8e3, 12e3];
  const together = injectTones(circuit, 'duty', [output], f, { amplitude: 0.004, tonesAtOnce: 5 });
  if (!together.ok) throw new Error(together.problem.message);
  const m = machineOf(circuit);
  const exact = new SmallSignal(m, cycleOf(m)).respond('duty', [output], together.value.map((x) => x.frequency))[0]!;
  together.value.forEach((x, i) => {
    expect(Math.abs(x.frequency / f[i]! - 1)).toBeLessThan(0.15);
    const q = over(exact[i]!, x.outputs[0]!);
    expect(Math.abs(decibels(size(q)))).toBeLessThan(0.05);
    expect(Math.abs(degrees(phase(q)))).toBeLessThan(0.5);
  });
});

test('it can be stopped: what is done is handed back', () => {
  const some = injectTones(buck(BASE), 'duty', [output], [2e3, 5e3, 9e3, 20e3], { amplitude: 0.01, progress: (done) => done >= 2.5 });
  if (!some.ok) throw new Error(some.problem.message);
  expect(some.value).toHaveLength(2);
});

test.each([
  ['nowhere', boost(BASE), 'nowhere'],
  ['no voltage source', boost(BASE), 'L'],
  ['a source that moves', Circuit.parse({ elements: [{ kind: 'voltage-source', id: 'V', a: 'a', b: '0', value: { shape: 'sine', amplitude: 1, frequency: 50 } }, { kind: 'resistor', id: 'R', a: 'a', b: '0', resistance: 1 }] }), 'V'],
])('no place to inject: %s', (_, circuit, id) => {
  const place = injectionPointAt(circuit as Circuit, id as string);
  expect(place.ok ? '' : place.problem.code).toBe('place');
});
