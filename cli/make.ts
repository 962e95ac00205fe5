import type { Command } from 'commander';
import { bestDesign, newDesign, readAsked, usual, type AskedText } from '../core/proposal';
import { holdCorners } from '../core/corners/corners';
import { requirementNamed } from '../core/corners/requirements';
import type { Design } from '../core/design';
import { describeProblem, type Problem } from '../core/problem';
import { printQuantity as print, quoted } from '../core/quantity';
import { topologyNamed } from '../core/topology';
import { SHELF } from '../shelf';
import { jsonText, oneLine } from './circuit/say';

/** What an option is to the brief. */
const FIELDS: readonly { option: string; key: keyof AskedText; says: string }[] = [
  { option: 'line', key: 'line', says: 'line: 12, 10..14, "12 ± 5 %", "12 fixed", "230 V 50 Hz"; one value is taken with 10 % to either side' },
  { option: 'out', key: 'output', says: 'output voltage' },
  { option: 'load', key: 'load', says: 'load: 0..3; one value is from zero' },
  { option: 'second', key: 'second', says: 'second output: "12 V at 0.5 A"' },
  { option: 'ripple', key: 'ripple', says: 'output ripple, peak to peak (1 % of the output)' },
  { option: 'step', key: 'loadStep', says: 'load step (half of full load)' },
  { option: 'deviation', key: 'deviation', says: 'that the output may leave its value by after it (5 %)' },
  { option: 'frequency', key: 'frequency', says: 'switching frequency (by power and voltage)' },
  { option: 'air', key: 'air', says: 'air: 50, or "-20 to 50" (50 °C)' },
  { option: 'efficiency', key: 'efficiency', says: 'least efficiency at full load (85 %)' },
  { option: 'margin', key: 'phaseMargin', says: 'least phase margin (45°)' },
  { option: 'inductance', key: 'loadInductance', says: 'inductance of the load, where it is a winding' },
];

/** reed new: a complete design for a brief, on the standard output; what was taken and how it stands on the standard error. */
export function addNewVerb(program: Command, done: (code: number) => void): void {
  const command = program
    .command('new')
    .summary('a design from a brief alone')
    .description('Make a complete design for a brief: topology, parts of the shelf, loop, and the verdict at every corner. Prints the design file (JSON); what was taken for granted and the verdict go to the standard error. Exit code 0 when it holds at every corner, 1 when it does not, 2 when none can be made.')
    .exitOverride();
  for (const { option, says } of FIELDS) command.option(`--${option} <value>`, says);
  command
    .option('--isolated', 'the output is parted from the line')
    .option('--topology <id>', 'this topology, and not the likeliest')
    .option('--name <name>', 'name of the design')
    .action((options: Record<string, string | true>) => done(make(options)));
}

const tell = (text: string): void => void process.stderr.write(`${oneLine(text)}\n`);

function make(options: Record<string, string | true>): number {
  const text: AskedText = { line: '', output: '', load: '', ...Object.fromEntries(FIELDS.flatMap(({ option, key }) => (typeof options[option] === 'string' ? [[key, options[option]]] : []))), ...(options.isolated ? { isolated: true } : {}) };
  const { asked, taken, problems } = readAsked(text);
  if (!asked) {
    for (const [key, problem] of Object.entries(problems)) refuse(`--${FIELDS.find((f) => f.key === key)?.option ?? key}`, problem);
    return 2;
  }
  const name = typeof options.name === 'string' ? options.name : undefined;
  const { topology } = options;
  if (typeof topology === 'string' && !topologyNamed(topology)) return refuse('--topology', { code: 'unknown', where: 'topology', message: `"${quoted(topology)}" is not a topology here`, remedy: 'reed topologies lists them' });
  const made = typeof topology === 'string' ? newDesign(asked, topology, SHELF, name) : bestDesign(asked, SHELF, name);
  if (!made.ok) return refuse('reed new', made.problem);
  const { design } = made.value;
  process.stdout.write(`${jsonText(design)}\n`);
  for (const t of [...taken, ...usual(asked).taken]) tell(`taken: ${t.title} ${print(t.value, t.unit)} (${t.why})`);
  return verdict(design);
}

function verdict(d: Design): number {
  const report = holdCorners(d);
  const holds = report.holding === report.corners.length;
  const [first] = report.worst;
  const problem = report.corners.find((c) => c.problem)?.problem;
  const r = first && requirementNamed(first.id);
  tell(`${topologyNamed(d.topology)!.title}: ${report.holding} of ${report.corners.length} corners meet the brief${problem ? `; ${describeProblem(problem)}` : first && r ? `; tightest: ${r.title} ${print(first.value, r.unit)}, wanted ${r.direction} ${print(first.limit, r.unit)}` : ''}`);
  return holds ? 0 : 1;
}

function refuse(where: string, problem: Problem): number {
  tell(`${where}: ${describeProblem({ ...problem, where: '' })}`);
  return 2;
}
