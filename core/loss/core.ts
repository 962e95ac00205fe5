import { coreLoss, type Core } from '../magnetics/flux';
import { printQuantity as print } from '../quantity';
import type { Mechanism } from './types';

type Voltages = readonly { volts: number; seconds: number }[];

/** The longest pieces, in order, and how many more there are. */
const SHOWN = 8;
function shortened(voltages: Voltages): string[] {
  const longest = new Set([...voltages].sort((a, b) => b.seconds - a.seconds).slice(0, SHOWN));
  const more = voltages.length - longest.size;
  return [...voltages.filter((v) => longest.has(v)).map((v) => `${print(v.volts, 'V')} for ${print(v.seconds, 's')}`), ...(more > 0 ? [`${more} more pieces`] : [])];
}

const working = (turns: number, voltages: Voltages): ReturnType<Mechanism<'inductor'>['working']> => ({
  formula: 'P = Ve (1/T) ∫ k_i |dB/dt|^α ΔB^(β−α) dt,  dB/dt = v / (N A),  ΔB of the loop that each piece belongs to',
  numbers: shortened(voltages).join(', ') + ` on ${turns} turns`,
  source: 'Venkatachalam, Sullivan, Abdallah, Tacca 2002: improved generalised Steinmetz equation',
  leavesOut: 'dc bias; temperature of the core',
});

/** Core loss from the real flux, not from an assumed sine. */
export const core: Mechanism<'inductor'> = {
  id: 'core',
  title: 'core',
  kind: 'inductor',
  power: (s) => coreLoss(s.part, s.voltages),
  working: (s) => working(s.part.turns, s.voltages),
};

/** The same of a transformer, by the voltage across its primary. */
export const transformerCore: Mechanism<'transformer'> = {
  id: 'core',
  title: 'core',
  kind: 'transformer',
  power: (s) => coreLoss({ ...s.part, turns: s.primaryTurns } satisfies Core, s.voltages),
  working: (s) => working(s.primaryTurns, s.voltages),
};
