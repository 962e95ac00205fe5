import type { Design } from '../design/schema';
import { closedDesign } from '../evaluation/closedDesign';
import { cycleIntegrals, harmonicsOf, measure, type Quantity } from '../orbit/measure';
import { fail, ok, type Result } from '../problem';
import { LAST_ORDER, qualityOf, type EquipmentClass, type CurrentQuality } from '../surroundings/drawnCurrent';
import type { OperatingPoint } from '../topology';
import { wholeMains } from './onMains';

/** What a design draws from the mains at a point, and what it makes of it. */
export interface MainsQuality extends CurrentQuality {
  /** Hz of the mains that was settled: that nearest to the brief's which whole switching periods fit into */
  frequency: number;
  /** V: mean of the output, and what it swings by over the mains */
  output: { mean: number; peakToPeak: number };
  /** |x(T) − x(0)|, relative */
  closure: number;
}

/**
 * The settled cycle of the mains of the whole circuit (rectifier, filter, cascade), read by its line: as well as the controller makes it and no
 * better. Harmonics are exact over the cycle.
 * @returns problems as of closing and settling it; "range" on a dc line
 */
export function mainsQuality(d: Design, point: OperatingPoint, of: EquipmentClass = d.brief.equipmentClass ?? 'A'): Result<MainsQuality> {
  if (d.brief.line.mains === undefined) return fail('range', 'brief.line', 'this line is dc and has no harmonics', 'give it a mains frequency, or leave this out');
  const found = closedDesign(d, point);
  if (!found.ok) return found;
  const whole = wholeMains(d, point, found.value);
  const settled = whole.settled();
  if (!settled.ok) return settled;
  const { cycle } = settled.value;
  const { roles } = whole.with(undefined);
  const g = cycleIntegrals(cycle);
  const current: Quantity = (p) => p.current(roles.line).map((v) => -v);
  const voltage: Quantity = (p) => p.voltage('mains', 'neutral');
  const [i, v] = harmonicsOf(g, [current, voltage], LAST_ORDER) as [ReturnType<typeof harmonicsOf>[number], ReturnType<typeof harmonicsOf>[number]];
  const drawn = measure(g, current);
  const output = measure(g, (p) => p.voltage(...roles.outputs[0]!.nodes));
  return ok({ ...qualityOf(v[1]!, i, drawn.rms, Math.max(drawn.max, -drawn.min), of), frequency: 1 / whole.period, output: { mean: output.mean, peakToPeak: output.peakToPeak }, closure: cycle.closure });
}
