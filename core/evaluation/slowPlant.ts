import { esrOf } from '../converter/fragment';
import { over, scale, type Complex } from '../linear/complex';
import type { CapacitorPart } from '../parts/schema';
import type { OperatingPoint } from '../topology';
import type { Bill } from './bill';

/**
 * The loop of a stage whose command is held over the mains, seen slowly: what it feeds is a mean over the mains, i(u, v), of the command u
 * and the output v, and C dv/dt = i − v/R. Of a stage that is a source of power i falls with v as a load of as much does, so that
 * together they are 2/R; a boost whose duty is held falls faster, the nearer the crest comes to its output. The series resistance of the reservoir is a zero.
 * Good below the mains' frequency; what comes through at twice that bends the current, which the whole circuit over its cycle shows.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (loss-free resistor with a slow loop around it).
 */
export interface SlowPlant {
  /** A fed for each unit of the command, of the full one */
  gain: number;
  /** F, Ω and S: the reservoir with its series resistance, and what it is loaded with */
  capacitance: number;
  esr: number;
  leak: number;
}

/** Share by which command and output are moved to see what that changes of what is fed */
const MOVED = 1e-3;

/** The slow plant of a bill at a point, its command being a share of the full one: what is fed answers both as the forecast says. */
export function slowPlant({ topology, input, sizing, drive }: Bill, { line, load }: Pick<OperatingPoint, 'line' | 'load'>, level: number): SlowPlant {
  const { voltage } = input.brief.output;
  const { reservoir, fedBy } = topology.mains!;
  const { taken } = sizing.values[reservoir]!;
  const fed = (command: number, volts: number): number => fedBy(volts === voltage ? input : { ...input, brief: { ...input.brief, output: { voltage: volts } } }, sizing, line, command);
  const [more, less] = [1 + MOVED, 1 - MOVED];
  const byCommand = (fed(level * more, voltage) - fed(level * less, voltage)) / (2 * MOVED * level);
  const byOutput = (fed(level, voltage * more) - fed(level, voltage * less)) / (2 * MOVED * voltage);
  return { gain: byCommand * drive.held!.full, capacitance: taken, esr: esrOf(input.parts[reservoir] as CapacitorPart, taken), leak: load / voltage - byOutput };
}

/** V of the output per unit of the command at a frequency (Hz). */
export function slowPlantAt({ gain, capacitance, esr, leak }: SlowPlant, f: number): Complex {
  const w = 2 * Math.PI * f;
  return scale(over({ re: 1, im: w * esr * capacitance }, { re: leak, im: w * capacitance }), gain);
}
