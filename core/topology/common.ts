import type { CapacitorPart } from '../parts/schema';
import type { Problem } from '../problem';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Brief } from './brief';
import type { PartDuty, SizedValue } from './types';

/** What topologies share: sources, capacitors in parallel, what a part carries, and why a brief can not be served. */
export const ERICKSON = 'Erickson, Maksimović: Fundamentals of Power Electronics';
export const MOHAN = 'Mohan, Undeland, Robbins: Power Electronics, ch. 7';

/** S of what is open: a microampere at a hundred volts */
export const OFF_CONDUCTANCE = 1e-8;

/** Largest duty that a step-down is sized for */
export const DUTY_MAX = 0.95;

/** What the cycle asks of a part, from its current and the voltage across it. Extremes cost more than integrals and are read once, after the temperatures have settled. */
export const partDuty = (i: { mean: number; rms: number; min: number; max: number }, v: { min: number; max: number }): PartDuty => ({
  rms: i.rms,
  mean: i.mean,
  get peak() {
    return Math.max(Math.abs(i.min), Math.abs(i.max));
  },
  get voltage() {
    return Math.max(Math.abs(v.min), Math.abs(v.max));
  },
  get peakToPeak() {
    return i.max - i.min;
  },
});

/** An input capacitor beside the stiff line: the line carries the mean of what is drawn, the capacitor what is left of it. */
export const besideLine = (drawn: PartDuty, line: () => number): PartDuty => ({
  rms: Math.sqrt(Math.max(0, drawn.rms ** 2 - drawn.mean ** 2)),
  mean: 0,
  get peak() {
    return drawn.peak - drawn.mean;
  },
  get voltage() {
    return line();
  },
  get peakToPeak() {
    return drawn.peakToPeak;
  },
});

/** As many capacitors of a kind in parallel as the largest of some workings wants. */
export function capacitorValue(part: CapacitorPart, workings: Working[]): SizedValue {
  const wanted = Math.max(...workings.map((w) => w.value));
  const suggested = Math.max(1, Math.ceil(wanted / part.capacitance - 1e-9));
  const count = part.count ?? suggested;
  return {
    title: 'capacitance',
    unit: 'F',
    wanted,
    taken: count * part.capacitance,
    suggested: suggested * part.capacitance,
    overridden: part.count !== null,
    how: `${count} × ${print(part.capacitance, 'F')}`,
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

export function refusesDuty(brief: Brief, duty: number): Problem | undefined {
  if (duty <= LARGEST_DUTY) return undefined;
  return { code: 'impossible', where: 'brief.line.min', message: `it would want a duty of ${print(duty, '%')} at ${print(brief.line.min, 'V')}, and losses leave no more than ${LARGEST_DUTY * 100} %`, remedy: 'raise the lowest line, lower the output, or take a topology with a transformer' };
}
