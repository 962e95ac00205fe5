import fc from 'fast-check';
import { bareDemo, must as unwrap } from '../../demo/open';
import { editDesign, type Design } from '../design';
import { SHELF } from '../../shelf';
import { holdCorners } from './corners';
import { designAt, freedomsOffered, readFreedom, shareOf, valueOf, type Freedom } from './freedoms';
import { crowding, dominates, frontOf, ordered, ranksOf } from './front';
import { conflictOf, judged, search, type SearchAsked, type SearchFound, type Tried } from './search';
import { searchTopologies } from './searchTopologies';
import { worstInRegion } from './worst';
import { parseQuantity } from '../quantity';

const design = bareDemo('cabin-lighting-rail');
const asked = (freedoms: Freedom[], more: Partial<SearchAsked> = {}): SearchAsked => ({ freedoms, aims: [], by: 'front', seed: 1, trials: 64, ...more });

describe('a search', () => {
  const free = freedomsOffered(design, SHELF).filter((o) => o.usual).map((o) => o.freedom);
  let first: SearchFound;
  beforeAll(() => { first = run(1); });
  const run = (seed: number) => unwrap(search(design, asked(free, { seed }), worstInRegion));

  it('makes what fails of the shipped rail hold, and what it found passes every corner', () => {
    expect(holdCorners(design).holding).toBeLessThan(9);
    const found = first;
    expect(found).toMatchObject({ holds: true, everywhere: true });
    const made = unwrap(designAt(design, free, found.best!.shares));
    const { holding, corners } = holdCorners(made);
    expect(holding).toBe(corners.length);
  });

  it('finds the same from the same seed, and something else from another', () => {
    expect(run(1)).toEqual(first);
    expect(run(6).best!.shares).not.toEqual(first.best!.shares);
  });

  it('names the one requirement that nothing free to move can hold', () => {
    const impossible = unwrap(editDesign(design, { 'requirements.ripple.limit': 1e-3 }));
    const found = unwrap(search(impossible, asked([{ path: 'control.crossover', kind: 'continuous', min: 10e3, max: 40e3 }], { trials: 24 }), worstInRegion));
    expect(found.holds).toBe(false);
    expect(found.conflict).toEqual(['ripple']);
  });

  it('names two that exclude each other, and shows what trades between them', () => {
    // A small inductor answers a load step faster, a large one has less ripple.
    const torn = unwrap(editDesign(design, { 'requirements.ripple.limit': 17e-3, 'requirements.deviation.limit': 0.43 }));
    const found = unwrap(search(torn, asked([{ path: 'parts.L1.inductance', kind: 'preferred', min: 15e-6, max: 47e-6, series: 'E24' }], { trials: 32 }), worstInRegion));
    expect(found.holds).toBe(false);
    expect(found.conflict!.toSorted()).toEqual(['deviation', 'ripple']);
    expect(found.front.length).toBeGreaterThan(2);
    for (const a of found.front) for (const b of found.front) expect(dominates([-a.room.deviation!, -a.room.ripple!], [-b.room.deviation!, -b.room.ripple!])).toBe(false);
  });

  it('does not begin with nothing free, bounds that are none, or what is not there', () => {
    const refused = (freedoms: Freedom[], more: Partial<SearchAsked> = {}): string => {
      const found = search(design, asked(freedoms, more), () => { throw new Error('nothing is to be judged'); });
      return found.ok ? '' : found.problem.code;
    };
    expect(refused([])).toBe('freedom');
    expect(refused([{ path: 'control.crossover', kind: 'continuous', min: 4e4, max: 1e4 }])).toBe('freedom');
    expect(refused([{ path: 'control.colour', kind: 'continuous', min: 1, max: 2 }])).toBe('freedom');
    expect(refused([{ path: 'parts.C2.count', kind: 'count', min: 1, max: 2.5 }])).toBe('freedom');
    expect(refused([{ path: 'parts.L1.inductance', kind: 'preferred', min: 1.01e-6, max: 1.02e-6, series: 'E3' }])).toBe('freedom');
    expect(refused(free, { trials: 2 })).toBe('search');
    expect(refused(free, { aims: ['height' as const, 'impedance'] })).toBe('search');
  });
});

test('several topologies: each that can serve is searched, those that can not say why, what holds comes first', () => {
  const found = unwrap(searchTopologies(design, ['buck-synchronous', 'chopper', 'boost-diode'], { aims: [], by: 'front', seed: 1, trials: 32 }, SHELF, worstInRegion));
  expect(found).toHaveLength(3);
  expect(found[0]).toMatchObject({ id: 'buck-synchronous', found: { everywhere: true } });
  expect(found.filter((s) => 'problem' in s).map((s) => s.id).toSorted()).toEqual(['boost-diode', 'chopper']);
  expect(searchTopologies(design, ['ladder'], { aims: [], by: 'front', seed: 1, trials: 32 }, SHELF, worstInRegion)).toMatchObject({ ok: false, problem: { code: 'unknown' } });
});

