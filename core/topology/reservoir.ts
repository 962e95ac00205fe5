import { heldCommand } from '../control/held';
import { crossoverOf } from '../control/mainsLoop';
import type { Fragment } from '../converter/fragment';
import type { CapacitorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import { capacitorValue, ERICKSON } from './common';
import type { SizedValue, Sizing, SizingInput } from './types';

/** The capacitor behind a stage on the mains, which takes the power that beats at twice its frequency: its size, and what stands for its slow current. */

/** Hz at which "reservoir" and the capacitor would ring: far below all that is looked at */
const SLOW = 10;
const SOURCE = `${ERICKSON}, ch. 18`;

/** The element that carries the slow current of the reservoir. */
export const RESERVOIR = 'reservoir';

/** As many capacitors as the ripple at twice the mains and the load step want. @param most A fed at the crest */
export function reservoirValue(input: SizingInput, slot: string, most: number): SizedValue {
  const { brief: { line, load, loadStep }, allowed, control, crossover } = input;
  const bulk = input.parts[slot] as CapacitorPart;
  const tau = bulk.esr * bulk.capacitance;
  const beats: Working = {
    title: 'capacitance for the ripple at twice the mains', formula: 'C ≥ (Iout / (2π fmains) + 2 τ I) / ΔV,  τ = ESR · C of one', numbers: `(${print(load.max, 'A')} / (2π × ${print(line.mains!, 'Hz')}) + 2 × ${print(tau, 's')} × ${print(most, 'A')}) / ${print(allowed.ripple, 'V')}`,
    value: (load.max / (2 * Math.PI * line.mains!) + 2 * tau * most) / allowed.ripple, unit: 'F', source: SOURCE, leavesOut: 'that the ripple of the switching and the slow one peak at different angles: on the safe side',
  };
  const pace = heldCommand(control) ? crossover : crossoverOf(control, line.mains!);
  const step: Working = {
    title: 'capacitance for the load step', formula: 'C ≥ ΔI / (2π fv · ΔV)', numbers: `${print(loadStep, 'A')} / (2π × ${print(pace, 'Hz')} × ${print(allowed.deviation, 'V')})`,
    value: loadStep / (2 * Math.PI * pace * allowed.deviation), unit: 'F', source: `output impedance near the voltage loop’s crossover taken as that of the capacitor (${ERICKSON}, ch. 9)`, leavesOut: 'what the loop has done by then: the dip is smaller',
  };
  return capacitorValue(bulk, [beats, step]);
}

/** A large inductor from the output to a source of its mean voltage: it carries what the load does not take of what is fed, slowly, in the capacitor's stead. */
export function putReservoir(f: Fragment, input: SizingInput, sizing: Pick<Sizing, 'values'>, slot: string, [plus, minus]: readonly [string, string]): void {
  f.put(
    { kind: 'inductor', id: RESERVOIR, a: plus, b: 'mean', inductance: 1 / ((2 * Math.PI * SLOW) ** 2 * sizing.values[slot]!.taken) },
    { kind: 'voltage-source', id: 'mean output', a: 'mean', b: minus, value: input.brief.output.voltage },
  );
  f.slow(slot, RESERVOIR);
}
