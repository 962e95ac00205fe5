import type { CapacitorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import { capacitorValue, requiredRating } from '../topology/common';
import { slotsOf } from './branch';
import { besidePart } from './drawn';
import { endsOf, ownCapacitance, SOURCE, STRAY } from './loop';
import { resistorOf, resistorValue } from './resistor';
import type { BranchKind } from './types';

/** Snubber capacitance over that of the part */
const TIMES = 3;
/** Share of the period within which a snubber is charged at any load worth speaking of */
const HAND_OVER = 0.03;

/**
 * A capacitor with a resistor in series across a switch or diode, that damps the ringing of its edges with the inductance
 * of the loop, and pays for it with C V² f.
 * Source: Mohan, Undeland, Robbins, "Power Electronics", ch. 27 (snubber circuits).
 */
export const snubber: BranchKind = {
  id: 'snubber',
  title: 'snubber R-C',
  purpose: 'damps the ringing of a switch or diode',
  across: true,
  fills: ['C'],
  on(stage, id, branch) {
    const { C } = slotsOf(id);
    const at = branch.at!;
    const key = resistorOf(C);
    return {
      slots: [{ id: C, kind: 'capacitor', title: 'snubber capacitor', purpose: `damps the ringing at ${at}` }],
      size(input, { blocking }) {
        const own = branch.parasitic ?? ownCapacitance(input.parts[at]!);
        const stray = branch.stray ?? STRAY;
        const capacitor = capacitorValue(input.parts[C] as CapacitorPart, [{ title: 'capacitance of the snubber', formula: `C ≥ ${TIMES} C(${at})`, numbers: `${TIMES} × ${print(own, 'F')}`, value: TIMES * own, unit: 'F', source: SOURCE, leavesOut: 'what the capacitance of the other side adds; more damps better and burns more' }]);
        const resistor = resistorValue(input, id, branch, C, { title: 'resistance of the snubber', formula: `R = √(L / C(${at}))`, numbers: `L = ${print(stray, 'H')} of the loop, ${print(own, 'F')}`, value: Math.sqrt(stray / own), unit: 'Ω', source: SOURCE, leavesOut: 'damping by skin effect and by the part itself' });
        return { values: { [C]: capacitor, [key]: resistor }, blocking: { [C]: requiredRating(blocking[at]!.most, input.allowed.stress) } };
      },
      forecast(input, { values }) {
        const volts = stage.size(input).blocking[at]!.most;
        const ohms = values[key]!.taken;
        // A capacitor charged and discharged once a period through R.
        const rms = volts * Math.sqrt((values[C]!.taken * input.brief.frequency) / ohms);
        return { parts: { [C]: { mean: 0, rms, peak: volts / ohms, peakToPeak: 2 * rms, estimate: true } } };
      },
      put(f, { values }) {
        const [high, low] = endsOf(f.elements, f.standsFor(at));
        f.capacitor(C, high, low, { series: values[key]!.taken });
        f.restsLonger(HAND_OVER);
      },
      blanking: HAND_OVER,
      signals: [{ id: `${C}Current`, title: `${C} current`, unit: 'A', of: { current: C } }],
      drawing: besidePart(stage.drawing, at, C, undefined),
    };
  },
};
