import fc from 'fast-check';
import { openDemo } from '../../demo/open';
import { SHELF } from '../../shelf';
import { judge } from '../corners/corners';
import { hangBranch } from '../choice';
import { canHangAcross } from '../branches';
import { editDesign, topologyOf, type Design } from '../design';
import { evaluate, sizeDesign } from '.';

/** Whatever is asked of a design: figures, or a problem with its field and remedy; never a number that is none, never an exception. */

const RUNS = 16;
const DEMOS = ['cabin-lighting-rail', 'door-motor', 'sensor-supply', 'radio', 'gate-supplies', 'brake-magnet', 'station-charger'].map(openDemo);
const scale = fc.constantFrom(1e-3, 0.1, 0.5, 0.9, 1.1, 2, 10, 1e3);

/** One change of one field, by a factor or to something else. */
const change: fc.Arbitrary<(d: Design) => Record<string, unknown>> = fc.oneof(
  fc.tuple(fc.constantFrom('brief.line.max', 'brief.load.max', 'brief.load.min', 'brief.loadStep', 'brief.frequency', 'brief.output.voltage', 'brief.rippleShare', 'control.crossover', 'sink.thermalResistance', 'drive.deadTime', 'drive.gateResistance'), scale).map(([path, by]) => (d: Design) => ({ [path]: by * (path.split('.').reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], d) as number) })),
  fc.tuple(fc.constantFrom('constant-current', 'constant-power', 'diode-string'), fc.double({ min: 0.1, max: 1.1, noNaN: true })).map(([kind, share]) => (d: Design) => ({ 'brief.loadKind': kind, ...(kind === 'diode-string' ? { 'brief.loadThreshold': share * d.brief.output.voltage } : {}) })),
  fc.tuple(fc.constantFrom('brief.lineInductance', 'brief.lineResistance', 'brief.loadInductance'), fc.double({ min: -9, max: 1, noNaN: true })).map(([path, decade]) => () => ({ [path]: 10 ** decade })),
  fc.constantFrom('continuous', 'discontinuous').map((lightLoad) => () => ({ 'brief.lightLoad': lightLoad })),
  fc.double({ min: 0.01, max: 1, noNaN: true }).map((share) => (d: Design) => ({ 'brief.lineStep': share * (d.brief.line.max - d.brief.line.min) })),
  fc.double({ min: 1e-9, max: 1e-2, noNaN: true }).map((time) => () => ({ 'brief.loadStepTime': time })),
  fc.constantFrom(1e-6, 1, 1e6, 1e12).map((slope) => () => ({ 'control.method': 'peak-current', 'control.slope': slope })),
  fc.constant(() => ({ 'control.method': 'peak-current' })),
  fc.integer({ min: 1, max: 8 }).map((series) => () => ({ 'parts.C2.series': series })),
  fc.constantFrom(1e-9, 1e-3, 1, 1e3).map((farads) => () => ({ 'parts.C2.capacitance': farads })),
  fc.constantFrom(0.5, 5, 500).map((volts) => () => ({ 'parts.C2.halfVoltage': volts })),
);

const branch = fc.option(fc.tuple(fc.constantFrom('damping', 'filter', 'snubber', 'clamp'), fc.nat(5), fc.constantFrom(null, 1e-3, 1, 1e6)));

/** Every number below a value that is none. */
function strange(value: unknown, path = ''): string[] {
  if (typeof value === 'number') return Number.isNaN(value) ? [path] : [];
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, inner]) => strange(inner, path === '' ? key : `${path}.${key}`));
}

test('any few changes and a branch: figures without a stain, or a problem with a remedy', () => {
  let computed = 0;
  fc.assert(
    fc.property(fc.constantFrom(...DEMOS), fc.array(change, { minLength: 1, maxLength: 3 }), branch, fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), (demo, changes, hung, [x, y]) => {
      let d = demo;
      for (const c of changes) {
        const edited = editDesign(d, c(d));
        if (edited.ok) d = edited.value;
        else expect([edited.problem.message, edited.problem.remedy].every((text) => text.length > 5)).toBe(true);
      }
      if (hung) {
        const [kind, k, resistance] = hung;
        const slots = canHangAcross(topologyOf(d)!);
        const next = hangBranch(d, kind, SHELF, kind === 'snubber' || kind === 'clamp' ? { at: slots[k % Math.max(1, slots.length)]?.id } : {});
        if (next.ok) d = next.value;
        const own = editDesign(d, { 'branches.B1.resistance': resistance });
        if (next.ok && own.ok) d = own.value;
      }
      const { line, load, air } = d.brief;
      const point = { line: line.min + x * (line.max - line.min), load: load.min + y * (load.max - load.min), air: air.max };
      expect(strange(sizeDesign(d).values)).toEqual([]);
      const found = evaluate(d, point);
      if (found.ok) {
        computed++;
        // Margins of a curve that does not cross do not exist, and it says so; nothing else may be missing.
        const { loop, ...rest } = found.value;
        expect(strange(rest)).toEqual([]);
        if (!loop) expect(found.value.problems.loop!.remedy.length).toBeGreaterThan(5);
        else if (loop.beyond === undefined) expect(strange({ ...loop, phaseCrossover: Number.isFinite(loop.gainMargin) ? loop.phaseCrossover : 0 })).toEqual([]);
      } else expect(found.problem.remedy.length).toBeGreaterThan(5);
      for (const s of judge(d, point, found).requirements) expect(Number.isNaN(s.room)).toBe(false);
    }),
    { numRuns: RUNS, endOnFailure: true },
  );
  // Draws that are refused tell little: most are not.
  expect(computed).toBeGreaterThan(RUNS / 3);
});
