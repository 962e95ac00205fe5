import type { Part, PartKind } from '../parts/schema';
import type { Problem } from '../problem';
import { copiesOf, TOPOLOGIES, type Sizing, type SizingInput, type Topology } from '../topology';
import { topologyOf } from '../design/topologyOf';
import { billFor } from '../evaluation/bill';
import { warmStage } from '../evaluation/heat';
import { standAt } from '../evaluation/standing';
import type { Design } from '../design/schema';
import { sizingInputOf } from '../design/sizingInput';
import { chooseTopology } from './choose';
import { diodeLoss, inductorCopper, needsOf, region, switchLoss, transformerCopper, type Need } from './suggest';

/** What the parts of a design would burn at full load and the middle of the line, by the closed forms: W by slot, and W of the output. */
export function estimateOf(d: Design): { output: number; losses: { slot: string; watts: number }[] } {
  const t = topologyOf(d)!;
  const input = sizingInputOf(d);
  const sizing = t.size(input);
  const { line, load, frequency, output, further = [] } = d.brief;
  const at = t.forecast(input, sizing, { line: (line.min + line.max) / 2, load: load.max });
  const losses = t.slots.map((p) => {
    const part = input.parts[p.id]!;
    const carried = at.parts[p.id]!;
    const need: Need = { ...carried, peak: Math.abs(carried.peak), mean: Math.abs(carried.mean), voltage: sizing.blocking[p.id]?.most ?? 0 };
    return { slot: p.id, watts: copiesOf(p) * wattsOf(part, need, p.id) };
  });
  function wattsOf(part: Part, need: Need, slot: string): number {
    const each = 'count' in part && part.kind !== 'capacitor' ? part.count : 1;
    const shared = { ...need, mean: need.mean / each, rms: need.rms / each, peak: need.peak / each };
    switch (part.kind) {
      case 'switch':
        return each * switchLoss(part, shared, input.drive, frequency);
      case 'diode':
        return each * diodeLoss(part, shared, frequency);
      case 'inductor':
        return inductorCopper(part, need, frequency);
      case 'transformer':
        return transformerCopper(t, part, slot, sizing.values, at.parts, frequency);
      case 'capacitor':
        return 0;
    }
  }
  return { output: output.voltage * load.max + further.reduce((sum, o) => sum + o.voltage * o.load.max, 0), losses };
}

function zeros(t: Topology, input: SizingInput): number[] {
  const sizing = t.size(input);
  return region(input).flatMap((p) => t.rightHalfPlaneZero(input, sizing, p) ?? []);
}

/** One topology held against a brief. */
export interface Candidate {
  id: string;
  title: string;
  /** Why it can not serve; then there are no figures */
  refusal?: Problem;
  figures?: {
    duty: { min: number; max: number };
    /** V·A: blocking voltage times peak current, all switches and diodes together */
    switchStress: number;
    /** A, the capacitors' rms currents together */
    capacitorCurrent: number;
    /** J in the inductors at their peak currents */
    storedEnergy: number;
    /** W at full load and the middle of the line, at its temperatures */
    loss: number;
    efficiency: number;
    partCount: number;
    /** Hz, lowest over the region; undefined where there is none */
    rightHalfPlaneZero: number | undefined;
  };
  design?: Design;
}

/** Every topology for a brief, with the parts that choosing it would take. */
export const candidates = (d: Design, shelf: readonly Part[]): Candidate[] => TOPOLOGIES.map((t) => candidate(d, t, shelf));

/** How many there are to be held, and one of them. */
export const candidateCount = TOPOLOGIES.length;
/** One topology held against the brief of a design: complete with parts of the shelf and figures, or with why it can not serve. @param index below `candidateCount` */
export const candidateAt = (d: Design, index: number, shelf: readonly Part[]): Candidate => candidate(d, TOPOLOGIES[index]!, shelf);

function candidate(d: Design, { id, title }: Topology, shelf: readonly Part[]): Candidate {
  const chosen = id === d.topology ? ({ ok: true, value: d } as const) : chooseTopology(d, id, shelf);
  return chosen.ok ? candidateOf(chosen.value) : { id, title, refusal: chosen.problem };
}

/** The figures by which a design is held beside others. */
export function candidateOf(design: Design): Candidate {
  const t = topologyOf(design)!;
  const { id, title } = t;
  const d = design;
  const input = sizingInputOf(design);
  const sizing = t.size(input);
  const needs = needsOf(t, input, sizing);
  const { line, load, air } = d.brief;
  const standing = standAt(billFor(t, input, sizing), { line: (line.min + line.max) / 2, load: load.max, air: air.max });
  const warm = standing.ok ? warmStage(standing.value, d) : standing;
  if (!warm.ok) return { id, title, refusal: warm.problem };
  const of = (...kinds: PartKind[]): string[] => t.slots.filter((p) => kinds.includes(p.kind)).map((p) => p.id);
  const sum = (ids: string[], value: (id: string) => number): number => ids.reduce((s, x) => s + value(x) * copiesOf(t.slots.find((p) => p.id === x)!), 0);
  const loss = warm.value.losses.reduce((s, l) => s + l.total, 0);
  const output = d.brief.output.voltage * load.max;
  const right = zeros(t, input);
  return {
    id,
    title,
    design,
    figures: {
      duty: { min: sizing.duty.min, max: sizing.duty.max },
      switchStress: sum(of('switch', 'diode'), (x) => needs[x]!.voltage * needs[x]!.peak),
      capacitorCurrent: sum(of('capacitor'), (x) => needs[x]!.rms),
      storedEnergy: sum(of('inductor', 'transformer'), (x) => 0.5 * sizing.values[x]!.taken * needs[x]!.peak ** 2),
      loss,
      efficiency: output / (output + loss),
      partCount: partCount(design),
      rightHalfPlaneZero: right.length > 0 ? Math.min(...right) : undefined,
    },
  };
}

/** How many parts there are in all. */
export function partCount(d: Design): number {
  const t = topologyOf(d)!;
  const { values } = t.size(sizingInputOf(d));
  return t.slots.reduce((sum, p) => sum + copiesOf(p) * countOf(d.parts[p.id]!, values[p.id]), 0);
}

const countOf = (p: Part, sized: Sizing['values'][string] | undefined): number => (p.kind === 'capacitor' ? sized!.count! * p.series : p.kind === 'inductor' || p.kind === 'transformer' ? 1 : p.count);
