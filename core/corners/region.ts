import { amplifierNamed, AMPLIFIERS, structureNamed } from '../control';
import { judge } from './corners';
import { requirementNamed, type Standing } from './requirements';
import { editDesign } from '../design/edit';
import { topologyOf } from '../design/topologyOf';
import type { Design, RequirementId } from '../design/schema';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { controllable } from '../topology/common';
import type { OperatingPoint } from '../topology';

/** The loop of a design over the whole region of line and load: placed as high as its requirements allow, and what would lift its worst corner. */

/** A requirement of the loop at the corner where it has least room. */
export type Tightest = Pick<Standing, 'id' | 'value' | 'limit' | 'room'> & { at: OperatingPoint };

export interface RegionPlacement {
  changes: Record<string, unknown>;
  crossover: number;
  /** Do all requirements of the loop hold at the ends of line and load? */
  holds: boolean;
  /** Is it the highest that is looked at: a fifth of the switching frequency, above which the ripple on the command counts, or half of what a loop inside crosses at? */
  highest?: true;
  /** What keeps it from being higher, or where none holds, what fails by least */
  limit?: Tightest;
  /** How many crossovers were looked at */
  tried: number;
}

/** What is asked of a loop, and moves with its crossover */
const ASKED: ReadonlySet<RequirementId> = new Set(['phaseMargin', 'gainMargin', 'deviation', 'lineDeviation', 'lowGain', 'impedance']);
/** From so much of the switching frequency down, by that factor, at most so often; then closed in so often */
const [HIGHEST, STEP, DOWN, CLOSER] = [1 / 5, 0.66, 10, 3];

/** The ends of line and load in the hottest air. */
const ends = ({ brief: { line, load, air } }: Design): OperatingPoint[] => [...new Set([line.min, line.max])].flatMap((volts) => [load.max, load.min].map((amps) => ({ line: volts, load: amps, air: air.max })));

/** The loop's tightest requirement over the ends; undefined where nothing is asked, `room` −1 where there are no figures. */
function tightestOf(d: Design): Tightest | undefined {
  let least: Tightest | undefined;
  for (const at of ends(d)) {
    const corner = judge(d, at);
    if (corner.problem && !corner.requirements.length) return { id: 'phaseMargin', value: NaN, limit: d.requirements.phaseMargin.limit, room: -1, at };
    for (const { id, value, limit, room } of corner.requirements) if (ASKED.has(id) && !(room >= (least?.room ?? Infinity))) least = { id, value, limit, room: Number.isFinite(value) || room > 0 ? room : -1, at };
  }
  return least;
}

/** The room, and below what that tells (a limit missed by its own size) by how many times. */
const rank = (t: Tightest | undefined): number => (!t ? 1 : t.room > -1 ? t.room : Number.isFinite(t.value) && t.value !== 0 ? -1 - Math.abs(Math.log(Math.abs(t.value / t.limit))) : -Infinity);

const two = (v: number): number => Number(v.toPrecision(3));

/** Corners that were set by hand go: they were for another crossover. */
const placed = (d: Design): Record<string, null> => Object.fromEntries(amplifierNamed(d.control.amplifier)!.handles.map((h) => [`control.${h.key}`, null]));

/**
 * Place a design's loop for its whole region: the highest crossover at which phase margin, gain margin and the deviation after its
 * steps hold at every end of line and load. Where none does, the one that comes nearest.
 * @param told how many were tried; true stops
 * @returns problem "asked" where nothing of that is asked, "stopped"
 */
