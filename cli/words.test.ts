import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { change, openDemo } from '../demo/open';
import { printQuantity as print } from '../core/quantity';
import { caught as reed } from './caught';

/** What reed says in words is what it says as JSON, and it says what is missing. */

const folder = mkdtempSync(path.join(tmpdir(), 'reed-words-'));
const file = (name: string): string => path.join(process.cwd(), `demo/${name}.json`);
/** A demo with some paths changed, as a file. */
const changed = (name: string, changes: Record<string, unknown>): string => {
  const at = path.join(folder, `${name}-${Object.keys(changes).join('-').replace(/[^a-z]/gi, '')}.json`);
  writeFileSync(at, JSON.stringify(change(openDemo(name), changes)));
  return at;
};
const words = (...args: string[]): string => {
  const { code, out } = reed(...args);
  expect(code).toBeLessThan(2);
  expect(out).not.toMatch(/NaN|undefined|Infinity|null/);
  return out;
};
const data = <T>(...args: string[]): T => JSON.parse(reed(...args, '--json').out) as T;

const DEMOS = ['cabin-lighting-rail', 'sensor-supply', 'gate-supplies', 'brake-magnet', 'station-charger'];

test.each(DEMOS)('settle of %s: every signal with its mean, rms, least and most', (name) => {
  const said = words('settle', file(name));
  const { duty, conduction, signals } = data<{ duty: number; conduction: string; signals: Record<string, { mean: number; rms: number }> }>('settle', file(name));
  expect(said).toContain(`duty ${print(duty, '%', 5)}, ${conduction} conduction`);
  for (const id of Object.keys(signals)) expect(said).toMatch(new RegExp(`^${id.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}\\s`, 'm'));
});

test.each(DEMOS)('losses of %s: every part, and their sum', (name) => {
  const said = words('losses', file(name));
  const { efficiency, total, parts } = data<{ efficiency: number; total: number; parts: { id: string; total: number }[] }>('losses', file(name));
  expect(said).toContain(`efficiency ${print(efficiency, '%', 4)}, ${print(total, 'W')} lost`);
  for (const p of parts) expect(said).toContain(print(p.total, 'W'));
  expect(parts.reduce((s, p) => s + p.total, 0) / total).toBeCloseTo(1, 9);
});

test.each(DEMOS)('loop of %s: crossover and margins, what takes the phase, and what makes it', (name) => {
  const said = words('loop', file(name));
  const l = data<{ crossover: number; phaseMargin: number; stable: boolean; shares: { title: string }[]; sampled?: object; outer?: { crossover: number } }>('loop', file(name));
  expect(said).toContain(print(l.crossover, 'Hz'));
  expect(said).toContain(print(l.phaseMargin, '°'));
  expect(said).toMatch(l.stable ? /loop\s+stable/ : /NOT stable/);
  for (const s of l.shares) expect(said).toContain(s.title);
  expect(said).toContain(l.sampled ? 'coefficients: b' : 'network:');
  if (l.outer) expect(said).toContain(print(l.outer.crossover, 'Hz'));
});

test.each(DEMOS)('size of %s: every value with its workings', (name) => {
  const said = words('size', file(name));
  const { values } = data<{ values: { part: string; unit: 'H'; taken: number; workings: { title: string; source: string }[] }[] }>('size', file(name));
  for (const v of values) {
    expect(said).toContain(print(v.taken, v.unit));
    // Every figure has a formula with its source beside it.
    for (const w of v.workings) {
      expect(said).toContain(w.title);
      expect(w.source.length).toBeGreaterThan(3);
    }
  }
});

test('corners and check tell the same worst', () => {
  const at = file('cabin-lighting-rail');
  const { worst } = data<{ worst: { id: string; value: number; holds: boolean }[] }>('corners', at);
  const said = words('corners', at);
  expect(said).toMatch(/\d of 9 corners meet the brief/);
  expect((said.match(/FAILS/g) ?? []).length).toBe(worst.filter((w) => !w.holds).length);
  expect(data<{ tightest: { id: string } }>('check', at).tightest.id).toBe(worst[0]!.id);
});

describe('what is missing is said beside the rest', () => {
  test('a loop that can not be placed: the losses stand, and why there is no loop', () => {
    const at = changed('cabin-lighting-rail', { 'control.phaseMargin': 89, 'control.amplifier': 'pi', 'control.crossover': 60e3 });
    const said = words('losses', at);
    expect(said).toContain('the loop has no figures: ');
    expect(reed('loop', at).code).toBe(2);
    expect(data<{ problem: { where: string } }>('losses', at).problem.where).toMatch(/^control/);
  });
  test('heat that runs away: the cold stage’s losses, said as such', () => {
    const at = changed('cabin-lighting-rail', { 'sink.thermalResistance': 400 });
    expect(words('losses', at)).toContain('heat runs away, and these are the losses of the cold stage');
    expect(reed('check', at).code).toBe(1);
    expect(words('corners', at)).toContain('FAILS');
  });
  test('a loop that never crosses, a controller that samples, a point off the region', () => {
    expect(words('loop', changed('cabin-lighting-rail', { 'control.amplifier': 'pid', 'control.sampled': 'matched', 'control.crossover': 12e3 }))).toContain('coefficients: b');
    const off = reed('settle', file('cabin-lighting-rail'), '--line', '5');
    expect([off.code, off.err.trim().split('\n').length]).toEqual([2, 1]);
    for (const [option, typed] of [['--line', '5 A'], ['--load', 'much'], ['--air', 'warm'], ['--angle', '20']] as const) expect(reed('settle', file('cabin-lighting-rail'), option, typed).err).toContain(option);
  });
  test('a requirement that is switched off is not judged; with none there is nothing to fail', () => {
    const off = Object.fromEntries(Object.keys(openDemo('cabin-lighting-rail').requirements).map((id) => [`requirements.${id}.on`, false]));
    const at = path.join(folder, 'none.json');
    writeFileSync(at, JSON.stringify(change(openDemo('cabin-lighting-rail'), off)));
    expect(reed('check', at)).toMatchObject({ code: 0, out: expect.stringContaining('no requirement is switched on') });
  });
});

test('on the mains a point has an angle, and the figures are those of that moment', () => {
  const at = file('station-charger');
  const [early, crest] = ['30', '90'].map((angle) => data<{ duty: number; mains: { crest: number } }>('settle', at, '--angle', angle));
  expect(early!.duty).toBeGreaterThan(crest!.duty);
  expect(early!.mains.crest).toBeCloseTo(crest!.mains.crest, 6);
  expect(words('settle', at, '--angle', '90')).toContain('over the mains: crest');
});
