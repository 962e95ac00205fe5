import 'fake-indexeddb/auto';
import { firstLook, proposalOf, type Asked } from '../../core/proposal';
import { SHELF } from '../../shelf';

/** The sheet of a new design: what is typed is read, held against the topologies, and made. */

jest.mock('../workers/pool', () => {
  const { newestOnly } = jest.requireActual<typeof import('../workers/pool')>('../workers/pool');
  // The core's own answers for one brief, asked once; of another output they are the same with that in their brief: what is made is not what is held here.
  const [looks, made] = [new Map<number, ReturnType<typeof firstLook>>(), new Map<string, ReturnType<typeof proposalOf>>()];
  const kept = <K, V>(known: Map<K, V>, key: K, make: () => V): V => known.get(key) ?? known.set(key, make()).get(key)!;
  const worker = {
    firstLook: (asked: Asked, k: number) => Promise.resolve(kept(looks, k, () => firstLook({ ...asked, output: 5 }, k, SHELF))),
    proposal(asked: Asked, id: string, _: unknown, name: string) {
      const found = kept(made, id, () => proposalOf({ ...asked, output: 5 }, id, SHELF, name));
      if (!found.ok) return Promise.resolve(found);
      const { design } = found.value;
      return Promise.resolve({ ok: true, value: { ...found.value, design: { ...design, name, brief: { ...design.brief, output: { voltage: asked.output } } } } });
    },
  };
  return { newestOnly, jobs: () => ({ workers: 2, at: () => worker }) };
});

import { newDesignActions, useNewDesign, wanted } from './newDesign';
import { useStore } from './store';

const sheet = () => useNewDesign.getState();
const until = async (holds: () => boolean): Promise<void> => {
  for (let k = 0; k < 400 && !holds(); k++) await new Promise((done) => setTimeout(done, 25));
  expect(holds()).toBe(true);
};
const type = (line: string, output: string, load: string): void => {
  newDesignActions.type('line', line);
  newDesignActions.type('output', output);
  newDesignActions.type('load', load);
};

beforeAll(() => Object.assign(globalThis, { BroadcastChannel: undefined }));

test('typed, held, made and taken', async () => {
  newDesignActions.open();
  type('12 V', '', '0–3 A');
  expect(sheet().read.asked).toBeUndefined();
  expect(Object.keys(sheet().read.problems)).toEqual(['output']);
  newDesignActions.type('output', '5 V');
  expect(sheet().read.asked).toMatchObject({ line: { min: 10.8, max: 13.2 }, output: 5, load: { min: 0, max: 3 } });
  await until(() => sheet().looks.length > 0);
  expect(wanted(sheet())).toBe('buck-synchronous');
  await until(() => sheet().proposal !== undefined);
  expect(sheet().proposal).toMatchObject({ id: 'buck-synchronous', holding: 9, corners: 9 });
  // Another is chosen: it is made in place of the likeliest.
  newDesignActions.choose('buck-diode');
  await until(() => sheet().proposal?.id === 'buck-diode');
  await newDesignActions.take();
  expect(useStore.getState().design).toMatchObject({ topology: 'buck-diode', name: '12 V to 5 V, 3 A' });
  expect([sheet().open, sheet().text.line]).toEqual([false, '']);
});

test('what is asked otherwise meanwhile is held anew, and what was made for the before is not taken', async () => {
  type('12 V', '5 V', '0–3 A');
  await until(() => sheet().proposal !== undefined);
  const before = useStore.getState().design;
  newDesignActions.type('output', '3.3 V');
  await newDesignActions.take();
  expect(useStore.getState().design).toBe(before);
  await until(() => sheet().proposalOf === sheet().read.asked && sheet().proposal !== undefined);
  expect(sheet().proposal!.design.brief.output.voltage).toBe(3.3);
});
