import type { Design } from '../design/schema';
import { warmestOf } from '../design/limits';
import type { Problem } from '../problem';
import { hottestOf } from '../thermal/network';
import type { OperatingPoint } from '../topology';
import { evaluateLosses } from './evaluate';

/** How much a design may be loaded in which air, and the air in which its heat runs away. */
export interface Derating {
  /** V */
  line: number;
  /** Loads by the air, from the coldest */
  points: Allowed[];
  /** °C from which on there is no lasting temperature at full load; undefined where there is one up to HOTTEST */
  runaway?: number;
}

/** The largest load (A) in an air (°C), and what stops a larger one. */
export interface Allowed {
  air: number;
  load: number;
  /** The node that is at its limit, or why there is no more; undefined where nothing has come to its limit yet */
  by?: string;
}

/** °C that airs are looked at to, and how many; loads up to so many times the largest of the brief */
const [HOTTEST, AIRS, OVER] = [120, 15, 1.5];
/** Halvings of a load, and of an air: to a thousandth, and to a tenth of a kelvin */
const [LOADS, KELVINS] = [10, 11];

/** What keeps a design from a load in an air; undefined where nothing does. */
function stops(d: Design, point: OperatingPoint): string | undefined {
  const found = evaluateLosses(d, point);
  if (!found.ok) return found.problem.code === 'runaway' ? RUNS_AWAY : said(found.problem);
  if (found.value.problems.heat) return RUNS_AWAY;
  // The one that is furthest beyond what it may.
  const beyond = found.value.heat.rungs.flatMap((r) => (r.limit === undefined ? [] : [{ title: r.title, by: hottestOf(r) - warmestOf(d, r.spot === 'junction' ? 'junction' : 'winding', r.limit) }]));
  return beyond.filter((b) => b.by > 0).toSorted((a, b) => b.by - a.by)[0]?.title;
}

const RUNS_AWAY = 'heat that runs away';
const said = (p: Problem): string => p.message;

/**
 * The derating of a design at a line: in every air the largest load that leaves each junction and winding below its limit.
 * By halving, since what stops it may change on the way.
 */
export function deratingOf(d: Design, line: number): Derating {
  const from = Math.min(d.brief.air.min, d.brief.air.max);
  const airs = Array.from({ length: AIRS }, (_, k) => from + ((HOTTEST - from) * k) / (AIRS - 1));
  const least = Math.max(1e-3 * d.brief.load.max, Math.min(d.brief.load.min, 0.02 * d.brief.load.max));
  const points = airs.map((air): Allowed => {
    const at = (load: number): string | undefined => stops(d, { line, load, air });
    let [low, high] = [least, OVER * d.brief.load.max];
    let by = at(high);
    if (by === undefined) return { air, load: high };
    const first = at(low);
    if (first !== undefined) return { air, load: 0, by: first };
    for (let k = 0; k < LOADS; k++) {
      const middle = (low + high) / 2;
      const found = at(middle);
      if (found === undefined) low = middle;
      else [high, by] = [middle, found];
    }
    return { air, load: low, by };
  });
  const away = (air: number): boolean => stops(d, { line, load: d.brief.load.max, air }) === RUNS_AWAY;
  if (!away(RUNAWAY)) return { line, points };
  let [low, high] = [from, RUNAWAY];
  if (away(low)) return { line, points, runaway: low };
  for (let k = 0; k < KELVINS; k++) {
    const middle = (low + high) / 2;
    if (away(middle)) high = middle;
    else low = middle;
  }
  return { line, points, runaway: high };
}

/** °C of an air that nothing works in: up to there runaway is looked for */
const RUNAWAY = 250;
