import { amplifierNamed } from '../control';
import { continuous, controllerAt } from '../control/controller';
import { loopOnMeasured } from '../evaluation/measured';
import type { CompensatorFigures } from '../evaluation/figures';
import { measuredPlantAt, placedCompensator } from '../evaluation/placing';
import { equationOf } from '../evaluation/sampled';
import { times } from '../linear/complex';
import { ok, type Result } from '../problem';
import { bode, leastMargins, marginFigures, type BodeCurve, type MarginFigures, type Margins } from '../response/margins';
import { logSpaced } from '../response/system';
import type { PlantDocument } from './schema';

/** The loop on one of the measured plants. */
export interface LoopOn {
  title: string;
  plant: BodeCurve;
  loop: BodeCurve;
  margins: Margins;
}

/** What is known of a controller on measured plants. */
export interface PlantFigures extends CompensatorFigures {
  /** The one that it is placed on */
  on: string;
  loops: LoopOn[];
  /** Of all of them, each figure's own least; NaN where one has none */
  least: MarginFigures;
  compensator: BodeCurve;
  /** Where it samples: what it stands for */
  continuous?: BodeCurve;
}

/** Points that a compensator is drawn with */
const POINTS = 200;

/** The measurement that a document is placed on: the one it names, or the first. */
export const placedOn = ({ measured, control }: PlantDocument): PlantDocument['measured'][number] => measured.find((m) => m.title === control.placedOn) ?? measured[0]!;

/**
 * Place and build the controller of a document on its measured plant, and read the loop that it makes on each.
 * @returns problems "range" (a crossover outside of what was measured), "boost" and "network"
 */
export function plantFigures(p: PlantDocument): Result<PlantFigures> {
  const { control, frequency } = p;
  const m = placedOn(p);
  const at = measuredPlantAt(m, control.crossover);
  if (!at.ok) return at;
  const asked = { amplifier: amplifierNamed(control.amplifier)!, control, held: { output: p.output, reference: control.reference }, span: { low: 0, high: control.ramp } };
  const found = placedCompensator(asked, frequency, at.value, (controller) => times(at.value, controllerAt(controller, control.crossover)));
  if (!found.ok) return found;
  const { placed, wanted, built, network, short, controller, continuous: stands } = found.value;
  const of = (f: number): ReturnType<typeof controllerAt> => controllerAt(controller, f);
  const drawn = logSpaced(m.frequency[0]!, m.frequency.at(-1)!, POINTS);
  const sampled = equationOf({ control, brief: { frequency } }, { ...asked, sensed: 'output' }, found.value, true);
  const loops = p.measured.map((x): LoopOn => {
    const { curve, margins } = loopOnMeasured(x, of);
    return { title: x.title, plant: { frequency: x.frequency, gain: x.gain, phase: x.phase }, loop: curve, margins };
  });
  return ok({
    placed, wanted, built, network, ...(short ? { short } : {}), ...(sampled ? { sampled } : {}), on: m.title,
    loops,
    least: leastMargins(loops.map((l) => marginFigures(l.margins)))!,
    compensator: bode(drawn, drawn.map(of)),
    ...(stands ? { continuous: bode(drawn, drawn.map((f) => controllerAt(continuous(stands), f))) } : {}),
  });
}
