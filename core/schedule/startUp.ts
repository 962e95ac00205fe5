import type { Design } from '../design/schema';
import { billOf } from '../evaluation/bill';
import type { Quantity } from '../orbit/measure';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import type { Watched } from '../recording';
import { recordBounded } from './recorded';
import { beginRun, lookedAtBy } from './run';

/** What a converter does from when it is switched on: line and load there, all else at rest, its reference rising by the soft start. */
export interface StartUp {
  /** s, the middle of each bin, and V of the output there: least and most */
  time: number[];
  least: number[];
  most: number[];
  /** Share of the output gone beyond; s until it stays within a tenth of it */
  overshoot: number;
  settles: number;
  /** A, the largest current of the part that stores, and which that is */
  peak: number;
  of: string;
}

/** Bins that it is drawn in; times the loop's own that it is followed for after the soft start */
const [BINS, FOLLOWED] = [240, 60];
/** Share of the output within which it is there */
const BAND = 0.1;

/**
 * A start, read: run from rest through a schedule in which nothing happens but what the soft start does.
 * @returns problems as of making the run ready; "work"
 */
export function startUp(d: Design, point: OperatingPoint): Result<StartUp> {
  const until = ((d.control.softStart as number | null) ?? 0) + FOLLOWED / (2 * Math.PI * d.control.crossover);
  if (d.brief.line.mains !== undefined) return fail('range', 'brief.line.mains', 'on the mains a start goes over many of its cycles, and is not made here', 'look at it in time');
  const ready = beginRun(d, point, { name: 'start-up', begins: 'rest', lasts: until, steps: [] });
  if (!ready.ok) return ready;
  const { roles } = ready.value;
  const { slots } = billOf(d).topology;
  const slot = slots.find((p) => p.kind === 'inductor') ?? slots.find((p) => p.kind === 'transformer')!;
  const [element] = roles.parts[slot.id]!.elements;
  const watched: Watched[] = [{ row: (p) => p.voltage(...roles.outputs[0]!.nodes) }, ...(element === undefined ? [] : [{ row: (p: Parameters<Quantity>[0]) => p.current(element) }])];
  const run = recordBounded(lookedAtBy(ready.value, watched), { lasts: until });
  if (!run.ok) return run;
  const { record } = run.value;
  const seen = record.columns(0, 0, until, BINS);
  const [least, most] = [Array.from(seen.least), Array.from(seen.most)];
  const time = least.map((_, k) => ((k + 0.5) * until) / BINS);
  const output = d.brief.output.voltage;
  const outside = least.findLastIndex((v, k) => v < output * (1 - BAND) || most[k]! > output * (1 + BAND));
  const current = element === undefined ? undefined : record.read(1);
  return ok({ time, least, most, overshoot: Math.max(0, Math.max(...most) / output - 1), settles: outside === time.length - 1 ? Infinity : ((outside + 1) * until) / BINS, peak: current ? Math.max(current.most, -current.least) : 0, of: slot.id });
}
