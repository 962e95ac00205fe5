import { living, type Life } from './living';

type Asked = { double(n: number): Promise<number> };

/** Lives of which the first so many die while they are asked. */
function lives(mortal: number): { begun: () => number; ended: () => number; remote: Asked } {
  let [begun, ended] = [0, 0];
  const begin = (): Life<Asked> => {
    const own = ++begun;
    let die: () => void = () => undefined;
    const died = new Promise<void>((done) => (die = done));
    return {
      died,
      end: () => void ended++,
      remote: {
        double(n) {
          if (own > mortal) return Promise.resolve(2 * n);
          die();
          return new Promise<never>(() => undefined);
        },
      },
    };
  };
  return { remote: living(begin), begun: () => begun, ended: () => ended };
}

test('what lives is asked, and no other is begun', async () => {
  const l = lives(0);
  expect(await l.remote.double(4)).toBe(8);
  expect([l.begun(), l.ended()]).toEqual([1, 0]);
});

test('one that dies is ended and replaced, and the next answers what was asked', async () => {
  const l = lives(1);
  expect(await l.remote.double(21)).toBe(42);
  expect([l.begun(), l.ended()]).toEqual([2, 1]);
  expect(await l.remote.double(1)).toBe(2);
});

test('a question that kills is given up; others are answered all the same', async () => {
  const l = lives(2);
  await expect(l.remote.double(1)).rejects.toThrow('died 2 times');
  expect(await l.remote.double(3)).toBe(6);
  expect([l.begun(), l.ended()]).toEqual([3, 2]);
});

test('one that takes longer than it may is ended and replaced, and who asked is told', async () => {
  let [begun, ended] = [0, 0];
  const remote = living<Asked>(() => {
    const own = ++begun;
    return { died: new Promise(() => undefined), end: () => void ended++, remote: { double: (n) => (own === 1 ? new Promise(() => undefined) : Promise.resolve(2 * n)) } };
  }, 20);
  await expect(remote.double(1)).rejects.toThrow('no answer within 0.02 s');
  expect([begun, ended]).toEqual([2, 1]);
  expect(await remote.double(3)).toBe(6);
});
