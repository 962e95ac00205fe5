import { must, openDemo } from '../../demo/open';
import type { Prepared } from '../circuit/machine';
import { dot } from '../linear/dense';
import { climb } from '../linear/stepTable';
import { march } from '../orbit/march';
import { drawEnvelope } from '../orbit/record';
import { beginRun, usualSchedules } from '../schedule';
import { recorderOf, recording, type Watched } from '.';

/** Points of a run against the run itself: extremes exactly, straight lines to a thousandth, whatever the run is cut into. */

const DEMOS = ['cabin-lighting-rail', 'door-motor', 'radio', 'sensor-supply', 'gate-supplies', 'brake-magnet'];

describe.each(DEMOS)('%s', (name) => {
  const d = openDemo(name);
  const point = { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max / 2, air: 25 };
  const T = 1 / d.brief.frequency;
  const schedule = { ...usualSchedules(d, point)[1]!, lasts: 24 * T, steps: [{ at: 5.3 * T, what: 'load' as const, to: d.brief.load.max, takes: 0 }] };
  const run = must(beginRun(d, point, schedule));
  const { machine } = run.phases[0]!;
  const zero = run.begin.state.t;
  const rows = run.watched.flatMap((w) => ('row' in w ? [w.row] : []));
  const recorder = recorderOf(rows.map((row): Watched => ({ row })), machine.devices, run.period / 4);

  const one = recorder(zero);
  const { envelope, each } = drawEnvelope(rows, zero, zero + schedule.lasts, 1);
  const inside: { t: number; values: number[] }[] = [];
  let k = 0;
  must(march(machine, run.begin.state, zero + schedule.lasts, {
    each: (s, end) => {
      one.each(s, end);
      each(s);
      // Times that nothing is drawn at on purpose.
      const p = s.pattern as Prepared;
      const t = s.duration * (((++k * 0.618) % 1) * 0.98 + 0.01);
      const z = climb(p.stepTable, s.z0, t);
      inside.push({ t: s.start + t - zero, values: rows.map((row) => dot(row(p), z, p.size)) });
    },
  }));
  const record = recording(rows.length);
  record.add(one.points());

  test('least and most are those of the run, whatever happens between two points', () => {
    rows.forEach((_, i) => {
      const [least, most] = [envelope.least[i]![0]!, envelope.most[i]![0]!];
      const read = record.read(i)!;
      const size = Math.max(Math.abs(least), Math.abs(most));
      expect(Math.abs(read.least - least)).toBeLessThan(1e-9 * size);
      expect(Math.abs(read.most - most)).toBeLessThan(1e-9 * size);
    });
  });
  test('between points it goes straight to a few thousandths of what it spans', () => {
    // Its chord is judged by the slopes at both ends of an interval: where it bends unevenly a piece may be off by a little more than a thousandth.
    rows.forEach((_, i) => {
      const span = envelope.most[i]![0]! - envelope.least[i]![0]!;
      for (const { t, values } of inside) expect(Math.abs(record.at(i, t) - values[i]!)).toBeLessThan(3e-3 * span + 1e-5 * Math.abs(values[i]!));
    });
  });
  test('cut into stretches it is the same, point by point', () => {
    let state = run.begin.state;
    let from: Parameters<typeof recorder>[1];
    const times: number[] = [];
    for (const until of [7.1, 7.2, 16, 24]) {
      const part = recorder(zero, from);
      state = must(march(machine, state, zero + until * T, { each: part.each }));
      from = part.carried;
      times.push(...part.points().time);
    }
    // But for the ends of stretches and what is drawn from them on.
    expect(times.length).toBeLessThan(1.05 * one.points().time.length + 60);
    expect(times.length).toBeGreaterThan(0.95 * one.points().time.length);
    expect(times.every((t, i) => i === 0 || t >= times[i - 1]!)).toBe(true);
    expect([...from!.lowest].every((v, i) => Math.abs(v - one.carried.lowest[i]!) <= 1e-9 * Math.max(Math.abs(v), Math.abs(one.carried.highest[i]!)))).toBe(true);
  });
});