export function placeForRegion(d: Design, told?: (tried: number) => boolean | void): Result<RegionPlacement> {
  if (![...ASKED].some((id) => d.requirements[id].on)) return fail('asked', 'requirements.phaseMargin', 'nothing is asked of the loop, so there is no highest crossover', 'switch on a phase margin, a gain margin or a deviation');
  const { inner } = structureNamed(d.control.method)!;
  const most = inner ? (((d.control.innerCrossover as number | null) ?? inner.crossover * d.brief.frequency) / 2.1) : HIGHEST * d.brief.frequency;
  let tried = 0;
  let stopped = false;
  const at = (crossover: number): { changes: Record<string, unknown>; tight: Tightest | undefined } => {
    const changes = { ...placed(d), 'control.crossover': two(crossover) };
    const edited = editDesign(d, changes);
    tried++;
    if (told?.(tried)) stopped = true;
    return { changes, tight: edited.ok ? tightestOf(edited.value) : { id: 'phaseMargin', value: NaN, limit: d.requirements.phaseMargin.limit, room: -1, at: ends(d)[0]! } };
  };
  const given = (crossover: number, found: ReturnType<typeof at>, holds: boolean, limit: Tightest | undefined): Result<RegionPlacement> => ok({ changes: found.changes, crossover: two(crossover), holds, ...(limit ? { limit } : {}), ...(holds && !limit ? { highest: true as const } : {}), tried });
  let nearest: { crossover: number; found: ReturnType<typeof at> } | undefined;
  let above: { crossover: number; found: ReturnType<typeof at> } | undefined;
  for (let k = 0, c = most; k < DOWN && !stopped; k++, c *= STEP) {
    const found = at(c);
    const room = found.tight?.room ?? 1;
    if (room >= 0) {
      // As high as it goes: between this one and the next higher that fails.
      let [low, high] = [{ crossover: c, found }, above];
      for (let j = 0; high && j < CLOSER && !stopped; j++) {
        const middle = Math.sqrt(low.crossover * high.crossover);
        const there = at(middle);
        if ((there.tight?.room ?? 1) >= 0) low = { crossover: middle, found: there };
        else high = { crossover: middle, found: there };
      }
      return given(low.crossover, low.found, true, high?.found.tight);
    }
    if (!nearest || rank(found.tight) > rank(nearest.found.tight)) nearest = { crossover: c, found };
    above = { crossover: c, found };
  }
  if (stopped) return fail('stopped', 'control.crossover', 'it was stopped', 'ask again');
  return given(nearest!.crossover, nearest!.found, false, nearest!.found.tight);
}

/** A change that lifts the worst corner of a loop, and by how much. */
export interface Lift {
  title: string;
  changes: Record<string, unknown>;
  before: Tightest;
  after: Tightest;
}

/** Room that a change has to gain to be worth saying */
const WORTH = 0.03;

/** Changes that are tried, by what is tight. */
function tries(d: Design): { title: string; changes: Record<string, unknown> }[] {
  const { control } = d;
  const free = placed(d);
  const crossovers = [0.6, 0.8, 1.3, 1.7].map((k) => two(control.crossover * k)).map((c) => ({ title: `crossover ${print(control.crossover, 'Hz')} → ${print(c, 'Hz')}`, changes: { ...free, 'control.crossover': c } }));
  const margins = [8, 15].map((more) => Math.min(80, control.phaseMargin + more)).map((m) => ({ title: `placed for ${print(m, '°')} instead of ${print(control.phaseMargin, '°')}`, changes: { ...free, 'control.phaseMargin': m } }));
  const able = controllable(topologyOf(d)!);
  const methods = [
    ...(able.current && control.method !== 'peak-current' ? [{ title: 'the peak current as command', changes: { ...free, 'control.method': 'peak-current', 'control.amplifier': 'type-two' } }] : []),
    ...(able.coil && control.method !== 'average-current' ? [{ title: 'the mean current as command', changes: { ...free, 'control.method': 'average-current', 'control.amplifier': 'pi' } }] : []),
    ...AMPLIFIERS.filter((a) => a.id === 'type-three' && control.amplifier !== a.id && control.method === 'voltage').map((a) => ({ title: `a ${a.title.toLowerCase()}`, changes: { ...free, 'control.amplifier': a.id } })),
  ];
  return [...crossovers, ...margins, ...methods];
}

/**
 * The change that lifts the worst corner of a design's loop most.
 * @param told how many of how many were tried; true stops
 * @returns undefined where none of what is tried gains anything, or nothing is asked
 */
export function liftWorst(d: Design, told?: (tried: number, of: number) => boolean | void): Lift | undefined {
  const before = tightestOf(d);
  if (!before) return undefined;
  let best: Lift | undefined;
  const all = tries(d);
  for (const [k, { title, changes }] of all.entries()) {
    if (told?.(k, all.length)) return best;
    const edited = editDesign(d, changes);
    const after = edited.ok ? tightestOf(edited.value) : undefined;
    if (after && rank(after) > Math.max(rank(before) + WORTH, best ? rank(best.after) : -Infinity)) best = { title, changes, before, after };
  }
  return best;
}

/** "phase margin 41° of 45° at 36.0 V, 400 mA" */
export const tightInWords = ({ id, value, limit, at }: Tightest): string => {
  const r = requirementNamed(id);
  return `${r.title} ${Number.isFinite(value) ? print(value, r.unit) : 'without bound'}, wanted ${r.direction} ${print(limit, r.unit)}, at ${print(at.line, 'V')}, ${print(at.load, 'A')}`;
};
