import type { State } from '../circuit/machine';
import { ok, type Result } from '../problem';
import { stressesIn, type PartStress } from '../converter/stresses';
import type { DiodePart } from '../parts/schema';
import { drawnFrom, gatherOverMains, outputRipple, settledAngles, type AtAngle } from '../surroundings/mains';
import type { OperatingPoint, Sizing, SizingInput, Topology } from '../topology';
import { settleStage, type SettledStage } from './settleStage';

/** The stage settled at one point, with the share of the time that it stands for. */
export interface Visit {
  point: OperatingPoint;
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
  /** What the places carry, over the mains where that is the line */
  duties: Record<string, PartStress>;
  mains?: MainsCycle;
}

/** Where to begin: what was found with temperatures that have moved a little since. */
export type Near = Pick<Visited, 'visits' | 'mains'>;

/** Settle all that an operating point wants, at given temperatures. */
export function visit(t: Topology, spec: SizingInput, sizing: Sizing, point: OperatingPoint, temperature: (slot: string) => number, near?: Near): Result<Visited> {
  const wanted = t.mains ? alongMains(t, spec, sizing, point, near) : [{ point, weight: 1 }];
  const visits: Visit[] = [];
  for (const [k, { point: at, weight }] of wanted.entries()) {
    // Along the mains the circuits differ in their line alone.
    const cooler = near?.visits[k]?.stage;
    const before = cooler ?? visits.at(-1)?.stage;
    const settled = settleStage(t, spec, sizing, at, temperature, before && { ...stateOf(before), machine: visits[0]?.stage.machine, range: cooler?.range });
    if (!settled.ok) return settled;
    visits.push({ point: at, weight, stage: settled.value, duties: stressesIn(settled.value.circuit, settled.value.roles, settled.value.measure) });
  }
  if (!t.mains) return ok({ visits, duties: visits[0]!.duties });
  const { roles } = visits[0]!.stage;
  const { reservoir } = roles.mains!;
  const slow = roles.parts[reservoir]!.slow!;
  const at = visits.map(({ point: p, weight, stage, duties }) => ({ angle: p.angle!, weight, stage, duties, slow: stage.measure({ current: slow }).mean, get fast() { return stage.measure({ output: 0 }).peakToPeak; } }));
  const fed = at.reduce((s, a) => s + a.weight * (a.slow + point.load), 0);
  const mains: MainsCycle = {
    crest: wanted[0]!.point.drawn!,
    at,
    get output() {
      return outputRipple(sizing.values[reservoir]!.taken, spec.brief.line.mains!, at.map((a) => ({ ...a, fed: a.slow + point.load })));
    },
    excess: fed / point.load - 1,
  };
  return ok({ visits, mains, duties: gatherOverMains(roles, point.line, point.load, at, () => mains.output.peakToPeak) });
}

/** rad of the mains from which a topology draws on it; undefined on a dc line. */
export const anglesFrom = ({ mains }: Topology, spec: SizingInput, line: number): number | undefined => mains && drawnFrom(mains, spec.parts[mains.rectifier] as DiodePart, line, spec.brief.output.voltage);

/** A, crest of the current drawn from the mains by the forecast: where the search for it starts. */
export const crestAt = (t: Topology, spec: SizingInput, sizing: Sizing, point: Pick<OperatingPoint, 'line' | 'load'>): number => t.forecast(spec, sizing, point).crest!;

/** The angles, each with the current that is to be drawn: by the forecast first, then corrected by what the load was fed. */
function alongMains(t: Topology, spec: SizingInput, sizing: Sizing, point: OperatingPoint, near: Near | undefined): { point: OperatingPoint; weight: number }[] {
  const drawn = near ? near.mains!.crest / (1 + near.mains!.excess) : crestAt(t, spec, sizing, point);
  return settledAngles(anglesFrom(t, spec, point.line)!).map(({ angle, weight }) => ({ point: { ...point, angle, drawn }, weight }));
}

const stateOf = (stage: SettledStage): { state: State; setting: number } => ({ state: stage.cycle.state, setting: stage.setting });
