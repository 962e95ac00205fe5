import type { Network } from '../control';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Design } from '../design/schema';

/** The output's divider, R1 and the resistor to ground, as it stands among the losses. */
export const DIVIDER = 'divider';

/** W in the divider of the output; none where the output is not divided. */
export const dividerLoss = (d: Design, n: Pick<Network, 'divider'>): number => (Number.isFinite(n.divider.lower) ? (d.brief.output.voltage - d.control.reference) ** 2 / n.divider.upper + d.control.reference ** 2 / n.divider.lower : 0);

/** More than this, or than this share of the full output, is out of reason for a divider. */
const [MOST_WATTS, MOST_SHARE] = [1, 0.002];

/** What is to be done about a divider that burns so many W, if that is too much; undefined where it is not. */
export function dividerWarning(d: Design, watts: number): string | undefined {
  const { voltage } = d.brief.output;
  if (watts <= MOST_WATTS && watts <= MOST_SHARE * voltage * d.brief.load.max) return undefined;
  return `the divider takes ${print(watts, 'W')}: raise network R1 (now ${print(d.control.inputResistor as number, 'Ω')}), say to ${print(voltage ** 2 / Math.min(MOST_WATTS, MOST_SHARE * voltage * d.brief.load.max) / 2, 'Ω', 1)}`;
}

/** How the loss of the feedback divider came about, in W, by "divider/divider"; nothing where it has none. */
export function dividerWorking(d: Design, n: Network): Record<string, Working> {
  const watts = dividerLoss(d, n);
  if (!(watts > 0)) return {};
  const { voltage } = d.brief.output;
  const { reference } = d.control;
  return {
    [`${DIVIDER}/divider`]: {
      title: 'divider of the output', formula: 'P = (Vout − Vref)² / R1 + Vref² / Rlower', numbers: `(${print(voltage, 'V')} − ${print(reference, 'V')})² / ${print(n.divider.upper, 'Ω')} + (${print(reference, 'V')})² / ${print(n.divider.lower, 'Ω')}`,
      value: watts, unit: 'W', source: 'resistors of the network', leavesOut: `R3 and the capacitors, which carry no dc${dividerWarning(d, watts) ? `; ${dividerWarning(d, watts)}` : ''}`,
    },
  };
}
