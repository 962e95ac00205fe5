import { reed } from './program';

/** What a run of reed has written, and its exit code. */
export interface Outcome {
  code: number;
  out: string;
  err: string;
}

/** For tests: reed without a process of its own; what it writes is caught. */
export function caught(...args: string[]): Outcome {
  const said = { out: '', err: '' };
  const before = { stdout: process.stdout.write, stderr: process.stderr.write };
  const into = (name: 'out' | 'err') => (text: unknown): boolean => {
    said[name] += String(text);
    return true;
  };
  process.stdout.write = into('out');
  process.stderr.write = into('err');
  try {
    const code = reed(args);
    if (typeof code !== 'number') throw new Error('this verb has others take part in it: run it in a process of its own');
    return { code, ...said };
  } finally {
    process.stdout.write = before.stdout;
    process.stderr.write = before.stderr;
  }
}
