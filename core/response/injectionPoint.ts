import { REFERENCE, type Circuit, type ElementOf } from '../circuit/elements';
import type { Machine } from '../circuit/machine';
import { over, scale, type Complex } from '../linear/complex';
import type { Quantity } from '../orbit/measure';
import type { SettledCycle } from '../orbit/settle';
import { fail, ok, type Result } from '../problem';
import { SmallSignal } from './exact';
import { injectTones, type Injected, type InjectOptions } from './inject';

/**
 * A place of a loop where a signal can be put in series: a voltage source of zero volts. Its node a is where
 * the loop's signal arrives, its node b where it goes on. With a small voltage on it, the loop gain is
 * T = −v(a)/v(b) (Middlebrook 1975), right where the side that goes on draws no current from the one that arrives.
 */
export interface InjectionPoint {
  source: string;
  arrives: Quantity;
  goesOn: Quantity;
}

/** The place named by a source of the circuit. Problem "place". */
export function injectionPointAt(circuit: Circuit, id: string): Result<InjectionPoint> {
  const e = circuit.elements.find((x): x is ElementOf<'voltage-source'> => x.id === id && x.kind === 'voltage-source');
  if (!e) return fail('place', id, 'there is no voltage source of this name to inject at', 'put a voltage source of 0 V in series with the loop and name it');
  if (typeof e.value !== 'number') return fail('place', id, 'this source moves by itself', 'inject at a constant one, of 0 V in series with the loop');
  for (const [node, side] of [[e.a, 'arrives at'], [e.b, 'goes on from']] as const)
    if (node === REFERENCE) return fail('place', id, `the loop's signal ${side} node 0, which never moves`, 'put the source in series with the loop, between two nodes of it');
  return ok({ source: id, arrives: (p) => p.voltage(e.a), goesOn: (p) => p.voltage(e.b) });
}

const ratio = (arrives: Complex, goesOn: Complex): Complex => scale(over(arrives, goesOn), -1);

/** Loop gain at a place as a function of frequencies (Hz), exact on the settled cycle. */
export function loopAt(machine: Machine, cycle: SettledCycle, place: InjectionPoint): (frequencies: readonly number[]) => Complex[] {
  const respond = new SmallSignal(machine, cycle).responder(place.source, [place.arrives]);
  // Across the source stands the one volt that is injected: what goes on is what arrives less that.
  return (frequencies) => respond(frequencies)[0]!.map((v) => ratio(v, { re: v.re - 1, im: v.im }));
}

/** Loop gain at a place, exact on the settled cycle, at each frequency (Hz). */
export const loopGain = (machine: Machine, cycle: SettledCycle, place: InjectionPoint, frequencies: readonly number[]): Complex[] => loopAt(machine, cycle, place)(frequencies);

/** Loop gain (a ratio, complex) at a place by injection in time at frequencies in Hz, each point with its quality. */
export function injectedLoopGain(circuit: Circuit, place: InjectionPoint, frequencies: readonly number[], options: InjectOptions): Result<(Injected & { loop: Complex })[]> {
  const found = injectTones(circuit, place.source, [place.arrives, place.goesOn], frequencies, options);
  return found.ok ? ok(found.value.map((x) => ({ ...x, loop: ratio(x.outputs[0]!, x.outputs[1]!) }))) : found;
}
