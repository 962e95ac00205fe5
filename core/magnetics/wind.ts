import type { Core, Material, Wire } from '../parts/goods';
import type { InductorPart } from '../parts/schema';
import { coreLoss, fluxDensity } from './flux';
import { gapFor, inductanceAt, type GappedCore } from './gap';
import { factorAt, lay, resistanceOf, type Conductor, type Laid } from './window';

/** Inductors wound: what a core, a material, turns and a wire make of what is asked, and which do best. */

/** What a winding has to do: at the point that is looked at, and the largest current anywhere. */
export interface WindingDuty {
  /** H */
  inductance: number;
  /** A rms, and at each multiple of the frequency (Hz) */
  rms: number;
  spectrum: readonly number[];
  frequency: number;
  /** Across it, in flat pieces */
  voltages: readonly { volts: number; seconds: number }[];
  /** A, the largest of all corners */
  peak: number;
  /** °C */
  air: number;
}

/** What it is wound on and with. */
export interface Choice {
  core: Omit<Core, 'kind'>;
  material: Omit<Material, 'kind'>;
  wire: Conductor & Partial<Pick<Wire, 'part'>>;
  turns: number;
  parallel: number;
  gaps: number;
}

export interface Wound extends Choice {
  laid: Laid;
  /** m, all gaps in series; undefined where there is none that does it */
  gap: number | undefined;
  /** W */
  copper: number;
  ac: number;
  iron: number;
  total: number;
  /** Ω at 25 °C */
  resistance: number;
  /** °C of the winding here */
  temperature: number;
  /** T at the largest current, and H that is left there */
  peak: number;
  left: number;
}

/** The core with its gap, as its inductance sees it. */
export const gapped = ({ core, material, gaps }: Pick<Choice, 'core' | 'material' | 'gaps'>): GappedCore => ({
  area: core.coreArea,
  pathLength: core.coreVolume / core.coreArea,
  permeability: material.permeability,
  maxFluxDensity: material.maxFluxDensity,
  windowHeight: core.windowHeight,
  gaps,
});

/** Rounds of losses and temperature: each brings them nearer by how little copper rises */
const ROUNDS = 4;

/** Share of what all multiples can do, by current and frequency, below which one is not looked at */
const SEEN = 1e-3;
const sums = new WeakMap<readonly number[], number>();

/** Does a multiple of the frequency count beside the others? */
function counts({ spectrum }: WindingDuty, n: number): boolean {
  let all = sums.get(spectrum);
  if (all === undefined) sums.set(spectrum, (all = spectrum.reduce((sum, rms, k) => sum + ((k + 1) * rms) ** 2, 0)));
  return (n * spectrum[n - 1]!) ** 2 >= SEEN * all;
}

/** What a choice comes to. */
export function woundAs(choice: Choice, duty: WindingDuty): Wound {
  const { core, material, wire, turns, parallel } = choice;
  const magnetic = gapped(choice);
  const gap = gapFor(magnetic, turns, duty.inductance);
  const iron = coreLoss({ turns, coreArea: core.coreArea, coreVolume: core.coreVolume, steinmetz: material.steinmetz }, duty.voltages);
  let [temperature, copper, ac] = [duty.air, 0, 0];
  for (let k = 0; k < ROUNDS; k++) {
    const ohms = resistanceOf(core, wire, turns, parallel, temperature);
    copper = duty.rms ** 2 * ohms;
    ac = 0;
    for (let n = 1; n <= duty.spectrum.length; n++) if (counts(duty, n)) ac += duty.spectrum[n - 1]! ** 2 * ohms * (factorAt(core, wire, turns, parallel, n * duty.frequency, temperature) - 1);
    temperature = Math.min(HOTTEST, duty.air + core.thermalResistance * (copper + ac + iron));
  }
  return {
    ...choice,
    laid: lay(core, wire, turns, parallel),
    gap,
    copper,
    ac,
    iron,
    total: copper + ac + iron,
    resistance: resistanceOf(core, wire, turns, parallel),
    temperature,
    peak: fluxDensity({ turns, coreArea: core.coreArea }, duty.inductance, duty.peak),
    left: gap === undefined ? NaN : inductanceAt(magnetic, turns, gap, duty.peak),
  };
}

/** °C: beyond it is hopeless anyway */
const HOTTEST = 1000;
/** Wires in parallel at most that are tried */
const MOST_PARALLEL = 8;

