import { readFileSync } from 'node:fs';
import { csvFormatRow } from 'd3-dsv';
import { decibels, degrees, phase, size, type Complex } from '../../core/linear/complex';
import { fail, type Problem, type Result } from '../../core/problem';
import { parseQuantity, printQuantity as print, quoted } from '../../core/quantity';
import { logSpaced } from '../../core/response/system';
import { table } from '../table';

/** What can be asked of `reed circuit`, as commander hands it over. */
export interface Options {
  settle?: true;
  harmonics?: string;
  output?: string[];
  events?: true;
  run?: string;
  begin?: string;
  keep?: string;
  thin?: string;
  response?: string[];
  loop?: string;
  inject?: string;
  amplitude?: string;
  tones: string;
  at?: string;
  grid: string;
  from: string;
  to: string;
  points: string;
  show?: string[];
  step?: string;
  json?: true;
  csv?: true;
}

export const say = (text: string): void => void process.stdout.write(text + '\n');

/** A problem on its way out of the command. */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

/** A problem may quote what was typed: on one line it stays. */
export const oneLine = (text: string): string => text.replace(/\s*[\r\n]+\s*/g, ' ');

export const must = <T>(r: Result<T>): T => {
  if (!r.ok) throw new Refusal(r.problem);
  return r.value;
};

export const refuse = (where: string, message: string, remedy: string): never => {
  throw new Refusal(fail('option', where, message, remedy).problem);
};

/** Text of a file, or a refusal that names it. */
export function fileText(path: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    throw new Refusal({ code: 'file', where: '', message: 'the file can not be read', remedy: 'check the path' });
  }
}

/** A whole number from an option, within limits. */
export function count(text: string, option: string, least: number, most: number): number {
  const n = Number(text);
  return Number.isInteger(n) && n >= least && n <= most ? n : refuse(option, `${quoted(text)} is not usable`, `give a whole number from ${least} to ${most}`);
}

/** The frequencies asked for: those of --at, or a range; up to half the cycle's frequency when no highest is given. */
export function frequencies(o: Options, period: number): number[] {
  if (o.at !== undefined) {
    const list = o.at.split(',').map((text) => must(parseQuantity(text, 'Hz', '--at')));
    if (list.some((f) => !(f > 0))) refuse('--at', 'a frequency has to be above zero', 'give frequencies like 1k,2k,50k');
    return [...list].sort((a, b) => a - b);
  }
  const low = must(parseQuantity(o.from, 'Hz', '--from'));
  const high = o.to === '' ? 0.5 / period : must(parseQuantity(o.to, 'Hz', '--to'));
  if (!(low > 0) || !(high > low)) refuse('--from', 'these frequencies make no range', 'give a lowest above zero and a highest above it');
  const points = count(o.points, '--points', 2, 100_000);
  if (o.grid === 'linear') return Array.from({ length: points }, (_, i) => low + ((high - low) * i) / (points - 1));
  return o.grid === 'log' ? logSpaced(low, high, points) : refuse('--grid', `${quoted(o.grid)} is no grid`, 'give log or linear');
}

/** JSON with what does not exist left out: no NaN, no infinity, nothing that would turn into null. */
export const jsonText = (value: unknown): string => JSON.stringify(value, (_, v: unknown) => (typeof v === 'number' && !Number.isFinite(v) ? undefined : v), 2);

/** One line of CSV. */
export const csvLine = (cells: readonly (string | number)[]): string => csvFormatRow(cells.map(String));

export interface ResponseRow {
  frequency: number;
  gain: number;
  phase: number;
  /** Where several are asked for */
  of?: string;
}

export const responseRow = (frequency: number, v: Complex): ResponseRow => ({ frequency, gain: decibels(size(v)), phase: degrees(phase(v)) });

/** Rows of a response in the form asked for; `more` are further columns of numbers and words. */
export function sayResponse<R extends ResponseRow>(rows: readonly R[], o: Options, more: readonly { title: string; value: (r: R) => string | number; text: (r: R) => string }[] = [], besides: object = {}): void {
  if (o.json) return say(jsonText({ ...besides, response: rows }));
  if (o.csv) {
    say(csvLine(['frequency (Hz)', 'gain (dB)', 'phase (°)', ...more.map((m) => m.title)]));
    for (const r of rows) say(csvLine([r.frequency, r.gain, r.phase, ...more.map((m) => m.value(r))]));
    return;
  }
  say(table(['frequency', 'gain', 'phase', ...more.map((m) => m.title)], rows.map((r) => [print(r.frequency, 'Hz', 4), print(r.gain, 'dB', 4), print(r.phase, '°', 4), ...more.map((m) => m.text(r))])));
}
