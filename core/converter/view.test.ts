import { readFileSync } from 'node:fs';
import { must } from '../../demo/open';
import { editElement, valuesOf } from '../interchange/circuitEdit';
import { readConverter } from '../interchange/circuitFile';
import { converterFigures, settleConverter } from './converter';
import { failsOf, roomsOf } from './verdict';
import { viewOf } from './view';

/** What a screen shows of a circuit with roles, what it misses, and how a value of it is changed. */

const text = readFileSync('demo/circuits/buck-closed-loop.json', 'utf8');
const figures = (of: string) => must(converterFigures(must(readConverter(of))));

test('what is drawn is what is measured: outputs, currents of parts, and the element asked for', () => {
  const settled = must(settleConverter(must(readConverter(text))));
  const view = viewOf(settled, 'C2');
  expect(view.looked.map((l) => l.id)).toEqual(['output 0', 'L1, current', 'Q1, current', 'Q2, current', 'C2, voltage', 'C2, current']);
  view.waves.ids.forEach((id, k) => {
    // Samples lie within the extremes, and reach them to what a step between two samples is.
    const { min, max, mean } = view.measures[id]!;
    const drawn = view.waves.values[k]!;
    const rounding = 1e-9 * Math.max(Math.abs(min), Math.abs(max));
    expect(Math.min(...drawn)).toBeGreaterThanOrEqual(min - rounding);
    expect(Math.max(...drawn)).toBeLessThanOrEqual(max + rounding);
    expect(mean).toBeGreaterThanOrEqual(min - rounding);
    expect(mean).toBeLessThanOrEqual(max + rounding);
  });
  // Seen without being asked for once only.
  expect(viewOf(settled, 'L1').looked.filter((l) => l.id === 'L1, current')).toHaveLength(1);
  expect(viewOf(settled, 'nothing of that name').looked).toHaveLength(4);
  // Power is kept: what the line gives is what all others take.
  const sum = Object.values(view.watts).reduce((a, b) => a + b, 0);
  expect(Math.abs(sum)).toBeLessThan(1e-9 * Math.abs(view.watts.line!));
  const { parts, elsewhere, total } = view.figures.losses;
  expect(elsewhere.elements.reduce((s, id) => s + view.watts[id]!, 0)).toBeCloseTo(elsewhere.total, 9);
  expect(parts.reduce((s, p) => s + p.total, elsewhere.total)).toBeCloseTo(total, 9);
});

test('rooms are below zero where the verdict names a fault, and only there', () => {
  const sound = figures(text);
  expect(failsOf(must(readConverter(text)), sound)).toEqual([]);
  expect(roomsOf(sound).loops).toBeCloseTo(Math.min(sound.loops[0]!.crossover / 10e3, sound.loops[0]!.phaseMargin / 45) - 1, 9);
  expect(roomsOf(sound).outputs).toBeGreaterThan(0);
  // A reference a tenth too high, then a loop that leaves its cycle.
  const high = must(editElement(text, 'reference', 'value', '1.32 V'));
  expect(failsOf(must(readConverter(high)), figures(high))).toEqual([expect.stringContaining('output out to 0: 26.')]);
  expect(roomsOf(figures(high)).outputs).toBeLessThan(0);
  const fast = must(editElement(must(editElement(text, 'C12', 'capacitance', '10 pF')), 'C2', 'capacitance', '4 µF'));
  expect(failsOf(must(readConverter(fast)), figures(fast))[0]).toContain('the cycle does not stay');
  expect(roomsOf(figures(fast)).loops).toBe(-1);
});

describe('a value is changed', () => {
  test('alone: the rest of the text says what it said', () => {
    const changed = must(editElement(text, 'C2', 'capacitance', '22u'));
    const [before, after] = [JSON.parse(text), JSON.parse(changed)] as { elements: { id: string; capacitance?: unknown }[] }[];
    expect(after!.elements.find((e) => e.id === 'C2')!.capacitance).toBe(22e-6);
    before!.elements.find((e) => e.id === 'C2')!.capacitance = 22e-6;
    expect(after).toEqual(before);
  });
  test('or refused with what is wrong', () => {
    for (const [id, field, typed, says] of [['C2', 'capacitance', 'much', 'C2.capacitance'], ['C2', 'capacitance', '-1 µF', 'C2'], ['C2', 'esr', '3 V', 'C2.esr'], ['C9', 'capacitance', '1 µF', 'C9'], ['C2', 'kind', '1', 'C2.kind'], ['L1', 'inductance', '0 H', 'L1']] as const) {
      const found = editElement(text, id, field, typed);
      expect(found.ok).toBe(false);
      if (!found.ok) expect(JSON.stringify(found.problem)).toContain(says);
    }
  });
  test('every plain value of every element, to itself', () => {
    const { circuit } = must(readConverter(text));
    for (const e of circuit.elements)
      for (const v of valuesOf(e)) {
        const same = must(readConverter(must(editElement(text, e.id, v.field, `${v.value}`))));
        expect(same.circuit).toEqual(circuit);
      }
  });
});
