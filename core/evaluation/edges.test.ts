import { bareDemo, change, must } from '../../demo/open';
import type { SwitchPart } from '../parts/schema';
import { edgeStudy } from './edges';
import { evaluate } from './evaluate';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 54, load: 6, air: 50 };

test('what is said of the edges is what the switch loses at them, by charge and by table', () => {
  const lostOf = (d: typeof rail): number => {
    const { overlap = 0, recovery = 0, 'output-capacitance': capacitance = 0 } = must(evaluate(d, point)).losses.parts.find((p) => p.id === 'Q1')!.mechanisms;
    return overlap + recovery + capacitance;
  };
  const plain = must(edgeStudy(rail, 'Q1', point));
  expect(plain.edges.reduce((sum, e) => sum + e.byCharge, 0) * plain.frequency).toBeCloseTo(lostOf(rail), 9);
  expect(plain.edges.every((e) => e.byTable === undefined)).toBe(true);
  expect(plain.edges.reduce((sum, e) => sum + e.watts, 0)).toBeCloseTo(lostOf(rail), 9);
  const switchingEnergy: SwitchPart['switchingEnergy'] = { voltage: 40, rise: 0, points: [[3, 1.6e-6, 7e-7], [9, 4.4e-6, 2.4e-6]] };
  const measured = change(rail, { 'parts.Q1.switchingEnergy': switchingEnergy });
  const study = must(edgeStudy(measured, 'Q1', point));
  expect(study.edges.reduce((sum, e) => sum + e.byTable!, 0) * study.frequency).toBeCloseTo(lostOf(measured), 9);
  // Looked at only, it stands in the cycle of the design as it is: other losses hardly move it.
  const looked = must(edgeStudy(rail, 'Q1', point, { ...(rail.parts.Q1 as SwitchPart), switchingEnergy }));
  looked.edges.forEach((e, k) => expect(e.byTable! / study.edges[k]!.byTable!).toBeCloseTo(1, 3));
  expect(looked.edges.map((e) => e.byCharge)).toEqual(plain.edges.map((e) => e.byCharge));
});

test('the curves go through the edges, and rise with the current', () => {
  const { curves, edges } = must(edgeStudy(rail, 'Q1', point));
  for (const e of edges.filter((x) => x.hard)) {
    const k = curves.findIndex((c) => c.amps >= e.carried);
    expect(e.byCharge).toBeGreaterThan(curves[k - 1]!.charge[e.edge]);
    expect(e.byCharge).toBeLessThanOrEqual(curves[k]!.charge[e.edge]);
  }
  for (const edge of ['on', 'off'] as const) expect(curves.every((c, k) => k === 0 || c.charge[edge] > curves[k - 1]!.charge[edge])).toBe(true);
  // A soft edge costs nothing by itself; what is no switch is refused.
  expect(must(edgeStudy(rail, 'Q2', point)).edges.every((e) => !e.hard)).toBe(true);
  expect(edgeStudy(rail, 'L1', point).ok).toBe(false);
});
