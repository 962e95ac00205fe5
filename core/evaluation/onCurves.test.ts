import { must, openDemo } from '../../demo/open';
import { curvesOf } from '../parts/curves';
import { evaluate } from './evaluate';
import { onCurves } from './onCurves';

test.each(['cabin-lighting-rail', 'gate-supplies', 'brake-magnet'])('%s: every part stands on curves that it has, within what they are drawn over', (name) => {
  const d = openDemo(name);
  const f = must(evaluate(d, { line: d.brief.line.min, load: d.brief.load.max, air: 40 }));
  for (const [slot, part] of Object.entries(d.parts)) {
    const curves = new Map(curvesOf(part).map((c) => [c.title, c.lines[0]!.points.map(([x]) => x)]));
    const stands = onCurves(d, slot, f);
    const on = Object.entries(stands).filter(([title]) => curves.has(title));
    expect([slot, on.length]).toEqual([slot, Math.max(1, on.length)]);
    // A filter's core hardly swings: it stands left of what is drawn.
    for (const [title, x] of on) {
      const drawn = curves.get(title)!;
      expect([slot, title, slot === 'L14' || x >= Math.min(...drawn) * 0.5, x <= Math.max(...drawn)]).toEqual([slot, title, true, true]);
    }
  }
  expect(onCurves(d, 'none', f)).toEqual({});
});
