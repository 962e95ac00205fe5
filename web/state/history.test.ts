import fc from 'fast-check';
import demo from '../../demo/cabin-lighting-rail.json';
import { editDesign, readDesignValue, type Design } from '../../core/design';
import { pack, unpack, type PackedDesign } from './history';
import type { Kept, Snapshot, StoredDesign } from './storage';

const design = (): Design => {
  const read = readDesignValue(demo);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const edited = (d: Design, path: string, value: unknown): Design => {
  const found = editDesign(d, { [path]: value });
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
};
const keptOf = (d: Design): Kept => ({ id: 'A', label: 'A', design: d, visible: true });
/** States one after the other, and the record that stands at one of them. */
const states = (steps: readonly number[]): Snapshot[] =>
  steps.reduce<Snapshot[]>((list, s) => {
    const { design: d, kept } = list.at(-1)!;
    const next = s % 3 === 0 ? edited(d, 'brief.loadStep', 1 + (s % 5) / 2) : s % 3 === 1 ? edited(d, 'parts.C2.count', s % 2 ? 6 : null) : d;
    return [...list, { design: next, kept: s % 7 === 0 ? [...kept, keptOf(d)] : kept }];
  }, [{ design: design(), kept: [] }]);
const record = (all: readonly Snapshot[], at: number): StoredDesign => ({ id: 'one', name: 'Rail', updated: 1, ...all[at]!, past: all.slice(0, at), future: all.slice(at + 1).reverse(), point: { line: 54, load: 6, air: 50 } });

test('what is packed comes back as it was, wherever in its history it stands', () => {
  fc.assert(fc.property(fc.array(fc.nat(20), { minLength: 1, maxLength: 12 }), fc.nat(), (steps, where) => {
    const all = states(steps);
    const r = record(all, where % all.length);
    expect(unpack(structuredClone(pack(r)))).toEqual(r);
  }), { numRuns: 60, examples: [[[14, 0, 0, 0], 26]] });
});

test('a hundred edits take a small part of a hundred states', () => {
  const all = states(Array.from({ length: 100 }, (_, k) => 3 * k));
  const r = record(all, 100);
  const size = (x: unknown): number => JSON.stringify(x).length;
  expect(size(pack(r).past)).toBeLessThan(0.05 * size(r.past));
});

test('a record of before, with whole states, is read; so is one that mixes both', () => {
  const r = record(states([3, 1, 6]), 3);
  expect(unpack(r)).toEqual(r);
  const mixed: PackedDesign = { ...pack(r), past: [r.past[0]!, ...pack(r).past.slice(1)] };
  expect(unpack(structuredClone(mixed)).past).toEqual(r.past);
});

test('a change that does not fit ends the history there; lists that are none are empty', () => {
  const r = pack(record(states([3, 1, 6, 4]), 4));
  const broken: PackedDesign = { ...r, past: r.past.map((c, k) => (k === 1 ? [{ op: 'replace', path: '/design/nothing/there', value: 1 }] : c)), future: 'none' as never };
  const found = unpack(structuredClone(broken));
  expect([found.past.length, found.future]).toEqual([2, []]);
});

test('captures of thousands of points are packed at once, and come back', () => {
  const time = Array.from({ length: 2000 }, (_, k) => k * 1e-7);
  const capture = (f: (t: number) => number) => ({ title: 'bench', trace: 'output', time, value: time.map(f), shift: 0, scale: 1, offset: 0 });
  const one = edited(design(), 'captures', [capture((t) => 24 + Math.sin(1e6 * t))]);
  const two = edited(one, 'captures', [...one.captures!, capture((t) => Math.cos(1e5 * t))]);
  const moved = edited(two, 'captures.1.shift', 1e-6);
  const all: Snapshot[] = [design(), one, two, moved, edited(moved, 'captures', [moved.captures![1]])].map((d) => ({ design: d, kept: [] }));
  // Element against element it would be minutes.
  const back = unpack(pack(record(all, 4)));
  expect(back.past.map((s) => s.design)).toEqual(all.slice(0, 4).map((s) => s.design));
});
