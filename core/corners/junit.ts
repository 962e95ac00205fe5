import { create } from 'xmlbuilder2';
import type { Design } from '../design/schema';
import { describeProblem } from '../problem';
import { printQuantity as print } from '../quantity';
import type { CornerReport } from './corners';
import { requirementNamed } from './requirements';

/** Characters that XML 1.0 has no place for. */
const NONE = /[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu;
const plain = (text: string): string => text.replace(NONE, '�');

/** A verdict as continuous integration reads it: a suite a design, a case a requirement at its worst corner, and a case a corner without figures. */
export function junitOf(d: Design, report: CornerReport): string {
  const at = (p: { line: number; load: number; air: number }): string => `${print(p.line, 'V')}, ${print(p.load, 'A')}, ${print(p.air, '°C', 3)}`;
  const cases = [
    ...report.worst.map((w) => {
      const { title, unit, direction } = requirementNamed(w.id);
      const said = `${print(w.value, unit)} at ${at(w.at)}, wanted ${direction} ${print(w.limit, unit)}`;
      return { name: title, said, fails: !w.holds };
    }),
    ...report.corners.flatMap((c) => (c.problem ? [{ name: `figures at ${at(c.point)}`, said: describeProblem(c.problem), fails: true }] : [])),
  ];
  const failures = cases.filter((c) => c.fails).length;
  const suites = create({ version: '1.0', encoding: 'UTF-8' }).ele('testsuites', { tests: cases.length, failures });
  const suite = suites.ele('testsuite', { name: plain(d.name), tests: cases.length, failures, errors: 0, skipped: 0 });
  for (const c of cases) {
    const own = suite.ele('testcase', { classname: plain(d.name), name: plain(c.name) });
    if (c.fails) own.ele('failure', { message: plain(c.said), type: 'requirement' });
    else own.ele('system-out').txt(plain(c.said));
  }
  return suites.end({ prettyPrint: true });
}
