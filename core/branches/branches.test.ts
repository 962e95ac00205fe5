import { holdCorners } from '../corners/corners';
import { bareDemo, must } from '../../demo/open';
import { SHELF } from '../../shelf';
import { dropBranch, hangBranch } from '../choice';
import { editDesign, readDesignValue, topologyOf, type Design } from '../design';
import { evaluate, sizeDesign } from '../evaluation';

const rail = bareDemo('cabin-lighting-rail');
const at = { line: 36, load: 8, air: 50 };
const figures = (d: Design) => must(evaluate(d, at, { detail: true }));

describe('a damping R-C on the output', () => {
  const damped = must(hangBranch(rail, 'damping', SHELF));
  test('is a part like the others: sized, in the circuit, with its loss; the balance closes', () => {
    const f = figures(damped);
    expect(Object.keys(f.duties)).toContain('C11');
    expect(f.losses.parts.find((p) => p.id === 'C11')!.total).toBeGreaterThan(0);
    expect(Math.abs(f.detail!.balance.residual)).toBeLessThan(1e-9);
    expect(sizeDesign(damped).values.C11!.taken).toBeGreaterThanOrEqual(4 * sizeDesign(damped).values.C2!.taken * (1 - 1e-9));
  });
  test('its resistor is the best of the textbook, unless overridden', () => {
    const { values } = sizeDesign(damped);
    // Erickson, Maksimović, ch. 10, with n = 4: 0.612 of √(L/C).
    expect(values['C11 resistor']!.wanted / Math.sqrt(values.L1!.taken / values.C2!.taken)).toBeCloseTo(Math.sqrt((6 * 16) / (2 * 16 * 8)), 9);
    const own = must(editDesign(damped, { 'branches.B1.resistance': 2.2 }));
    expect([sizeDesign(own).values['C11 resistor']!.taken, sizeDesign(own).values['C11 resistor']!.overridden]).toEqual([2.2, true]);
  });
  test('takes the peak out of the plant', () => {
    const peak = (d: Design): number => Math.max(...figures(d).detail!.bode!.plant.gain);
    expect(peak(damped)).toBeLessThan(peak(rail) - 3);
  });
  test('loop, load step and corners follow: the rail then holds everywhere', () => {
    expect(holdCorners(rail).holding).toBeLessThan(9);
    expect(holdCorners(damped).holding).toBe(9);
  });
  test('goes as it came', () => {
    expect(figures(must(dropBranch(damped, 'B1'))).loop).toEqual(figures(rail).loop);
  });
  test('stands in the drawing, left of the load, and the drawing is wider by it', () => {
    const [bare, hung] = [topologyOf(rail)!.drawing, topologyOf(damped)!.drawing];
    expect(hung.width).toBeGreaterThan(bare.width);
    const x = (id: string): number => hung.symbols.find((s) => s.id === id)!.x;
    expect(x('C2')).toBeLessThan(x('C11'));
    expect(x('C11')).toBeLessThan(x('load'));
  });
});

describe('a second L-C stage', () => {
  const filtered = must(hangBranch(rail, 'filter', SHELF));
  test('lets about a tenth of the ripple through, and the output is behind it', () => {
    const ripple = (d: Design): number => figures(d).cycle.signals.output!.peakToPeak;
    expect(ripple(filtered) / ripple(rail)).toBeGreaterThan(0.03);
    expect(ripple(filtered) / ripple(rail)).toBeLessThan(0.13);
    expect(figures(filtered).cycle.signals.output!.mean).toBeCloseTo(24, 6);
    expect(Math.abs(figures(filtered).detail!.balance.residual)).toBeLessThan(1e-9);
  });
  test('rings: the loop shows it, and a damping branch hung behind it is sized by it', () => {
    expect(holdCorners(filtered).worst.some((w) => !w.holds)).toBe(true);
    const { values } = sizeDesign(must(hangBranch(filtered, 'damping', SHELF)));
    expect(values.C12!.workings[0]!.value).toBeCloseTo(4 * values.C11!.taken, 12);
  });
});

describe('refused', () => {
  test.each([
    ['a branch of another name', { branches: { X: { kind: 'damping', resistance: null } } }, 'branches.X'],
    ['a kind that there is not', { branches: { B1: { kind: 'shunt', resistance: null } } }, 'branches.B1.kind'],
    ['a resistance of nothing', { branches: { B1: { kind: 'damping', resistance: 0 } } }, 'branches.B1.resistance'],
    ['a branch without its part', { branches: { B1: { kind: 'damping', resistance: null } } }, 'parts.C11'],
  ])('%s, with the field', (_, change, where) => {
    const read = readDesignValue({ ...rail, ...change });
    expect(read.ok ? '' : read.problem.where).toBe(where);
  });
  test('more branches than there are names', () => {
    let d = rail;
    for (let k = 0; k < 4; k++) d = must(hangBranch(d, 'damping', SHELF));
    const fifth = hangBranch(d, 'damping', SHELF);
    expect(fifth.ok ? '' : fifth.problem.code).toBe('branch');
  });
});
