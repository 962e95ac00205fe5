import { bareDemo, must, openDemo } from '../../demo/open';
import { SHELF } from '../../shelf';
import { dropBranch, hangBranch } from '../choice';
import { canHangAcross } from '.';
import { editDesign, topologyOf, type Design } from '../design';
import { evaluate, sizeDesign } from '../evaluation';

const rail = bareDemo('cabin-lighting-rail');
const door = openDemo('door-motor');
const figures = (d: Design, line: number) => must(evaluate(d, { line, load: d.brief.load.max, air: 40 }, { detail: true }));
const lossOf = (d: Design, line: number, id: string): number => figures(d, line).losses.parts.find((p) => p.id === id)!.total;

describe('a snubber across a switch', () => {
  const snubbed = must(hangBranch(rail, 'snubber', SHELF, { at: 'Q1' }));
  const taken = sizeDesign(snubbed).values.C11!.taken;
  test('is three times the part’s own capacitance, its resistor √(L/C) of the loop', () => {
    const { values } = sizeDesign(snubbed);
    const own = rail.parts.Q1!.kind === 'switch' ? rail.parts.Q1!.outputCapacitance : NaN;
    expect(values.C11!.wanted).toBeCloseTo(3 * own, 15);
    expect(values['C11 resistor']!.wanted).toBeCloseTo(Math.sqrt(20e-9 / own), 6);
    const wider = sizeDesign(must(editDesign(snubbed, { 'branches.B1.stray': 80e-9 })));
    expect(wider.values['C11 resistor']!.wanted / values['C11 resistor']!.wanted).toBeCloseTo(2, 9);
  });
  test.each([36, 48, 60])('burns C V² f at %d V, and the balance of the circuit closes', (line) => {
    expect(lossOf(snubbed, line, 'C11') / (taken * line ** 2 * rail.brief.frequency)).toBeCloseTo(1, 1);
    expect(Math.abs(figures(snubbed, line).detail!.balance.residual)).toBeLessThan(1e-9);
  });
  test('does not pass for rest: the rail stays continuous', () => {
    expect(figures(snubbed, 48).cycle.conduction).toBe('continuous');
  });
  test('goes as it came', () => {
    expect(figures(must(dropBranch(snubbed, 'B1')), 48).losses).toEqual(figures(rail, 48).losses);
  });
  test('stands above a part that lies in a wire, beside one that stands', () => {
    const drawing = (d: Design) => topologyOf(d)!.drawing;
    const [bare, above, beside] = [drawing(rail), drawing(snubbed), drawing(must(hangBranch(rail, 'snubber', SHELF, { at: 'Q2' })))];
    expect([above.height > bare.height, above.width]).toEqual([true, bare.width]);
    expect([beside.height, beside.width > bare.width]).toEqual([bare.height, true]);
  });
});

describe('a clamp across a switch', () => {
  const clamped = must(hangBranch(door, 'clamp', SHELF, { at: 'Q1' }));
  test('stands at what the switch blocks, and its resistor burns V² / R', () => {
    const f = figures(clamped, 24);
    const { values } = sizeDesign(clamped);
    const level = door.brief.output.voltage;
    expect(lossOf(clamped, 24, 'C11') / (level ** 2 / values['C11 resistor']!.taken)).toBeCloseTo(1, 1);
    expect(f.losses.parts.find((p) => p.id === 'D11')!.total).toBeGreaterThan(0);
    expect(Math.abs(f.detail!.balance.residual)).toBeLessThan(1e-9);
  });
  test('takes more of a longer loop: its resistor goes as one over the inductance', () => {
    const ohms = (d: Design): number => sizeDesign(d).values['C11 resistor']!.wanted;
    expect(ohms(clamped) / ohms(must(editDesign(clamped, { 'branches.B1.stray': 40e-9 })))).toBeCloseTo(2, 9);
  });
});

describe('every switch and diode that stands alone takes one, and the balance closes', () => {
  const cases = ['door-motor', 'sensor-supply', 'radio', 'brake-magnet'].flatMap((name) => canHangAcross(topologyOf(openDemo(name))!).flatMap((p) => (['snubber', 'clamp'] as const).map((kind) => [name, kind, p.id] as const)));
  test.each(cases)('%s, %s across %s', (name, kind, slot) => {
    const hung = must(hangBranch(openDemo(name), kind, SHELF, { at: slot }));
    const { line } = hung.brief;
    expect(Math.abs(figures(hung, (line.min + line.max) / 2).detail!.balance.residual)).toBeLessThan(1e-9);
  });
});

describe('refused', () => {
  test('across nothing, across a capacitor, across one of several alike', () => {
    for (const [d, at] of [[rail, undefined], [rail, 'C2'], [openDemo('brake-magnet'), 'Q1'], [rail, 'Q9']] as const) {
      const found = hangBranch(d, 'snubber', SHELF, { at });
      expect(found.ok ? '' : found.problem.code).toBe('branch');
    }
  });
  test('in a file, with the field and what would do', () => {
    const hung = must(hangBranch(rail, 'snubber', SHELF, { at: 'Q1' }));
    const edited = editDesign(hung, { 'branches.B1.at': 'Q7' });
    expect(edited.ok ? '' : `${edited.problem.where}: ${edited.problem.remedy}`).toBe('branches.B1.at: choose Q1, Q2');
  });
});
