import type { Design } from '../design/schema';
import { partLosses, type Commutation, type SwitchState } from '../loss';
import { gateOf, isHard } from '../loss/overlap';
import type { SwitchPart } from '../parts/schema';
import { tableEnergy } from '../parts/switchEnergy';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import { warmedAt } from './evaluate';

/** The edges of a switch in a design: what each costs by its charges and by a table of measured energies, and what they would at other currents. */

export interface EdgeFigures extends Pick<Commutation, 'edge' | 'blocked' | 'carried'> {
  /** It takes the current over against the voltage; else it costs next to nothing */
  hard: boolean;
  /** Ω */
  gate: number;
  /** J by charges, and by the table where there is one */
  byCharge: number;
  byTable?: number;
  /** W of this edge, as it counts */
  watts: number;
}

export interface EdgeStudy {
  edges: EdgeFigures[];
  /** °C */
  junction: number;
  frequency: number;
  /** J of turning on and off over the current (A, of all in parallel), each at the voltage of the hardest edge of its kind */
  curves: { amps: number; charge: { on: number; off: number }; table?: { on: number; off: number } }[];
  /** V of the curves */
  volts: { on: number; off: number };
}

const POINTS = 40;
/** Times the largest current of an edge that the curves go to */
const BEYOND = 1.6;

/**
 * @param part in the place of the design's own, for a table that is only looked at
 * @returns problems of the point; "part" where it is no switch
 */
export function edgeStudy(d: Design, slot: string, point: OperatingPoint, part: SwitchPart | undefined = d.parts[slot]?.kind === 'switch' ? d.parts[slot] : undefined): Result<EdgeStudy> {
  if (d.parts[slot]?.kind !== 'switch' || !part) return fail('part', slot, 'it is no switch', 'choose one on the power path');
  const found = warmedAt(d, point);
  if (!found.ok) return found;
  const state = { ...(found.value.warm.states[slot] as SwitchState), part };
  const { switchingEnergy: _, ...charged } = part;
  const plain: SwitchState = { ...state, part: charged };
  // What a test bench measures at an edge: overlap, capacitances at the node, and what the partner's diode gives back.
  const byCharge = (c: Commutation): number => {
    const { overlap = 0, recovery = 0, 'output-capacitance': capacitance = 0 } = partLosses('switch', { ...plain, commutations: [c] });
    return (overlap + recovery + capacitance) / state.frequency;
  };
  const byTable = (c: Commutation): number | undefined => (isHard(c) ? tableEnergy(part, c.edge, { volts: c.blocked, amps: c.carried, junction: state.junction, gate: gateOf(state.drive, c.edge) }) : part.switchingEnergy && 0);
  const edges = state.commutations.map((c): EdgeFigures => {
    const measured = byTable(c);
    return { edge: c.edge, blocked: c.blocked, carried: c.carried, hard: isHard(c), gate: gateOf(state.drive, c.edge), byCharge: byCharge(c), ...(measured === undefined ? {} : { byTable: measured }), watts: (measured ?? byCharge(c)) * state.frequency };
  });
  // An edge of each kind to draw by: the hardest, or what it would be with the current turned over.
  const hardest = (edge: 'on' | 'off'): Commutation => state.commutations.filter((c) => c.edge === edge).reduce((a, b) => (b.blocked * b.carried > a.blocked * a.carried ? b : a), state.commutations.find((c) => c.edge === edge) ?? { edge, blocked: 0, carried: 0 });
  const [on, off] = [hardest('on'), hardest('off')];
  const most = BEYOND * Math.max(...state.commutations.map((c) => Math.abs(c.carried)), 1e-3);
  const carrying = (c: Commutation, amps: number): Commutation => ({ ...c, carried: amps, ...(c.givesWay ? { givesWay: c.givesWay.map((g) => ({ ...g, carried: (g.carried * amps) / (c.carried || 1) })) } : {}) });
  return ok({
    edges,
    junction: state.junction,
    frequency: state.frequency,
    volts: { on: on.blocked, off: off.blocked },
    curves: Array.from({ length: POINTS }, (_, k) => (most * (k + 1)) / POINTS).map((amps) => ({
      amps,
      charge: { on: byCharge(carrying(on, amps)), off: byCharge(carrying(off, amps)) },
      ...(part.switchingEnergy ? { table: { on: byTable(carrying(on, amps))!, off: byTable(carrying(off, amps))! } } : {}),
    })),
  });
}
