import { openDemo } from '../../demo/open';
import { sweepOne } from '../../core/sweep';
import { usualSchedules } from '../../core/schedule';
import { between } from '../workers/here';
import { isNow, sweepActions, useSweep } from './sweep';
import { actions, useStore } from './store';

/** A sweep as the stage asks for it: its runs are those of the core, seen while they come, stopped, picked and taken. */

jest.mock('../workers/pool', () => jest.requireActual('../workers/here'));

const rail = openDemo('cabin-lighting-rail');
const point = { line: 48, load: 4, air: 25 };
const now = () => useSweep.getState();

beforeEach(() => {
  delete between.before;
  actions.load({ id: 'one', name: rail.name, updated: 0, design: rail, kept: [], past: [], future: [], point });
  sweepActions.stop();
  useSweep.setState({ ...useSweep.getInitialState() }, true);
});

test('nested runs are those of the core, the last quantity fastest; there is a picture before all are there', async () => {
  const seen: number[] = [];
  const stop = useSweep.subscribe((s) => s.progress !== undefined && s.sweep && seen.push(s.sweep.runs.filter(Boolean).length));
  sweepActions.ask([{ path: 'parts.L1.inductance', values: '15u, 22u' }, { path: 'line', values: '40..56/3' }]);
  await sweepActions.run();
  stop();
  const { sweep, progress, problem } = now();
  expect([progress, problem]).toEqual([undefined, undefined]);
  expect(sweep!.axes.map((a) => a.values)).toEqual([[15e-6, 22e-6], [40, 48, 56]]);
  expect(sweep!.runs.map((r) => r!.values)).toEqual([[15e-6, 40], [15e-6, 48], [15e-6, 56], [22e-6, 40], [22e-6, 48], [22e-6, 56]]);
  sweep!.runs.forEach((run, k) => expect(run).toEqual(sweepOne(rail, point, sweep!.axes, k, { loop: false })));
  // A larger inductance has less ripple at every line.
  for (const k of [0, 1, 2]) expect(sweep!.runs[k + 3]!.figures.ripple).toBeLessThan(sweep!.runs[k]!.figures.ripple!);
  expect(seen[0]).toBe(0);
  expect(seen.at(-1)).toBe(6);
  const { design, point: at } = useStore.getState();
  expect(isNow(sweep, design, at)).toBe(true);
  actions.movePoint({ line: 50 });
  expect(isNow(sweep, design, useStore.getState().point)).toBe(false);
});

test('with loop gains, or a trace over a schedule, where that is what is shown', async () => {
  sweepActions.ask([{ path: 'control.crossover', values: '8k, 12k' }]);
  sweepActions.show({ shown: 'loop' });
  await sweepActions.run();
  expect(now().sweep!.runs.every((r) => r!.loop!.gain.length === r!.loop!.frequency.length && !r!.wave)).toBe(true);
  const [schedule] = usualSchedules(rail, point);
  sweepActions.show({ shown: 'wave' });
  await sweepActions.run({ schedule: { ...schedule!, lasts: 2e-4 }, trace: 'output', bins: 50 });
  for (const run of now().sweep!.runs) {
    expect([run!.wave!.least.length, run!.wave!.most.length]).toEqual([50, 50]);
    expect(run!.wave!.most.every((most, k) => most >= run!.wave!.least[k]!)).toBe(true);
  }
});

test('stopped, what is there stays; asked again, the one before is given up', async () => {
  let asked = 0;
  between.before = () => void (++asked === 3 && sweepActions.stop());
  sweepActions.ask([{ path: 'load', values: '1..8/8' }]);
  await sweepActions.run();
  expect(now().progress).toBeUndefined();
  expect(asked).toBe(3);
  expect(now().sweep!.runs.length).toBe(8);
  delete between.before;
  const first = sweepActions.run();
  sweepActions.ask([{ path: 'load', values: '2, 3' }]);
  await Promise.all([first, sweepActions.run()]);
  expect(now().sweep!.runs.map((r) => r!.values[0])).toEqual([2, 3]);
});

test('what can not be swept is told by name and begins nothing', async () => {
  for (const [asked, where, words] of [
    [[{ path: 'parts.L9.inductance', values: '1u' }], 'parts.L9.inductance', /no quantity of that name/],
    [[{ path: 'parts.L1.inductance', values: '1u..2u' }], 'parts.L1.inductance', /is no range/],
    [[{ path: 'line', values: '1..200/200' }, { path: 'load', values: '1..9/200' }], 'sweep', /40,000 runs/],
    [[{ path: 'line', values: '40' }, { path: 'line', values: '50' }], 'line', /twice/],
    [[], 'sweep', /1 to 3 quantities/],
  ] as const) {
    sweepActions.ask([...asked]);
    await sweepActions.run();
    expect([now().problem?.where, now().progress, now().sweep]).toEqual([where, undefined, undefined]);
    expect(now().problem!.message).toMatch(words);
  }
});

test('a value that can not be leaves its run without figures and says why; the others have theirs', async () => {
  sweepActions.ask([{ path: 'parts.L1.inductance', values: '22u, -1u' }]);
  await sweepActions.run();
  const [good, bad] = now().sweep!.runs;
  expect(good!.figures.ripple).toBeGreaterThan(0);
  expect([good!.problem, bad!.figures, bad!.holds]).toEqual([undefined, {}, false]);
  expect(bad!.problem!.remedy).not.toBe('');
});

test('a fault of the program is said, and does not stick', async () => {
  const told = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  between.before = () => Promise.reject(new Error('of its own'));
  sweepActions.ask([{ path: 'line', values: '40, 50' }]);
  await sweepActions.run();
  expect([now().problem?.code, now().progress]).toEqual(['internal', undefined]);
  told.mockRestore();
  delete between.before;
  await sweepActions.run();
  expect([now().problem, now().sweep!.runs.every(Boolean)]).toEqual([undefined, true]);
});

test('values are hidden and shown again; a picked run is taken into design and point, in one step of undo', async () => {
  sweepActions.ask([{ path: 'parts.L1.inductance', values: '15u, 22u' }, { path: 'line', values: '40, 56' }]);
  await sweepActions.run();
  sweepActions.hide('line', 40);
  sweepActions.hide('line', 56);
  sweepActions.hide('line', 40);
  expect(now().hidden).toEqual({ line: [56] });
  sweepActions.pick(3);
  sweepActions.take(3);
  const taken = useStore.getState();
  expect(taken.design.parts.L1).toMatchObject({ inductance: 22e-6 });
  expect([taken.point.line, taken.point.load]).toEqual([56, 4]);
  actions.undo();
  expect(useStore.getState().design.parts.L1).toEqual(rail.parts.L1);
  // Not there: nothing is taken.
  sweepActions.take(17);
  expect(useStore.getState().design.parts.L1).toEqual(rail.parts.L1);
});
