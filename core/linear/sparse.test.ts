import fc from 'fast-check';
import { dot } from './dense';
import { dotSparse, sparse } from './sparse';

const entry = fc.oneof(fc.constant(0), fc.double({ min: -5, max: 5, noNaN: true }));
const rows = fc.array(fc.array(entry, { minLength: 6, maxLength: 6 }).map((a) => Float64Array.from(a)), { minLength: 1, maxLength: 5 });

test('a row times a vector is what the full row gives', () => {
  fc.assert(fc.property(rows, fc.array(entry, { minLength: 6, maxLength: 6 }), (list, z) => {
    const [of, v] = [sparse(list), Float64Array.from(z)];
    list.forEach((row, k) => expect(dotSparse(of, k, v)).toBeCloseTo(dot(row, v, 6), 12));
  }));
});

test('only what is there is kept, a row of nothing has none', () => {
  const { from, at, by } = sparse([Float64Array.of(0, 2, 0), Float64Array.of(0, 0, 0), Float64Array.of(1, 0, 3)]);
  expect([[...from], [...at], [...by]]).toEqual([[0, 1, 1, 3], [1, 0, 2], [2, 1, 3]]);
});
