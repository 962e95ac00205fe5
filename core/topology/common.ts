import type { CapacitorPart, InductorPart } from '../parts/schema';
import type { Problem } from '../problem';
import { preferred, printQuantity as print, printTyped, type SeriesName } from '../quantity';
import type { Working } from '../working';
import type { Brief } from '../surroundings/brief';
import type { SizedValue, Sizing, SizingInput, Topology } from './types';

/** What topologies share: sources, capacitors in parallel, what a part carries, and why a brief can not be served. */
export const ERICKSON = 'Erickson, Maksimović: Fundamentals of Power Electronics';
export const MOHAN = 'Mohan, Undeland, Robbins: Power Electronics, ch. 7';

/** Share of the period below which no driver makes a pulse: where the search for a duty ends */
export const DUTY_MIN = 0.001;

/** Capacitance that damps, over the one that rings: four times as much damps well without growing large */
export const DAMPING = 4;
/** Best resistance in series with it, as a share of √(L/C), and the peak that it leaves (Erickson, Maksimović, ch. 10) */
export const BEST_DAMPING = Math.sqrt(((2 + DAMPING) * (4 + 3 * DAMPING)) / (2 * DAMPING ** 2 * (4 + DAMPING)));

/** Largest duty that a step-down is sized for */
export const DUTY_MAX = 0.95;

/** As many capacitors of a kind in parallel as the largest of some workings wants. */
export function capacitorValue(part: CapacitorPart, workings: Working[]): SizedValue {
  const wanted = Math.max(...workings.map((w) => w.value));
  const suggested = Math.max(1, Math.ceil(wanted / part.capacitance - 1e-9));
  const count = part.count ?? suggested;
  return {
    title: 'capacitance',
    unit: 'F',
    wanted,
    count,
    suggestedCount: suggested,
    taken: count * part.capacitance,
    suggested: suggested * part.capacitance,
    overridden: part.count !== null,
    how: `${count} × ${printTyped(part.capacitance, 'F', 3)}`,
    workings,
  };
}

/** A step-down can not make more than the lowest line gives at the largest duty. */
export function refusesAbove(brief: Brief, most: number, what: string): Problem | undefined {
  const { voltage } = brief.output;
  const highest = brief.line.min * most;
  if (voltage <= highest) return undefined;
  return {
    code: 'impossible',
    where: 'brief.output.voltage',
    message: `${what}, and ${print(voltage, 'V')} is above ${print(highest, 'V')}, ${most * 100} % of the lowest line`,
    remedy: `lower the output below ${print(highest, 'V')} or raise the line above ${print(voltage / most, 'V')}`,
  };
}

/** A step-up can not make less than the highest line, nor so much that its duty leaves nothing of the period. */
export function refusesBelow(brief: Brief, what: string): Problem | undefined {
  const { voltage } = brief.output;
  const lowest = brief.line.max * 1.03;
  if (voltage < lowest)
    return { code: 'impossible', where: 'brief.output.voltage', message: `${what}, and ${print(voltage, 'V')} is below ${print(lowest, 'V')}, 103 % of the highest line`, remedy: `raise the output above ${print(lowest, 'V')} or lower the line below ${print(voltage / 1.03, 'V')}` };
  return refusesDuty(brief, 1 - brief.line.min / voltage);
}

/** Duties above this leave too little of the period, and losses grow without bound. */
export const LARGEST_DUTY = 0.85;

/** Why a duty (a share of the period) at the lowest line is more than losses leave room for; undefined where it is not. */
export function refusesDuty(brief: Brief, duty: number): Problem | undefined {
  if (duty <= LARGEST_DUTY) return undefined;
  return { code: 'impossible', where: 'brief.line.min', message: `it would want a duty of ${print(duty, '%')} at ${print(brief.line.min, 'V')}, and losses leave no more than ${LARGEST_DUTY * 100} %`, remedy: 'raise the lowest line, lower the output, or take a topology with a transformer' };
}

/** "τ = 5 mΩ × 22 µF = 110 ns": the series resistance of capacitors goes down as their number goes up. */
const tauOf = (part: CapacitorPart): { tau: number; tauText: string } => {
  const tau = part.esr * part.capacitance;
  return { tau, tauText: `τ = ${print(part.esr, 'Ω')} × ${print(part.capacitance, 'F')} = ${print(tau, 's')}` };
};

/** Output capacitance (F) for the ripple where an inductor feeds the output all the time. @param swing A peak to peak @param frequency Hz of that ripple @param allowed V peak to peak */
export function rippleFedAlways(part: CapacitorPart, swing: number, frequency: number, allowed: number): Working {
  const { tau, tauText } = tauOf(part);
  return {
    title: 'capacitance for the ripple', formula: 'C ≥ ΔI (1 / 8f + τ) / ΔV,  τ = ESR · C of one', numbers: `${print(swing, 'A')} × (1 / (8 × ${print(frequency, 'Hz')}) + τ) / ${print(allowed, 'V')},  ${tauText}`,
    value: (swing * (1 / (8 * frequency) + tau)) / allowed, unit: 'F', source: MOHAN, leavesOut: 'adds the two parts of the ripple as if their peaks met: on the safe side',
  };
}

/** Output capacitance (F) for the ripple where the output is fed while the switch is off. @param load A @param peak A fed at most @param frequency Hz @param allowed V peak to peak */
export function rippleFedInPulses(part: CapacitorPart, load: number, duty: number, peak: number, frequency: number, allowed: number): Working {
  const { tau, tauText } = tauOf(part);
  return {
    title: 'capacitance for the ripple', formula: 'C ≥ (Iout D / f + τ Ipeak) / ΔV,  τ = ESR · C of one', numbers: `(${print(load, 'A')} × ${duty.toFixed(3)} / ${print(frequency, 'Hz')} + τ × ${print(peak, 'A')}) / ${print(allowed, 'V')},  ${tauText}`,
    value: ((load * duty) / frequency + tau * peak) / allowed, unit: 'F', source: MOHAN, leavesOut: 'adds the two parts of the ripple as if their peaks met: on the safe side',
  };
}

