import { rejectionAt, usualRegulator } from '../branches/regulator';
import type { Regulator } from '../branches/branch';
import type { Design } from '../design/schema';
import { harmonicsOf } from '../orbit/spectrum';
import type { ThermalNodeState } from '../thermal/network';
import type { SettledStage } from './settleStage';

/** A linear regulator behind the output, as it stands at a point. */
export interface PostFigures {
  /** Its branch */
  id: string;
  /** V that it makes */
  voltage: number;
  /** V between the lowest of the output and what it makes, and of them what is left over its dropout */
  above: number;
  headroom: number;
  /** V peak to peak behind it, of the switching; V rms of noise of its own */
  ripple: number;
  noise: number;
  /** dB that it rejects at the frequency of the switching */
  rejection: number;
  /** W that it burns, of them by its own current; °C of its junction, and what it may be */
  watts: number;
  junction: number;
  maxJunction: number;
}

/** The regulator of a design with the id of its branch; undefined where it has none. */
export function regulatorOf(d: Pick<Design, 'branches' | 'brief'>): { id: string; regulator: Regulator } | undefined {
  const found = Object.entries(d.branches ?? {}).find(([, b]) => b.kind === 'regulator');
  return found && { id: found[0], regulator: found[1].regulator ?? usualRegulator(d.brief.output.voltage) };
}

/** Multiples of the switching that are followed through it, and points of a period that they are added at */
const [MULTIPLES, POINTS] = [24, 240];

/**
 * What a linear regulator makes of a settled output. Ripple: each multiple of it less what is rejected there, added with its phase. Heat: (Vout − V) I
 * and Vout times its own current, through the resistance from junction to air.
 * @param load A that it gives @param air °C
 */
export function postFigures(d: Design, { cycleIntegrals, cycle, roles, measure }: SettledStage, load: number, air: number): PostFigures | undefined {
  const found = regulatorOf(d);
  if (!found) return undefined;
  const { id, regulator } = found;
  const output = measure({ output: 0 });
  const [list] = harmonicsOf(cycleIntegrals, [(p) => p.voltage(...roles.outputs[0]!.nodes)], MULTIPLES);
  const through = list!.slice(1).map((h) => ({ ...h, amplitude: h.amplitude * 10 ** (-rejectionAt(regulator, h.frequency) / 20) }));
  const wave = Array.from({ length: POINTS }, (_, k) => through.reduce((sum, h) => sum + h.amplitude * Math.cos((2 * Math.PI * h.order * k) / POINTS + h.phase), 0));
  const watts = (output.mean - regulator.voltage) * load + output.mean * regulator.groundCurrent;
  const above = output.min - regulator.voltage;
  return {
    id, voltage: regulator.voltage, above, headroom: above - regulator.dropout,
    ripple: Math.max(...wave) - Math.min(...wave), noise: regulator.noise, rejection: rejectionAt(regulator, 1 / cycle.period),
    watts, junction: air + watts * regulator.thermalResistance, maxJunction: regulator.maxJunction,
  };
}

/** Its junction among the other temperatures. */
export const postNode = ({ id, junction, maxJunction, watts }: PostFigures, air: number): ThermalNodeState => ({ id: `${id} junction`, title: `${POST} junction`, slot: POST, spot: 'junction', towards: 'air', resistance: watts > 0 ? (junction - air) / watts : 0, limit: maxJunction, temperature: junction, heat: watts });

/** What it is called among the losses */
export const POST = 'post-regulator';
