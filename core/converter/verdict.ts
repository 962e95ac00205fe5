import { describeProblem } from '../problem';
import { printQuantity as print } from '../quantity';
import type { Converter, ConverterFigures } from './converter';

/** What a converter's output is called: its nodes. */
export const outputNamed = ({ roles }: Converter, k: number): string => roles.outputs[k]!.nodes.join(' to ');

/** All that a converter misses of what its roles want, in words; nothing where it holds. */
export function failsOf(c: Converter, f: ConverterFigures): string[] {
  const wanted = ({ crossover, phaseMargin }: { crossover?: number; phaseMargin?: number }): string => [crossover && print(crossover, 'Hz'), phaseMargin && print(phaseMargin, '°')].filter(Boolean).join(' and ');
  return [
    ...(f.leaves ? [describeProblem(f.leaves)] : []),
    ...f.outputs.flatMap((o, k) => (o.wanted && !o.wanted.holds ? [`output ${outputNamed(c, k)}: ${print(o.voltage.mean, 'V', 5)}, wanted ${print(o.wanted.voltage, 'V', 5)} within ${print(o.wanted.within, '%')}`] : [])),
    ...f.loops.flatMap((l) => (l.wanted && !l.wanted.holds ? [`loop "${l.title}": ${l.beyond === undefined ? `${print(l.crossover, 'Hz')} and ${print(l.phaseMargin, '°')}` : `no crossover, the gain stays ${l.beyond} one`}, wanted at least ${wanted(l.wanted)}`] : [])),
  ];
}

/** Room left of what is wanted, as a share of it: of outputs, and of loops; undefined where nothing is wanted, below zero where it is missed. */
export function roomsOf(f: ConverterFigures): { outputs?: number; loops?: number } {
  const least = (list: number[]): number | undefined => (list.length === 0 ? undefined : Math.min(...list));
  const above = (value: number, wanted: number | undefined): number[] => (wanted ? [value / wanted - 1] : []);
  return {
    outputs: least(f.outputs.flatMap(({ voltage, wanted }) => (wanted ? [1 - Math.abs(voltage.mean - wanted.voltage) / (wanted.within * Math.abs(wanted.voltage))] : []))),
    loops: f.leaves ? -1 : least(f.loops.flatMap((l) => (l.wanted === undefined ? [] : l.beyond === undefined ? [...above(l.crossover, l.wanted.crossover), ...above(l.phaseMargin, l.wanted.phaseMargin)] : [-1]))),
  };
}
