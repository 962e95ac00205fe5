import { dsvFormat } from 'd3-dsv';
import { decibels } from '../linear/complex';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print, quoted } from '../quantity';
import type { Column, MeasuredFile, Role, Trace } from './types';

/**
 * A response measured on the bench, from the text of a file: rows of a frequency with gain and phase, or with real and imaginary
 * part, of one trace or several, in whatever order and unit, with header lines, with commas or points in its numbers. What its
 * columns are is told by their titles and, where those say nothing, by what stands in them; it can be corrected.
 */
/** Characters of a file at most, and rows and traces of it */
export const LONGEST = 50_000_000;
const [MOST_ROWS, MOST_TRACES, MOST_COLUMNS] = [200_000, 8, 40];
/** ° beyond which a phase is none: a few dozen turns */
const MOST_PHASE = 20_000;
/** Share by which two frequencies are one */
const SAME = 1e-9;

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;

/** How fields are parted and how numbers are written: the way in which most lines give the same number of numbers. */
function format(lines: readonly string[]): { parts: (line: string) => string[]; number: (text: string) => number } {
  const sample = lines.slice(0, 400);
  const number = (comma: boolean) => (text: string): number => {
    const plain = comma ? text.replace(/\./g, '').replace(',', '.') : text;
    return NUMBER.test(plain.trim()) ? Number(plain) : NaN;
  };
  const ways = [';', '\t', ',', ' '].flatMap((separator) =>
    [false, true].filter((comma) => !(comma && separator === ',')).map((comma) => {
      const dsv = separator === ' ' ? undefined : dsvFormat(separator);
      const parts = (line: string): string[] => (dsv ? (dsv.parseRows(line)[0] ?? []) : line.trim().split(/\s+/)).map((t) => t.trim());
      const read = number(comma);
      const counts = sample.map((line) => parts(line)).map((p) => (p.length > 1 && p.every((t) => t === '' || Number.isFinite(read(t))) ? p.length : 0));
      return { parts, number: read, rows: counts.filter((n) => n > 1).length };
    }),
  );
  return ways.reduce((a, b) => (b.rows > a.rows ? b : a));
}

const scaleOf = (title: string): number => (/\bGHz/i.test(title) ? 1e9 : /\bMHz/.test(title) ? 1e6 : /\bkHz/i.test(title) ? 1e3 : 1);

/** What a column is, by its title. */
function byTitle(title: string): Role | undefined {
  if (/rad\/s|omega|ω/i.test(title)) return 'frequency rad/s';
  if (/freq|\bf\b|hz\b/i.test(title)) return 'frequency';
  if (/\bimag|\bim\b|\(im\)/i.test(title)) return 'imaginary';
  if (/\breal|\bre\b|\(re\)/i.test(title)) return 'real';
  if (/phase|winkel|\barg\b|angle|\bdeg|°|\brad\b/i.test(title)) return /\brad\b|radian/i.test(title) ? 'phase rad' : 'phase °';
  if (/\bdb\b/i.test(title)) return 'gain dB';
  if (/gain|magn|ampl|ratio|betrag|abs|\|/i.test(title)) return 'ratio';
  return undefined;
}

const spread = (v: readonly number[]): number => Math.max(...v) - Math.min(...v);
const largest = (v: readonly number[]): number => v.reduce((m, x) => Math.max(m, Math.abs(x)), 0);

/** What columns without a title that says it are: the first that is positive and rises is the frequency; then gain and phase by turns. */
function byContent(values: readonly (readonly number[])[], known: readonly (Role | undefined)[]): Role[] {
  const roles = [...known];
  if (!roles.some((r) => r?.startsWith('frequency'))) {
    const at = values.findIndex((v, k) => roles[k] === undefined && v.every((x) => x > 0) && v.length > 1 && Math.max(...v) / Math.min(...v) > 1.5);
    if (at >= 0) roles[at] = 'frequency';
  }
  const gains = roles.filter((r) => r === 'gain dB' || r === 'ratio').length;
  const phases = roles.filter((r) => r?.startsWith('phase')).length;
  let wantsGain = gains <= phases;
  values.forEach((v, k) => {
    if (roles[k] !== undefined) return;
    // A ratio is positive and spans decades or none; dB change sign or reach far; a phase in radians stays within a few turns.
    if (wantsGain) roles[k] = v.every((x) => x > 0) && (Math.max(...v) / Math.min(...v) > 300 || largest(v) < 5) ? 'ratio' : 'gain dB';
    else roles[k] = spread(v) > 0 && largest(v) < 7 ? 'phase rad' : 'phase °';
    wantsGain = !wantsGain;
  });
  return roles as Role[];
}

