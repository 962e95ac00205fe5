import fc from 'fast-check';
import { HELD_DUTY } from '../control/held';
import type { Design } from '../design';
import { canHangAcross, takesBranches } from '../branches';
import { checkDesign } from '../design/check';
import { Design as Schema, KIND, VERSION } from '../design/schema';
import { TOPOLOGIES, type Topology } from '../topology';
import { CAPACITOR, DIODE, INDUCTOR, sizingInputs } from './briefs';

/** Designs made without anybody's hand, for tests that hold what all topologies answer. */

/** Requirements that leave every verdict open; their limits are what sizing goes by. */
function requirements(ripple: number, deviation: number): Design['requirements'] {
  const on = (limit: number): { limit: number; on: boolean } => ({ limit, on: true });
  return { ripple: on(ripple), deviation: on(deviation), phaseMargin: on(45), gainMargin: on(8), efficiency: on(0.85), junction: on(125), winding: on(110), ratings: on(0.9), lineDeviation: { limit: deviation, on: false }, height: { limit: 0.03, on: false }, lowGain: { limit: 20, on: false }, impedance: { limit: 1, on: false }, pinned: { limit: 1, on: false }, filterMargin: { limit: 6, on: false }, headroom: { limit: 0.1, on: false }, postRipple: { limit: 1e-3, on: false }, powerFactor: { limit: 0.95, on: false }, distortion: { limit: 0.05, on: false }, harmonics: { limit: 1, on: false }, holdUp: { limit: 0.02, on: false }, noise: { limit: 3, on: false } };
}

/** What makes the second and third design of a topology another kind of design: branches, or the current as command. */
function variant(t: Topology, k: number): Partial<Design> & { parts: Design['parts'] } {
  const spare = { ...CAPACITOR, ratedVoltage: 1000 };
  if (k === 1 && takesBranches(t)) return { branches: { B1: { kind: 'damping', resistance: null } }, parts: { C11: spare } };
  if (k === 2 && takesBranches(t) && canHangAcross(t).length === 0) return { branches: { B1: { kind: 'filter', resistance: null } }, parts: { L11: INDUCTOR, C11: spare } };
  if (k === 2 && canHangAcross(t).length > 0) return { branches: { B1: { kind: 'clamp', at: canHangAcross(t)[0]!.id, resistance: null } }, parts: { C11: spare, D11: { ...DIODE, blockingVoltage: 1000 } } };
  return { parts: {} };
}

/** A reservoir on the mains holds for as many of its cycles as another does of the switching's. */
function bulk(parts: Design['parts'], { line, frequency }: Design['brief']): Design['parts'] {
  const C2 = parts.C2;
  if (line.mains === undefined || C2?.kind !== 'capacitor') return parts;
  const longer = frequency / (10 * line.mains);
  return { ...parts, C2: { ...C2, capacitance: C2.capacitance * longer, esr: C2.esr / longer } };
}

/** The k-th design for a topology: drawn by its number alone, and refused by nothing; undefined where none of a few draws is. */
export function automaticDesign(t: Topology, k: number): Design | undefined {
  for (const input of fc.sample(sizingInputs(t), { numRuns: 12, seed: 1000 * (k + 1) + t.id.length })) {
    const own = variant(t, k);
    const made = Schema.safeParse({
      kind: KIND, version: VERSION, name: `${t.title} ${k + 1}`, topology: t.id, brief: input.brief, requirements: requirements(input.allowed.ripple, input.allowed.deviation), drive: input.drive, ...own,
      parts: { ...bulk(input.parts, input.brief), ...own.parts },
      control: { method: t.mains?.pulsed ? HELD_DUTY : k === 1 && t.currentControl ? 'peak-current' : 'voltage', amplifier: 'type-three', crossover: t.mains?.pulsed ? input.brief.line.mains! / 5 : input.brief.frequency / 40, phaseMargin: 55, integrator: null, zero1: null, zero2: null, pole1: null, pole2: null, ramp: 1, delay: 1e-7, reference: input.brief.output.voltage / 4, inputResistor: 10e3, rounded: k !== 1, sampled: 'none', placedOn: '' },
      sink: { thermalResistance: 1 },
    });
    if (made.success && checkDesign(made.data).length === 0) return made.data;
  }
  return undefined;
}

/** Three of each topology. */
export const automaticDesigns = (): Design[] => TOPOLOGIES.flatMap((t) => [0, 1, 2].flatMap((k) => automaticDesign(t, k) ?? []));
