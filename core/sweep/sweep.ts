import { judge, type Corner, cornerPoints, report } from '../corners/corners';
import { REQUIREMENTS, requirementNamed } from '../corners/requirements';
import { editDesign, type Design } from '../design';
import { evaluate } from '../evaluation';
import { ok, type Problem, type Result } from '../problem';
import type { UnitName } from '../quantity';
import { beginRun, recordBounded, type Schedule } from '../schedule';
import type { OperatingPoint } from '../topology';
import { valuesOf, type Axis } from './axis';

/** A design changed at what is swept, and what it does then. */

/** A figure of every run. */
export interface SweptFigure {
  id: string;
  title: string;
  unit: UnitName;
}

/** Figures besides those of the requirements */
const BESIDES: readonly SweptFigure[] = [
  { id: 'efficiency', title: 'efficiency', unit: '%' },
  { id: 'crossover', title: 'crossover', unit: 'Hz' },
];

/** What every run of a sweep is told in: the figures of the requirements that are asked, and a few besides. */
export const sweptFigures = (d: Design): SweptFigure[] => [
  ...REQUIREMENTS.filter((r) => d.requirements[r.id].on).map(({ id, title, unit }) => ({ id, title, unit })),
  ...BESIDES.filter((b) => !(b.id === 'efficiency' && d.requirements.efficiency.on)),
];

/** One run. */
export interface Swept {
  values: number[];
  /** By id of the figure; what is not there is left out */
  figures: Record<string, number>;
  /** Does it meet all that is asked? */
  holds: boolean;
  problem?: Problem;
  /** Loop gain at the point: Hz, dB, degrees */
  loop?: { frequency: readonly number[]; gain: readonly number[]; phase: readonly number[] };
  /** Impedance of what stands before the line, at the point: Hz, dB of an ohm */
  front?: { frequency: readonly number[]; gain: readonly number[] };
  /** What a trace does over the schedule: least and most of equal bins */
  wave?: { least: Float64Array; most: Float64Array };
}

/** What of a run is drawn: a trace over a schedule, in so many bins. */
export interface SweptWave {
  schedule: Schedule;
  trace: string;
  bins: number;
}

/** A design and a point with some quantities at other values. */
export function sweptAt(d: Design, point: OperatingPoint, axes: readonly Axis[], values: readonly number[]): Result<{ design: Design; point: OperatingPoint }> {
  const changes: Record<string, unknown> = {};
  const at = { ...point };
  axes.forEach(({ path }, k) => {
    if (path === 'line' || path === 'load' || path === 'air') at[path] = values[k]!;
    else changes[path] = values[k]!;
  });
  const design = editDesign(d, changes);
  return design.ok ? ok({ design: design.value, point: at }) : design;
}

const figuresOf = (corner: Pick<Corner, 'requirements' | 'efficiency' | 'loop'>): Record<string, number> => ({
  ...(Number.isFinite(corner.efficiency) ? { efficiency: corner.efficiency } : {}),
  ...(corner.loop ? { crossover: corner.loop.crossover } : {}),
  ...Object.fromEntries(corner.requirements.filter((s) => Number.isFinite(s.value)).map((s) => [s.id, s.value])),
});

/**
 * The k-th run of a sweep: the figures at the point, or of each requirement at its worst corner; and the loop gain, or a trace over
 * a schedule, where that is asked for. A value that can not be leaves its run without figures, and says why.
 */
export function sweepOne(d: Design, point: OperatingPoint, axes: readonly Axis[], k: number, { corners = false, loop = false, wave }: { corners?: boolean; loop?: boolean; wave?: SweptWave } = {}): Swept {
  const values = valuesOf(axes, k);
  const changed = sweptAt(d, point, axes, values);
  if (!changed.ok) return { values, figures: {}, holds: false, problem: changed.problem };
  const { design, point: at } = changed.value;
  const swept = corners ? atWorst(design) : atPoint(design, at, loop);
  if (!wave) return { values, ...swept };
  // One of the design's own goes as it is swept to.
  const schedule = design.schedules?.find((s) => s.name === wave.schedule.name) ?? wave.schedule;
  const run = beginRun(design, at, schedule, [wave.trace]);
  const recorded = run.ok ? recordBounded(run.value, schedule) : run;
  return recorded.ok ? { values, ...swept, wave: recorded.value.record.columns(0, 0, schedule.lasts, wave.bins) } : { values, ...swept, problem: swept.problem ?? recorded.problem };
}

function atPoint(design: Design, at: OperatingPoint, loop: boolean): Omit<Swept, 'values'> {
  const found = evaluate(design, at, loop ? { detail: true } : {});
  const corner = judge(design, at, found);
  const { bode } = corner;
  const front = found.ok ? found.value.detail?.bode?.front?.filter : undefined;
  return { figures: figuresOf(corner), holds: corner.holds, ...(loop && bode ? { loop: { frequency: bode.frequency, gain: bode.gain, phase: bode.phase } } : {}), ...(front ? { front: { frequency: front.frequency, gain: front.gain } } : {}), ...(corner.problem ? { problem: corner.problem } : {}) };
}

function atWorst(design: Design): Omit<Swept, 'values'> {
  const { corners, worst, holding } = report(cornerPoints(design).map((p) => judge(design, p)));
  const problem = corners.find((c) => c.problem)?.problem;
  return {
    figures: { efficiency: Math.min(...corners.map((c) => c.efficiency)), ...Object.fromEntries(worst.filter((s) => Number.isFinite(s.value)).map((s) => [s.id, s.value])) },
    holds: holding === corners.length, ...(problem ? { problem } : {}),
  };
}

/** Where a figure of a sweep is limited by what is asked; undefined where by nothing. */
export function limitOf(d: Design, id: string): { limit: number; direction: 'at most' | 'at least' } | undefined {
  if (!REQUIREMENTS.some((r) => r.id === id)) return undefined;
  const { limit, on } = d.requirements[id as keyof Design['requirements']];
  return on ? { limit, direction: requirementNamed(id as keyof Design['requirements']).direction } : undefined;
}
