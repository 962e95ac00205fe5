import { bareDemo, must } from '../../demo/open';
import { beginRun, harmonicsAt, recordRun } from '../schedule';
import { peaksOf, recording, spectrumOf } from '.';

const events = { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) };

test('a sine that fits the window reads its own amplitude; beside it, what a Hann window leaves: half of it', () => {
  const record = recording(1);
  const time = Float64Array.from({ length: 40_001 }, (_, k) => k / 40_000);
  record.add({ time, values: [time.map((t) => 3 + 2 * Math.sin(2 * Math.PI * 25 * t) + 0.1 * Math.cos(2 * Math.PI * 200 * t))], events });
  const s = spectrumOf(record, 0, 0, 1)!;
  expect(s.amplitude[0]!).toBeCloseTo(3, 4);
  expect(s.amplitude[25]!).toBeCloseTo(2, 3);
  expect(s.amplitude[26]!).toBeCloseTo(1, 3);
  expect(s.amplitude[200]!).toBeCloseTo(0.1, 3);
  expect(peaksOf(s, 2).map((p) => p.frequency)).toEqual([25, 200]);
  expect(spectrumOf(record, 0, 0.5, 2)).toBeUndefined();
});

test('of whole periods at rest its lines are the exact harmonics of the settled cycle', () => {
  const rail = bareDemo('cabin-lighting-rail');
  const point = { line: 48, load: 6, air: 25 };
  const periods = 16;
  const s = { name: 's', begins: 'settled' as const, lasts: periods / rail.brief.frequency, steps: [] };
  const run = must(beginRun(rail, point, s, ['L1.current']));
  const { record } = must(recordRun(run, s));
  const exact = must(harmonicsAt(rail, point, 'L1.current', 5));
  const found = spectrumOf(record, 0, 0, s.lasts)!;
  expect(harmonicsAt(rail, point, 'L1.power', 5)).toMatchObject({ ok: false, problem: { code: 'trace' } });
  for (const h of exact.slice(1)) {
    const k = h.order * periods;
    expect(found.frequency[k]! / h.frequency).toBeCloseTo(1, 9);
    // Straight between points, a thousandth of the span.
    expect(Math.abs(found.amplitude[k]! - h.amplitude)).toBeLessThan(2e-3 * exact[1]!.amplitude);
  }
});
