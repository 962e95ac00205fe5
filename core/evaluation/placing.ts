import { transferOf } from '../control';
import { continuous, controllerAt, type Controller } from '../control/controller';
import { discretise } from '../control/discretise';
import { clipsOf, spanOf, type Span } from '../control/limits';
import { samplingOf } from '../control/sampling';
import type { Amplifier, Control, Corners, Held, Network, Rational } from '../control/types';
import { over, size, type Complex } from '../linear/complex';
import { measuredAt } from '../measured/response';
import type { Measured } from '../measured/types';
import { fail, ok, type Problem, type Result } from '../problem';
import { printQuantity as print } from '../quantity';

/** A compensator placed and built on whatever plant: in a circuit, or as it was measured. */

/** Placements at most, and the change of the plant after which no more is made */
const [ROUNDS, AGREED] = [5, 2e-3];

/** What a compensator is asked to be. */
export interface Asked {
  amplifier: Amplifier;
  /** The control as this loop's amplifier reads it */
  control: Control;
  held: Held;
  /** V between which it puts out where it computes, and the design says nothing else */
  span: Span;
}

/** A compensator as placed, overridden where the design says so, and as it is built. */
export interface Compensator {
  placed: Corners;
  wanted: Corners;
  built: Corners;
  network: Network;
  /** Why it has less of the margin than was asked: on the first plant it could have had it, with its own sampling and ripple not */
  short?: Problem;
  /** What stands in the closed circuit */
  controller: Controller;
  /** Where that samples: what it stands for */
  continuous?: Rational;
}

/** What stands in the circuit for corners: a network with its amplifier, or a difference equation. @param frequency Hz of switching */
function controllerFor({ amplifier, control, span }: Asked, frequency: number, corners: Corners, network: Network | undefined): { controller: Controller; continuous?: Rational } {
  const ideal = amplifier.transfer(corners);
  const sampling = samplingOf(control, frequency);
  if (!sampling) {
    const own = continuous(network ? transferOf(amplifier, corners, network, control) : ideal);
    const clips = clipsOf(control, size(controllerAt(own, control.crossover)));
    return { controller: clips ? { ...own, clips } : own } as { controller: Controller };
  }
  const { method, ...when } = sampling;
  const of = (kind: 'zero' | 'pole'): number[] => amplifier.handles.flatMap((h) => (h.kind === kind ? [corners[h.key]!] : []));
  return { controller: { kind: 'sampled', ...discretise(method, { integrator: corners.integrator!, zeros: of('zero'), poles: of('pole') }, when.period, control.crossover), ...when, ...spanOf(control, span) }, continuous: ideal };
}

/** A measured plant where it is to cross; problem "range" outside of what was measured. */
export function measuredPlantAt(m: Pick<Measured, 'frequency' | 'gain' | 'phase'>, crossover: number): Result<Complex> {
  const at = measuredAt(m, crossover);
  return Number.isFinite(at.re) ? ok(at) : fail('range', 'control.crossover', `${print(crossover, 'Hz')} lies outside of what was measured, ${print(m.frequency[0]!, 'Hz')} to ${print(m.frequency.at(-1)!, 'Hz')}`, 'choose a crossover within it, or place on the computed plant');
}

/**
 * Place a compensator and build it: on the plant first, and then anew on what the loop shows with it, until that agrees. Ripple
 * that comes back through the compensator changes what the plant is, and so do its sampling and what its amplifier lacks.
 *
 * @param frequency Hz of switching @param at the plant where it is to cross
 * @param loopWith the loop there with a controller in it; undefined where it has none
 * @returns problems "boost" and "network"
 */
export function placedCompensator(asked: Asked, frequency: number, at: Complex, loopWith: (controller: Controller) => Complex | undefined): Result<Compensator> {
  const placed = placedCorners(asked, frequency, at, loopWith);
  return placed.ok ? builtCompensator(asked, frequency, placed.value) : placed;
}

/** Corners as they are placed, and why they have less of the margin than was asked, where they do. */
export interface Placed {
  corners: Corners;
  short?: Problem;
}

/** The placing of it. */
export function placedCorners(asked: Asked, frequency: number, at: Complex, loopWith: (controller: Controller) => Complex | undefined): Result<Placed> {
  const { amplifier, control, held } = asked;
  let placed = amplifier.place(at, control);
  if (!placed.ok) return placed;
  for (let round = 0; round < ROUNDS; round++) {
    const network = amplifier.build(placed.value, { ...control, rounded: false }, held);
    const loop = loopWith(controllerFor(asked, frequency, placed.value, network.ok ? network.value.network : undefined).controller);
    if (!loop) break;
    const now = over(loop, controllerAt(continuous(amplifier.transfer(placed.value)), control.crossover));
    const again = amplifier.place(now, control);
    if (!again.ok) return ok({ corners: placed.value, short: again.problem });
    const moved = Math.hypot(now.re - at.re, now.im - at.im) / size(at);
    [at, placed] = [now, again];
    if (moved < AGREED) break;
  }
  return ok({ corners: placed.value });
}

/** The building of it: corners overridden where the design says so. */
export function builtCompensator(asked: Asked, frequency: number, { corners, short }: Placed): Result<Compensator> {
  const { amplifier, control, held } = asked;
  const wanted = Object.fromEntries(amplifier.handles.map(({ key }) => [key, (control[key] as number | null) ?? corners[key]!]));
  const sampled = samplingOf(control, frequency) !== undefined;
  const built = amplifier.build(wanted, sampled ? { ...control, rounded: false } : control, held);
  if (!built.ok) return built;
  return ok({ placed: corners, wanted, ...(short ? { short } : {}), ...built.value, ...controllerFor(asked, frequency, built.value.built, built.value.network) });
}

/**
 * A compensator as it was built, its network's parts off by factors: nothing is placed or rounded again.
 * @param factors by the ids of its parts; what samples has no parts, and of amplifiers whose parts alone do not say their corners nothing is off
 */
export function offCompensator(asked: Asked, frequency: number, c: Compensator, factors: Readonly<Record<string, number>>): Compensator {
  const { cornersOf } = asked.amplifier;
  if (!cornersOf || c.controller.kind === 'sampled') return c;
  const parts = c.network.parts.map((p) => ({ ...p, value: p.value * (factors[p.id] ?? 1) }));
  const { upper, lower } = c.network.divider;
  const network = { ...c.network, parts, divider: { upper: upper * (factors.R1 ?? 1), lower: lower * (factors.lower ?? 1) } };
  const built = cornersOf(Object.fromEntries(parts.map((p) => [p.id, p.value])));
  return { ...c, built, network, ...controllerFor(asked, frequency, built, network) };
}
