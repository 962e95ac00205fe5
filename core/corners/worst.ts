import type { Design, RequirementId } from '../design/schema';
import { evaluate } from '../evaluation/evaluate';
import type { Problem } from '../problem';
import type { OperatingPoint } from '../topology';
import { judge } from './corners';
import { requirementNamed, type Standing } from './requirements';

/**
 * The worst point of every requirement in the whole region of line and load, not only at its corners: judged on a grid with the middles of
 * its cells, on both sides of where conduction changes its mode, and at the corners in the coldest air; then, requirement by requirement,
 * closed in on from its worst point by steps that halve, until its neighbours differ by less than a stated share of its limit.
 *
 * Source: Kolda, Lewis, Torczon, "Optimization by Direct Search", SIAM Review 45 (2003): compass search.
 */

/** A requirement at its worst point. */
export interface WorstIn extends Standing {
  at: OperatingPoint;
  /** The figure that it is nowhere worse than, as far as a straight look at its neighbours tells; the value itself where it only falls off from there */
  nowhere: number;
}

export interface RegionVerdict {
  /** How many points were judged */
  points: number;
  worst: WorstIn[];
  holds: boolean;
  /** Where there are no figures, and why; at most a few of them */
  missing: { at: OperatingPoint; problem: Problem }[];
}

/** Share of a limit that neighbours may differ by where it is closed in on no more; the first step of it, as a share of the range, and the last */
const [BAND, FIRST, LAST] = [0.02, 1 / 4, 1 / 32];
/** Halvings of the way between two modes of conduction; moves of one search at most; places without figures that are told */
const [BETWEEN, MOVES, TOLD] = [5, 24, 4];

interface Place {
  /** Shares of line and load, and °C */
  u: number;
  v: number;
  air: number;
}
interface Judged extends Place {
  at: OperatingPoint;
  requirements: readonly Standing[];
  mode?: string;
}

/**
 * @param told how many points were judged, after each; true stops, and what is there so far is given
 */
export function worstInRegion(d: Design, told?: (points: number) => boolean | void): RegionVerdict {
  const { line, load, air } = d.brief;
  const known = new Map<string, Judged>();
  const missing: RegionVerdict['missing'] = [];
  let stopped = false;
  const see = (place: Place): Judged | undefined => {
    const u = line.max > line.min ? Math.min(1, Math.max(0, place.u)) : 0;
    const v = Math.min(1, Math.max(0, place.v));
    const key = `${u.toFixed(7)} ${v.toFixed(7)} ${place.air}`;
    const before = known.get(key);
    if (before || stopped) return before;
    const at: OperatingPoint = { line: line.min + u * (line.max - line.min), load: load.min + v * (load.max - load.min), air: place.air };
    const found = evaluate(d, at);
    const corner = judge(d, at, found);
    const judged: Judged = { u, v, air: place.air, at, requirements: corner.requirements, ...(found.ok ? { mode: found.value.cycle.conduction } : {}) };
    if (corner.problem && missing.length < TOLD) missing.push({ at, problem: corner.problem });
    known.set(key, judged);
    if (told?.(known.size)) stopped = true;
    return judged;
  };
  const thirds = [0, 0.5, 1];
  const grid = thirds.map((v) => thirds.map((u) => see({ u, v, air: air.max })));
  for (const v of [0.25, 0.75]) for (const u of [0.25, 0.75]) see({ u, v, air: air.max });
  if (air.min < air.max) for (const v of [0, 1]) for (const u of [0, 1]) see({ u, v, air: air.min });
  // Both sides of where conduction changes its mode, along the lines of the grid.
  grid.forEach((row, j) => row.forEach((here, i) => {
    for (const next of [grid[j]?.[i + 1], grid[j + 1]?.[i]]) {
      let [a, b] = [here, next];
      for (let k = 0; k < BETWEEN && a?.mode && b?.mode && a.mode !== b.mode; k++) {
        const middle = see({ u: (a.u + b.u) / 2, v: (a.v + b.v) / 2, air: air.max });
        if (!middle?.mode) break;
        if (middle.mode === a.mode) a = middle;
        else b = middle;
      }
    }
  }));
  const standing = (p: Judged, id: RequirementId): Standing | undefined => p.requirements.find((s) => s.id === id);
  const ids = [...new Set([...known.values()].flatMap((p) => p.requirements.map((s) => s.id)))];
  const worst = ids.map((id): WorstIn => {
    const roomOf = (p: Judged | undefined): number => (p && standing(p, id)?.room) ?? Infinity;
    let best = [...known.values()].reduce((a, b) => (roomOf(b) < roomOf(a) ? b : a));
    let around: (Judged | undefined)[][] = [];
    for (let step = FIRST, moves = 0; step >= LAST && moves < MOVES; moves++) {
      const beside = (du: number, dv: number): Judged | undefined => {
        const found = see({ u: best.u + du, v: best.v + dv, air: best.air });
        return found === best ? undefined : found;
      };
      around = [[beside(step, 0), beside(-step, 0)], [beside(0, step), beside(0, -step)]];
      const lower = around.flat().reduce((a, b) => (roomOf(b) < roomOf(a) ? b : a), best);
      if (lower && roomOf(lower) < roomOf(best)) {
        best = lower;
        continue;
      }
      const apart = Math.max(...around.flat().map((p) => (p && standing(p, id) ? Math.abs(standing(p, id)!.value - standing(best, id)!.value) : 0)));
      if (apart <= BAND * Math.abs(standing(best, id)!.limit)) break;
      step /= 2;
    }
    const own = standing(best, id)!;
    // Between two neighbours that both fall off a parabola rises at most by an eighth of what they differ by, between the two of them and it.
    const over = Math.max(0, ...around.map((pair) => {
      const [a, b] = pair.map((p) => (p ? standing(p, id)?.value : undefined));
      return a === undefined || b === undefined || !Number.isFinite(a + b + own.value) ? 0 : Math.max(Math.abs(a - own.value), Math.abs(b - own.value)) / 8;
    }));
    return { ...own, at: best.at, nowhere: requirementNamed(id).direction === 'at most' ? own.value + over : own.value - over };
  });
  return { points: known.size, worst: worst.sort((a, b) => a.room - b.room), holds: missing.length === 0 && worst.every((w) => w.holds), missing };
}

/** The points where requirements are at their worst, each once. */
export const pointsOf = (worst: readonly { at: OperatingPoint }[]): OperatingPoint[] => [...new Map(worst.map(({ at }) => [JSON.stringify(at), at])).values()];
