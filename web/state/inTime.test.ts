import { must, openDemo } from '../../demo/open';
import { averagedRun } from '../../core/averaged';
import { recording } from '../../core/recording';
import { beginRun, recordRun, stretchEnds, usualSchedules, type Schedule } from '../../core/schedule';
import { between } from '../workers/here';
import { inTimeActions as actions, useInTime, type Asked, type Run } from './inTime';

/** A run as the stage asks for it: the core's, seen while it grows, stopped, gone on with, settled, laid over. */

jest.mock('../workers/pool', () => jest.requireActual('../workers/here'));

const rail = openDemo('cabin-lighting-rail');
const point = { line: 54, load: 6, air: 50 };
const step = usualSchedules(rail, point).find((s) => s.name === 'load step')!;
const asked = (change: Partial<Asked> = {}): Asked => ({ design: rail, point, schedule: step, wanted: undefined, ...change });
const now = () => useInTime.getState();
/** Until nothing is under way. */
async function rest(): Promise<Run> {
  for (let k = 0; k < 40_000 && now().progress !== undefined; k++) await new Promise((done) => setTimeout(done, 5));
  expect(now().progress).toBeUndefined();
  return now().run!;
}
/** Least and most of a trace in equal stretches of a recording. */
const columns = ({ record }: { record: Run['record'] }, lasts: number, trace = 0) => record.columns(trace, 0, lasts, 40);

beforeEach(() => {
  delete between.before;
  actions.stop();
  useInTime.setState({ ...useInTime.getInitialState() }, true);
});

test('a run is the core\'s to the last bit, and grows stretch by stretch', async () => {
  const grown: number[] = [];
  const off = useInTime.subscribe((s, before) => s.run && s.run !== before.run && grown.push(s.run.end.t));
  actions.ask(asked());
  const run = await rest();
  off();
  expect(grown.map((t) => t / step.lasts)).toEqual(stretchEnds(step, rail.brief.frequency).map((t) => expect.closeTo(t / step.lasts, 6) as number));
  const own = must(beginRun(rail, point, step));
  const whole = must(recordRun(own, step));
  expect(run.traces).toEqual(own.traces);
  run.traces.forEach((_, k) => expect(columns(run, step.lasts, k)).toEqual(columns(whole, step.lasts, k)));
});

test('stopped, what is there stays; something else asked, the one before is given up', async () => {
  let stretches = 0;
  between.before = (method) => void (method === 'runStretch' && ++stretches === 3 && actions.stop());
  actions.ask(asked());
  await rest();
  await new Promise((done) => setTimeout(done, 20));
  expect(stretches).toBe(3);
  const { end } = now().run!;
  expect(end.t).toBeGreaterThan(0);
  expect(end.t).toBeLessThan(step.lasts);
  between.before = undefined;
  actions.ask(asked());
  const short: Schedule = { ...step, name: 'short', steps: [], lasts: step.lasts / 10 };
  actions.ask(asked({ schedule: short }));
  const run = await rest();
  expect([run.schedule.name, run.end.t]).toEqual(['short', expect.closeTo(short.lasts, 9)]);
});

test('gone on with, it is one long run', async () => {
  actions.ask(asked());
  await rest();
  actions.goOn();
  const run = await rest();
  expect(run.end.t).toBeCloseTo(2 * step.lasts, 9);
  const long = must(recordRun(must(beginRun(rail, point, { ...step, lasts: 2 * step.lasts })), { lasts: 2 * step.lasts }));
  run.traces.forEach((_, k) => {
    const [a, b] = [run.record.columns(k, 0, 2 * step.lasts, 40), long.record.columns(k, 0, 2 * step.lasts, 40)];
    const size = Math.max(...b.most.map(Math.abs), ...b.least.map(Math.abs));
    a.most.forEach((most, n) => expect(Math.abs(most - b.most[n]!) / size).toBeLessThan(1e-9));
    a.least.forEach((least, n) => expect(Math.abs(least - b.least[n]!) / size).toBeLessThan(1e-9));
  });
});

test('until it is settled: it ends by itself, says what still moves, and where it was settled it stands', async () => {
  // Just after the last step it is not.
  const late = step.steps.at(-1)!;
  actions.ask(asked({ schedule: { ...step, lasts: late.at + late.takes + 20e-6 } }));
  const before = (await rest()).end.t;
  actions.untilSettled();
  const run = await rest();
  expect(run.moves?.settled).toBe(true);
  expect(run.end.t).toBeGreaterThan(before);
  // Again: nothing is left to run.
  actions.untilSettled();
  expect((await rest()).end.t).toBe(run.end.t);
});

test('what can not be run is told, and what stood before stands', async () => {
  actions.ask(asked());
  const before = await rest();
  actions.ask(asked({ schedule: { ...step, steps: [{ ...step.steps[0]!, to: -4 }] } }));
  expect(await rest()).toBe(before);
  expect(now().problem).toMatchObject({ where: expect.any(String) as string, remedy: expect.stringMatching(/.+/) as string });
  actions.ask(asked());
  await rest();
  expect(now().problem).toBeUndefined();
});

test('a fault of the program is said and does not stick', async () => {
  const told = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  between.before = () => Promise.reject(new Error('of its own'));
  actions.ask(asked());
  await rest();
  expect([now().problem?.code, now().run]).toEqual(['internal', undefined]);
  told.mockRestore();
});

test('the averaged run is of the run that it is laid over, and kept states go through its schedule with its traces', async () => {
  actions.ask(asked());
  const run = await rest();
  await actions.meanOf(run);
  const { mean } = now();
  if (!mean || 'problem' in mean) throw new Error('no averaged run');
  const own = must(averagedRun(rail, point, step, run.traces.map((t) => t.id)));
  const record = recording(own.traces.length);
  record.add(own.points);
  expect(columns(mean, step.lasts)).toEqual(columns({ record }, step.lasts));
  expect([mean.run, mean.ran, mean.periods]).toEqual([run, own.run, own.periods]);

  const other = { ...rail, control: { ...rail.control, softStart: 1e-3 } };
  const kept = { label: 'A', design: other };
  actions.layOver([{ ...kept, id: 'a', visible: true }, { ...kept, id: 'b', visible: false }], run);
  for (let k = 0; k < 40_000 && now().kept.length === 0; k++) await new Promise((done) => setTimeout(done, 5));
  expect(now().kept.map((k) => [k.id, k.traces.map((t) => t.id)])).toEqual([['a', run.traces.map((t) => t.id)]]);
  expect(columns(now().kept[0]!, step.lasts)).toEqual(columns(must(recordRun(must(beginRun(other, point, step)), step)), step.lasts));
});
