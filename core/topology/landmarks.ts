import type { CapacitorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { OperatingPoint } from '../surroundings/brief';
import { ERICKSON } from './common';
import type { Forecast, Landmark, Sizing, SizingInput } from './types';

/** A named corner of the plant, with its working. */
export const landmark = (title: string, formula: string, numbers: string, frequency: number, leavesOut: string): Landmark => ({
  title, frequency, working: { title, formula, numbers, value: frequency, unit: 'Hz', source: `${ERICKSON}, ch. 8`, leavesOut },
});

/** The zero that a capacitor’s series resistance makes. @param esr Ω @param C F */
export const capacitorZero = (esr: number, C: number): Landmark =>
  landmark('zero of the capacitor’s resistance', 'f = 1 / (2π · ESR · C)', `1 / (2π × ${print(esr, 'Ω')} × ${print(C, 'F')})`, 1 / (2 * Math.PI * esr * C), '');

/** The pole of an output capacitor with its load. */
export const loadPole = (resistance: number, C: number): Landmark =>
  landmark('pole of the load and C2', 'f = 2 / (2π R C) or so', `R = ${print(resistance, 'Ω')}, C = ${print(C, 'F')}`, 1 / (Math.PI * resistance * C), 'its factor, which goes with the duty; the exact response is beside it');

/** Of all that feed C2 through one inductor all the time; `alike` inductors stand in parallel. */
export function afterBuck(spec: SizingInput, { values }: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'load'>, mode: Forecast['mode'], alike = 1): Landmark[] {
  const [L, C] = [values.L1!.taken / alike, values.C2!.taken];
  const part = spec.parts.C2 as CapacitorPart;
  const first =
    mode === 'continuous'
      ? landmark('double pole of L1 and C2', 'f₀ = 1 / (2π √(L C))', `1 / (2π √(${print(L, 'H')} × ${print(C, 'F')}))`, 1 / (2 * Math.PI * Math.sqrt(L * C)), 'damping by load and resistances, which moves it by less than a percent here')
      : loadPole(spec.brief.output.voltage / point.load, C);
  return [first, capacitorZero((part.esr * part.capacitance) / C, C)];
}
