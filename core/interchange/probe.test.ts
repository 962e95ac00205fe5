import { Circuit } from '../circuit/elements';
import { cycleOf, machineOf } from '../testing/circuits';
import { cycleIntegrals, integrals } from '../orbit/measure';
import { must } from '../../demo/open';
import { readProbe, usualProbes } from './probe';

const circuit = Circuit.parse({
  elements: [
    { kind: 'voltage-source', id: 'line', a: 'in', b: '0', value: 10 },
    { kind: 'resistor', id: 'upper', a: 'in', b: 'mid', resistance: 3 },
    { kind: 'resistor', id: 'lower', a: 'mid', b: '0', resistance: 2 },
    { kind: 'transformer', id: 'T', windings: [{ a: 'mid', b: '0', turns: 1 }, { a: 's', b: '0', turns: 4 }] },
    { kind: 'resistor', id: 'far', a: 's', b: '0', resistance: 1e6 },
  ],
  period: 1e-5,
});
const g = cycleIntegrals(cycleOf(machineOf(Circuit.parse({ ...circuit, elements: circuit.elements.slice(0, 3) }))));
const mean = (text: string): number => integrals(g, must(readProbe(circuit, text)).row).mean;

test.each([['v(in)', 10], ['v(mid)', 4], ['v(in,mid)', 6], ['v( in , mid )', 6], ['v(mid,in)', -6], ['v(mid,0)', 4], ['i(upper)', 2], [' i(line) ', -2]])('%s is %d by the divider', (text, value) => expect(mean(text)).toBeCloseTo(value, 9));

test.each([
  ['', /neither a voltage nor a current/], ['mid', /neither/], ['v()', /neither/], ['v(a,b,c)', /neither/], ['p(in)', /neither/], ['v(in))', /neither/],
  ['v(out)', /no node out/], ['v(in,out)', /no node out/], ['i(nothing)', /no element nothing/], ['i(T)', /no element T with one current/],
])('%s is refused, with what there is', (text, said) => {
  const found = readProbe(circuit, text);
  expect(found.ok ? '' : found.problem.message).toMatch(said);
  expect(found.ok ? '' : found.problem.remedy.length).toBeGreaterThan(8);
});

test('where nothing is asked for: every node, and every current of what has two ends; each can be asked for by its name', () => {
  const names = usualProbes(circuit).map((p) => p.name);
  expect(names).toEqual(['v(in)', 'v(mid)', 'v(s)', 'i(line)', 'i(upper)', 'i(lower)', 'i(far)']);
  for (const p of usualProbes(circuit)) expect(must(readProbe(circuit, p.name)).unit).toBe(p.unit);
});
