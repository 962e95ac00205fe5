import type { Design, RequirementId } from '../design/schema';
import { editDesign, valueAt, withValues } from '../design/edit';
import { fieldAt } from '../design/fields';
import { topologyOf } from '../design/topologyOf';
import { evaluate, evaluateLosses, sizeDesign } from '../evaluation/evaluate';
import { warmthAt } from '../evaluation/warmth';
import { settingsOf } from '../control';
import type { UnitName } from '../quantity';
import type { OperatingPoint } from '../topology';
import { requirementNamed, standings, type Standing } from './requirements';

/** What moves a requirement: by how much its figure changes for a hundredth more of each value of the design, at one point. */

export interface Move {
  /** Of the design, and what it is called */
  path: string;
  title: string;
  unit: UnitName;
  /** As it is now */
  value: number;
  /** By how much the figure of the requirement moves for one hundredth more of it, and by how much its room (shares of the limit) */
  by: number;
  room: number;
}

export interface Moved {
  standing: Standing;
  moves: Move[];
  /** How many values were tried */
  tried: number;
}

/** More of a value that it is tried with, and what its effect is told for */
const [TRIED, TOLD] = [0.01, 0.01];
/** Fields whose hundredth is none: counts, ratings that only limit, where nothing is computed from */
const LEFT = /\.(count|series|turns|primaryTurns|secondaryTurns|thirdTurns|height|costClass|strands|parallel|gaps|interfaces|maxJunction|maxTemperature|maxFluxDensity|blockingVoltage|ratedVoltage|ratedCurrent|spread|temperature)$/;

/** The values of a design that can be turned: parts as they stand (what is suggested included), drive, control, sink, and what the brief leaves to the engineer. */
export function turnable(d: Design): { path: string; title: string; value: number; unit: UnitName }[] {
  const { values } = sizeDesign(d);
  const out: { path: string; title: string; value: number; unit: UnitName }[] = [];
  const put = (path: string, value: unknown, name: string): void => {
    const field = fieldAt(path);
    if (field && typeof value === 'number' && value > 0 && !LEFT.test(path)) out.push({ path, title: name === '' ? field.title : `${name} ${field.title}`, value, unit: field.unit });
  };
  for (const { id, core } of topologyOf(d)!.slots) {
    const part = d.parts[id]!;
    for (const [key, value] of Object.entries(part)) {
      if (key === 'inductance' && !core) put(`parts.${id}.inductance`, values[id]!.taken, id);
      else put(`parts.${id}.${key}`, value, id);
    }
  }
  for (const key of Object.keys(d.drive)) put(`drive.${key}`, (d.drive as Record<string, unknown>)[key], '');
  for (const key of ['crossover', 'phaseMargin', 'ramp', 'delay', ...Object.keys(settingsOf(d.control, d.brief.line.mains !== undefined))]) put(`control.${key}`, valueAt(d, `control.${key}`), '');
  put('sink.thermalResistance', d.sink.thermalResistance, '');
  put('brief.frequency', d.brief.frequency, '');
  return out;
}

/**
 * Each value turned up by a hundredth and the point solved again, ranked by what it does to the room of a requirement.
 * @param told how many were tried of how many; true stops
 * @returns undefined where the requirement has no figure at the point
 */
export function movesOf(d: Design, id: RequirementId, point: OperatingPoint, told?: (tried: number, of: number) => boolean | void): Moved | undefined {
  // Values turned by a hundredth leave parts nearly as warm as they were.
  const from = warmthAt(d, point);
  // What is no figure of the loop does not wait for one.
  const loop = requirementNamed(id).stage === 'loop' || id === 'pinned';
  const here = (design: Design): Standing | undefined => {
    const found = loop ? evaluate(design, point, from ? { from } : {}) : evaluateLosses(design, point);
    return found.ok ? standings(design, found.value).find((s) => s.id === id) : undefined;
  };
  const standing = here(d);
  if (!standing || !Number.isFinite(standing.value)) return undefined;
  const { direction, origin = 0 } = requirementNamed(id);
  const scale = Math.abs(standing.limit - origin) || 1;
  const all = turnable(d);
  const moves: Move[] = [];
  let tried = 0;
  for (const { path, title, value, unit } of all) {
    // A hundredth more of what is valid is not checked again: where it can not be, there are no figures.
    const edited = withValues(d, { [path]: value * (1 + TRIED), ...(path === 'brief.frequency' && d.brief.frequencyRange ? { 'brief.frequencyRange': undefined } : {}) }) as Design;
    const then = here(edited);
    tried++;
    if (then && Number.isFinite(then.value)) {
      const by = ((then.value - standing.value) * TOLD) / TRIED;
      if (by !== 0) moves.push({ path, title, unit, value, by, room: ((direction === 'at most' ? -1 : 1) * by) / scale });
    }
    if (told?.(tried, all.length)) break;
  }
  return { standing, moves: moves.sort((a, b) => Math.abs(b.room) - Math.abs(a.room)), tried };
}

/** A value turned so far that a requirement holds, or nearer to it than any other brings it, with what it stands at then. */
export interface Cure {
  move: Move;
  value: number;
  standing: Standing;
}

/** Moves that are tried, the strongest first; and by how many times as far as a straight line says */
const [MOST_TRIED, FURTHER] = [6, [1.1, 1.6, 2.4]];
/** Share that a value is turned by at most */
const MOST_TURN = 0.3;

/**
 * Of the moves the one that makes a requirement hold by turning its value least, each solved again where a straight line says it would:
 * placements are not straight. Where none does, the one that brings it nearest; undefined where nothing helps.
 */
export function cureOf(d: Design, { standing, moves }: Moved, point: OperatingPoint): Cure | undefined {
  const wanted = standing.holds ? STANDS : -standing.room;
  let best: { cure: Cure; turned: number } | undefined;
  for (const move of moves.slice(0, MOST_TRIED))
    for (const further of FURTHER) {
      const turned = Math.sign(move.room) * Math.min(MOST_TURN, (further * TOLD * wanted) / Math.abs(move.room));
      const value = Number((move.value * (1 + turned)).toPrecision(3));
      const edited = editDesign(d, { [move.path]: value });
      const found = edited.ok ? evaluate(edited.value, point) : undefined;
      const then = edited.ok && found?.ok ? standings(edited.value, found.value).find((s) => s.id === standing.id) : undefined;
      if (!then || !(then.room > standing.room)) continue;
      const better = !best || (then.holds && !best.cure.standing.holds) || (then.holds === best.cure.standing.holds && (then.holds ? Math.abs(turned) < best.turned : then.room > best.cure.standing.room));
      if (better) best = { cure: { move, value, standing: then }, turned: Math.abs(turned) };
      if (then.holds || Math.abs(turned) >= MOST_TURN) break;
    }
  return best?.cure;
}
/** Room (share of the limit) that is looked for where a requirement holds already */
const STANDS = 0.05;
