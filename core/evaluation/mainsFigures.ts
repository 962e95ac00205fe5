import type { MainsCurves, MainsFigures } from './figures';
import { seenAt, type WarmStage } from './heat';
import { holdUp, type HeldUp } from '../surroundings/holdUp';
import { inrushPeak, type Inrush } from '../surroundings/inrush';
import { drawnIn } from './settleStage';
import type { Standing } from './standing';
import type { MainsCycle } from './visits';

/** What the mains gives over its cycle: V, A, W. @param seen rad of the angle that everything else is shown at */
export const mainsFigures = ({ crest, at, output }: MainsCycle, seen: number, held: Omit<HeldUp, 'from'> & { voltage: number }, inrush?: Inrush): MainsFigures => ({
  crest,
  ...(inrush ? { inrush: inrushPeak(inrush) } : {}),
  holdUp: holdUp({ ...held, from: held.voltage - output.peakToPeak / 2 }),
  rms: Math.sqrt(at.reduce((s, a) => s + a.weight * drawnIn(a.stage).mean ** 2, 0)),
  seen,
});

/** Angles of the first quarter that are drawn */
const DRAWN = 24;

/** Half a cycle of the mains, settled at many angles with the temperatures and the current that were found: the second quarter mirrors the first. */
export function mainsCurves({ bill, mains: along }: Standing, { mains, losses, stage }: WarmStage): MainsCurves {
  const { from, at } = along!;
  const temperature = (slot: string): number => losses.find((l) => l.id === slot)!.temperature;
  const quarter: Record<keyof MainsCurves, number>[] = [];
  const still = (angle: number): Record<keyof MainsCurves, number> => ({ angle, drawn: 0, least: 0, largest: 0, duty: NaN, output: mains!.output.slow(angle) });
  quarter.push(still(0), still(from));
  let near = stage;
  for (let k = DRAWN; k >= 0; k--) {
    const angle = from + ((Math.PI / 2 - from) * k) / DRAWN;
    const found = seenAt(bill, at(angle, mains!.level), temperature, near);
    if (!found.ok) continue;
    near = found.value.stage;
    const { mean, min, max } = drawnIn(near);
    quarter.splice(2, 0, { angle, drawn: mean, least: min, largest: max, duty: near.duty, output: mains!.output.slow(angle) });
  }
  const mirrored = quarter.slice(0, -1).reverse().map((q) => ({ ...q, angle: Math.PI - q.angle, output: -q.output }));
  const half = [...quarter, ...mirrored];
  return Object.fromEntries((['angle', 'drawn', 'least', 'largest', 'duty', 'output'] as const).map((key) => [key, half.map((q) => q[key])])) as unknown as MainsCurves;
}
