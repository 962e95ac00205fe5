import { add, complex, over, scale, times, type Complex } from '../linear/complex';
import { networkImpedance } from './receiver';

/**
 * The way of conducted noise from a converter to the receiver: filters as ladders of a series and a shunt impedance each, the converter's
 * side first, and the line impedance network behind them. Between the lines it meets two networks in series, from both lines to earth two beside one another.
 * Source: CISPR 16-1-2; Ott, "Electromagnetic Compatibility Engineering" (2009), ch. 18 (differential and common mode at the network).
 */

/** A capacitor with its leads, F, Ω, H. */
export interface Shunt {
  capacitance: number;
  resistance: number;
  inductance: number;
}

/** A stage of a ladder: shunts on the converter's side, then a winding in series: H, Ω, and F of its own beside it. */
export interface LadderStage {
  shunts: readonly Shunt[];
  series?: { inductance: number; resistance: number; capacitance: number };
}

const OPEN: Complex = { re: 1e12, im: 0 };
const beside = (a: Complex, b: Complex): Complex => over(times(a, b), add(a, b));

const shuntAt = ({ capacitance, resistance, inductance }: Shunt, w: number): Complex => complex(resistance, w * inductance - 1 / (w * capacitance));
const seriesAt = ({ inductance, resistance, capacitance }: NonNullable<LadderStage['series']>, w: number): Complex => {
  const coil = complex(resistance, w * inductance);
  return capacitance > 0 ? beside(coil, complex(0, -1 / (w * capacitance))) : coil;
};

/**
 * V at the end of a ladder for each ampere put in at its beginning (Ω), and Ω that is met there.
 * @param end what stands behind it
 */
export function through(stages: readonly LadderStage[], end: Complex, frequency: number): { transfer: Complex; input: Complex } {
  const w = 2 * Math.PI * frequency;
  const [first, ...rest] = stages;
  if (!first) return { transfer: end, input: end };
  const next = through(rest, end, frequency);
  const series = first.series ? seriesAt(first.series, w) : complex(0);
  const onwards = add(series, next.input);
  const shunt = first.shunts.reduce((z, s) => beside(z, shuntAt(s, w)), OPEN);
  // What is put in parts between the shunts and the way onwards.
  const share = over(shunt, add(shunt, onwards));
  return { transfer: times(share, next.transfer), input: beside(shunt, onwards) };
}

/** V at the receiver for each ampere that the converter puts between the lines: half of what stands across both networks. */
export const betweenLines = (stages: readonly LadderStage[], frequency: number, network: number): Complex => scale(through(stages, scale(networkImpedance(frequency, network), 2), frequency).transfer, 0.5);

/** V at the receiver for each volt of a node that reaches earth through a capacitance (F) and comes back over both lines. */
export function toEarth(stages: readonly LadderStage[], frequency: number, network: number, capacitance: number): Complex {
  const { transfer, input } = through(stages, scale(networkImpedance(frequency, network), 0.5), frequency);
  return over(transfer, add(complex(0, -1 / (2 * Math.PI * frequency * capacitance)), input));
}
