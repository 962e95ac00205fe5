import type { Circuit, Element } from '../circuit/elements';
import type { Machine } from '../circuit/machine';
import { buildPattern, type Pattern } from '../circuit/pattern';
import { dot } from '../linear/dense';
import { ends, type CycleIntegrals, type Quantity } from '../orbit/measure';
import type { Result } from '../problem';
import type { SettledCycle } from '../orbit/settle';
import type { Roles } from './roles';

/** What gives way as a switch turns on: a device at a node that moves with it, and has to block more than before. */
export interface GivesWay {
  /** The slot of its part */
  slot: string;
  /** V that it blocks before and after */
  from: number;
  to: number;
  /** A that it, or its body diode, carried forward until then */
  carried: number;
  /** What of it is this switch's to move: half of it where two in series turn on together */
  share: number;
}

type Device = Extract<Element, { kind: 'switch' | 'diode' }>;
interface Seen {
  circuit: Circuit;
  machine: Machine;
  roles: Pick<Roles, 'parts'>;
  cycle: SettledCycle;
  cycleIntegrals: CycleIntegrals;
}

const isDevice = (e: Element): e is Device => e.kind === 'switch' || e.kind === 'diode';

/** V, as a share of what is blocked, by which a device that has nothing to do with a switch may seem to follow it. */
const STILL = 1e-2;

/**
 * Who hands over to a switch that turns on as an interval begins, seen in the settled cycle: no topology says it. It is
 * what blocks more than before, and would not if this switch alone had stayed open: a leg next to it that happens to
 * switch at the same moment does not hand over to it, and neither does a diode behind a leakage, which lets go later and
 * by itself.
 * @param id the switch
 * @param k the interval that it turns on with
 */
export function givesWayTo({ circuit, machine, roles, cycle: { intervals }, cycleIntegrals }: Seen, id: string, k: number): GivesWay[] {
  const previous = (k + intervals.length - 1) % intervals.length;
  const [before, now] = [intervals[previous]!, intervals[k]!];
  // Rows are all that is asked of these: with nothing eliminated, and no steps in time.
  const known = new Map<string, Result<Pattern>>();
  const withOpen = (id: string): Result<Pattern> => {
    const found = known.get(id) ?? buildPattern(circuit, new Map(machine.devices.map((d) => [d.id, d.id === id ? 0 : now.pattern.segment(d.id)])), machine.layout);
    known.set(id, found);
    return found;
  };
  // Where no other switch changes with it, all that moves moves by it.
  const alone = !circuit.elements.some((e) => e.kind === 'switch' && e.id !== id && now.pattern.on.has(e.id) !== before.pattern.on.has(e.id));
  const together = circuit.elements.filter((e) => e.kind === 'switch' && now.pattern.on.has(e.id) && !before.pattern.on.has(e.id)).map((e) => e.id);
  return Object.entries(roles.parts).flatMap(([slot, { elements, body }]) =>
    [...elements, ...(body === undefined ? [] : [body])].flatMap((other): GivesWay[] => {
      const e = circuit.elements.find((x) => x.id === other)!;
      if (!isDevice(e) || now.pattern.on.has(other)) return [];
      const across: Quantity = (p) => p.voltage(e.a, e.b);
      const volts = ends(cycleIntegrals, k, across).start;
      const to = Math.abs(volts);
      const conducted = before.pattern.on.has(other);
      const from = conducted ? 0 : Math.abs(ends(cycleIntegrals, previous, across).end);
      if (!(to > from)) return [];
      const follows = (one: string): boolean => {
        const without = withOpen(one);
        return without.ok && Math.abs(dot(without.value.voltage(e.a, e.b), now.z0, without.value.size) - volts) > STILL * to;
      };
      if (!alone && !follows(id)) return [];
      const carried = conducted ? Math.max(0, -Math.sign(volts) * ends(cycleIntegrals, previous, (p) => p.current(other)).end) : 0;
      // A body diode that is an element by itself stands beside its switch, whose capacitance is counted there.
      return [{ slot, from: other === body ? to : from, to, carried, share: 1 / together.filter((one) => one === id || follows(one)).length }];
    }),
  );
}
