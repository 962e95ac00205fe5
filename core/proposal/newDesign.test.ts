import { SHELF } from '../../shelf';
import { holdCorners } from '../corners/corners';
import { evaluate } from '../evaluation';
import { must } from '../../demo/open';
import { leastLoad } from '../design/leastLoad';
import { Asked, usual } from './usual';
import { newDesign } from './newDesign';

/** A design made of a brief alone. */

const asked = (more: Partial<Asked> = {}): Asked => Asked.parse({ line: { min: 10.8, max: 13.2 }, output: 5, load: { min: 0.3, max: 3 }, ...more });
const sizeOf = (d: { parts: Record<string, { kind: string }> }): string[] => Object.values(d.parts).map((p) => p.kind);

test('12 V to 5 V at 3 A by a buck: complete, with parts for this brief, and it holds at every corner', () => {
  const { design, taken } = must(newDesign(asked(), 'buck-synchronous', SHELF));
  expect(sizeOf(design)).toEqual(expect.arrayContaining(['switch', 'inductor', 'capacitor']));
  const { Q1 } = design.parts;
  // No 80 V switch on a 12 V line.
  if (Q1?.kind !== 'switch') throw new Error('no switch');
  expect(Q1.blockingVoltage).toBeLessThan(40);
  const report = holdCorners(design);
  expect(report.worst.filter((w) => !w.holds).map((w) => w.id)).toEqual([]);
  expect(report.holding).toBe(9);
  expect(taken.map((t) => t.path)).toEqual(expect.arrayContaining(['brief.frequency', 'brief.loadStep', 'requirements.ripple.limit']));
});

test('what is asked for is not taken for granted', () => {
  const own = usual(asked({ frequency: 400e3, ripple: 0.03, loadStep: 1 }));
  expect([own.brief.frequency, own.requirements.ripple.limit, own.brief.loadStep]).toEqual([400e3, 0.03, 1]);
  expect(own.taken.map((t) => t.path)).not.toEqual(expect.arrayContaining(['brief.frequency']));
});

test.each([['boost-synchronous', { output: 24, load: { min: 0.1, max: 1 } }], ['flyback', { isolated: true }], ['sepic', { output: 12, load: { min: 0.2, max: 1 } }], ['inverting', { output: 12, load: { min: 0.2, max: 1 } }], ['buck-diode', {}]])('%s', (id, more) => {
  const { design } = must(newDesign(asked(more as Partial<Asked>), id, SHELF));
  expect(holdCorners(design).worst.filter((w) => !w.holds).map((w) => `${w.id} ${w.value} of ${w.limit}`)).toEqual([]);
});

test('from the mains', () => {
  const { design } = must(newDesign(Asked.parse({ line: { min: 207, max: 253, mains: 50 }, output: 400, load: { min: 0.2, max: 1 } }), 'mains-boost', SHELF));
  expect(holdCorners(design).worst.filter((w) => !w.holds).map((w) => w.id)).toEqual([]);
});

test('a topology whose parts alone burn more than is allowed is refused by that', () => {
  const found = newDesign(asked({ output: 1, load: { min: 1, max: 20 } }), 'buck-diode', SHELF);
  expect(found).toMatchObject({ ok: false, problem: { code: 'impossible', where: 'requirements.efficiency.limit', message: expect.stringContaining('D1') } });
});

describe('a fixed line and a load from zero', () => {
  const { design } = must(newDesign(asked({ line: { min: 12, max: 12 }, load: { min: 0, max: 3 } }), 'buck-synchronous', SHELF));
  test('three corners are all there are of one line', () => expect(holdCorners(design).corners.map((c) => [c.point.line, c.point.load])).toEqual([[12, 3], [12, 1.5], [12, 0]]));
  test('with nothing connected the divider is the load, and the output stands where it shall', () => {
    const figures = must(evaluate(design, { line: 12, load: 0, air: 25 }));
    expect(figures.cycle.signals.output!.mean).toBeCloseTo(5, 6);
    expect(figures.losses.output).toBeCloseTo(5 * leastLoad(design), 8);
    expect(leastLoad(design)).toBeGreaterThanOrEqual((5 - design.control.reference) / (design.control.inputResistor as number));
  });
  test('and it holds there', () => expect(holdCorners(design).worst.filter((w) => !w.holds).map((w) => w.id)).toEqual([]));
  test('behind a diode too: in discontinuous conduction', () => {
    const { design: diode } = must(newDesign(asked({ line: { min: 12, max: 12 }, load: { min: 0, max: 3 } }), 'buck-diode', SHELF));
    const figures = must(evaluate(diode, { line: 12, load: 0, air: 25 }));
    expect(figures.cycle.conduction).toBe('discontinuous');
    expect(figures.cycle.signals.output!.mean).toBeCloseTo(5, 6);
  });
});
