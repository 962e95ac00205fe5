import { must } from '../../demo/open';
import { readEnergies, readOver } from './readEnergy';

test('three columns: A, on, off, in the unit that the heading names, else in that which is given', () => {
  expect(must(readEnergies('10 100 40\n20 250 90', 'µJ')).points).toEqual([[10, 100e-6, 40e-6], [20, 250e-6, 90e-6]]);
  expect(must(readEnergies('I (A)\tEon (mJ)\tEoff (mJ)\n20\t0,25\t0,09\n10\t0,1\t0,04\n', 'µJ')).points).toEqual([[10, 1e-4, 4e-5], [20, 2.5e-4, 9e-5]]);
  expect(must(readEnergies('Current,Eon/uJ,Eoff/uJ\n10,100,40', 'J')).points[0]![1]).toBeCloseTo(1e-4, 12);
});

test('four columns: by temperature, the lowest first, whatever the order of the rows', () => {
  const found = must(readEnergies('°C;A;mJ on;mJ off\n150;10;0.2;0.06\n25;20;0.25;0.09\n150;20;0.5;0.14\n25;10;0.1;0.04', 'mJ'));
  expect(found).toEqual({ temperature: 25, points: [[10, 1e-4, 4e-5], [20, 2.5e-4, 9e-5]], warmPoints: [[150, 10, 2e-4, expect.closeTo(6e-5)], [150, 20, 5e-4, expect.closeTo(1.4e-4)]] });
});

test('what is wrong is told with its line and what would be right', () => {
  for (const [text, where] of [['10 1 x', 'line 1'], ['10 1 2\n20 1', 'line 2'], ['10 1 2\n25 20 1 2', 'line 2'], ['10 -1 2', 'line 1'], ['10 1 2\n10 3 4', 'line 2'], ['', 'table'], ['a b c', 'table'], ['0 1 2', 'table'], ['1\n'.repeat(3000), 'table']] as const) {
    const found = readEnergies(text, 'mJ');
    expect(found.ok ? 'read' : found.problem.where).toBe(where);
    expect(!found.ok && found.problem.remedy.length).toBeGreaterThan(5);
  }
});

test('over gate resistors: sorted, two at least, all above zero', () => {
  expect(must(readOver('10 2 1\n5 1.5 0.8', 'Ω', 'mJ'))).toEqual([[5, 1.5e-3, 8e-4], [10, 2e-3, 1e-3]]);
  expect(readOver('10 2 1', 'Ω', 'mJ').ok).toBe(false);
  expect(readOver('10 2 1\n20 0 1', 'Ω', 'mJ').ok).toBe(false);
});
