import { fail, ok, type Problem, type Result } from '../problem';
import { quoted } from '../quantity';

/**
 * A capture of a measuring instrument, from the text of a file as it comes: header lines, a row of titles, maybe one of units,
 * then a time with one or several values a line, with commas or points in its numbers. What its columns are is told by titles
 * and units, else by what stands in them; it can be corrected.
 */
export interface Capture {
  columns: CaptureColumn[];
  /** s */
  time: Float64Array;
  /** By column, in V or A as it stands after its scale; the time's too */
  values: Float64Array[];
}

export interface CaptureColumn {
  title: string;
  /** "mV", as the file says it; nothing where it says nothing */
  unit: string;
  /** What its numbers are multiplied by */
  scale: number;
  role: 'time' | 'value';
}

/** Rows and columns of a capture at most; lines that may stand before its first row of numbers; lines that its format is told by */
const [MOST_ROWS, MOST_COLUMNS, MOST_HEAD, SAMPLE] = [5_000_000, 32, 400, 40];
/** Bytes of a file at most */
export const LARGEST_CAPTURE = 400e6;

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
const PREFIX: Readonly<Record<string, number>> = { f: 1e-15, p: 1e-12, n: 1e-9, u: 1e-6, 'µ': 1e-6, 'μ': 1e-6, m: 1e-3, '': 1, k: 1e3, M: 1e6 };
const UNIT = /^\(?\[?([fpnuµμmkM]?)(s|sec|seconds?|V|volts?|A|amps?|amperes?)\]?\)?$/;

const scaleOf = (unit: string): number | undefined => {
  const found = UNIT.exec(unit.trim());
  return found ? PREFIX[found[1]!] : undefined;
};

/** How fields are parted and how a number is written. */
interface Format {
  separator: string;
  comma: boolean;
}

const parts = (line: string, { separator }: Format): string[] => (separator === ' ' ? line.trim().split(/\s+/) : line.split(separator)).map((t) => t.trim().replace(/^"(.*)"$/, '$1'));
const number = (text: string, { comma }: Format): number => {
  const plain = comma ? text.replace(',', '.') : text;
  return NUMBER.test(plain) ? Number(plain) : NaN;
};
const isRow = (p: readonly string[], f: Format): boolean => p.length > 1 && p.every((t, i) => (t === '' && i === p.length - 1) || Number.isFinite(number(t, f)));

/** The way in which most of some lines are rows of as many numbers. */
function formatOf(lines: readonly string[]): Format | undefined {
  const ways = [';', '\t', ',', ' '].flatMap((separator) => [false, true].filter((comma) => !(comma && separator === ',')).map((comma) => ({ separator, comma })));
  const counted = ways.map((f) => ({ f, rows: lines.filter((l) => isRow(parts(l, f), f)).length }));
  const best = counted.reduce((a, b) => (b.rows > a.rows ? b : a));
  return best.rows > 0 ? best.f : undefined;
}

/** Reads a capture piece by piece. */
export interface CaptureReader {
  /** The next piece of its text; a problem ends it */
  push(text: string): Problem | undefined;
  /** What it is; `time` says which column the time is, where that is corrected */
  end(time?: number): Result<Capture>;
  rows(): number;
}

