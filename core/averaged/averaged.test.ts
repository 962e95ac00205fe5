import { bareDemo, change, must, openDemo } from '../../demo/open';
import type { Design } from '../design';
import { beginRun, recordRun, usualSchedules } from '../schedule';
import type { Schedule } from '../surroundings/schedule';
import { automaticDesign } from '../testing/automatic';
import type { OperatingPoint } from '../topology';
import { TOPOLOGIES } from '../topology';
import { apartOf, averagedRun } from '.';

const rail = bareDemo('cabin-lighting-rail');
const middle = ({ brief }: Design): OperatingPoint => ({ line: (brief.line.min + brief.line.max) / 2, load: 0.75 * brief.load.max, air: 25 });

/** How far the averaged output is off the switched one's mean, as a share of what that does; and the periods that it took. */
function compared(d: Design, at: OperatingPoint, s: Schedule): { share: number; span: number; run: number; periods: number } {
  const averaged = must(averagedRun(d, at, s, ['output']));
  const run = must(beginRun(d, at, s, ['output']));
  const apart = apartOf(must(recordRun(run, s)).record, 0, averaged.record, 0, run.period)!;
  return { share: apart.share, span: apart.span, run: averaged.run, periods: averaged.periods };
}

/** Of the mains what its usual schedules do, in fewer of its cycles. */
const shorter = (s: Schedule, lasts = 0.03): Schedule => ({ ...s, lasts, steps: s.steps.map((x, k) => ({ ...x, at: (0.3 + 0.3 * k) * lasts })) });

// What the switched mean does within a period of a step is not a mean over one: that is what is left where little happens besides.
describe.each(['cabin-lighting-rail', 'gate-supplies', 'brake-magnet', 'sensor-supply', 'radio', 'door-motor', 'station-charger'])('%s', (name) => {
  const d = openDemo(name);
  const at = middle(d);
  test.each(usualSchedules(d, at).map((s) => [s.name, d.brief.line.mains === undefined ? s : shorter(s)] as const))('%s: averaged within a twentieth of what the switched mean does', (_, s) => {
    const { share, span, run, periods } = compared(d, at, s);
    expect(span).toBeGreaterThan(0.05);
    expect(share).toBeLessThan(0.05);
    expect(run).toBeLessThan(0.8 * periods);
  });
});

test.each(TOPOLOGIES.map((t) => [t.title, t] as const))('%s: a step within a twentieth', (_, t) => {
  const d = automaticDesign(t, 0)!;
  const at = { ...middle(d), load: 0.8 * d.brief.load.max };
  const usual = usualSchedules(d, at)[1]!;
  usual.steps[0]!.to = 0.9 * at.load;
  const s = d.brief.line.mains === undefined ? usual : shorter({ ...usual, begins: 'rest' }, 0.01);
  // The chopper's output is the pulses themselves: over a window that a step falls into they have no mean of a period.
  expect(compared(d, at, s).share).toBeLessThan(t.title === 'Chopper, R-L load' ? 0.1 : 0.05);
});

// What a state-space average is not made for: commands by a peak or a valley, samplers, a current that stops in every period, a cascade.
test.each<[string, Record<string, unknown>, number]>([
  ['valley current', { 'control.method': 'valley-current', 'control.amplifier': 'type-two' }, 0.75],
  ['sampled', { 'control.sampled': 'bilinear' }, 0.75],
  ['a cascade', { 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 3e3 }, 0.75],
  ['a current that stops', { topology: 'buck-diode' }, 0.05],
])('%s: within a twentieth', (_, changes, load) => {
  const { topology, ...rest } = changes;
  const d = topology === undefined ? change(rail, rest) : automaticDesign(TOPOLOGIES.find((t) => t.title === 'Buck, with diode')!, 0)!;
  const at = { ...middle(d), load: load * d.brief.load.max };
  const s = usualSchedules(d, at)[1]!;
  const { share, span } = compared(d, at, { ...s, steps: s.steps.map((x, k) => (k === 0 ? { ...x, to: 1.5 * at.load } : x)) });
  expect(span).toBeGreaterThan(0.01);
  expect(share).toBeLessThan(0.05);
});

test('gates that are let go, and a part that fails', () => {
  const at = middle(rail);
  const s: Schedule = { name: 's', begins: 'settled', lasts: 2e-3, steps: [{ at: 0.5e-3, what: 'enable', to: 0, takes: 0 }, { at: 0.6e-3, what: 'enable', to: 1, takes: 0 }], fails: [{ at: 1.2e-3, part: 'C2', how: 'leaky', resistance: 5 }] };
  const { share, span } = compared(rail, at, s);
  expect(span).toBeGreaterThan(1);
  expect(share).toBeLessThan(0.05);
});

test('where nothing happens it stands at the means of the switched run, and a second costs a few periods', () => {
  const at = middle(rail);
  const still: Schedule = { name: 's', begins: 'settled', lasts: 1, steps: [] };
  const { traces, record, run, periods } = must(averagedRun(rail, at, still));
  expect(periods).toBeGreaterThan(1e5);
  expect(run).toBeLessThan(periods / 500);
  const switched = must(beginRun(rail, at, still));
  const short = must(recordRun(switched, { lasts: switched.period })).record;
  traces.forEach((t, i) => {
    const read = record.read(i)!;
    expect(read.most - read.least).toBeLessThan(1e-7 * Math.max(1, Math.abs(read.most)));
    // Means of what is drawn are right to what it is drawn to.
    expect(Math.abs(read.mean - short.read(switched.traces.findIndex((x) => x.id === t.id))!.mean)).toBeLessThan(1e-3 * Math.max(1, Math.abs(read.mean)));
  });
});

test('what has none says why', () => {
  const by = (d: Design, wanted?: string[]): string => {
    const found = averagedRun(d, middle(d), { name: 's', begins: 'settled', lasts: 1e-3, steps: [] }, wanted);
    return found.ok ? '' : found.problem.message;
  };
  expect(by(change(rail, { 'control.method': 'constant-on-time' }))).toMatch(/by itself when to switch/);
  expect(by(rail, ['L1.power'])).toMatch(/not of their products/);
});
