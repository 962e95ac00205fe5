import type { Command } from 'commander';
import { candidates } from '../core/choice';
import { allFaults } from '../core/corners/faults';
import { drawn, spreadOf, tolerancesOf } from '../core/corners/spread';
import { pointsOf } from '../core/corners/worst';
import { fail } from '../core/problem';
import { billCsv, billLines, cornersCsv, knownOf, loopCsv, reportHtml, reportMarkdown, reportOf, SECTIONS, wavesCsv, type Known, type SectionId } from '../core/report';
import { SHELF } from '../shelf';
import { open, refuse, type Options } from './files';
import { pointOf } from './verbs';

/** Draws of a report when nobody says */
const DRAWS = 100;

const FORMS = ['html', 'markdown', 'bill', 'waveforms', 'loop', 'corners'] as const;

function make(file: string, options: Options): number {
  const form = (options.as ?? 'html') as (typeof FORMS)[number];
  const ids = SECTIONS.map((s) => s.id);
  const wanted = typeof options.sections === 'string' ? options.sections.split(',').map((s) => s.trim()) : undefined;
  const unknown = wanted?.find((s) => !ids.includes(s as SectionId));
  const draws = Number(options.draws ?? DRAWS);
  const wrong = !FORMS.includes(form)
    ? fail('unknown', '--as', `"${String(options.as)}" is no form of a report`, `give ${FORMS.join(', ')}`)
    : unknown !== undefined
      ? fail('unknown', '--sections', `"${unknown}" is no section`, `give some of ${ids.join(',')}`)
      : Number.isInteger(draws) && draws >= 0 && draws <= 10_000
        ? undefined
        : fail('range', '--draws', `${String(options.draws)} is no number of draws`, 'give 0 to 10,000');
  if (wrong && !wrong.ok) return refuse(file, wrong.problem, options);
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const d = design.value;
  const point = pointOf(d, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const known = knownOf(d, point.value, SHELF);
  if (!known.ok) return refuse(file, known.problem, options);
  const k = known.value;
  const has = (id: SectionId): boolean => (form === 'html' || form === 'markdown') && (wanted === undefined || wanted.includes(id));
  const more: Pick<Known, 'candidates' | 'spread' | 'faults'> = {
    ...(has('topology') ? { candidates: candidates(d, SHELF) } : {}),
    ...(has('spread') && draws > 1 ? { spread: spread(k, draws) } : {}),
    ...(has('faults') ? { faults: allFaults(d, point.value) } : {}),
  };
  const text = { bill: () => billCsv(billLines(d, SHELF, k.corners)), waveforms: () => wavesCsv(d, k.figures), loop: () => loopCsv(k.figures), corners: () => cornersCsv(k.corners), html: () => reportHtml(written()), markdown: () => reportMarkdown(written()) }[form]();
  function written(): ReturnType<typeof reportOf> {
    return reportOf({ ...k, ...more }, wanted as SectionId[] | undefined);
  }
  process.stdout.write(text);
  return k.corners.holding === k.corners.corners.length && k.region.holds ? 0 : 1;
}

function spread({ design, region }: Known, draws: number): NonNullable<Known['spread']> {
  const tolerances = tolerancesOf(design);
  const points = pointsOf(region.worst);
  const seed = 1;
  return { found: spreadOf(tolerances, Array.from({ length: draws }, (_, k) => drawn(design, tolerances, seed, k, points))), tolerances, seed };
}

/** reed report: all that is known of a design, to hand over. */
export function addReportVerb(program: Command, done: (code: number) => void): void {
  program
    .command('report')
    .summary('all that is known of a design in one file')
    .description(`Print a report: one HTML file that opens without a network and prints, Markdown, or numbers as CSV (the bill of materials, waveforms, loop, corners). Sections: ${SECTIONS.map((s) => s.id).join(', ')}. Exit code 0 when the design holds, 1 when a requirement fails, 2 when the file can not be used.`)
    .argument('<design>', 'design file (JSON)')
    .option('--as <form>', `${FORMS.join(', ')} (default: html)`)
    .option('--sections <list>', 'only these, like brief,verdict,bill')
    .option('--draws <count>', `designs drawn for its spread; 0 leaves it out (default: ${DRAWS})`)
    .option('--line <volts>', 'line voltage (default: middle of the range)')
    .option('--load <amps>', 'load current (default: full load)')
    .option('--air <celsius>', 'air temperature (default: hottest of the brief)')
    .exitOverride()
    .action((file: string, options: Options) => done(make(file, options)));
}
