import { factorAt, lay } from '../magnetics/window';
import { printQuantity as print } from '../quantity';
import { lossAt } from '../magnetics/field';
import type { InductorState, Mechanism, TransformerState } from './types';

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

/** Multiples whose currents are below this share of the largest are not looked at. */
const SEEN = 1e-4;

/** W of each winding at each multiple, beyond what the dc resistance has of it already. */
export function windingsAcOf({ windings, wound }: Pick<TransformerState, 'windings' | 'wound'>): number[][] {
  const { window, spectrum, frequency, turn, temperature } = wound!;
  const size = spectrum.map((currents) => Math.max(...currents.map(([re, im], i) => Math.hypot(re, im) * window.windings[i]!.turns)));
  const most = Math.max(...size);
  return spectrum.map((currents, k) =>
    size[k]! < SEEN * most ? windings.map(() => 0) : lossAt(window, currents, (k + 1) * frequency, turn, temperature).map((watts, i) => watts - (currents[i]![0] ** 2 + currents[i]![1] ** 2) * windings[i]!.resistance),
  );
}

/** The same of a transformer, each winding in the field of all that stand in its window. */
export const windingsAc: Mechanism<'transformer'> = {
  id: 'copper-ac',
  title: 'copper, ac',
  short: 'ac',
  kind: 'transformer',
  applies: (s) => s.wound !== undefined,
  power: (s) => windingsAcOf(s).flat().reduce((a, b) => a + b, 0),
  working: (s) => {
    const each = windingsAcOf(s);
    const { interfaces, strandDiameter } = s.wound!.window.winding;
    const of = (i: number): string => `${s.windings[i]!.title} ${print(each.reduce((sum, watts) => sum + watts[i]!, 0), 'W')}`;
    return {
      formula: 'P = Σ ρ l h / t Σlayers [ F |ΔHn|² + G |Hn|² ] − R Σ In²,  F = ν/2 (sinh ν + sin ν) / (cosh ν − cos ν),  G = 2 ν (sinh ν − sin ν) / (cosh ν + cos ν)',
      numbers: `${s.windings.map((_, i) => of(i)).join(', ')};  at f ${print(each[0]!.reduce((a, b) => a + b, 0), 'W')}, 2 f ${print((each[1] ?? []).reduce((a, b) => a + b, 0), 'W')};  strands of ${print(strandDiameter, 'm')}, primary and secondary face one another ${interfaces === 1 ? 'once' : `${interfaces} times`}`,
      source: 'Vandelac, Ziogas, IEEE Trans. Power Electron. 3 (1988); multiples of all currents in the settled cycle, with their phases',
      leavesOut: 'field that bulges out of the gap into the copper; ends of the window; multiples beyond the twentieth',
    };
  },
};
