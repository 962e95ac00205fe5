import { bareDemo, change, must, openDemo } from '../../demo/open';
import { SHELF } from '../../shelf';
import { judge } from '../corners/corners';
import { frequencyAt, frequencyRange, FREQUENCIES } from '../choice';
import { editDesign, type Design } from '.';
import { evaluate, lightLoadOf, sizeDesign } from '../evaluation';

const rail = bareDemo('cabin-lighting-rail');
const refusedAt = (d: Design, changes: Record<string, unknown>): string => {
  const edited = editDesign(d, changes);
  return edited.ok ? '' : edited.problem.where;
};
const at = { line: 48, load: 6, air: 40 };

describe('a line step', () => {
  const stepped = change(rail, { 'brief.lineStep': 4 });
  const loop = must(evaluate(stepped, at)).loop;
  test('goes where the range has room: up from the middle, down from the top', () => {
    expect(loop!.line!.step).toBe(4);
    expect(must(evaluate(stepped, { ...at, line: 60 })).loop!.line!.step).toBe(-4);
    expect(must(evaluate(rail, at)).loop!.line).toBeUndefined();
  });
  test('is a requirement where it is asked for, and only there', () => {
    const asked = (d: Design): string[] => judge(d, at).requirements.map((r) => r.id);
    expect(asked(change(stepped, { 'requirements.lineDeviation': { limit: 2, on: true } }))).toContain('lineDeviation');
    expect(asked(change(rail, { 'requirements.lineDeviation': { limit: 2, on: true } }))).not.toContain('lineDeviation');
    expect(judge(change(stepped, { 'requirements.lineDeviation': { limit: loop!.line!.deviation * 0.9, on: true } }), at).holds).toBe(false);
  });
  test('larger than the range is refused at its field', () => {
    expect(refusedAt(rail, { 'brief.lineStep': 30 })).toBe('brief.lineStep');
  });
});

describe('a load step that takes its time', () => {
  const deviation = (time: number | undefined, load = 6): number => must(evaluate(change(rail, { 'brief.loadStepTime': time }), { ...at, load })).loop!.deviation;
  test('one that takes next to no time is a step', () => {
    expect(deviation(1e-9) / deviation(undefined)).toBeCloseTo(1, 4);
  });
  test('the slower, the less: and a very slow one leaves what the rising load itself bends the output by', () => {
    const all = [1e-6, 1e-5, 1e-4, 1e-3].map((t) => deviation(t));
    // Where in the switching period it comes counts for a percent or two.
    for (let k = 1; k < all.length; k++) expect(all[k]).toBeLessThan(1.02 * all[k - 1]!);
    // The loop integrates: at a steady rise the output stays off in proportion to its pace.
    expect(deviation(4e-3) / deviation(8e-3)).toBeCloseTo(2, 1);
  });
});

describe('conduction wanted at the smallest load', () => {
  const sensor = openDemo('sensor-supply');
  const light = change(sensor, { 'brief.load.min': sensor.brief.load.max / 12 });
  test('continuous: the ripple share comes down until it is so at all of the line, and the inductance rises with it', () => {
    const wanted = change(light, { 'brief.lightLoad': 'continuous', 'parts.L1.inductance': null });
    const found = lightLoadOf(wanted)!;
    expect(found.fails).toEqual([]);
    expect(found.share).toBeLessThan(light.brief.rippleShare);
    expect(sizeDesign(wanted).values.L1!.taken).toBeGreaterThan(sizeDesign(change(light, { 'parts.L1.inductance': null })).values.L1!.taken);
    for (const line of [light.brief.line.min, light.brief.line.max]) expect(must(evaluate(wanted, { line, load: light.brief.load.min, air: 25 })).cycle.conduction).toBe('continuous');
  });
  test('discontinuous: found with a diode, told where it is not to be had', () => {
    const wanted = change(light, { 'brief.lightLoad': 'discontinuous', 'parts.L1.inductance': null });
    expect(lightLoadOf(wanted)!.fails).toEqual([]);
    expect(must(evaluate(wanted, { line: light.brief.line.max, load: light.brief.load.min, air: 25 })).cycle.conduction).toBe('discontinuous');
    expect(lightLoadOf(change(rail, { 'brief.lightLoad': 'discontinuous' }))!.fails).toHaveLength(3);
    expect(lightLoadOf(rail)).toBeUndefined();
  });
});

