import { change, must, openDemo } from '../../../demo/open';
import { evaluate, type WithLoop } from '../../../core/evaluation';
import { placementPoint } from '../../../core/evaluation/compensator';
import { editDesign, type Design } from '../../../core/design';
import { fieldAt } from '../../../core/design/fields';
import { loopsShown } from './shownLoop';

/** The loops that the stage offers, and that their handles are settings of the design. */

const rail = openDemo('cabin-lighting-rail');
const shown = (d: Design) => loopsShown(d, must(evaluate(d, placementPoint(d))) as WithLoop);

test('a loop by itself is the one of the output voltage, with the handles of its amplifier', () => {
  const [only, ...others] = shown(rail);
  expect(others).toEqual([]);
  expect([only!.which, only!.title, only!.crossover]).toEqual(['outer', 'output voltage', 'control.crossover']);
  expect(only!.handles.map((h) => h.key)).toEqual(only!.amplifier.handles.map((h) => h.key));
  expect(Math.abs(only!.figures.crossover / rail.control.crossover - 1)).toBeLessThan(0.05);
});

test('what holds a current names it', () => {
  const magnet = openDemo('brake-magnet');
  const [only] = shown(magnet);
  expect(only!.title).toBe(must(evaluate(magnet, placementPoint(magnet))).loop!.outer ? 'current' : 'output voltage');
});

describe('a cascade', () => {
  const d = change(rail, { 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 4e3 });
  test('has the inner first; what its handles move is its own, and not the outer’s', () => {
    const [inner, outer] = shown(d);
    expect([inner!.which, outer!.which]).toEqual(['inner', 'outer']);
    expect(inner!.figures.crossover).toBeGreaterThan(2 * outer!.figures.crossover);
    const keys = new Set(outer!.handles.map((h) => h.key));
    for (const { key } of inner!.handles) {
      expect(keys.has(key)).toBe(false);
      expect(inner!.placed[key]).toBeGreaterThan(0);
    }
  });
  test('each handle is a field of the design in Hz: dragged, that loop has it there and the other keeps its own', () => {
    for (const loop of shown(d))
      for (const { key } of loop.handles) {
        expect(fieldAt(`control.${key}`)?.unit).toBe('Hz');
        const moved = 1.3 * loop.placed[key]!;
        const edited = must(editDesign(d, { [`control.${key}`]: moved, 'control.rounded': false }));
        const after = shown(edited).find((l) => l.which === loop.which)!;
        expect(after.wanted[key]).toBeCloseTo(moved, 6);
      }
  });
  test('crossover and margin that it is placed for are fields of the design too', () => {
    for (const { crossover, phaseMargin } of shown(d)) expect([fieldAt(crossover)?.unit, fieldAt(phaseMargin)?.unit]).toEqual(['Hz', '°']);
  });
});
