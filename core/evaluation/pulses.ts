import type { Design } from '../design/schema';
import type { SwitchState } from '../loss';
import type { DiodePart, SwitchPart } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { logSpaced } from '../response/system';
import { DIE } from '../thermal/capacity';
import { cauerOf, modesOfLadder, pulseResponse, pulsesResponse, type Rung } from '../thermal/ladder';
import { meetingsOf } from '../thermal/runaway';
import { rippleOf, type Burst, type Ripple } from '../thermal/ripple';
import { copiesOf, type OperatingPoint } from '../topology';
import { warmedAt } from './evaluate';
import { resistanceAt } from './settleStage';

/** A junction by time: how it answers pulses, how it swings within the period or the mains, and where it would run away. */

export interface PulseStudy {
  /** K/W and J/K of one part, as it is built, and as a sum of exponentials; from its size where the part says nothing */
  ladder: Rung[];
  modes: Rung[];
  estimated: boolean;
  /** K/W after so many s of constant heat, and at the end of pulses of half, a fifth and a tenth of that as their share */
  curves: { time: number; single: number; shares: number[] }[];
  shares: readonly number[];
  /** K above its case, of one part, over what it swings in, and Hz of that */
  ripple: Ripple;
  over: 'the mains' | 'the period';
  frequency: number;
  /** °C of the junction as a mean; and beyond which it would run away with its currents held, where there is such a temperature */
  temperature: number;
  beyond?: number;
}

const SHARES = [0.5, 0.2, 0.1] as const;
const POINTS = 60;
/** Share of a period that an edge is spread over: short against all that a die stores */
const EDGE = 1e-3;

/** A ladder of one part, or what its size lets one think. */
export function ladderOf(part: SwitchPart | DiodePart): { ladder: Rung[]; estimated: boolean } {
  const own = part.ladder && cauerOf(part.ladder);
  return own ? { ladder: own, estimated: false } : { ladder: [{ resistance: part.junctionToCase, capacity: DIE / part.junctionToCase }], estimated: true };
}

/** @returns problems of settling; that of runaway; "part" where it has no junction */
export function pulseStudy(d: Design, slot: string, point: OperatingPoint): Result<PulseStudy> {
  const part = d.parts[slot];
  if (part?.kind !== 'switch' && part?.kind !== 'diode') return fail('part', slot, 'it has no junction', 'choose a switch or a diode on the power path');
  const found = warmedAt(d, point);
  if (!found.ok) return found;
  if (found.value.runaway) return { ok: false, problem: found.value.runaway };
  const { standing, warm } = found.value;
  const { topology } = standing.bill;
  const many = part.count * copiesOf(topology.slots.find((p) => p.id === slot)!);
  const { ladder, estimated } = ladderOf(part);
  const modes = modesOfLadder(ladder);
  const along = warm.along(slot);
  const frequency = along.length > 0 ? 2 * d.brief.line.mains! : 1 / warm.stage.cycle.period;
  const loss = warm.losses.find((l) => l.id === slot)!;
  const bursts = along.length > 0 ? alongMains(along, 1 / frequency) : inPeriod(loss.mechanisms, warm.duties[slot]!, warm.states[slot] as SwitchState, 1 / frequency);
  const slowest = modes.at(-1)!;
  const fastest = modes[0]!;
  const times = logSpaced(Math.min(1e-5, 0.01 * fastest.resistance * fastest.capacity), 20 * slowest.resistance * slowest.capacity, POINTS);
  // With its currents held and all else as warm as it is: what it loses at another temperature, through all that it alone heats.
  const now = loss.temperature;
  const rungs = warm.rungs;
  let resistance = 0;
  for (let at = rungs.find((r) => r.id === `${slot} junction`); at; at = rungs.find((r) => r.id === at!.towards)) resistance += at.resistance;
  const grows = (warm.rises()[slot] ?? 0) / Math.max(1e-12, resistanceAt(part, now + 1) - resistanceAt(part, now));
  const watts = (T: number): number => loss.total + grows * (resistanceAt(part, T) - resistanceAt(part, now));
  const { beyond } = meetingsOf(watts, resistance, now - resistance * loss.total);
  return ok({
    ladder, modes, estimated,
    curves: times.map((time) => ({ time, single: pulseResponse(modes, time), shares: SHARES.map((share) => pulsesResponse(modes, time / share, share)) })),
    shares: SHARES,
    ripple: rippleOf(modes, bursts.map((b) => ({ ...b, watts: b.watts / many }))),
    over: along.length > 0 ? 'the mains' : 'the period',
    frequency,
    temperature: now,
    ...(beyond === undefined ? {} : { beyond }),
  });
}

/** The half cycle of the mains as bursts: nothing while it is too low to draw on, then angle by angle to the crest and back. */
function alongMains(along: readonly { weight: number; watts: number }[], halfCycle: number): Burst[] {
  const up = along.filter((a) => a.weight > 0).map((a) => ({ watts: a.watts, seconds: (a.weight * halfCycle) / 2 }));
  const idle = { watts: 0, seconds: Math.max(0, halfCycle / 2 - up.reduce((sum, b) => sum + b.seconds, 0)) };
  return [idle, ...up, ...up.toReversed(), idle];
}

/** A switching period as bursts: an edge, what it conducts while it does, the other edge, and nothing. The time it conducts is that of a rectangle of its mean and rms. */
function inPeriod(mechanisms: Readonly<Record<string, number>>, { mean, rms }: { mean: number; rms: number }, state: Partial<SwitchState>, period: number): Burst[] {
  const share = Math.min(1 - 2 * EDGE, Math.max(EDGE, rms > 0 ? (mean / rms) ** 2 : 0));
  const total = Object.values(mechanisms).reduce((a, b) => a + b, 0);
  const conducting = (mechanisms.conduction ?? 0) + (mechanisms['body-diode'] ?? 0);
  const edges = state.commutations ? (total - conducting) / 2 : 0;
  const while_ = state.commutations ? conducting : total;
  return [
    { watts: edges / EDGE, seconds: EDGE * period },
    { watts: while_ / share, seconds: share * period },
    { watts: edges / EDGE, seconds: EDGE * period },
    { watts: 0, seconds: Math.max(0, 1 - share - 2 * EDGE) * period },
  ];
}