/** The wire and how many in parallel that lose least of those that fit the window; undefined where none does. */
export function bestWire(choice: Omit<Choice, 'wire' | 'parallel'>, wires: readonly Wire[], duty: WindingDuty): Wound | undefined {
  let best: Wound | undefined;
  for (const wire of wires)
    for (let parallel = 1; parallel <= MOST_PARALLEL; parallel++) {
      // Foils upon one another do not share a current: those further out have what the field drives through them.
      if ((wire.width !== undefined && parallel > 1) || !lay(choice.core, wire, choice.turns, parallel).fits) break;
      // At dc and cold alone it loses more than another does in all.
      if (best && duty.rms ** 2 * resistanceOf(choice.core, wire, choice.turns, parallel, duty.air) > best.copper + best.ac) continue;
      const found = woundAs({ ...choice, wire, parallel }, duty);
      if (!best || found.total < best.total) best = found;
    }
  return best;
}

/** Share of the full flux density that a design goes to at most */
export const FULLEST = 0.9;

/** Turns below which the core would be fuller than it may. */
export const leastTurns = ({ core, material }: Pick<Choice, 'core' | 'material'>, duty: WindingDuty): number => Math.max(1, Math.ceil((duty.inductance * duty.peak) / (FULLEST * material.maxFluxDensity * core.coreArea) - 1e-9));

/** Turns beyond those that fill the core that are looked at, times them; steps at most, and times the least loss that is shown */
const [SPAN, STEPS, WORST] = [3, 24, 4];

/** Losses over the turns, the gap following and the best wire of the list for each, as far as they are not far above the least; none where no wire fits. */
export function overTurns(choice: Omit<Choice, 'wire' | 'parallel' | 'turns'>, wires: readonly Wire[], duty: WindingDuty): Wound[] {
  const from = Math.max(1, Math.floor(leastTurns(choice, duty) / 2));
  const step = Math.max(1, Math.ceil((from * 2 * SPAN - from) / STEPS));
  const found: Wound[] = [];
  let least = Infinity;
  for (let k = 0; k <= STEPS; k++) {
    const w = bestWire({ ...choice, turns: from + k * step }, wires, duty);
    if (!w || w.total > WORST * least) break;
    least = Math.min(least, w.total);
    found.push(w);
  }
  return found;
}

/** Does it do what is asked: a gap there is, not too full, not too warm? */
export const serves = (w: Wound, maxTemperature: number): boolean => w.gap !== undefined && w.laid.fits && w.peak <= FULLEST * w.material.maxFluxDensity * (1 + 1e-9) && w.temperature <= maxTemperature;

/** The winding of a core that loses least of those that serve; undefined where none does. */
export function bestOnCore(core: Core, materials: readonly Material[], wires: readonly Wire[], duty: WindingDuty, maxTemperature: number): Wound | undefined {
  let best: Wound | undefined;
  for (const material of materials) {
    const choice = { core, material, gaps: 1 };
    const least = leastTurns(choice, duty);
    // More turns than that lose more in any case: copper goes with the square of them.
    let rising = 0;
    let last = Infinity;
    for (let turns = least; turns <= SPAN * least + 2 && rising < 3; turns += Math.max(1, Math.round(least / 12))) {
      const found = bestWire({ ...choice, turns }, wires, duty);
      if (!found) break;
      rising = found.total > last ? rising + 1 : 0;
      last = found.total;
      if (serves(found, maxTemperature) && (!best || found.total < best.total)) best = found;
    }
  }
  return best;
}

/** The best winding of each core that serves, from the smallest core on. */
export const overCores = (cores: readonly Core[], materials: readonly Material[], wires: readonly Wire[], duty: WindingDuty, maxTemperature: number): Wound[] =>
  cores.toSorted((a, b) => a.coreVolume - b.coreVolume).flatMap((core) => bestOnCore(core, materials, wires, duty, maxTemperature) ?? []);

/** Of an inductor what a choice makes of it. */
export function partOf(w: Wound): Pick<InductorPart, 'part' | 'resistance' | 'turns' | 'coreArea' | 'coreVolume' | 'maxFluxDensity' | 'steinmetz' | 'thermalResistance' | 'height' | 'winding'> {
  const { core, material, wire, turns, parallel, gaps } = w;
  return {
    part: `${core.part} ${material.part}, ${turns} turns`.slice(0, 80),
    height: core.height,
    turns,
    resistance: Number(w.resistance.toPrecision(3)),
    coreArea: core.coreArea,
    coreVolume: core.coreVolume,
    maxFluxDensity: material.maxFluxDensity,
    steinmetz: material.steinmetz,
    thermalResistance: core.thermalResistance,
    winding: { windowWidth: core.windowWidth, windowHeight: core.windowHeight, turnLength: core.turnLength, permeability: material.permeability, gaps, diameter: wire.diameter, strands: wire.strands, outerDiameter: wire.outerDiameter, ...(wire.width === undefined ? {} : { width: wire.width }), parallel },
  };
}
