import { AMPLIFIERS, amplifierNamed, STRUCTURES, structureNamed } from '../control';
import type { Amplifier, Control, ControlStructure, Drive, StageAhead } from '../control/types';
import { topologyOf } from '../design/topologyOf';
import { remembered } from '../design/remembered';
import type { Design } from '../design/schema';
import { sizingInputOf } from '../design/sizingInput';
import type { Part } from '../parts/schema';
import type { Sizing, SizingInput, Topology } from '../topology';
import { controllable } from '../topology/common';

/**
 * The bill of materials: what stands in each slot with its values, as sized, and how its control drives it. Made once of a
 * design, whatever the operating point; all that is computed at one is built from it.
 */
export interface Bill {
  topology: Topology;
  input: SizingInput;
  sizing: Sizing;
  drive: Drive;
}

/** The bill of a topology sized for something. */
export const billFor = (topology: Topology, input: SizingInput, sizing: Sizing = topology.size(input)): Bill => ({ topology, input, sizing, drive: structureOf(input).drive(stageAhead(topology, input, sizing), input.control ?? ({} as Control)) });

/** The bill of a checked design. */
export const billOf = remembered((d: Design): Bill => {
  const topology = topologyOf(d);
  if (!topology) throw new Error(`a checked design has a topology, this one names ${d.topology}`);
  return billFor(topology, sizingInputOf(d));
});

/**
 * The bill with some values and parts other than sized: a tolerance drawn, a value swept, a part aged or failing. Nothing is
 * sized again: counts, turns and all other values, the drive and the compensator stay as they are.
 *
 * @param values by key of the sizes, in their units: "C2" in F, "T1 primary" in turns
 * @param parts fields of the part in a slot
 */
export function changedBill(bill: Bill, values: Readonly<Record<string, number>>, parts: Readonly<Record<string, Partial<Part>>> = {}): Bill {
  const { input, sizing } = bill;
  return {
    ...bill,
    sizing: { ...sizing, values: { ...sizing.values, ...Object.fromEntries(Object.entries(values).map(([key, taken]) => [key, { ...sizing.values[key]!, taken }])) } },
    input: { ...input, parts: { ...input.parts, ...Object.fromEntries(Object.entries(parts).map(([slot, change]) => [slot, { ...input.parts[slot]!, ...change } as Part])) } },
  };
}

/** The control structure of a sizing input: voltage mode where none is asked for. */
export const structureOf = ({ control }: Pick<SizingInput, 'control'>): ControlStructure => structureNamed(control?.method ?? STRUCTURES[0]!.id)!;

/** The error amplifier of a sizing input: the usual one where none is asked for. */
export const amplifierOf = ({ control }: Pick<SizingInput, 'control'>): Amplifier => amplifierNamed(control?.amplifier ?? AMPLIFIERS[0]!.id)!;

/** What a control structure may know of a stage before it is settled. */
function stageAhead(t: Topology, input: SizingInput, sizing: Pick<Sizing, 'values'>): StageAhead {
  const { line, load, frequency } = input.brief;
  const { currentControl: current } = t;
  return {
    period: 1 / frequency,
    region: [line.min, (line.min + line.max) / 2, line.max].flatMap((v) => [load.min, load.max].map((i) => ({ line: v, load: i }))),
    blanking: t.blanking ?? 0,
    middle: (line.min + line.max) / 2,
    duty: (point) => t.forecast(input, sizing, point).duty,
    ...(t.mains
      ? {
          held: {
            sensed: t.mains.switch,
            ...(t.mains.rests ? { rests: t.mains.rests } : {}),
            at(point) {
              const { command, period, parts } = t.forecast(input, sizing, point);
              return { command: command!, period: period!, peak: parts[t.mains!.switch]!.peak };
            },
          },
        }
      : {}),
    ...(controllable(t).coil
      ? {
          coil: {
            at(point) {
              const { duty, parts } = t.forecast(input, sizing, point);
              const { peak, peakToPeak } = parts.L1!;
              return { least: Math.abs(peak) - peakToPeak, rise: (peakToPeak * frequency) / duty };
            },
          },
        }
      : {}),
    ...(current
      ? {
          current: {
            sensed: current.sensed,
            fall: (v) => current.fall(input, sizing, { line: v }),
            at(point) {
              const f = t.forecast(input, sizing, point);
              return { peak: f.parts[current.sensed]!.peak, duty: f.duty };
            },
          },
        }
      : {}),
  };
}
