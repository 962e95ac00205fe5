import { solveThermalNetwork, type ThermalNode } from './network';
import { partNetwork } from './partNetwork';
import { SHELF } from '../../shelf';

const rungs: ThermalNode[] = [
  { id: 'j1', title: 'j1', towards: 'c1', resistance: 1 },
  { id: 'c1', title: 'c1', towards: 'sink', resistance: 0.5 },
  { id: 'j2', title: 'j2', towards: 'sink', resistance: 2 },
  { id: 'sink', title: 'sink', towards: 'air', resistance: 4 },
  { id: 'w', title: 'w', towards: 'air', resistance: 10 },
];

test('a shared sink carries the heat of all, each junction its own on top (by hand)', () => {
  const found = solveThermalNetwork(rungs, { j1: 3, j2: 2, w: 1 }, 40);
  const at = (id: string): number => found.find((r) => r.id === id)!.temperature;
  expect(at('sink')).toBe(40 + 4 * 5);
  expect(at('c1')).toBe(60 + 0.5 * 3);
  expect(at('j1')).toBe(61.5 + 3);
  expect(at('j2')).toBe(60 + 4);
  expect(at('w')).toBe(50);
  expect(found.find((r) => r.id === 'sink')!.heat).toBe(5);
});

test('no heat: everything at the air', () => {
  for (const r of solveThermalNetwork(rungs, {}, -10)) expect(r.temperature).toBe(-10);
});

test('parts in parallel share the path to the sink, not the sink', () => {
  const part = SHELF.find((p) => p.kind === 'switch')!;
  if (part.kind !== 'switch') throw new Error();
  const one = partNetwork({ Q1: part }, { sink: { thermalResistance: 7 } });
  const two = partNetwork({ Q1: { ...part, count: 2 } }, { sink: { thermalResistance: 7 } });
  expect(two.find((r) => r.id === 'Q1 junction')!.resistance).toBe(one.find((r) => r.id === 'Q1 junction')!.resistance / 2);
  expect(two.find((r) => r.id === 'sink')!.resistance).toBe(7);
});

test('parts alike share the heat: two of them are as warm with twice the watts as one with once', () => {
  const Q = SHELF.find((p) => p.kind === 'switch')!;
  const wound = SHELF.find((p) => p.kind === 'transformer')!;
  const warm = (copies: number, watts: number): [number, number] => {
    const found = solveThermalNetwork(partNetwork({ Q1: Q, T1: wound }, { sink: { thermalResistance: 0 } }, () => copies), { 'Q1 junction': watts, 'T1 winding': watts }, 40);
    const at = (id: string): number => found.find((r) => r.id === id)!.temperature;
    return [at('Q1 junction'), at('T1 winding')];
  };
  expect(warm(2, 6)).toEqual(warm(1, 3));
  expect(warm(1, 6)[0]).toBeGreaterThan(warm(2, 6)[0]);
});
