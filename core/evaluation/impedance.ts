import type { Brief } from '../surroundings/brief';
import { over, scale, size, type Complex } from '../linear/complex';
import type { Quantity } from '../orbit/measure';
import { refined, resonancesOf } from '../response/refine';
import { leastAlong } from '../response/along';
import { SmallSignal } from '../response/exact';
import { logSpaced } from '../response/system';
import type { ClosedStage } from './closed';
import type { SettledStage } from './settleStage';

/** Impedances of a closed converter at its ends, exact on its settled cycle. */

/** What a closed stage shows of its ends: Ω at the output, V per V from the line to it, Ω that the line sees. */
export interface Ends {
  output(frequency: readonly number[]): Complex[];
  line(frequency: readonly number[]): { toOutput: Complex[]; input: Complex[] };
}

export function endsOf(stage: SettledStage, { machine, cycle }: ClosedStage): Ends {
  const small = new SmallSignal(machine, cycle);
  const { line, outputs } = stage.roles;
  const out: Quantity = (p) => p.voltage(...outputs[0]!.nodes);
  /** Made when it is first asked for */
  const when = (source: string, quantities: readonly Quantity[]): ((f: readonly number[]) => Complex[][]) => {
    let found: ReturnType<SmallSignal['responder']> | undefined;
    return (f) => (found ??= small.responder(source, [...quantities]))(f);
  };
  const [load, fed] = [when(outputs[0]!.step!, [out]), when(line, [out, (p) => p.current(line)])];
  return {
    output: (f) => load(f)[0]!.map((v) => scale(v, -1)),
    line(f) {
      const [toOutput, drawn] = fed(f) as [Complex[], Complex[]];
      // A source's own current runs into its upper end.
      return { toOutput, input: drawn.map((v) => over({ re: -1, im: 0 }, v)) };
    },
  };
}

/** Points over a mask before it is refined where the impedance rings */
const GRID = 48;

/** Ω allowed at a frequency within a mask: straight between its points over the logarithms of both. */
export function maskAt(mask: NonNullable<Brief['impedanceMask']>, f: number): number {
  const k = Math.min(mask.length - 2, Math.max(0, mask.findIndex(([at]) => at >= f) - 1));
  const [[f0, z0], [f1, z1]] = [mask[k]!, mask[k + 1]!];
  return Math.exp(Math.log(z0) + (Math.log(z1 / z0) * Math.log(f / f0)) / Math.log(f1 / f0));
}

/** Where an output impedance takes most of its mask: that share, Hz and Ω there. */
export function againstMask(ends: Ends, mask: NonNullable<Brief['impedanceMask']>, { cycle }: ClosedStage): { share: number; at: number; impedance: number } {
  const grid = [...new Set([...logSpaced(mask[0]![0], mask.at(-1)![0], GRID), ...mask.map(([f]) => f)])].sort((a, b) => a - b);
  const { frequency, response } = refined(grid, (f) => ends.output(f), resonancesOf(cycle));
  const inside = frequency.flatMap((f, i) => (f >= mask[0]![0] && f <= mask.at(-1)![0] ? [{ f, share: size(response[i]!) / maskAt(mask, f) }] : []));
  const most = leastAlong(inside.map((x) => x.f), inside.map((x) => -x.share), (f) => -size(ends.output([f])[0]!) / maskAt(mask, f));
  return { share: -most.value, at: most.at, impedance: -most.value * maskAt(mask, most.at) };
}
