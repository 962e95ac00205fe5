import { factorAt, lay } from '../magnetics/window';
import { printQuantity as print } from '../quantity';
import type { InductorState, Mechanism } from './types';

/** Resistance of a winding at a multiple of the switching frequency over that at dc. */
const factor = ({ part, temperature, frequency }: InductorState, order: number): number => {
  const w = part.winding!;
  return factorAt(w, w, part.turns, w.parallel, order * frequency, temperature);
};

/** W of each multiple beyond what the dc resistance has of it already. */
const each = (s: InductorState): number[] => s.spectrum!.map((rms, k) => rms ** 2 * s.resistance * (factor(s, k + 1) - 1));

/** What skin and proximity effect add to the copper, multiple by multiple of the current. */
export const copperAc: Mechanism<'inductor'> = {
  id: 'copper-ac',
  title: 'copper, ac',
  short: 'ac',
  kind: 'inductor',
  applies: (s) => s.spectrum !== undefined && s.part.winding !== undefined,
  power: (s) => each(s).reduce((a, b) => a + b, 0),
  working: (s) => {
    const { layers } = lay(s.part.winding!, s.part.winding!, s.part.turns, s.part.winding!.parallel);
    const watts = each(s);
    return {
      formula: 'P = R Σ In² (Fn − 1),  F = Δ [(sinh 2Δ + sin 2Δ) / (cosh 2Δ − cos 2Δ) + ⅔ (m² − 1) (sinh Δ − sin Δ) / (cosh Δ + cos Δ)]',
      numbers: [1, 2, 3].filter((n) => s.spectrum![n - 1] !== undefined).map((n) => `${n} f: ${print(s.spectrum![n - 1]!, 'A')}, F ${factor(s, n).toPrecision(3)}, ${print(watts[n - 1]!, 'W')}`).join(';  ') + `;  ${layers} ${layers === 1 ? 'layer' : 'layers'}`,
      source: 'Dowell, Proc. IEE 113 (1966); multiples of the current in the settled cycle',
      leavesOut: 'field that bulges out of the gap into the copper; ends of the window; multiples beyond the twentieth',
    };
  },
};
