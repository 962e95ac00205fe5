import type { State } from '../circuit/machine';
import type { PartStress } from '../converter/stresses';
import { stressesIn } from '../converter/stresses';
import { sharesAt } from '../linear/interpolate';
import type { Tolerance } from '../linear/tolerance';
import { ok, type Result } from '../problem';
import type { AtAngle } from '../surroundings/mains';
import { drawnIn, settleStage, type SettledStage } from './settleStage';
import type { Standing, View } from './standing';

/** The stage settled in one view, with the share of the time that it stands for. */
export interface Visit {
  view: View;
  weight: number;
  stage: SettledStage;
  duties: Record<string, PartStress>;
}

/** What the mains adds to an operating point. */
export interface MainsCycle {
  /** A, crest of the current drawn */
  crest: number;
  /** What is the same all along the mains: that crest, or the command that is held */
  level: number;
  at: (AtAngle & { stage: SettledStage })[];
  /** V peak to peak of the output over the mains, and V at an angle less the mean */
  output: { peakToPeak: number; slow(angle: number): number };
  /** A by which the output is fed more than the load takes, as a share of the load: nothing once the level is right */
  excess: number;
  /** What is fed goes with so high a power of the level, by the last two of them */
  power: number;
}

/** All that is settled for one operating point: one stage on a dc line, several along the mains. */
export interface Visited {
  visits: Visit[];
  /** What the slots carry, over the mains where that is the line */
  duties: Record<string, PartStress>;
  mains?: MainsCycle;
}

/** Where to begin: what was found with temperatures that have moved a little since. */
export interface Near {
  visits: readonly Visit[];
  /** Along the mains: the level it had, and how what was fed answered */
  mains?: Pick<MainsCycle, 'level' | 'excess' | 'power'> | undefined;
}

/** Settle all that an operating point wants, at given temperatures; along the mains at so many angles, or at as many as its modes ask for. */
export function visit(s: Standing, temperature: (slot: string) => number, near?: Near, count?: number, tolerance?: Tolerance): Result<Visited> {
  // By the forecast first, then corrected by what the load was fed.
  const level = s.mains && (near ? near.mains!.level / Math.min(FARTHEST, Math.max(1 / FARTHEST, (1 + near.mains!.excess) ** (1 / near.mains!.power))) : s.mains.level());
  const visits: Visit[] = [];
  const views = s.mains ? s.mains.views(level!, count) : [s.only!];
  for (const [k, view] of views.entries()) {
    // Along the mains the circuits differ in their line alone.
    const ways = near ? near.visits.length / views.length : 0;
    const cooler = near && Number.isInteger(ways) && near.visits[ways * k]?.view.angle === view.angle ? near.visits[ways * k]!.stage : undefined;
    const before = s.mains ? between(visits, near?.visits ?? [], view.angle) : cooler && stateOf(cooler);
    const settled = settleStage(s.bill, view, temperature, before && { ...before, machine: visits[0]?.stage.machine, range: cooler?.range }, tolerance);
    if (!settled.ok) return settled;
    for (const stage of eitherWay(settled.value)) visits.push({ view, weight: view.weight / waysOf(settled.value), stage, duties: stressesIn(stage.circuit, stage.roles, stage.measure) });
  }
  const { mains: along } = s;
  if (!along) return ok({ visits, duties: visits[0]!.duties });
  const { roles } = visits[0]!.stage;
  const { reservoir } = roles.mains!;
  const slow = roles.parts[reservoir]!.slow!;
  const at = visits.map(({ view, weight, stage, duties }) => ({ angle: view.angle!, weight, stage, duties, slow: stage.measure({ current: slow }).mean, get fast() { return stage.measure({ output: 0 }).peakToPeak; } }));
  const fed = at.reduce((sum, a) => sum + a.weight * (a.slow + s.load), 0);
  const excess = fed / s.load - 1;
  const mains: MainsCycle = {
    level: level!,
    // The last of them stands at the crest.
    crest: along.held ? drawnIn(at.at(-1)!.stage).mean : level!,
    at,
    get output() {
      return along.ripple(reservoir, at);
    },
    excess,
    power: along.held && near?.mains ? powerBetween(near.mains, { level: level!, excess }, along.power) : along.power,
  };
  return ok({ visits, mains, duties: along.gather(roles, at, () => mains.output.peakToPeak) });
}