describe('a switching frequency to choose', () => {
  test('nine over the range, from its lowest to its highest; cores shrink with it, the design taken holds it', () => {
    expect(frequencyRange(rail)).toEqual({ min: 73e3, max: 660e3 });
    const [low, high] = [0, FREQUENCIES - 1].map((k) => frequencyAt(rail, k, SHELF)) as [ReturnType<typeof frequencyAt>, ReturnType<typeof frequencyAt>];
    expect([low.frequency, high.frequency]).toEqual([73e3, 660e3]);
    expect(high.figures!.coreVolume).toBeLessThan(low.figures!.coreVolume);
    expect(high.figures!.loss).toBeGreaterThan(low.figures!.loss);
    expect(high.design!.brief.frequency).toBe(660e3);
    expect(high.design!.control.crossover / 660e3).toBeCloseTo(rail.control.crossover / rail.brief.frequency, 2);
  });
  test('outside the range that the brief leaves open is refused', () => {
    const open = change(rail, { 'brief.frequencyRange': { min: 1e5, max: 4e5 } });
    expect(frequencyRange(open)).toEqual({ min: 1e5, max: 4e5 });
    expect(refusedAt(open, { 'brief.frequency': 5e5 })).toBe('brief.frequency');
    expect(refusedAt(rail, { 'brief.frequencyRange': { min: 4e5, max: 1e5 } })).toBe('brief.frequencyRange.min');
  });
});

test('height: asked of the tallest part, once heights are known', () => {
  const asked = change(rail, { 'requirements.height': { limit: 0.02, on: true } });
  expect(judge(asked, at).requirements.map((r) => r.id)).not.toContain('height');
  const tall = change(asked, { 'parts.L1.height': 0.025 });
  expect(judge(tall, at).requirements.find((r) => r.id === 'height')).toMatchObject({ value: 0.025, holds: false });
});

test('capacitors in series: as many more are wanted beside one another, and their rating adds up', () => {
  const two = change(rail, { 'parts.C2.series': 2 });
  expect(sizeDesign(two).values.C2!.suggestedCount).toBeGreaterThanOrEqual(2 * sizeDesign(rail).values.C2!.suggestedCount! - 1);
  const rating = (d: Design): number => must(evaluate(d, at)).stresses.find((s) => s.id === 'C2/voltage')!.rating;
  expect(rating(two)).toBe(2 * rating(rail));
});

describe('on the mains', () => {
  const charger = bareDemo('station-charger');
  const point = { line: 230, load: 2, air: 40 };
  const f = must(evaluate(charger, point, { detail: true }));
  test('what the mains gives is what the load takes and what is lost', () => {
    expect((f.mains!.rms * 230) / f.losses.input).toBeCloseTo(1, 2);
    expect(f.losses.output).toBeCloseTo(390 * 2, 1);
  });
  test('the crest by default; another angle shows another duty, and the same losses', () => {
    const early = must(evaluate(charger, { ...point, angle: Math.PI / 6 }));
    expect(early.cycle.duty).toBeGreaterThan(f.cycle.duty + 0.2);
    expect(early.losses.total).toBeCloseTo(f.losses.total, 4);
    expect(early.cycle.outputRipple).toBeCloseTo(f.cycle.outputRipple, 6);
  });
  test('the drawn half cycle is even in the current and odd in the output, and follows the sine', () => {
    const { angle, drawn, output } = f.detail!.mains!;
    angle.forEach((a, k) => {
      const back = angle.length - 1 - k;
      expect(drawn[back]).toBeCloseTo(drawn[k]!, 9);
      expect(output[back]).toBeCloseTo(-output[k]!, 9);
      if (drawn[k]! > 0) expect(drawn[k]! / (f.mains!.crest * Math.sin(a))).toBeCloseTo(1, 6);
    });
  });
  test('the working of a loss names the angle it is worked at, and that the figure is the mean over the mains', () => {
    const working = f.detail!.workings['D2/conduction']!;
    expect(working.value).toBe(f.losses.parts.find((p) => p.id === 'D2')!.mechanisms.conduction);
    expect(working.numbers).toMatch(/^4 alike, each: .* = [\d.]+ W at 90° of the mains; the figure is the mean over it$/);
  });
  test('an angle where nothing is drawn, and one of a dc line, are refused', () => {
    for (const [d, p] of [[charger, { ...point, angle: 0.01 }], [charger, { ...point, angle: 2 }], [rail, { ...at, angle: 1 }]] as const) {
      const found = evaluate(d, p);
      expect(found.ok ? '' : found.problem.where).toBe('angle');
    }
  });
  test('the voltage loop answers the load step: a slower one dips as its crossover and capacitance say', () => {
    // Placed on the reservoir alone: with the load beside it the gain falls below one a little sooner.
    expect(f.loop!.outer!.crossover).toBeLessThan(10);
    expect(f.loop!.outer!.crossover).toBeGreaterThan(9.5);
    // ΔI / (2π fv C) is what the capacitor alone would lose in a radian of the loop.
    const bound = charger.brief.loadStep / (2 * Math.PI * 10 * sizeDesign(charger).values.C2!.taken);
    expect(f.loop!.deviation).toBeLessThan(bound);
    expect(f.loop!.deviation).toBeGreaterThan(bound / 2);
  });
  test('a switching frequency too near the mains is refused', () => {
    expect(refusedAt(charger, { 'brief.frequency': 4e3, 'control.crossover': 500 })).toBe('brief.frequency');
  });
  test('topologies for a dc line say so', () => {
    const edited = editDesign(charger, { topology: 'boost-diode' });
    expect(edited.ok).toBe(false);
    expect(refusedAt(rail, { 'brief.line.mains': 50 })).toBe('brief.line.mains');
  });
});
