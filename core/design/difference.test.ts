import { bareDemo, change, must } from '../../demo/open';
import { SHELF } from '../../shelf';
import { calledPart, isEdited } from '../parts/edited';
import { differences, sameFigures } from './difference';
import { editDesign } from './edit';

const rail = bareDemo('cabin-lighting-rail');

describe('what designs say differently', () => {
  test('nothing, of a design and itself under another name', () => expect(differences([rail, must(editDesign(rail, { name: 'Other' }))])).toEqual([]));
  test('values by their titles, in the units they are typed in', () => {
    const other = change(rail, { 'brief.loadStep': 2, 'control.zero1': 3300, 'parts.C2.count': 6 });
    expect(differences([rail, other]).map((d) => [d.title, ...d.values])).toEqual([
      ['load step', '4 A', '2 A'],
      ['C2 parts in parallel', String(rail.parts.C2!.kind === 'capacitor' && rail.parts.C2!.count === null ? 'as sized' : (rail.parts.C2 as { count: number }).count), '6'],
      ['first zero', 'placed', '3.3 kHz'],
    ]);
  });
  test('a part that is another one is told once, not value by value', () => {
    const q = SHELF.find((p) => p.kind === 'switch' && p.part !== rail.parts.Q1!.part)!;
    const found = differences([rail, must(editDesign(rail, { 'parts.Q1': q }))]);
    expect(found.map((d) => [d.title, ...d.values])).toEqual([['Q1', rail.parts.Q1!.part, q.part]]);
  });
  test('of three, each says its own', () => {
    const [a, b] = [2, 3].map((amps) => change(rail, { 'brief.loadStep': amps }));
    expect(differences([rail, a!, b!])[0]!.values).toEqual(['4 A', '2 A', '3 A']);
  });
});

describe('a part that was changed says so', () => {
  const q = SHELF.find((p) => p.kind === 'switch')!;
  test('as on the shelf, or with values that a design gives: its name', () => {
    expect(calledPart(q, SHELF)).toBe(q.part);
    expect(isEdited({ ...q, count: 3 } as typeof q, SHELF)).toBe(false);
  });
  test('with another value of its own: edited; of a name that the shelf has not: nobody’s copy', () => {
    expect(calledPart({ ...q, blockingVoltage: 1234 } as typeof q, SHELF)).toBe(`${q.part}, edited`);
    expect(calledPart({ ...q, part: 'Mine', blockingVoltage: 1234 } as typeof q, SHELF)).toBe('Mine');
  });
});

test('what is laid over a design, and how its runs are looked at, is no difference', () => {
  const rail = bareDemo('cabin-lighting-rail');
  const other = change(rail, { lanes: [['output']], captures: [{ title: 'bench', trace: 'output', time: [0, 1], value: [24, 24] }] });
  expect(differences([rail, other])).toEqual([]);
  expect(differences([rail, change(other, { schedules: [{ name: 'own 1', begins: 'rest', lasts: 1, steps: [] }] })]).map((d) => d.path)).toContain('schedules.0.lasts');
});

test('lanes, looks and captures change no figure, nor does a schedule of which nothing is required', () => {
  const own = { name: 'own 1', begins: 'rest' as const, lasts: 1e-3, steps: [] };
  expect(sameFigures(rail, { ...rail, lanes: [['output']], looks: { output: { title: 'Rail', height: 2 } }, schedules: [own] })).toBe(true);
  const pins = [{ schedule: 'own 1', trace: 'output', title: 'Output', unit: 'V' as const, high: 25, from: 0 }];
  expect(sameFigures({ ...rail, pins, schedules: [own] }, { ...rail, pins, schedules: [{ ...own, lasts: 2e-3 }] })).toBe(false);
  expect(sameFigures(rail, { ...rail, sink: { thermalResistance: rail.sink.thermalResistance + 1 } })).toBe(false);
});