/** Is one mode all that there is at the angles of the mains: do the same elements conduct in the same order? */
export function oneMode(visits: readonly Visit[]): boolean {
  const order = ({ stage }: Visit): string => stage.cycle.intervals.map((x) => [...x.pattern.on].join()).join(';');
  return visits.every((v) => order(v) === order(visits[0]!));
}

/** So many ways round is a stage seen: two where its switches change what they do with each half cycle. */
const waysOf = ({ roles: { mains } }: SettledStage): number => (mains?.alternates === undefined ? 1 : 2);

/** The stage as it is, and as it is in the other half cycle: the same, its two switches changed. */
function eitherWay(stage: SettledStage): SettledStage[] {
  const slot = stage.roles.mains?.alternates;
  if (slot === undefined) return [stage];
  const role = stage.roles.parts[slot]!;
  return [stage, { ...stage, roles: { ...stage.roles, parts: { ...stage.roles.parts, [slot]: { ...role, elements: role.elements.toReversed() } } } }];
}

/** The power by which what is fed has gone with a level from one to the next; as it was where they are too near to tell, and not far from what it is in the ideal case. */
function powerBetween(before: Pick<MainsCycle, 'level' | 'excess' | 'power'>, now: Pick<MainsCycle, 'level' | 'excess'>, ideal: number): number {
  const [moved, answered] = [Math.log(now.level / before.level), Math.log((1 + now.excess) / (1 + before.excess))];
  const found = answered / moved;
  return Math.abs(moved) > TOLD && found > ideal / MOST_OFF && found < ideal * MOST_OFF ? found : before.power;
}
/** Share that a level has to move by to tell how it is answered, and how far from ideal that may be */
const [TOLD, MOST_OFF] = [1e-5, 4];
/** Times that a level moves by from round to round at most */
const FARTHEST = 2;

/** Where a cycle is looked for: all of its state, and the control input behind it */
type Guess = readonly number[];
const guessOf = ({ stage }: Visit): Guess => [...stage.cycle.state.z, stage.setting];

/** Points at most that a polynomial goes through */
const BY = 4;

/** Of visits at several angles, what the polynomial through the nearest has at another (Lagrange's), in the sine of the angle, which line and current go with. */
function through(all: readonly (readonly [angle: number, of: Guess])[], angle: number): Guess {
  const list = all.toSorted((a, b) => Math.abs(a[0] - angle) - Math.abs(b[0] - angle)).slice(0, BY);
  const shares = sharesAt(list.map(([a]) => Math.sin(a)), Math.sin(angle));
  return list[0]![1].map((_, i) => list.reduce((sum, [, of], k) => sum + shares[k]! * of[i]!, 0));
}

/**
 * Where to begin at an angle: where it was in the round before, moved by what this round has moved its neighbours by.
 * @param now what this round has found so far, before: all of the last one; the devices are those of the nearest
 */
function between(now: readonly Visit[], before: readonly Visit[], angle: number | undefined): ReturnType<typeof stateOf> | undefined {
  const off = (v: Visit): number => Math.abs(v.view.angle! - angle!);
  // Of several ways round at an angle the first.
  const apart = (list: readonly Visit[]): Visit[] => list.filter((v, i) => list.findIndex((x) => x.view.angle === v.view.angle) === i);
  const [own, old] = [apart(now), apart(before)];
  const nearest = [...own, ...old].reduce<Visit | undefined>((a, b) => (a && off(a) <= off(b) ? a : b), undefined);
  if (!nearest) return undefined;
  const known = old.map((v) => [v.view.angle!, guessOf(v)] as const);
  const moved = own.map((v) => [v.view.angle!, known.length > 0 ? less(guessOf(v), through(known, v.view.angle!)) : guessOf(v)] as const);
  const parts = [known, moved].filter((list) => list.length > 0).map((list) => through(list, angle!));
  const guess = parts.reduce((a, b) => a.map((v, i) => v + b[i]!));
  const from = stateOf(nearest.stage);
  return { ...from, state: { ...from.state, z: from.state.z.map((_, i) => guess[i]!) }, setting: guess.at(-1)! };
}
const less = (a: Guess, b: Guess): Guess => a.map((v, i) => v - b[i]!);

const stateOf = ({ cycle, setting, assembled: { clock } }: SettledStage): { state: State; setting: number; clock?: number } => ({ state: cycle.state, setting, ...(clock === undefined ? {} : { clock }) });