test('a part whose cost nobody knows is the last to be taken, not the cheapest; one that was changed keeps its values', () => {
  const slate = SHELF.find((p) => p.part === 'Slate 35-100u')!;
  const { costClass: _, ...nameless } = { ...slate, part: 'Nobody 35-100u' };
  const free: Freedom[] = [{ path: 'parts.C2', kind: 'parts', parts: [slate, nameless as typeof slate] }];
  const points = [{ line: 48, load: 8, air: 50 }];
  const [known, unknown] = [0.2, 0.8].map((share) => judged(design, { freedoms: free, aims: ['cost', 'height'] }, [share], points).aims);
  expect(known![0]).toBeLessThan(1e6);
  expect(unknown![0]).toBeGreaterThan(1e9);
  const edited = unwrap(editDesign(design, { 'parts.C2.esr': 1e-3 }));
  const offered = freedomsOffered(edited, SHELF).find((o) => o.freedom.path === 'parts.C2')!.freedom;
  expect(unwrap(designAt(edited, [offered], [shareOf(offered, edited)])).parts.C2).toEqual(edited.parts.C2);
});

test('what makes no design is told as such', () => {
  const odd = judged(design, { freedoms: [{ path: 'control.phaseMargin', kind: 'continuous', min: 91, max: 99 }], aims: ['loss'] }, [0.5], [{ line: 48, load: 8, air: 50 }]);
  expect(odd).toMatchObject({ missing: 1, aims: [Infinity], problem: { where: 'control.phaseMargin' } });
});

describe('what is free', () => {
  it('stands where the design stands, and gives back the value that its share stands for', () => {
    for (const { freedom } of freedomsOffered(design, SHELF)) {
      const share = shareOf(freedom, design);
      expect(share).toBeGreaterThanOrEqual(0);
      expect(share).toBeLessThanOrEqual(1);
      const again = unwrapped(freedom, share);
      expect(valueOf(freedom, shareOf(freedom, again))).toEqual(valueOf(freedom, share));
    }
  });
  const unwrapped = (f: Freedom, share: number): Design => unwrap(designAt(design, [f], [share]));

  it('is read from text', () => {
    const offered = freedomsOffered(design, SHELF);
    const read = (text: string) => readFreedom(text, offered, parseQuantity);
    expect(unwrap(read('control.crossover=10k..40k'))).toEqual({ path: 'control.crossover', kind: 'continuous', min: 10e3, max: 40e3 });
    expect(unwrap(read('parts.L1.inductance=10u..47u:E24'))).toMatchObject({ kind: 'preferred', series: 'E24', max: 47e-6 });
    expect(unwrap(read('parts.C2.count=2..6'))).toEqual({ path: 'parts.C2.count', kind: 'count', min: 2, max: 6 });
    expect(unwrap(read('parts.Q1'))).toMatchObject({ kind: 'parts' });
    for (const bad of ['', 'name', 'control.crossover=1', 'parts.L1.inductance=1u..2u:E5', 'control.crossover=x..y']) expect(read(bad).ok).toBe(false);
  });
});

describe('a front', () => {
  const points = fc.array(fc.tuple(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 0, max: 9 })), { minLength: 1, maxLength: 20 });
  it('is beaten by nothing, and everything outside is', () => {
    fc.assert(fc.property(points, (all) => {
      const front = frontOf(all);
      for (const [i, p] of all.entries()) expect(front.includes(i) || all.some((q) => dominates(q, p)) || all.findIndex((q) => q[0] === p[0] && q[1] === p[1]) < i).toBe(true);
      const rank = ranksOf(all);
      for (const i of front) expect(rank[i]).toBe(0);
      expect(ordered(all).map((i) => rank[i]!)).toEqual(rank.toSorted((a, b) => a - b));
    }));
  });
  it('counts its ends as loneliest', () => expect(crowding([[0, 3], [1, 1], [3, 0]])).toEqual([Infinity, 2, Infinity]));

  it('a conflict is the fewest that nothing holds together', () => {
    const tried = (ripple: number, junction: number, winding: number): Tried => ({ shares: [], room: { ripple, junction, winding }, value: {}, missing: 0, aims: [] });
    expect(conflictOf([tried(1, -1, -1), tried(-1, 1, -1), tried(-1, -1, 1)])!.length).toBe(2);
    expect(conflictOf([tried(1, -0.1, 1), tried(-0.1, 1, 1)])).toEqual(['ripple', 'junction']);
    expect(conflictOf([tried(1, 1, -1), tried(1, 1, -1)])).toEqual(['winding']);
    expect(conflictOf([tried(1, 1, -1), tried(1, 1, 0.1)])).toBeUndefined();
  });
});
