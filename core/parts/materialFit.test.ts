import fc from 'fast-check';
import { must } from '../../demo/open';
import { fitSteinmetz, readLossPoints, type LossPoint } from './materialFit';

const law = { k: 2.1, alpha: 1.42, beta: 2.55 };
const at = (frequency: number, amplitude: number, by = 1): LossPoint => ({ frequency, amplitude, loss: by * law.k * frequency ** law.alpha * amplitude ** law.beta });

test('what a law makes is found again, from any points that tell it', () => {
  fc.assert(fc.property(fc.array(fc.tuple(fc.double({ min: 2e4, max: 5e5, noNaN: true }), fc.double({ min: 0.02, max: 0.3, noNaN: true })), { minLength: 4, maxLength: 20 }), (list) => {
    const found = fitSteinmetz(list.map(([f, b]) => at(f, b)));
    // Points that lie together or along a line are told as such.
    if (!found.ok) return expect(found.problem.code).toBe('spread');
    const { steinmetz, misfit } = found.value;
    expect(steinmetz.alpha).toBeCloseTo(law.alpha, 5);
    expect(steinmetz.beta).toBeCloseTo(law.beta, 5);
    expect(misfit).toBeLessThan(1e-6);
  }));
});

test('what is off is told: how much in the mean, and which point most', () => {
  const points = [at(50e3, 0.1), at(100e3, 0.1), at(100e3, 0.2), at(200e3, 0.05), at(200e3, 0.1, 1.2)];
  const { misfit, worst } = must(fitSteinmetz(points));
  expect(misfit).toBeGreaterThan(0.03);
  expect(misfit).toBeLessThan(0.12);
  expect(worst.point).toBe(points[4]);
  expect(worst.share).toBeLessThan(0);
});

test.each<[string, LossPoint[], string]>([
  ['two points', [at(1e5, 0.1), at(2e5, 0.1)], 'size'],
  ['one frequency', [at(1e5, 0.1), at(1e5, 0.2), at(1e5, 0.3)], 'spread'],
  ['one amplitude', [at(1e5, 0.1), at(2e5, 0.1), at(3e5, 0.1)], 'spread'],
  ['along a line', [at(1e5, 0.1), at(2e5, 0.2), at(4e5, 0.4)], 'spread'],
  ['a loss of nothing', [at(1e5, 0.1), at(2e5, 0.2, 0), at(4e5, 0.1)], 'range'],
  ['units of something else', [at(1e5, 0.1), { ...at(2e5, 0.1), loss: 1e12 }, at(1e5, 0.2)], 'range'],
])('%s: %s', (_, points, code) => {
  expect(fitSteinmetz(points)).toMatchObject({ ok: false, problem: { code } });
});

test('pasted: kHz, mT, kW/m³, however they are parted', () => {
  const wanted = [{ frequency: 100e3, amplitude: 0.2, loss: 80e3 }, { frequency: 200e3, amplitude: 0.05, loss: 12.5e3 }];
  for (const text of ['100 200 80\n200 50 12.5', 'f;B;P\n100;200;80\n200;50;12,5\n', '100,200,80\n200,50,12.5', '100\t200\t80\r\n200\t50\t12.5'])
    must(readLossPoints(text)).forEach((p, k) => (Object.keys(wanted[k]!) as (keyof LossPoint)[]).forEach((key) => expect(p[key]).toBeCloseTo(wanted[k]![key], 6)));
  expect(readLossPoints('100 200')).toMatchObject({ ok: false, problem: { code: 'number', where: 'line 1' } });
  expect(readLossPoints('f B P\n100 x 3')).toMatchObject({ ok: false, problem: { where: 'line 2' } });
});
