import type { State } from '../circuit/machine';
import type { PartStress } from '../converter/stresses';
import { stressesIn } from '../converter/stresses';
import { ok, type Result } from '../problem';
import type { AtAngle } from '../surroundings/mains';
import { settleStage, type SettledStage } from './settleStage';
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
  at: (AtAngle & { stage: SettledStage })[];
  /** V peak to peak of the output over the mains, and V at an angle less the mean */
  output: { peakToPeak: number; slow(angle: number): number };
  /** A by which the output is fed more than the load takes, as a share of the load: nothing once the crest is right */
  excess: number;
}

/** All that is settled for one operating point: one stage on a dc line, several along the mains. */
export interface Visited {
  visits: Visit[];
  /** What the slots carry, over the mains where that is the line */
  duties: Record<string, PartStress>;
  mains?: MainsCycle;
}

/** Where to begin: what was found with temperatures that have moved a little since. */
export type Near = Pick<Visited, 'visits' | 'mains'>;

/** Settle all that an operating point wants, at given temperatures. */
export function visit(s: Standing, temperature: (slot: string) => number, near?: Near): Result<Visited> {
  // By the forecast first, then corrected by what the load was fed.
  const crest = s.mains && (near ? near.mains!.crest / (1 + near.mains!.excess) : s.mains.crest());
  const visits: Visit[] = [];
  for (const [k, view] of (s.mains ? s.mains.views(crest!) : [s.only!]).entries()) {
    // Along the mains the circuits differ in their line alone.
    const cooler = near?.visits[k]?.stage;
    const before = cooler ?? visits.at(-1)?.stage;
    const settled = settleStage(s.bill, view, temperature, before && { ...stateOf(before), machine: visits[0]?.stage.machine, range: cooler?.range });
    if (!settled.ok) return settled;
    visits.push({ view, weight: view.weight, stage: settled.value, duties: stressesIn(settled.value.circuit, settled.value.roles, settled.value.measure) });
  }
  const { mains: along } = s;
  if (!along) return ok({ visits, duties: visits[0]!.duties });
  const { roles } = visits[0]!.stage;
  const { reservoir } = roles.mains!;
  const slow = roles.parts[reservoir]!.slow!;
  const at = visits.map(({ view, weight, stage, duties }) => ({ angle: view.angle!, weight, stage, duties, slow: stage.measure({ current: slow }).mean, get fast() { return stage.measure({ output: 0 }).peakToPeak; } }));
  const fed = at.reduce((sum, a) => sum + a.weight * (a.slow + s.load), 0);
  const mains: MainsCycle = {
    crest: crest!,
    at,
    get output() {
      return along.ripple(reservoir, at);
    },
    excess: fed / s.load - 1,
  };
  return ok({ visits, mains, duties: along.gather(roles, at, () => mains.output.peakToPeak) });
}

const stateOf = (stage: SettledStage): { state: State; setting: number } => ({ state: stage.cycle.state, setting: stage.setting });
