import { editDesign, type Design } from '../design';
import { dividerOf, evaluateLosses, sizeDesign } from '../evaluation/evaluate';
import { ok, type Problem, type Result } from '../problem';
import type { UnitName } from '../quantity';
import type { OperatingPoint } from '../topology';
import { spread } from './map';

/** What a design loses over two quantities, every cell a settled solution with its temperatures: the efficiency map. */

/** What lies across, over the load: the line, the output that the same hardware is set to, or the frequency that it is switched at. */
export type Across = 'line' | 'output' | 'frequency';

export interface LossMap {
  across: Across;
  /** V, or Hz of the frequency */
  x: number[];
  /** A */
  load: number[];
  /** A row a load */
  rows: LossCell[][];
}

export interface LossCell {
  x: number;
  load: number;
  /** Missing where there are no figures, and why */
  figures?: { efficiency: number; output: number; total: number; parts: { id: string; mechanisms: Record<string, number> }[] };
  problem?: Problem;
}

/** What can lie across, with the range that it goes over when nothing else is said. */
export const ACROSS: Readonly<Record<Across, { title: string; unit: UnitName; range(d: Design): { min: number; max: number } }>> = {
  line: { title: 'line', unit: 'V', range: (d) => d.brief.line },
  output: { title: 'output', unit: 'V', range: (d) => ({ min: LOWEST * d.brief.output.voltage, max: HIGHEST * d.brief.output.voltage }) },
  frequency: { title: 'frequency', unit: 'Hz', range: (d) => ({ min: SLOWEST * d.brief.frequency, max: FASTEST * d.brief.frequency }) },
};

/** Of the frequency of the brief, that the map goes over */
const [SLOWEST, FASTEST] = [0.5, 2];

/** Of the output of the brief, that the map goes over */
const [LOWEST, HIGHEST] = [0.5, 1.25];

/** Cells a side, and at most */
export const [CELLS, MOST_CELLS] = [30, 200];

/** Lines or outputs, and loads, that a map has: evenly spaced over their ranges. */
export const lossMapAxes = (d: Design, across: Across, cells = CELLS): Pick<LossMap, 'across' | 'x' | 'load'> => ({ across, x: spread(ACROSS[across].range(d), cells), load: spread(d.brief.load, cells) });

/** The design with every value that it takes from its brief written down: what is built does not follow a brief that changes. */
export function asBuilt(d: Design): Result<Design> {
  const { values } = sizeDesign(d);
  const changes: Record<string, number> = {};
  for (const [id, part] of Object.entries(d.parts)) {
    if ('inductance' in part && part.inductance === null) changes[`parts.${id}.inductance`] = values[id]!.taken;
    if (part.kind === 'capacitor' && part.count === null) changes[`parts.${id}.count`] = values[id]!.count!;
    if (part.kind === 'transformer')
      for (const [field, name] of [['primaryTurns', 'primary'], ['secondaryTurns', 'secondary'], ['thirdTurns', 'third']] as const)
        if (part[field] === null && values[`${id} ${name}`]) changes[`parts.${id}.${field}`] = values[`${id} ${name}`]!.taken;
  }
  return Object.keys(changes).length > 0 ? editDesign(d, changes) : ok(d);
}

/** The same hardware at another frequency: a range that the brief leaves open gives way. */
const switchedAt = (d: Design, frequency: number): Record<string, unknown> => ({ 'brief.frequency': frequency, ...(d.brief.frequencyRange ? { 'brief.frequencyRange': undefined } : {}) });

/** A row of the map: losses at one load (A) over lines or outputs (V) or frequencies (Hz), the rest of the point as it is. */
export function lossRow(d: Design, across: Across, load: number, x: readonly number[], point: OperatingPoint): LossCell[] {
  const built = across === 'line' ? ok(d) : asBuilt(d);
  const own = dividerOf(d);
  return x.map((v): LossCell => {
    if (!built.ok) return { x: v, load, problem: built.problem };
    const design = across === 'line' ? built : editDesign(built.value, across === 'output' ? { 'brief.output.voltage': v } : switchedAt(built.value, v));
    if (!design.ok) return { x: v, load, problem: design.problem };
    // Its upper resistor stays; the lower one sets the voltage.
    const divider = own && across === 'output' && Number.isFinite(own.lower) && v > d.control.reference ? { ...own, lower: (own.upper * d.control.reference) / (v - d.control.reference) } : own;
    const found = evaluateLosses(design.value, { ...point, load, ...(across === 'line' ? { line: v } : {}) }, divider);
    if (!found.ok) return { x: v, load, problem: found.problem };
    const { losses, problems } = found.value;
    // Where heat runs away there is no lasting loss.
    if (problems.heat) return { x: v, load, problem: problems.heat };
    return { x: v, load, figures: { efficiency: losses.efficiency, output: losses.output, total: losses.total, parts: losses.parts.map(({ id, mechanisms }) => ({ id, mechanisms })) } };
  });
}

/** All of a map at once, where nobody watches. */
export function lossMap(d: Design, across: Across, point: OperatingPoint, cells = CELLS): LossMap {
  const axes = lossMapAxes(d, across, cells);
  return { ...axes, rows: axes.load.map((load) => lossRow(d, across, load, axes.x, point)) };
}

/** The cell with the highest efficiency; undefined where none has figures. */
export function bestOf(rows: readonly (readonly LossCell[])[]): LossCell | undefined {
  let best: LossCell | undefined;
  for (const cell of rows.flat()) if (cell.figures && !(best && best.figures!.efficiency >= cell.figures.efficiency)) best = cell;
  return best;
}

/** W of each mechanism in a cell, those of all parts together. */
export function byMechanism(cell: Pick<NonNullable<LossCell['figures']>, 'parts'>): Record<string, number> {
  const out: Record<string, number> = {};
  for (const { mechanisms } of cell.parts) for (const [id, watts] of Object.entries(mechanisms)) out[id] = (out[id] ?? 0) + watts;
  return out;
}

/** The same as shares of what goes in. */
export const byMechanismOfInput = (cell: NonNullable<LossCell['figures']>): Record<string, number> => Object.fromEntries(Object.entries(byMechanism(cell)).map(([id, watts]) => [id, watts / (cell.output + cell.total)]));
