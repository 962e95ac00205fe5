import { bareDemo, change, must } from '../../demo/open';
import { evaluate, proveOnConverter } from './index';
import { placementPoint } from './compensator';

const rail = change(bareDemo('cabin-lighting-rail'), { 'control.amplifier': 'pid', 'control.sampled': 'pre-warped', 'control.crossover': 12e3, 'brief.loadStep': 0.8 });
const point = placementPoint(rail);

test('fine steps: at rest it wanders by no more than the converter tells apart, and its load step is that of the exact loop', () => {
  const fine = change(rail, { 'control.converterBits': 14, 'control.modulatorStep': 1e-10, 'control.wordBits': 32 });
  const { loop } = must(evaluate(fine, point));
  const proof = must(proveOnConverter(fine, point));
  const { converterStep } = loop!.sampled!.resolution!;
  expect(loop!.sampled!.resolution!.cycles).toBeUndefined();
  expect(proof.wanders.volts).toBeLessThan(2.5 * converterStep);
  // Seen at the sample instants alone, and told in counts.
  expect(Math.abs(proof.deviation / loop!.deviation - 1)).toBeLessThan(0.03);
  // And it comes back.
  expect(Math.abs(proof.value.at(-1)!)).toBeLessThan(0.1 * proof.deviation);
});

test('a modulator coarser than the converter makes it wander for ever, by steps of the modulator: as it is told before', () => {
  const coarse = change(rail, { 'control.converterBits': 14, 'control.modulatorStep': 2e-8 });
  const { resolution } = must(evaluate(coarse, point)).loop!.sampled!;
  expect(resolution!.cycles).toBe('modulator');
  const wanders = must(proveOnConverter(coarse, point)).wanders;
  expect(wanders.counts).toBeGreaterThanOrEqual(1);
  const fine = must(proveOnConverter(change(coarse, { 'control.modulatorStep': 1e-10, 'control.wordBits': 24 }), point)).wanders;
  expect(fine.volts).toBeLessThan(wanders.volts / 3);
});

test('a cascade: both loops in integers, and its load step is that of the exact ones', () => {
  const cascade = change(rail, { 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 3e3, 'control.converterBits': 16, 'control.modulatorStep': 1e-10, 'control.wordBits': 32 });
  const { loop } = must(evaluate(cascade, point));
  const proof = must(proveOnConverter(cascade, point));
  expect(loop!.answeredBy).toBe('linearised');
  expect(Math.abs(proof.deviation / loop!.deviation - 1)).toBeLessThan(0.03);
  expect(Math.abs(proof.value.at(-1)!)).toBeLessThan(0.1 * proof.deviation);
});

test('a network, and the mains, are told so', () => {
  for (const d of [change(rail, { 'control.sampled': 'none' }), bareDemo('station-charger')]) {
    const found = proveOnConverter(d, d.brief.line.mains === undefined ? point : { line: 230, load: 2, air: 25 });
    expect(found.ok ? '' : found.problem.where).toBe('control.sampled');
  }
});
