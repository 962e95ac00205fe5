import { transferOf } from '../control';
import { continuous, controllerAt } from '../control/controller';
import type { Design } from '../design/schema';
import { degrees, over, phase, times, type Complex } from '../linear/complex';
import { cycleModes } from '../response/cycleModes';
import type { Landmark } from '../topology';
import { modulatorAt, type LoopAsked } from './compensator';
import type { ClosedStage } from './closed';
import type { LoopModeFigures, PhaseShare } from './figures';
import type { Compensator } from './placing';

/** ° between −360 and 0: what something takes. */
const taken = (v: Complex): number => {
  const angle = degrees(phase(v));
  return angle > 0 ? 360 - angle : -angle;
};
/** ° below which a share is not told */
const LITTLE = 0.5;

/**
 * What takes the phase of a loop at its crossover, most first: the plant, and apart from it what of it a right-half-plane zero
 * takes; delay, sampling, the amplifier's own limits, a coupler. With what would give some of it back.
 * @param loop at the crossover @param innermost does it set the duty?
 */
export function phaseShares(d: Design, { amplifier, control }: LoopAsked, { controller, continuous: stands, built, network }: Compensator, loop: Complex, crossover: number, innermost: boolean, landmarks: readonly Landmark[]): PhaseShare[] {
  const modulator = innermost ? modulatorAt(control, crossover) : { re: 1, im: 0 };
  const plant = taken(over(loop, times(controllerAt(controller, crossover), modulator)));
  const zero = landmarks.find((l) => l.title === 'right-half-plane zero');
  const right = zero ? degrees(Math.atan(crossover / zero.frequency)) : 0;
  const ideal = amplifier.transfer(built);
  const lacks = stands ? 0 : -degrees(phase(over(controllerAt(continuous(transferOf(amplifier, built, network, control)), crossover), controllerAt(continuous(ideal), crossover))));
  const sampling = stands ? -degrees(phase(over(controllerAt(controller, crossover), controllerAt(continuous(stands), crossover)))) : 0;
  const coupler = amplifier.id === 'optocoupler' ? degrees(Math.atan(crossover / (control.couplerPole as number))) : 0;
  const shares: PhaseShare[] = [
    { title: 'power stage', degrees: plant - right, remedy: 'a lower crossover, or current as the command' },
    { title: 'right-half-plane zero', degrees: right, remedy: 'a smaller inductance, or a lower crossover' },
    { title: 'sampling, computing and holding', degrees: sampling, remedy: 'a later sample: compute in less time' },
    { title: 'delay to the switch', degrees: innermost ? 360 * crossover * d.control.delay : 0, remedy: 'a faster driver' },
    { title: 'gain and bandwidth of the op-amp', degrees: lacks, remedy: 'a faster op-amp' },
    { title: 'pole of the coupler', degrees: coupler, remedy: 'a faster coupler, or a smaller resistor pulling up' },
  ];
  return shares.filter((s) => s.degrees > LITTLE).sort((a, b) => b.degrees - a.degrees);
}

/** Modes that are told at most */
const MOST = 6;

/** The modes of the closed circuit below half its switching frequency, in words. */
export function loopModes({ circuit, machine, cycle }: ClosedStage): LoopModeFigures[] {
  const kind = new Map(circuit.elements.map((e) => [e.id, e.kind]));
  const inWords = (name: string): string => {
    const id = name.replace(/^held /, '').replace(/\.\w+$/, '');
    const what = kind.get(id);
    return what === 'inductor' ? `current of ${id}` : what === 'capacitor' ? `voltage of ${id}` : id;
  };
  return cycleModes(cycle, machine.layout)
    .filter((m) => m.frequency < 0.5 / cycle.period)
    .slice(0, MOST)
    .map(({ frequency, damping, multiplier, states }) => ({ frequency, damping, multiplier, of: [...new Set(states.map((s) => inWords(s.name)))].slice(0, 2).join(', ') }));
}
