import fc from 'fast-check';
import { recent } from './recent';

test('what is asked for again is found again; of more than so many the one not asked for longest goes', () => {
  let made = 0;
  const find = recent<string, { of: string; at: number }>(2);
  const ask = (key: string): number => find(key, () => ({ of: key, at: ++made })).at;
  expect([ask('a'), ask('b'), ask('a')]).toEqual([1, 2, 1]);
  // "b" is older now than "a".
  expect([ask('c'), ask('a'), ask('b')]).toEqual([3, 1, 4]);
});

test('whatever is asked in whatever order, it is answered for its own key, and no more is kept than may be', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 5 }), fc.array(fc.integer({ min: 0, max: 8 }), { maxLength: 60 }), (most, keys) => {
      const find = recent<number, { key: number }>(most);
      const order: number[] = [];
      for (const key of keys) {
        let made = false;
        const found = find(key, () => ((made = true), { key }));
        expect(found.key).toBe(key);
        // Of the last `most` different keys none is made anew.
        expect(made).toBe(!order.slice(-most).includes(key));
        order.splice(0, order.length, ...order.filter((k) => k !== key), key);
      }
    }),
  );
});
