import { evaluate } from '../evaluation/evaluate';
import type { Stress, Figures } from '../evaluation/figures';
import type { Design, RequirementId } from '../design/schema';
import { ok, type Problem, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import { leastMargins, marginFigures, type BodeCurve, type MarginFigures } from '../response/margins';
import { pinnedAt, type PinnedStanding } from '../schedule/pinned';
import { conductedNoise } from '../evaluation/noise';
import { mainsQuality, type MainsQuality } from '../schedule/mainsQuality';
import { ON_WHOLE_MAINS, standings, type Standing } from './requirements';

/** One corner with its verdict. `problem` stands where figures are missing: all of them, or those of the loop or of heat. */
export interface Corner {
  point: OperatingPoint;
  requirements: Standing[];
  stresses: Stress[];
  efficiency: number;
  /** Crossover in Hz and margins, for the range over all corners */
  loop?: MarginFigures;
  /** Loop gain, where the figures came with their curves */
  bode?: BodeCurve;
  /** What is required of runs, in the order of the design's */
  pinned?: PinnedStanding[];
  holds: boolean;
  problem?: Problem;
}

export interface CornerReport {
  corners: Corner[];
  /** For each requirement, its standing at its worst corner, tightest first */
  worst: (Standing & { at: OperatingPoint })[];
  /** For each stress, its worst corner */
  stresses: (Stress & { at: OperatingPoint })[];
  holding: number;
  /** Least of each loop figure over the corners; undefined where no corner has figures */
  least?: MarginFigures;
}

/** The points of the verdict: 3 × 3 of line and load (or three of them, where one is fixed), in the hottest air, heaviest load first. */
export function cornerPoints(d: Design): OperatingPoint[] {
  const { line, load, air } = d.brief;
  const three = (r: { min: number; max: number }): number[] => [...new Set([r.min, (r.min + r.max) / 2, r.max])];
  return three(load)
    .reverse()
    .flatMap((amps) => three(line).map((volts) => ({ line: volts, load: amps, air: air.max })));
}

/** Judge one point. */
export function judge(d: Design, point: OperatingPoint, found: Result<Figures> = evaluate(d, point)): Corner {
  if (!found.ok) return { point, requirements: [], stresses: [], efficiency: NaN, holds: false, problem: found.problem };
  const pinned = d.pins ? pinnedAt(d, point) : [];
  const whole = drawnAt(d, point);
  const noise = noiseAt(d, point);
  // A run that can not be made uses more than it may.
  const requirements = standings(d, { ...found.value, ...(pinned.length > 0 ? { pinned: pinned.reduce((most, p) => Math.max(most, p.share), 0) } : {}), ...(whole?.ok ? { quality: whole.value } : {}), ...(noise?.ok ? { noise: noise.value } : {}) });
  return {
    point,
    requirements,
    stresses: found.value.stresses,
    efficiency: found.value.losses.efficiency,
    ...(found.value.loop ? { loop: marginFigures(found.value.loop) } : {}),
    ...(found.value.detail?.bode ? { bode: found.value.detail.bode.loop } : {}),
    ...(pinned.length > 0 ? { pinned } : {}),
    holds: requirements.every((s) => s.holds),
    ...problemOf(found.value, whole ?? noise),
  };
}

/** What is drawn from the mains, where that is required: the whole circuit over a cycle of it, at full load. */
const drawnAt = (d: Design, point: OperatingPoint): Result<MainsQuality> | undefined =>
  d.brief.line.mains !== undefined && point.load >= d.brief.load.max * (1 - 1e-9) && ON_WHOLE_MAINS.some((id) => d.requirements[id].on) ? mainsQuality(d, point) : undefined;

/** dB of room below both limits of conducted noise, where that is required: at full load. */
function noiseAt(d: Design, point: OperatingPoint): Result<number> | undefined {
  if (!d.requirements.noise.on || point.load < d.brief.load.max * (1 - 1e-9)) return undefined;
  const found = conductedNoise(d, point);
  if (!found.ok) return found;
  const { quasiPeak, average } = found.value.nearest;
  return ok(Math.min(quasiPeak?.room ?? Infinity, average?.room ?? Infinity));
}

/** What is missing of the figures, the loop first. */
const problemOf = ({ problems }: Figures, whole?: Result<unknown>): { problem?: Problem } => {
  const problem = problems.loop ?? problems.heat ?? (whole && !whole.ok ? whole.problem : undefined);
  return problem ? { problem } : {};
};

/** Gather judged corners into the verdict. */
export function report(corners: readonly Corner[]): CornerReport {
  const worst = new Map<RequirementId, Standing & { at: OperatingPoint }>();
  const stresses = new Map<string, Stress & { at: OperatingPoint }>();
  for (const c of corners) {
    for (const s of c.requirements) if (!(s.room >= (worst.get(s.id)?.room ?? Infinity))) worst.set(s.id, { ...s, at: c.point });
    for (const s of c.stresses) {
      const before = stresses.get(s.id);
      if (!before || s.value / s.rating > before.value / before.rating) stresses.set(s.id, { ...s, at: c.point });
    }
  }
  return {
    corners: [...corners],
    worst: [...worst.values()].sort((a, b) => a.room - b.room),
    stresses: [...stresses.values()],
    holding: corners.filter((c) => c.holds).length,
    least: leastMargins(corners.flatMap((c) => c.loop ?? [])),
  };
}

/** Every corner judged: the verdict on a design. @param enough asked before each corner; where it says so, those that are left are not judged and not in the report */
export function holdCorners(d: Design, enough?: () => boolean): CornerReport {
  const corners: Corner[] = [];
  for (const p of cornerPoints(d)) {
    if (enough?.()) break;
    corners.push(judge(d, p));
  }
  return report(corners);
}