/**
 * Read a measured file.
 * @param asked roles of its columns, where they are to be others than recognised
 * @returns problems "size", "empty", "columns", "value" naming the line, with what would do
 */
export function readMeasured(text: string, asked?: readonly Role[]): Result<MeasuredFile> {
  if (text.length > LONGEST) return fail('size', 'file', `${Math.round(text.length / 1e6)} MB is more than is read here`, 'keep every tenth row: a few hundred frequencies tell all there is');
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  if (lines.every((l) => l.trim() === '')) return fail('empty', 'file', 'there is nothing in it', 'choose the file that the analyser has saved');
  const { parts, number } = format(lines.filter((l) => l.trim() !== '' && !/^\s*[#!%]/.test(l)));
  const width = (p: readonly string[]): boolean => p.length > 1 && p.every((t) => t === '' || Number.isFinite(number(t))) && p.filter((t) => t !== '').length > 1;
  const isData = (line: string): boolean => width(parts(line));
  const first = lines.findIndex((l) => l.trim() !== '' && isData(l));
  if (first < 0) return fail('empty', 'file', 'there is no row of numbers in it', 'give a frequency with gain and phase on each line, parted by commas, semicolons, tabs or blanks');
  const rows: number[][] = [];
  for (let k = first; k < lines.length; k++) {
    const line = lines[k]!;
    if (line.trim() === '' || /^\s*[#!%]/.test(line)) continue;
    const p = parts(line);
    if (p.length > MOST_COLUMNS) return fail('columns', `line ${k + 1}`, `${p.length} columns are more than any analyser writes`, `leave at most ${MOST_COLUMNS}`);
    const values = p.map((t) => (t === '' ? NaN : number(t)));
    if (!width(p) || (rows.length > 0 && values.filter(Number.isFinite).length < 2)) return fail('value', `line ${k + 1}`, `"${quoted(line.slice(0, 60))}" is no row of numbers, and rows stand before it`, 'take the line out');
    rows.push(values);
    if (rows.length > MOST_ROWS) return fail('size', 'file', `more than ${MOST_ROWS} rows`, 'keep every tenth row: a few hundred frequencies tell all there is');
  }
  const count = Math.max(...rows.map((r) => r.length));
  const heads = lines.slice(0, first).map((l) => parts(l.replace(/^\s*[#!%]+/, ''))).filter((p) => p.length >= Math.max(2, count - 1));
  const titles = Array.from({ length: count }, (_, k) => heads.at(-1)?.[k]?.replace(/^"|"$/g, '') ?? '');
  const values = titles.map((_, k) => rows.map((r) => r[k] ?? NaN).filter(Number.isFinite));
  const used = values.findLastIndex((v) => v.length > 0) + 1;
  const named = titles.map((t) => byTitle(t));
  const recognised = byContent(values.slice(0, used), named.slice(0, used));
  const columns = recognised.map((role, k): Column => ({ title: titles[k] || `column ${k + 1}`, role: asked?.[k] ?? role, scale: (asked?.[k] ?? role).startsWith('frequency') ? scaleOf(titles[k]!) : 1 }));
  return traced(columns, rows);
}

function traced(columns: Column[], rows: readonly number[][]): Result<MeasuredFile> {
  const remarks: string[] = [];
  const at = columns.findIndex((c) => c.role.startsWith('frequency'));
  if (at < 0) return fail('columns', 'file', 'none of its columns is a frequency', 'say which is');
  const unit = columns[at]!.role === 'frequency rad/s' ? 1 / (2 * Math.PI) : 1;
  const frequency = rows.map((r) => (r[at] ?? NaN) * columns[at]!.scale * unit);
  const bad = frequency.findIndex((f) => !(f > 0));
  if (bad >= 0) return fail('value', `row ${bad + 1}`, `a frequency of ${String(rows[bad]![at])} makes no sense`, columns[at]!.title === `column ${at + 1}` ? 'say which column is the frequency' : 'take the row out');
  const all = frequency.map((_, i) => i);
  if (frequency.some((f, i) => i > 0 && f < frequency[i - 1]!)) {
    if (!frequency.every((f, i) => i === 0 || f < frequency[i - 1]!)) remarks.push('its frequencies were in no order, and are sorted');
    all.sort((a, b) => frequency[a]! - frequency[b]!);
  }
  const traces: Trace[] = [];
  let merged = 0;
  const pairs = pairsOf(columns);
  if (pairs.length === 0) return fail('columns', 'file', 'there is no gain with a phase, and no real with an imaginary part', 'say which columns they are');
  if (pairs.length > MOST_TRACES) return fail('columns', 'file', `${pairs.length} traces are more than are shown here`, `leave at most ${MOST_TRACES}`);
  for (const { first, second, cartesian } of pairs) {
    const points: { f: number; gain: number; phase: number }[] = [];
    for (const i of all) {
      const [a, b] = [rows[i]![first]!, rows[i]![second]!];
      if (!Number.isFinite(a) || !Number.isFinite(b)) continue;
      const gain = cartesian ? decibels(Math.hypot(a, b)) : columns[first]!.role === 'ratio' ? decibels(Math.abs(a)) : a;
      const phase = cartesian ? (Math.atan2(b, a) * 180) / Math.PI : columns[second]!.role === 'phase rad' ? (b * 180) / Math.PI : b;
      if (Math.abs(phase) > MOST_PHASE) return fail('value', columns[second]!.title, `a phase of ${print(phase, '°')} makes no sense`, 'say whether the column is in degrees or radians, or not a phase at all');
      if (!Number.isFinite(gain)) continue;
      const last = points.at(-1);
      if (last && Math.abs(frequency[i]! / last.f - 1) < SAME) {
        merged++;
        last.gain = (last.gain + gain) / 2;
        last.phase = (last.phase + phase) / 2;
      } else points.push({ f: frequency[i]!, gain, phase });
    }
    if (points.length < 2) return fail('empty', columns[first]!.title, `${points.length === 0 ? 'no point' : 'a single point'} is no response`, 'measure at several frequencies');
    traces.push({ title: columns[first]!.title, frequency: points.map((p) => p.f), gain: points.map((p) => p.gain), phase: unwrapped(points.map((p) => p.phase)) });
  }
  if (merged > 0) remarks.push(`${merged} frequencies stood twice, and are averaged`);
  const ignored = columns.filter((c) => c.role === 'ignored').length;
  if (ignored > 0) remarks.push(`${ignored} columns are left out`);
  return ok({ columns, traces, remarks });
}

/** Columns that belong together: each gain with the next phase, each real with the next imaginary part, or the one before it. */
function pairsOf(columns: readonly Column[]): { first: number; second: number; cartesian: boolean }[] {
  const of = (test: (r: Role) => boolean): number[] => columns.flatMap((c, k) => (test(c.role) ? [k] : []));
  const together = (a: number[], b: number[], cartesian: boolean): { first: number; second: number; cartesian: boolean }[] => a.slice(0, b.length).map((first, k) => ({ first, second: b[k]!, cartesian }));
  return [...together(of((r) => r === 'gain dB' || r === 'ratio'), of((r) => r.startsWith('phase')), false), ...together(of((r) => r === 'real'), of((r) => r === 'imaginary'), true)].sort((a, b) => a.first - b.first);
}

/** Phases without jumps of a turn, the first within one turn of nothing. */
function unwrapped(phase: readonly number[]): number[] {
  let turns = 0;
  return phase.map((p, i) => {
    if (i > 0) turns -= Math.round((p - phase[i - 1]!) / 360);
    return p + 360 * turns;
  });
}