/** Output capacitance (F) that holds a load step until the loop answers. @param step A @param crossover Hz @param allowed V of deviation */
export function holdsStep(part: CapacitorPart, step: number, crossover: number, allowed: number): Working {
  const { tau, tauText } = tauOf(part);
  return {
    title: 'capacitance for the load step', formula: 'C ≥ ΔI (1 / 2π fc + τ) / ΔV', numbers: `${print(step, 'A')} × (1 / (2π × ${print(crossover, 'Hz')}) + τ) / ${print(allowed, 'V')},  ${tauText}`,
    value: (step * (1 / (2 * Math.PI * crossover) + tau)) / allowed, unit: 'F', source: `output impedance near crossover taken as that of the capacitor (${ERICKSON}, ch. 9)`, leavesOut: 'phase margin: a loop with little of it dips deeper',
  };
}

/** Input capacitance (F) where the line is drawn on all the time. @param swing A peak to peak @param frequency Hz @param allowed V peak to peak */
export const lineDrawnAlways = (swing: number, frequency: number, allowed: number): Working => ({
  title: 'capacitance for the ripple on the line', formula: 'C ≥ ΔI / (8 f · ΔV)', numbers: `${print(swing, 'A')} / (8 × ${print(frequency, 'Hz')} × ${print(allowed, 'V')})`,
  value: swing / (8 * frequency * allowed), unit: 'F', source: MOHAN, leavesOut: 'series resistance; what the line itself carries',
});

/** Input capacitance (F) where the line is drawn on in pulses of a current. @param current A within a pulse @param frequency Hz @param allowed V peak to peak */
export const lineDrawnInPulses = (current: number, duty: number, frequency: number, allowed: number): Working => ({
  title: 'capacitance for the ripple on the line', formula: 'C ≥ I D (1 − D) / (f · ΔV)', numbers: `${print(current, 'A')} × ${duty.toFixed(3)} × ${(1 - duty).toFixed(3)} / (${print(frequency, 'Hz')} × ${print(allowed, 'V')})`,
  value: (current * duty * (1 - duty)) / (frequency * allowed), unit: 'F', source: MOHAN, leavesOut: 'series resistance; what the line itself carries',
});

/** The value taken for an inductor: its own, or the next in the series of the design above what is wanted; below it where that is the most. */
export function inductorValue(part: InductorPart, working: Working, series: SeriesName = 'E12', towards: 'up' | 'down' = 'up'): SizedValue {
  const suggested = preferred(working.value, series, towards);
  return {
    title: 'inductance', unit: 'H', wanted: working.value, suggested, taken: part.inductance ?? suggested,
    overridden: part.inductance !== null, how: part.inductance === null ? `next in ${series}` : 'your value', workings: [working],
  };
}

/** V that a part stands, and the rating that this wants. */
export const requiredRating = (most: number, stress: number): { most: number; wanted: number } => ({ most, wanted: most / stress });

/** The same of several slots, at the stress that the design allows. @param most V by slot */
export const ratings = ({ allowed }: Pick<SizingInput, 'allowed'>, most: Readonly<Record<string, number>>): Sizing['blocking'] =>
  Object.fromEntries(Object.entries(most).map(([slot, volts]) => [slot, requiredRating(volts, allowed.stress)]));

/** A duty between its two ends: least at the highest line and the smallest load, most at the lowest line and full load. */
export function dutyRange({ brief: { line, load } }: Pick<SizingInput, 'brief'>, working: (title: string, at: { line: number; load: number }) => Working): Sizing['duty'] {
  return dutyOver(working('smallest duty', { line: line.max, load: load.min }), working('largest duty', { line: line.min, load: load.max }));
}
export function dutyOver(smallest: Working, largest: Working): Sizing['duty'] {
  // Where the drops of the parts leave nothing of the line, no duty is enough.
  const workings = [smallest, largest].map((w) => (w.value > 0 ? w : { ...w, value: Infinity }));
  return { min: workings[0]!.value, max: workings[1]!.value, workings };
}

/** Where to look for a duty first, and between what. */
export const dutyNear = (guess: number, max = 0.99, min = DUTY_MIN): { min: number; max: number; guess: number } => ({ min, max, guess: Number.isNaN(guess) ? max - 0.01 : Math.min(max - 0.01, Math.max(2 * min, guess)) });

/** What rings last before the output of a power stage: L1 with C2 where it does not say. */
export const ringingOf = ({ ringing }: Pick<Topology, 'ringing'>): { L: string; C: string } => ringing ?? { L: 'L1', C: 'C2' };

/** By what a topology can be controlled besides its duty: the peak current of a switch, the mean current of its one inductor L1 (on the mains that is what is held anyway). */
export const controllable = ({ currentControl, mains, slots }: Pick<Topology, 'currentControl' | 'mains' | 'slots'>): { current: boolean; coil: boolean; mains: boolean; pulsed: boolean; rests: boolean } => ({
  mains: mains !== undefined,
  pulsed: mains?.pulsed === true,
  rests: mains?.rests !== undefined,
  current: currentControl !== undefined,
  coil: !mains && slots.some((p) => p.id === 'L1' && p.kind === 'inductor' && (p.copies ?? 1) === 1),
});
