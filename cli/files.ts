import { readFileSync, writeFileSync } from 'node:fs';
import { readDesign, type Design } from '../core/design';
import { describeProblem, fail, ok, type Problem, type Result } from '../core/problem';
import { quoted } from '../core/quantity';
import { jsonText, oneLine } from './circuit/say';

/** What verbs share: what they are given, read and say. */
export type Options = Record<string, string | true>;

export const say = (text: string): void => void process.stdout.write(text + '\n');
export const json = (value: unknown): void => say(jsonText(value));

/** The file could not be used: one line on stderr, exit code 2. */
export function refuse(file: string, problem: Problem, options: Options = {}): number {
  if (options.json) json({ problem });
  process.stderr.write(`${quoted(file)}: ${oneLine(describeProblem(problem))}\n`);
  return 2;
}

/** As elsewhere "-" is what comes in: once, however often it is asked for */
let comesIn: string | undefined;

export function textOf(file: string): Result<string> {
  try {
    return ok(file === '-' ? (comesIn ??= readFileSync(0, 'utf8')) : readFileSync(file, 'utf8'));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    return fail('file', '', code === 'ENOENT' ? 'there is no such file' : `the file can not be read (${code})`, 'check the path');
  }
}

export function open(file: string): Result<Design> {
  const text = textOf(file);
  return text.ok ? readDesign(text.value) : text;
}

/** Write bytes to a file. */
export function writeBytes(file: string, bytes: Uint8Array): Result<void> {
  try {
    writeFileSync(file, bytes);
    return ok(undefined);
  } catch (error) {
    return fail('file', '', `it can not be written (${(error as NodeJS.ErrnoException).code})`, 'check the path, and that there is room');
  }
}
