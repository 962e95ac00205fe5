import { alongWindow, copperArea, resistivity, windingFactor, type Strands } from '../parts/copper';

/** A winding as it lies in its window. */

export interface Window {
  /** m from the leg outwards, and along it */
  windowWidth: number;
  windowHeight: number;
  /** m of the mean turn */
  turnLength: number;
}

export interface Laid {
  /** Wires side by side in a full layer, layers, and m from one to the next */
  perLayer: number;
  layers: number;
  pitch: number;
  /** Share of the window that is copper; of its width that is taken */
  fill: number;
  build: number;
  fits: boolean;
}

/** A conductor as it is bought: a foil may be cut to the window. */
export type Conductor = Omit<Strands, 'width'> & { width?: number | 'window' | undefined };

/** Share of a window's height that a foil which is cut to it has: the rest keeps its edges from the core. */
const CUT = 0.92;

/** A conductor as it lies in a window. */
export const cutTo = (w: Pick<Window, 'windowHeight'>, wire: Conductor): Strands => ({ diameter: wire.diameter, strands: wire.strands, outerDiameter: wire.outerDiameter, ...(wire.width === undefined ? {} : { width: wire.width === 'window' ? CUT * w.windowHeight : wire.width }) });

/** Lay turns of so many wires in parallel, layer upon layer from the leg outwards. */
export function lay(w: Window, conductor: Conductor, turns: number, parallel: number): Laid {
  const wire = cutTo(w, conductor);
  const wires = turns * parallel;
  const along = alongWindow(wire);
  const perLayer = Math.max(1, Math.floor(w.windowHeight / along + 1e-9));
  const layers = Math.ceil(wires / perLayer);
  return {
    perLayer,
    layers,
    pitch: wire.outerDiameter,
    fill: (wires * copperArea(wire)) / (w.windowWidth * w.windowHeight),
    build: (layers * wire.outerDiameter) / w.windowWidth,
    fits: along <= w.windowHeight * (1 + 1e-9) && layers * wire.outerDiameter <= w.windowWidth * (1 + 1e-9),
  };
}

/** Ω at dc and a temperature in °C. */
export const resistanceOf = (w: Window, wire: Conductor, turns: number, parallel: number, temperature = 25): number => (resistivity(temperature) * turns * w.turnLength) / (copperArea(cutTo(w, wire)) * parallel);

/** Resistance at a frequency in Hz over that at dc, of the whole winding. */
export function factorAt(w: Window, conductor: Conductor, turns: number, parallel: number, frequency: number, temperature = 25): number {
  const wire = cutTo(w, conductor);
  const { layers, perLayer } = lay(w, wire, turns, parallel);
  // A last layer that is not full is spread out like the others: the field rises by as much in all of it.
  const pitch = w.windowHeight / Math.min(perLayer, Math.ceil((turns * parallel) / layers));
  return windingFactor(wire, layers, Math.max(alongWindow(wire), pitch), frequency, temperature);
}

/** F between the first turn and the last as they stand to one another, layer to layer: an estimate of what a winding rings with. @param turnsPerLayer */
export function capacitanceOf(w: Window, { layers, pitch }: Laid, wire: Conductor): number {
  if (layers < 2) return 0;
  const insulation = Math.max(1e-6, wire.outerDiameter - wire.diameter * (wire.width === undefined ? Math.sqrt(wire.strands) * 1.1 : 1));
  // Of two layers wound to and fro a third of what stands between them counts; of n layers 4 (n − 1) / n² of that.
  const between = (ENAMEL * VACUUM * w.turnLength * w.windowHeight) / Math.max(insulation, 0.05 * pitch);
  return ((between / 3) * 4 * (layers - 1)) / layers ** 2;
}

/** F/m, and of the enamel, relative */
const [VACUUM, ENAMEL] = [8.854e-12, 3.5];
