import { bareDemo, openDemo } from '../../demo/open';
import { allFaults, faultAt, faultsOf, inOrder, type FaultFound } from './faults';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 8, air: 50 };
const one = (id: string): FaultFound => faultAt(rail, point, faultsOf(rail, point).find((f) => f.id === id)!);

test('a shorted high switch saturates the inductor after the time that the line takes to drive its flux there', () => {
  const { beyond, lineCurrent } = one('Q1 short');
  const [first] = beyond;
  expect(first).toMatchObject({ of: 'L1', what: 'flux density' });
  // From where it stands, at most the peak of the cycle, the current rises by (48 V − 24 V) / L; on by the inductance that is left.
  const { inductance } = rail.parts.L1 as { inductance: number | null };
  expect(inductance ?? 27e-6).toBeLessThan(40e-6);
  expect(first!.after).toBeGreaterThan(1e-6);
  expect(first!.after).toBeLessThan(30e-6);
  expect(lineCurrent).toBeGreaterThan(100);
});

test('an open high switch leaves the output to the load, and nothing goes', () => {
  const found = one('Q1 open');
  expect(found.beyond).toEqual([]);
  expect(found.output.least).toBeLessThan(12);
  expect(found.output.most).toBeLessThan(24.5);
});

test('with the feedback lost the converter puts out what it can', () => {
  const { output, beyond } = one('feedback');
  expect(output.most).toBeGreaterThan(1.5 * 24);
  expect(beyond.length).toBeGreaterThan(0);
});

test('a surge of a stiff line is seen by the switch: the rating and no more than the line of it', () => {
  const { nearest, beyond } = one('surge');
  const seen = beyond.find((b) => b.of === 'Q1') ?? nearest!;
  expect(seen.of).toBe('Q1');
  expect(Math.abs(seen.value - 1.3 * 60)).toBeLessThan(0.02 * 78);
});

test('what stands beside a stiff line is not run, and why is said', () => expect(one('C1 open').problem?.message).toMatch(/without impedance/));

test('all of a demo on the mains too: what goes soonest comes first, and every run ends', () => {
  const found = allFaults(rail, point, (done) => done >= 5);
  expect(found.length).toBe(5);
  const after = found.map((f) => f.beyond[0]?.after ?? Infinity);
  expect(after).toEqual(after.toSorted((a, b) => a - b));
  expect(inOrder(found)).toEqual(found);
});

test('a transformer is judged by its flux: a shorted switch drives it into saturation at V/N A', () => {
  const gates = openDemo('gate-supplies');
  const at = { line: (gates.brief.line.min + gates.brief.line.max) / 2, load: gates.brief.load.max, air: 50 };
  const { beyond: [first] } = faultAt(gates, at, faultsOf(gates, at).find((f) => f.id === 'Q1 short')!);
  expect(first).toMatchObject({ of: 'T1', what: 'flux density' });
});