export function captureReader(): CaptureReader {
  let rest = '';
  let line = 0;
  let format: Format | undefined;
  const waiting: string[] = [];
  const heads: string[][] = [];
  let width = 0;
  let rows = 0;
  let store = new Float64Array(0);
  let problem: Problem | undefined;
  const refuse = (code: string, where: string, message: string, remedy: string): Problem => (problem = { code, where, message, remedy });

  function row(text: string, at: number): Problem | undefined {
    const p = parts(text, format!);
    if (!isRow(p, format!)) {
      if (rows > 0) return refuse('value', `line ${at}`, `"${quoted(text.slice(0, 60))}" is no row of numbers, and rows stand before it`, 'take the line out');
      heads.push(p);
      return heads.length > MOST_HEAD ? refuse('empty', 'file', `no row of numbers in its first ${MOST_HEAD} lines`, 'choose a file with a time and values on each line') : undefined;
    }
    if (p.at(-1) === '') p.pop();
    if (rows === 0) {
      width = p.length;
      if (width > MOST_COLUMNS) return refuse('columns', `line ${at}`, `${width} columns are more than any instrument writes`, `leave at most ${MOST_COLUMNS}`);
      store = new Float64Array(1024 * width);
    }
    if (p.length !== width) return refuse('value', `line ${at}`, `it has ${p.length} numbers where the rows before have ${width}`, 'take the line out, or save the capture again');
    if (rows >= MOST_ROWS) return refuse('size', 'file', `more than ${MOST_ROWS.toLocaleString('en')} rows`, 'save a shorter part, or fewer points');
    if ((rows + 1) * width > store.length) {
      const more = new Float64Array(2 * store.length);
      more.set(store);
      store = more;
    }
    for (let i = 0; i < width; i++) store[rows * width + i] = number(p[i]!, format!);
    rows++;
    return undefined;
  }

  const take = (text: string): Problem | undefined => {
    line++;
    if (text.trim() === '' || /^\s*[#!%]/.test(text)) return undefined;
    if (format) return row(text, line);
    waiting.push(text);
    if (waiting.length < SAMPLE && waiting.length < MOST_HEAD) return undefined;
    return begin();
  };
  /** The format is told by the latest lines that wait: those before may be headers. */
  const begin = (): Problem | undefined => {
    format = formatOf(waiting.slice(-SAMPLE)) ?? formatOf(waiting);
    if (!format && waiting.length < MOST_HEAD) return undefined;
    if (!format) return refuse('empty', 'file', 'there is no row of numbers in it', 'give a time with one or several values on each line, parted by commas, semicolons, tabs or blanks');
    const first = line - waiting.length;
    for (const [k, text] of waiting.entries()) {
      const wrong = row(text, first + k + 1);
      if (wrong) return wrong;
    }
    waiting.length = 0;
    return undefined;
  };

  return {
    rows: () => rows,
    push(text) {
      if (problem) return problem;
      const all = (rest + (line === 0 && rest === '' ? text.replace(/^\uFEFF/, '') : text)).split(/\r\n|\n|\r/);
      rest = all.pop()!;
      for (const one of all) {
        const wrong = take(one);
        if (wrong) return wrong;
      }
      return undefined;
    },
    end(asked) {
      if (!problem && rest !== '') take(rest);
      rest = '';
      if (!problem && !format) begin();
      if (problem) return { ok: false, problem };
      if (rows < 2) return fail('empty', 'file', rows === 0 ? 'there is no row of numbers in it' : 'a single row is no capture', 'give a time with one or several values on each line');
      const values = Array.from({ length: width }, (_, i) => Float64Array.from({ length: rows }, (_x, k) => store[k * width + i]!));
      return columned(values, heads, asked);
    },
  };
}

/** Name the columns, find the time, and put all into seconds, volts and amperes. */
function columned(values: Float64Array[], heads: readonly (readonly string[])[], asked?: number): Result<Capture> {
  const own = heads.filter((h) => h.length >= values.length - 1 && h.length <= values.length + 1);
  const units = own.at(-1)?.every((t) => t === '' || scaleOf(t) !== undefined) ? own.at(-1)! : undefined;
  const titles = own.at(units ? -2 : -1);
  const columns = values.map((_, k): CaptureColumn => {
    const title = titles?.[k] || `column ${k + 1}`;
    const unit = units?.[k] ?? /[([]([^)\]]+)[)\]]\s*$/.exec(title)?.[1] ?? '';
    return { title, unit, scale: scaleOf(unit) ?? 1, role: 'value' };
  });
  const rises = (v: Float64Array): boolean => v.every((x, i) => i === 0 || x >= v[i - 1]!) && v[v.length - 1]! > v[0]!;
  const byName = columns.findIndex((c, k) => (/time|zeit|^t$|^t\b|seconds|^x\b/i.test(c.title) || /s(ec)?$/i.test(c.unit.replace(/[()[\]]/g, ''))) && !/volts|amps/i.test(c.unit) && values[k]!.length > 0);
  const time = asked ?? (byName >= 0 ? byName : values.findIndex(rises));
  if (time < 0) return fail('columns', 'file', 'none of its columns is a time that rises', 'say which is the time');
  const t = values[time]!.map((v) => v * columns[time]!.scale);
  const back = t.findIndex((x, i) => i > 0 && x < t[i - 1]!);
  if (back >= 0) return fail('value', `row ${back + 1}`, `time goes back there, in ${columns[time]!.title}`, 'say which column is the time, or save the capture again');
  if (values.length < 2) return fail('columns', 'file', 'there is a time and nothing else', 'save a channel with it');
  columns[time]!.role = 'time';
  return ok({ columns, time: t, values: values.map((v, k) => v.map((x) => x * columns[k]!.scale)) });
}

/** A text that is there as a whole. */
export function readCapture(text: string, time?: number): Result<Capture> {
  const reader = captureReader();
  const wrong = reader.push(text);
  return wrong ? { ok: false, problem: wrong } : reader.end(time);
}
