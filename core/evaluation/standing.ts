import type { Roles } from '../converter/roles';
import type { PartStress } from '../converter/stresses';
import type { DiodePart } from '../parts/schema';
import { findRoot } from '../linear/root';
import { fail, ok, type Problem, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { anglesAround, drawnFrom, gatherOverMains, mainsAngles, outputRipple, type Angle, type AtAngle } from '../surroundings/mains';
import type { Landmark, OperatingPoint } from '../topology';
import { assemble, type Assembled } from './assemble';
import type { Bill } from './bill';

/** One circuit to settle: that of the point, or that of one angle of the mains. */
export interface View extends Partial<Pick<Angle, 'angle'>> {
  /** Share of the time that it stands for */
  weight: number;
  /** @param resistance Ω of each part at its temperature */
  assemble(resistance: (slot: string) => number): Result<Assembled>;
}

/**
 * A bill standing at an operating point. What is asked for of the point is here, so that nothing that settles, measures,
 * warms or steps the circuit asks for line, load or air again.
 */
export interface Standing {
  bill: Bill;
  /** °C */
  air: number;
  /** V, rms where it is the mains; A through the first load */
  line: number;
  load: number;
  /** On a dc line: the circuit */
  only?: View;
  /** Where the line is the mains */
  mains?: OnMains;
  /** Named corners of the plant */
  landmarks(): Landmark[];
}

/** What the mains adds: the stage is settled at some angles of it, as on a dc line each. */
export interface OnMains {
  /** rad from which something is drawn, and that is looked at */
  from: number;
  seen: number;
  /** What is the same all along the mains, by the forecast: A, crest of the current where a loop shapes it, or the command that is held. Where the search starts */
  level(): number;
  /** What is fed goes with so high a power of that */
  power: number;
  /** Is it the command? */
  held: boolean;
  /** The views that means over the mains are made of, at such a level; so many of them, or as many as changes of the mode on the way ask for. The crest is the last */
  views(level: number, count?: number): View[];
  at(angle: number, level: number): View;
  /** V peak to peak of the output over the mains, and V at an angle less the mean */
  ripple(reservoir: string, at: readonly AtAngle[]): { peakToPeak: number; slow(angle: number): number };
  /** What the slots carry over the mains; `peakToPeak` reads the ripple of the output */
  gather(roles: Roles, at: readonly AtAngle[], peakToPeak: () => number): Record<string, PartStress>;
}

/**
 * Stand a bill at a point.
 * @returns it; problem "range" at "line", "load", "air" or "angle", where the point makes no sense
 */
export function standAt(bill: Bill, asked: OperatingPoint): Result<Standing> {
  const wrong = wrongIn(asked);
  if (wrong) return { ok: false, problem: wrong };
  const { topology, input, sizing } = bill;
  const { line, air, angle } = asked;
  // With nothing connected the divider's own current flows.
  const load = asked.load > 0 ? asked.load : input.least ?? input.brief.load.min;
  const point = { ...asked, load };
  const view = (at: OperatingPoint, weight: number): View => ({ weight, ...(at.angle === undefined ? {} : { angle: at.angle }), assemble: (resistance) => assemble(bill, at, resistance) });
  const common = { bill, air, line, load, landmarks: () => topology.landmarks(input, sizing, point) };
  if (!topology.mains) return angle === undefined ? ok({ ...common, only: view(point, 1) }) : fail('range', 'angle', 'a dc line has no angle', 'leave it out');
  const from = drawnFrom(topology.mains, input.parts[topology.mains.rectifier] as DiodePart, line, input.brief.output.voltage);
  const beyond = beyondMains(from, angle);
  if (beyond) return { ok: false, problem: beyond };
  const { held } = bill.drive;
  if (held && topology.forecast(input, sizing, point).goesOn) return { ok: false, problem: goesOn(bill, point) };
  const along = (of: number, level: number): OperatingPoint => ({ ...point, angle: of, ...(held ? { command: level } : { drawn: level }) });
  const at = (of: number, level: number, weight = 0): View => view(along(of, level), weight);
  const borders = (level: number): number[] => bordersFrom(from, (of) => topology.mains!.borderAt(input, sizing, along(of, level)));
  return ok({
    ...common,
    mains: {
      from,
      seen: angle ?? Math.PI / 2,
      level: () => topology.mains!.levelAt(input, sizing, point),
      power: held?.power ?? 1,
      held: held !== undefined,
      views: (level, count) => (count === undefined ? anglesAround(from, borders(level)) : mainsAngles(from, count)).map((a) => at(a.angle, level, a.weight)),
      at,
      ripple: (reservoir, list) => outputRipple(sizing.values[reservoir]!.taken, input.brief.line.mains!, list.map((a) => ({ angle: a.angle, weight: a.weight, fed: a.slow + load, get fast() { return a.fast; } }))),
      gather: (roles, list, peakToPeak) => gatherOverMains(roles, line, load, list, peakToPeak),
    },
  });
}

/** Angles between which a change of the mode is looked for, and rad to which it is found: the forecast knows it no better */
const [LOOKED, FOUND] = [12, 1e-4];

/** Angles (rad) between `from` and the crest at which a stage is at the border of its modes. */
function bordersFrom(from: number, borderAt: (angle: number) => number): number[] {
  const angles = Array.from({ length: LOOKED + 1 }, (_, k) => from + ((Math.PI / 2 - from) * k) / LOOKED);
  const off = angles.map(borderAt);
  return angles.slice(1).flatMap((high, k) => (off[k]! * off[k + 1]! < 0 ? [findRoot(borderAt, { low: angles[k]!, high, atLow: off[k]!, atHigh: off[k + 1]! }, { width: FOUND }).at] : []));
}

const range = (where: string, message: string, remedy: string): Problem => ({ code: 'range', where, message, remedy });

/** The current of a stage whose duty is held has to come to rest in every period. */
function goesOn({ topology, sizing }: Bill, { line, load }: OperatingPoint): Problem {
  const { id } = topology.slots.find((p) => p.kind === 'inductor' || p.kind === 'transformer')!;
  const { taken, suggested } = sizing.values[id]!;
  return { code: 'conduction', where: `parts.${id}.inductance`, message: `with its duty held over the mains the current of ${id} has to come to rest in every period, and at ${print(line, 'V')} and ${print(load, 'A')} it does not with ${print(taken, 'H')}`, remedy: suggested < taken ? `take ${print(suggested, 'H')} or less` : 'take less inductance, or a lower frequency' };
}

/** What makes no sense in a point. */
function wrongIn({ line, load, air }: OperatingPoint): Problem | undefined {
  if (!(line > 0) || !Number.isFinite(line)) return range('line', `a line of ${line} V makes no sense`, 'give a voltage above zero');
  if (!(load >= 0) || !Number.isFinite(load)) return range('load', `a load of ${load} A makes no sense`, 'give a current, or zero');
  if (!(air > -273) || !(air < 500)) return range('air', `air of ${print(air, '°C')} makes no sense`, 'give a temperature between −100 and 250 °C');
  return undefined;
}

/** The stage can be seen from where the mains is high enough to draw on to its crest. */
function beyondMains(from: number, angle = Math.PI / 2): Problem | undefined {
  const degrees = (radians: number): string => `${((radians * 180) / Math.PI).toFixed(1)}°`;
  return angle >= from * (1 - 1e-9) && angle <= Math.PI / 2 ? undefined : range('angle', `nothing is settled at ${degrees(angle)} of the mains: below ${degrees(from)} nothing is drawn, and after the crest all is as before it`, `give ${degrees(from + 1e-3)} to 90°`);
}
