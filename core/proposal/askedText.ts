import { fail, ok, type Problem, type Result } from '../problem';
import { parseQuantity, parseRange, type UnitName } from '../quantity';
import { Asked, type Taken } from './usual';

/** What is asked for, as an engineer types it, field by field; what is empty is left to what is usual. */
export interface AskedText {
  /** "12 V", "10–14 V", "12 V ± 10 %", "12 V fixed", "230 V 50 Hz", "85–264 V ac" */
  line: string;
  /** "5 V" */
  output: string;
  /** "0–3 A"; "3 A" is from zero */
  load: string;
  /** A second output: "12 V at 0.5 A", "12 V at 0.1–0.5 A" */
  second?: string;
  isolated?: boolean;
  /** H of a load that is a winding */
  loadInductance?: string;
  ripple?: string;
  loadStep?: string;
  deviation?: string;
  frequency?: string;
  /** "50 °C", "−20 to 50 °C" */
  air?: string;
  efficiency?: string;
  phaseMargin?: string;
}

/** Share to either side that a line of one value is taken with, and Hz of mains of which nobody says. */
const [AROUND, MAINS] = [0.1, 50];
/** Smallest share of its load that a second output is taken to carry */
const SECOND_LEAST = 0.1;

export interface Read {
  asked?: Asked;
  /** What was read into it that is not said */
  taken: Taken[];
  /** By field of the text */
  problems: Partial<Record<keyof AskedText, Problem>>;
}

/** Read what is asked, all fields at once: what it is, or what is wrong in each field that can not be read. */
export function readAsked(text: AskedText): Read {
  const problems: Read['problems'] = {};
  const taken: Taken[] = [];
  const get = <T>(key: keyof AskedText, read: Result<T>): T | undefined => {
    if (read.ok) return read.value;
    problems[key] = { ...read.problem, where: key };
    return undefined;
  };
  const quantity = (key: keyof AskedText, unit: UnitName): number | undefined => {
    const typed = text[key];
    if (typeof typed !== 'string' || typed.trim() === '') return undefined;
    const value = get(key, parseQuantity(typed, unit, key));
    if (value !== undefined && !(value > 0)) {
      problems[key] = { code: 'range', where: key, message: 'nothing or less makes no sense here', remedy: 'give more than zero' };
      return undefined;
    }
    return value;
  };
  const line = get('line', readLine(text.line, taken));
  const output = quantity('output', 'V');
  if (text.output.trim() === '') problems.output = { code: 'empty', where: 'output', message: 'an output is wanted here', remedy: 'write it like 5 V' };
  const load = get('load', readLoad(text.load, taken));
  const second = text.second?.trim() ? get('second', readSecond(text.second)) : undefined;
  const air = text.air?.trim() ? get('air', readAir(text.air)) : undefined;
  const rest = {
    ripple: quantity('ripple', 'V'), loadStep: quantity('loadStep', 'A'), deviation: quantity('deviation', 'V'), frequency: quantity('frequency', 'Hz'),
    efficiency: quantity('efficiency', '%'), phaseMargin: quantity('phaseMargin', '°'), loadInductance: quantity('loadInductance', 'H'),
  };
  if (!line || output === undefined || !load || Object.keys(problems).length > 0) return { taken, problems };
  if (rest.loadStep !== undefined && rest.loadStep > load.max) problems.loadStep = { code: 'range', where: 'loadStep', message: 'a step of more than full load', remedy: `give ${load.max} A or less` };
  const parsed = Asked.safeParse({ line, output, load, ...(second ? { further: [second] } : {}), ...(text.isolated ? { isolated: true } : {}), ...(air ? { air } : {}), ...Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined)) });
  if (!parsed.success) {
    const [first] = parsed.error.issues;
    const key = String(first!.path[0]) as keyof AskedText;
    problems[key] = { code: 'range', where: key, message: `this is out of what can be computed with (${first!.message})`, remedy: 'look at its unit' };
  }
  return Object.keys(problems).length > 0 ? { taken, problems } : { asked: parsed.data!, taken, problems };
}

function readLine(text: string, taken: Taken[]): Result<Asked['line']> {
  const hertz = /(?:at\s*|,\s*)?(\d+(?:\.\d+)?)\s*Hz/i.exec(text);
  const ac = hertz !== null || /\b(?:ac|mains|rms)\b/i.test(text);
  const fixed = /\bfixed\b/i.test(text);
  const volts = text.replace(hertz?.[0] ?? '', '').replace(/\b(?:ac|mains|rms|dc|fixed)\b/gi, '').replace(/[,\s]+$/, '').trim();
  if (volts === '') return fail('empty', 'line', 'a line is wanted here', 'write it like 12 V, 10–14 V or 230 V 50 Hz');
  const read = parseRange(volts, 'V', 'line', true);
  if (!read.ok) return read;
  let { min, max } = read.value;
  if (!(min > 0)) return fail('range', 'line', 'a line of nothing or less makes no sense', 'give more than zero');
  if (min === max && !fixed && !/±|\+\/?-/.test(volts)) {
    taken.push({ path: 'brief.line', title: 'line', value: AROUND, unit: '%', why: `one value is taken with ${AROUND * 100} % to either side; write "fixed" for none` });
    [min, max] = [min * (1 - AROUND), max * (1 + AROUND)].map((v) => Number(v.toPrecision(6))) as [number, number];
  }
  if (!ac) return ok({ min, max });
  if (!hertz) taken.push({ path: 'brief.line.mains', title: 'mains', value: MAINS, unit: 'Hz', why: 'usual' });
  return ok({ min, max, mains: hertz ? Number(hertz[1]) : MAINS });
}

function readLoad(text: string, taken: Taken[]): Result<Asked['load']> {
  if (text.trim() === '') return fail('empty', 'load', 'a load is wanted here', 'write it like 3 A or 0–3 A');
  const read = parseRange(text, 'A', 'load', true);
  if (!read.ok) return read;
  const { min, max } = read.value;
  if (!(max > 0) || min < 0) return fail('range', 'load', 'a load of less than nothing makes no sense', 'give it like 0–3 A');
  if (min < max) return ok({ min, max });
  taken.push({ path: 'brief.load.min', title: 'smallest load', value: 0, unit: 'A', why: 'from nothing connected' });
  return ok({ min: 0, max });
}

function readSecond(text: string): Result<NonNullable<Asked['further']>[number]> {
  const [volts, amps, ...more] = text.split(/\s*(?:@|\bat\b|,|\/)\s*/);
  if (!volts || !amps || more.length > 0) return fail('second', 'second', 'a second output is its voltage and its load', 'write it like 12 V at 0.5 A');
  const voltage = parseQuantity(volts, 'V', 'second');
  if (!voltage.ok) return voltage;
  const load = parseRange(amps, 'A', 'second', true);
  if (!load.ok) return load;
  if (!(voltage.value > 0) || !(load.value.max > 0)) return fail('range', 'second', 'nothing or less makes no sense here', 'write it like 12 V at 0.5 A');
  const { min, max } = load.value;
  return ok({ voltage: voltage.value, load: { min: min > 0 && min < max ? min : max * SECOND_LEAST, max } });
}

function readAir(text: string): Result<{ min: number; max: number }> {
  const read = parseRange(text, '°C', 'air', true);
  if (!read.ok) return read;
  const { min, max } = read.value;
  return ok({ min: min < max ? min : Math.min(0, max - 10), max });
}
