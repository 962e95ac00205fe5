import fc from 'fast-check';
import { largestBetween, sharesAt } from './interpolate';

const spread = (n: number): number[] => Array.from({ length: n }, (_, k) => Math.sin((k + 0.5) / n));
const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);

test('n nodes give back every polynomial of degree n − 1, between them and beside', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 6 }), fc.double({ min: 0, max: 1, noNaN: true }), fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 6, maxLength: 6 }), (n, x, c) => {
    const nodes = spread(n);
    const at = (u: number): number => sum(c.slice(0, n).map((v, k) => v * u ** k));
    const shares = sharesAt(nodes, x);
    expect(sum(shares)).toBeCloseTo(1, 8);
    expect(sum(shares.map((s, i) => s * at(nodes[i]!)))).toBeCloseTo(at(x), 6);
  }));
});

test('a node has all of the share of what stands at it', () => expect(sharesAt([1, 2, 4], 2)).toEqual([0, 1, 0].map((v) => expect.closeTo(v, 15))));

test('the crest of a parabola is found between its points, wherever they lie', () => {
  fc.assert(fc.property(fc.double({ min: 0.2, max: 0.8, noNaN: true }), fc.double({ min: 0.1, max: 10, noNaN: true }), fc.double({ min: -5, max: 5, noNaN: true }), (crest, bend, top) => {
    const x = [0, 0.15, 0.4, 0.7, 1];
    expect(largestBetween(x, x.map((v) => top - bend * (v - crest) ** 2))).toBeCloseTo(top, 9);
  }));
});

test('at an end it is the end itself, and a plateau stays what it is', () => {
  expect(largestBetween([0, 1, 2], [1, 2, 4])).toBe(4);
  expect(largestBetween([0, 1, 2], [5, 2, 1])).toBe(5);
  expect(largestBetween([0, 1, 2], [3, 3, 3])).toBe(3);
});
