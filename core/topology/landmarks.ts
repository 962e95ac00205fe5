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

/** The double pole (Hz) of L1 and C2, where the inductor feeds the output for a share of the period. @param L H @param C F */
export const doublePole = (share: number, L: number, C: number, leavesOut: string, title = 'double pole of L1 and C2', inductance = 'L'): Landmark =>
  landmark(title, share === 1 ? `f₀ = 1 / (2π √(${inductance} C))` : `f₀ = (1 − D) / (2π √(${inductance} C))`, `${share === 1 ? '1' : share.toFixed(3)} / (2π √(${print(L, 'H')} × ${print(C, 'F')}))`, share / (2 * Math.PI * Math.sqrt(L * C)), leavesOut);

/** The right-half-plane zero (Hz) of an inductor (H) that feeds the output only while it falls. @param volts while it rises and while it falls, together @param amps its mean */
export const rightZero = (duty: number, volts: number, L: number, amps: number, frequency: number): Landmark =>
  landmark('right-half-plane zero', 'f = (1 − D) (Von + Voff) / (2π L I_L)', `1 − D = ${(1 - duty).toFixed(3)}, ${print(volts, 'V')}, L = ${print(L, 'H')}, I_L = ${print(amps, 'A')}`, frequency, 'resistances');

/** The pole (Hz) of an output capacitor (F) with its load (Ω). */
export const loadPole = (resistance: number, C: number): Landmark =>
  landmark('pole of the load and C2', 'f = 2 / (2π R C) or so', `R = ${print(resistance, 'Ω')}, C = ${print(C, 'F')}`, 1 / (Math.PI * resistance * C), 'its factor, which goes with the duty; the exact response is beside it');

/** Of all that feed C2 through one inductor all the time; `alike` inductors stand in parallel. */
export function afterBuck(input: SizingInput, { values }: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'load'>, mode: Forecast['mode'], alike = 1): Landmark[] {
  const [L, C] = [values.L1!.taken / alike, values.C2!.taken];
  const part = input.parts.C2 as CapacitorPart;
  const first =
    mode === 'continuous'
      ? doublePole(1, L, C, 'damping by load and resistances, which moves it by less than a percent here')
      : loadPole(input.brief.output.voltage / point.load, C);
  return [first, capacitorZero((part.esr * part.capacitance) / C, C)];
}
