import fc from 'fast-check';
import { GOODS, SHELF } from '../../shelf';
import type { SwitchPart } from '../parts/schema';
import { curvesOf } from '../parts/curves';
import { onResistance } from '../parts/schema';
import { readShelf, shelfCsv, shelfJson } from './shelfFile';

const where = (text: string, name = 'own.csv'): string => {
  const read = readShelf(text, name);
  return read.ok ? 'read' : read.problem.where;
};
const HEAD = 'kind,part,count,blockingVoltage,drop,slopeResistance,recoveryCharge,recoveryCurrent,junctionCapacitance,junctionToCase,caseToSink,maxJunction';
const ROW = 'diode,Own 60-3,1,60 V,0.35,20m,0,3,200p,4,0.8,150';

test('the whole shelf comes back as it went, as JSON and as CSV', () => {
  for (const [text, name] of [[shelfJson(SHELF), 'a.json'], [shelfCsv(SHELF), 'a.csv']] as const) {
    const read = readShelf(text, name);
    expect(read.ok && read.value).toEqual([...SHELF]);
  }
});
test('quantities may be text with a unit, and an empty cell is a value left open', () => {
  const read = readShelf(`${HEAD}\n${ROW}\n`, 'own.csv');
  expect(read.ok && read.value).toEqual([{ kind: 'diode', part: 'Own 60-3', count: 1, blockingVoltage: 60, drop: 0.35, slopeResistance: 0.02, recoveryCharge: 0, recoveryCurrent: 3, junctionCapacitance: 200e-12, junctionToCase: 4, caseToSink: 0.8, maxJunction: 150 }]);
  const capacitor = readShelf('kind,part,count,capacitance,esr,ratedVoltage,ratedCurrent\ncapacitor,Own 10u,,10u,5m,50,2\n', 'own.csv');
  expect(capacitor.ok && capacitor.value[0]).toMatchObject({ count: null, capacitance: 10e-6 });
});
test.each([
  ['a wrong unit', `${HEAD}\n${ROW.replace('60 V', '60 A')}`, 'row 2, blockingVoltage'],
  ['a value out of range, in the row it stands in', `${HEAD}\n${ROW}\n${ROW.replace('3,1', '4,0')}`, 'row 3, count'],
  ['a missing value', `${HEAD}\n${ROW.replace('60 V', '')}`, 'row 2, blockingVoltage'],
  ['an unknown column', `${HEAD},colour\n${ROW},red`, 'row 1, colour'],
  ['a missing column', `part\nx`, 'row 1, kind'],
  ['an unknown kind', `kind,part\nvalve,x`, 'row 2, kind'],
  ['a field that this kind has not', `${HEAD},esr\n${ROW},1`, 'row 2, esr'],
  ['more cells than columns', `${HEAD}\n${ROW},7`, 'row 2'],
  ['a name twice', `${HEAD}\n${ROW}\n${ROW}`, 'row 2, part'],
  ['nothing', HEAD, 'own.csv'],
])('%s is refused with row and column', (_, text, at) => expect(where(text)).toBe(at));
test('JSON: what is no list, no part, or has an unknown field', () => {
  expect(where('{}', 'a.json')).toBe('');
  expect(where('[7]', 'a.json')).toBe('row 1');
  expect(where(JSON.stringify([{ ...SHELF[0], colour: 'red' }]), 'a.json')).toBe('row 1, colour');
});
test('any text is answered, never thrown at', () => {
  fc.assert(fc.property(fc.string(), fc.boolean(), (text, csv) => {
    const read = readShelf(csv ? `kind,part\n${text}` : text, csv ? 'a.csv' : 'a.json');
    return read.ok || read.problem.remedy !== '';
  }), { numRuns: 300 });
});
test('every part has curves of finite figures, and they are those that the models use', () => {
  for (const p of SHELF) for (const c of curvesOf(p)) for (const l of c.lines) expect(l.points.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y))).toBe(true);
  const q = SHELF.find((p) => p.kind === 'switch')!;
  const [T, R] = curvesOf(q)[0]!.lines[0]!.points.at(-1)!;
  expect(R).toBe(onResistance(q as never, T));
});

describe('sinks, wires and core materials beside the parts', () => {
  test('what is saved is read as it was, as JSON and as CSV, mixed with parts', () => {
    const coil = SHELF.find((p) => p.kind === 'inductor')!;
    const winding = { windowWidth: 0.0075, windowHeight: 0.012, turnLength: 0.052, permeability: 2200, gaps: 1, diameter: 0.00063, strands: 1, outerDiameter: 0.0007, parallel: 4 };
    const measured = SHELF.find((p) => p.kind === 'switch' && p.switchingEnergy)! as SwitchPart;
    const hot = { ...measured, part: 'Own hot', switchingEnergy: { ...measured.switchingEnergy!, gateResistance: 5, gatePoints: [[2, 1e-4, 1e-4], [5, 2e-4, 1e-4]] as [number, number, number][], warmPoints: measured.switchingEnergy!.points.map((row): [number, number, number, number] => [150, ...(row as [number, number, number])]) } };
    const items = [...GOODS, ...SHELF.slice(0, 40), { ...coil, part: 'Own wound', winding }, hot];
    for (const [text, name] of [[shelfJson(items), 'a.json'], [shelfCsv(items), 'a.csv']] as const) {
      const read = readShelf(text, name);
      expect(read.ok && read.value).toEqual(items);
    }
  });
  test('their quantities are typed with units', () => {
    const read = readShelf('kind,part,diameter,strands,outerDiameter,thermalResistance,length,width,height\nwire,Own 0.3,0.3 mm,1,340 µm,,,,\nsink,Own fins,,,,2.4 K/W,60 mm,0.05,25 mm\n', 'own.csv');
    expect(read.ok && read.value).toEqual([
      { kind: 'wire', part: 'Own 0.3', diameter: 3e-4, strands: 1, outerDiameter: 3.4e-4 },
      { kind: 'sink', part: 'Own fins', thermalResistance: 2.4, length: 0.06, width: 0.05, height: 0.025 },
    ]);
  });
  test.each([
    ['a wire of no strands', 'kind,part,diameter,strands,outerDiameter\nwire,X,0.3 mm,0,0.4 mm\n', /row 2/],
    ['a sink with a field of a wire', 'kind,part,thermalResistance,length,width,height,strands\nsink,X,2,0.1,0.1,0.1,3\n', /row 2, strands/],
    ['a volt where metres are', 'kind,part,diameter,strands,outerDiameter\nwire,X,3 V,1,0.4 mm\n', /row 2, diameter/],
  ])('%s is refused by row and column', (_, text, where) => {
    const read = readShelf(text, 'a.csv');
    expect(read.ok ? '' : read.problem.where).toMatch(where);
  });
});
