import { openDemo } from '../../demo/open';
import { faultAt, faultsOf, inOrder } from '../../core/corners/faults';
import { fieldOf, spotKey } from '../../core/corners/field';
import { search, type SearchAsked } from '../../core/corners/search';
import { worstInRegion } from '../../core/corners/worst';
import { between } from '../workers/here';
import { faultActions, useFaults } from './faults';
import { fieldActions, useField } from './field';
import { longWork, type Long } from './longWork';
import { searchActions, useSearch } from './search';

/** Long work of the verdict: what the workers answer is what the core says, it is stopped, and what breaks is said. */

const rail = openDemo('cabin-lighting-rail');
const point = { line: 48, load: 8, air: 50 };
jest.mock('../workers/pool', () => jest.requireActual('../workers/here'));
beforeEach(() => {
  delete between.before;
});

describe('long work', () => {
  const store = (): { states: Long[]; work: ReturnType<typeof longWork> } => {
    const states: Long[] = [];
    return { states, work: longWork((s) => states.push(s)) };
  };
  test('ends by itself and says so', async () => {
    const { states, work } = store();
    await work.run(async () => undefined);
    expect(states).toEqual([{ under: false }]);
  });
  test('what is begun ends what was under way, which then says nothing', async () => {
    const { states, work } = store();
    let first: AbortSignal | undefined;
    const waiting = work.run((signal) => new Promise((_, no) => (first = signal).addEventListener('abort', () => no(signal.reason as Error))));
    await work.run(async () => undefined);
    await waiting;
    expect(first!.aborted).toBe(true);
    expect(states).toEqual([{ under: false }]);
  });
  test('stopped it is over at once; what comes late is nobody’s', async () => {
    const { states, work } = store();
    const waiting = work.run(async () => new Promise((done) => setTimeout(done, 20)));
    work.stop();
    await waiting;
    expect(states).toEqual([{ under: false }]);
  });
  test('what breaks is said with a remedy', async () => {
    const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const { states, work } = store();
    await work.run(async () => {
      throw new Error('broken');
    });
    expect(states).toEqual([{ under: false, failed: expect.stringContaining('reload the page') as string }]);
    said.mockRestore();
  });
});

describe('a search', () => {
  const asked: SearchAsked = { freedoms: [{ path: 'control.crossover', kind: 'continuous', min: 15e3, max: 40e3 }, { path: 'parts.C2.count', kind: 'count', min: 3, max: 9 }], aims: [], by: 'front', seed: 2, trials: 48 };
  const verdict = worstInRegion(rail);
  test('asked of the workers finds what the core finds, and shows what it has meanwhile', async () => {
    const shown: number[] = [];
    const stop = useSearch.subscribe((s) => s.under && s.found && shown.push(s.found.tried));
    await searchActions.begin(rail, verdict, asked);
    stop();
    const { found, under, failed, design } = useSearch.getState();
    const alone = search(rail, asked, worstInRegion);
    expect([under, failed, design === rail]).toEqual([false, undefined, true]);
    expect(alone.ok && alone.value).toEqual(found);
    expect(shown.length).toBeGreaterThan(0);
  });
  test('asked again, with every answer the same, goes the same way', async () => {
    const ask = async (): Promise<string[]> => {
      const methods: string[] = [];
      between.before = (method, args) => void methods.push(`${method} ${JSON.stringify(args.slice(2))}`);
      await searchActions.begin(rail, verdict, asked);
      return methods;
    };
    expect(await ask()).toEqual(await ask());
  });
  test('stopped keeps what it has; with nothing free it says so and asks nobody', async () => {
    let questions = 0;
    between.before = () => void (++questions === 3 && searchActions.stop());
    await searchActions.begin(rail, verdict, { ...asked, aims: ['loss'] });
    expect(useSearch.getState()).toMatchObject({ under: false });
    questions = 0;
    between.before = () => void questions++;
    await searchActions.begin(rail, verdict, { ...asked, freedoms: [] });
    expect([questions, useSearch.getState().under]).toEqual([0, false]);
    expect(useSearch.getState().failed).toMatch(/nothing that it may change/);
  });
});

describe('faults', () => {
  test('each is run as the core runs it, and they stand in its order', async () => {
    await faultActions.run(rail, point);
    const { found, of, under } = useFaults.getState();
    const all = faultsOf(rail, point);
    expect([found.length, of, under]).toEqual([all.length, all.length, false]);
    expect(inOrder(found)).toEqual(found);
    expect(found.find((f) => f.id === 'Q1 short')).toEqual(faultAt(rail, point, all.find((f) => f.id === 'Q1 short')!));
  });
  test('stopped keeps those that were run', async () => {
    let run = 0;
    between.before = () => void (++run === 4 && faultActions.stop());
    await faultActions.run(rail, point);
    expect(useFaults.getState().under).toBe(false);
    expect(useFaults.getState().found.length).toBeLessThan(4);
  });
});

describe('a map', () => {
  test('knows what the core knows of the same measure, and asks nothing twice for another one', async () => {
    await fieldActions.look(rail, point, 'ripple', ['line', 'load']);
    const alone = fieldOf(rail, ['line', 'load'], point, 'ripple');
    const { known, cells, under } = useField.getState();
    expect([under, cells]).toEqual([false, alone.cells]);
    expect([...known.keys()].toSorted()).toEqual([...alone.known.keys()].toSorted());
    const asked: string[] = [];
    between.before = (_, args) => void asked.push(...(args[3] as [number, number][]).map(([u, v]) => spotKey(u, v)));
    await fieldActions.look(rail, point, 'duty', ['line', 'load']);
    expect(asked.filter((key) => known.has(key))).toEqual([]);
    // Another air is another field.
    await fieldActions.look(rail, { ...point, air: 20 }, 'duty', ['line', 'load']);
    expect(asked.length).toBeGreaterThanOrEqual(25);
  });
});
