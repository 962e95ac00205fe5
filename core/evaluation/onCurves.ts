import type { Design } from '../design/schema';
import { fluxDensity } from '../magnetics/flux';
import type { StageFigures } from './figures';

/** Where a part stands on its characteristic curves at a point, by their titles: what lies across there. */
export function onCurves(d: Design, slot: string, f: Pick<StageFigures, 'duties' | 'heat' | 'sizing'>): Record<string, number> {
  const part = d.parts[slot];
  const duty = f.duties[slot];
  if (!part || !duty) return {};
  const spot = f.heat.rungs.find((r) => r.slot === slot && r.limit !== undefined)?.temperature;
  const warm = (title: string): Record<string, number> => (spot === undefined ? {} : { [title]: spot });
  switch (part.kind) {
    case 'switch':
      return { ...warm('on-resistance'), 'energy in the output capacitance': duty.voltage, 'output capacitance': duty.voltage, ...(part.switchingEnergy ? { [`energy of an edge at ${part.switchingEnergy.voltage} V`]: duty.peak } : {}) };
    case 'diode':
      return { forward: part.drop + (duty.peak * part.slopeResistance) / part.count };
    case 'inductor':
      return { ...warm('winding resistance'), 'core loss': fluxDensity(part, f.sizing.values[slot]!.taken, duty.peakToPeak) / 2 };
    case 'transformer':
      return { 'core loss': fluxDensity({ turns: f.sizing.values[`${slot} primary`]!.taken, coreArea: part.coreArea }, f.sizing.values[slot]!.taken, duty.peakToPeak) / 2 };
    case 'capacitor':
      return { impedance: d.brief.frequency, 'series resistance': d.brief.frequency, 'capacitance under bias': duty.voltage / part.series };
  }
}
