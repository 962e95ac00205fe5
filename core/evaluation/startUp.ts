import { buildMachine, restState } from '../circuit/machine';
import { compensatorsOf, loopsAround, loopsAsked } from './compensator';
import { budgetOf } from '../orbit/budget';
import { march } from '../orbit/march';
import { drawEnvelope } from '../orbit/record';
import { fail, ok, type Result } from '../problem';
import type { Design } from '../design/schema';
import type { OperatingPoint } from '../topology';
import { billOf } from './bill';
import { closed, REFERENCE_SOURCE } from './assemble';
import { clipped, closeStage } from './closed';
import { settleStage } from './settleStage';
import { standAt } from './standing';

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
/** ns of an ordinary machine, of which a start may take so much */
const MOST_WORK = 6e9;
/** Share of the output within which it is there */
const BAND = 0.1;

/**
 * Run a design from rest, its loops closed, its parts as warm as the air.
 * @returns problems as of settling, placing and closing it; "range" on the mains, whose start takes many of its cycles; "work"
 */
export function startUp(d: Design, point: OperatingPoint): Result<StartUp> {
  if (d.brief.line.mains !== undefined) return fail('range', 'brief.line.mains', 'a start on the mains goes over many of its cycles, and is not run here', 'look at a design on a dc line');
  const bill = billOf(d);
  const standing = standAt(bill, point);
  if (!standing.ok) return standing;
  const stage = settleStage(bill, standing.value.only!, () => point.air);
  if (!stage.ok) return stage;
  const compensators = compensatorsOf(d);
  if (!compensators.ok) return compensators;
  const loops = loopsAround(d, stage.value, loopsAsked(bill, stage.value.roles, d).map(({ sensed }, k) => ({ sensed, controller: compensators.value[k]!.controller })));
  const clips = clipped(stage.value, loops);
  if (clips) return { ok: false, problem: clips };
  const settled = closeStage(stage.value, loops);
  if (!settled.ok) return settled;

  const rise = (d.control.softStart as number | null) ?? 0;
  const machine = buildMachine(closed(stage.value.assembled, loops, rise > 0 ? { source: REFERENCE_SOURCE, from: 0, to: loops.reference, rise } : undefined));
  if (!machine.ok) return machine;
  const { roles } = stage.value;
  const until = rise + FOLLOWED / (2 * Math.PI * d.control.crossover);
  const slot = bill.topology.slots.find((p) => p.kind === 'inductor') ?? bill.topology.slots.find((p) => p.kind === 'transformer')!;
  const [element] = roles.parts[slot.id]!.elements;
  const { envelope, each } = drawEnvelope([(p) => p.voltage(...roles.outputs[0]!.nodes), ...(element === undefined ? [] : [(p: { current(id: string): Float64Array }) => p.current(element)])], 0, until, BINS);
  const budget = budgetOf(machine.value, MOST_WORK);
  const run = march(machine.value, restState(machine.value), until, { each, budget });
  if (!run.ok) return run;

  const [least, most] = [Array.from(envelope.least[0]!), Array.from(envelope.most[0]!)];
  const time = least.map((_, k) => (envelope.edges[k]! + envelope.edges[k + 1]!) / 2);
  const output = d.brief.output.voltage;
  const outside = least.findLastIndex((v, k) => v < output * (1 - BAND) || most[k]! > output * (1 + BAND));
  const current = element === undefined ? [] : [...envelope.most[1]!, ...envelope.least[1]!.map((v) => -v)];
  return ok({ time, least, most, overshoot: Math.max(0, Math.max(...most) / output - 1), settles: outside === time.length - 1 ? Infinity : (envelope.edges[outside + 1] ?? 0), peak: current.reduce((a, b) => Math.max(a, b), 0), of: slot.id });
}
