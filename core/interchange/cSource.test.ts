import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { discretise } from '../control/discretise';
import { fixedPoint, fractionFor, inCounts, runFixed, runFloating } from '../control/fixedPoint';
import { resolutionOf } from '../control/resolution';
import { must } from '../../demo/open';
import { cSource, vectorOf } from './cSource';

const T = 5e-6;
const pid = discretise('pre-warped', { integrator: 900, zeros: [2500, 4000], poles: [60e3] }, T, 12e3);
const counts = inCounts(pid, (3.3 / 4096) * 9.6, 1, T / 1e-9);

/** Compiles a file with its main and runs it: what it prints, and what it ends with. */
function compiled(text: string): { status: number; lines: string[] } {
  const folder = mkdtempSync(path.join(tmpdir(), 'controller-'));
  writeFileSync(path.join(folder, 'controller.c'), text);
  execFileSync('gcc', ['-std=c99', '-Wall', '-Wextra', '-pedantic', '-Werror', '-O2', '-ffp-contract=off', '-DSELF_TEST', '-o', path.join(folder, 'controller'), path.join(folder, 'controller.c')]);
  try {
    return { status: 0, lines: execFileSync(path.join(folder, 'controller'), { encoding: 'utf8' }).trim().split('\n') };
  } catch (error) {
    return { status: (error as { status: number }).status, lines: (error as { stdout: string }).stdout.trim().split('\n') };
  }
}

test.each([['16 bits', 16, counts], ['32 bits', 32, counts], ['a PI in 12 bits', 12, inCounts(discretise('backward', { integrator: 300, zeros: [2000], poles: [] }, T, 5e3), 5e-3, 1, 2000)]] as const)('C of %s compiles without a warning, and does what the core does: to the last bit, and to 1e-12', (_, word, c) => {
  const fixed = must(fixedPoint(c, word, 2 * Math.PI * 12e3 * T));
  const { status, lines } = compiled(cSource({ name: 'µ-test */ of −1', counts: c, fixed, about: ['sampled at 78 %'] }));
  expect(status).toBe(0);
  const errors = vectorOf();
  const [whole, float] = [runFixed(fixed, errors), runFloating(c, errors)];
  expect(lines).toHaveLength(errors.length);
  lines.forEach((line, k) => {
    const [y, yf] = line.split(' ').map(Number);
    expect(y).toBe(whole[k]);
    expect(Math.abs(yf! - float[k]!)).toBeLessThanOrEqual(1e-12 * c.most);
  });
  // The vector drives it to both ends and back.
  expect(Math.min(...whole)).toBe(0);
  expect(Math.max(...whole)).toBe(c.most);
  expect(new Set(whole).size).toBeGreaterThan(10);
});

test('a vector that is not met ends the program with another number than 0', () => {
  const fixed = must(fixedPoint(counts, 16, 0.1));
  const text = cSource({ name: 'x', counts, fixed, about: [] }).replace(/WANTED\[\] = \{\n {4}(-?\d+)/, (_, v: string) => `WANTED[] = {\n    ${Number(v) + 1}`);
  expect(compiled(text).status).toBe(1);
});

describe('fixed point', () => {
  test('the more bits, the nearer to what it rounds: gain and phase at the crossover', () => {
    const angle = 2 * Math.PI * 12e3 * T;
    const off = [10, 14, 18, 24, 32].map((word) => {
      const { gain, phase } = must(fixedPoint(counts, word, angle)).off;
      return Math.hypot(gain, phase);
    });
    expect(off.at(-1)).toBeLessThan(1e-5);
    // A word of twice as many bits rounds by the square: four bits more are a sixteenth, within what luck makes of a few coefficients.
    for (let k = 1; k < off.length; k++) expect(off[k]).toBeLessThan(off[k - 1]!);
  });
  test('what integrates goes on integrating, and a coefficient that does not fit is told with what does', () => {
    fc.assert(
      fc.property(fc.integer({ min: 8, max: 32 }), fc.double({ min: 100, max: 5e3, noNaN: true }), fc.double({ min: 2e4, max: 9e4, noNaN: true }), (word, integrator, pole) => {
        const c = inCounts(discretise('bilinear', { integrator, zeros: [2000, 5000], poles: [pole] }, T, 1e4), 5e-3, 1, 5000);
        const f = fixedPoint(c, word, 0.3);
        fc.pre(f.ok);
        expect(must(f).denominator.reduce((s, v) => s + v, 0)).toBe(-(2 ** must(f).fraction));
      }),
    );
    const over = fixedPoint(counts, 16, 0.1, 15);
    expect(over.ok ? '' : [over.problem.where, over.problem.remedy]).toEqual(['control.fractionBits', `take ${fractionFor(counts, 16)} bits behind the point, or longer words`]);
  });
  test('saturated for a thousand samples it comes back at once: nothing has wound up', () => {
    const fixed = must(fixedPoint(counts, 24, 0.1));
    const out = runFixed(fixed, [...new Array<number>(1000).fill(200), ...new Array<number>(40).fill(-20)]);
    expect(out[999]).toBe(counts.most);
    // Summed up, the error would hold it there for ten thousand samples.
    for (let k = 1004; k < 1040; k++) expect(out[k]).toBeLessThan(counts.most);
  });
});

test('Peterchev, Sanders 2003: 12 V in, a converter of 9 bits over 1.5 V, 1:1: the modulator wants a bit more than log2(12/(1.5/2⁹)), 12 bits', () => {
  const at = (bits: number): ReturnType<typeof resolutionOf> => resolutionOf({ gain: 12, division: 1, converterRange: 1.5, converterBits: 9, modulatorStep: 4e-6 / 2 ** bits, period: 4e-6, integral: 1e-3 });
  expect(at(10).cycles).toBe('modulator');
  expect(at(11).bits.wants).toBe(13);
  expect(at(13).cycles).toBeUndefined();
  // Twelve volts by 2^12 are exactly the converter's 2.93 mV: as coarse, not finer.
  expect(at(12).outputStep / at(12).converterStep).toBeCloseTo(1, 12);
  expect(resolutionOf({ gain: 12, division: 1, converterRange: 1.5, converterBits: 9, modulatorStep: 4e-6 / 2 ** 14, period: 4e-6, integral: 0.1 }).cycles).toBe('integral');
});
