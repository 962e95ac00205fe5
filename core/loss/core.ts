import { coreLoss, sineLoss, swingOf, type Core } from '../magnetics/flux';
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

/** What a sine of the same swing would lose, and why that is not it. */
function besides(part: Core, voltages: Voltages): string {
  const [own, sine] = [coreLoss(part, voltages), sineLoss(part, voltages)];
  if (!(own > 0) || !(sine > 0)) return '';
  const why = sine < own ? 'its steepest stretches count for more than the mean' : 'a sine is steeper than its long stretches';
  return `; swing ${print(swingOf(part, voltages), 'T')}; by a sine of that ${print(sine, 'W')}, ${(sine / own).toPrecision(2)} of it: ${why}`;
}

const working = (part: Core, voltages: Voltages): ReturnType<Mechanism<'inductor'>['working']> => ({
  formula: 'P = Ve (1/T) ∫ k_i |dB/dt|^α ΔB^(β−α) dt,  dB/dt = v / (N A),  ΔB of the loop that each piece belongs to',
  numbers: shortened(voltages).join(', ') + ` on ${part.turns} turns` + besides(part, voltages),
  source: 'Venkatachalam, Sullivan, Abdallah, Tacca 2002: improved generalised Steinmetz equation',
  leavesOut: 'dc bias; temperature of the core',
});

/** Core loss from the real flux, not from an assumed sine. */
export const core: Mechanism<'inductor'> = {
  id: 'core',
  title: 'core',
  kind: 'inductor',
  power: (s) => coreLoss(s.part, s.voltages),
  working: (s) => working(s.part, s.voltages),
};

/** The same of a transformer, by the voltage across its primary. */
export const transformerCore: Mechanism<'transformer'> = {
  id: 'core',
  title: 'core',
  kind: 'transformer',
  power: (s) => coreLoss({ ...s.part, turns: s.primaryTurns } satisfies Core, s.voltages),
  working: (s) => working({ ...s.part, turns: s.primaryTurns }, s.voltages),
};
