import type { Part, PartKind } from '../parts/schema';
import type { Problem } from '../problem';
import { logSpaced } from '../response/system';
import { candidateOf, type Candidate } from './candidates';
import { chooseTopology } from './choose';
import type { Design } from '../design/schema';

/** One switching frequency tried for a design: its magnetics and capacitors chosen anew for it, switches and diodes kept where they fit. */
export interface FrequencyChoice {
  frequency: number;
  refusal?: Problem;
  figures?: NonNullable<Candidate['figures']> & {
    /** m³ of all cores together */
    coreVolume: number;
    /** m, of the tallest part, where heights are known */
    height: number | undefined;
  };
  design?: Design;
}

/** How many are tried over the range */
export const FREQUENCIES = 9;

/** Hz: the range that the brief leaves to choose from, or a third to three times of what it has. */
export const frequencyRange = (d: Design): { min: number; max: number } => d.brief.frequencyRange ?? { min: Number((d.brief.frequency / 3).toPrecision(2)), max: Number((d.brief.frequency * 3).toPrecision(2)) };

const KEPT: ReadonlySet<PartKind> = new Set(['switch', 'diode']);

/** The k-th of the frequencies that are tried, from the lowest. The crossover stays at its share of the frequency. */
export function frequencyAt(d: Design, k: number, shelf: readonly Part[]): FrequencyChoice {
  const { min, max } = frequencyRange(d);
  const frequency = Number(logSpaced(min, max, FREQUENCIES)[k]!.toPrecision(2));
  const asked: Design = {
    ...d,
    brief: { ...d.brief, frequency },
    control: { ...d.control, crossover: Number(((d.control.crossover * frequency) / d.brief.frequency).toPrecision(2)) },
    parts: Object.fromEntries(Object.entries(d.parts).filter(([, p]) => KEPT.has(p.kind))),
  };
  const chosen = chooseTopology(asked, d.topology, shelf);
  if (!chosen.ok) return { frequency, refusal: chosen.problem };
  const held = candidateOf(chosen.value);
  if (!held.figures) return { frequency, refusal: held.refusal };
  const parts = Object.values(chosen.value.parts);
  const heights = parts.flatMap((p) => p.height ?? []);
  return {
    frequency,
    design: chosen.value,
    figures: { ...held.figures, coreVolume: parts.reduce((s, p) => s + ('coreVolume' in p ? p.coreVolume : 0), 0), height: heights.length > 0 ? Math.max(...heights) : undefined },
  };
}
