import type { CapacitorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Sizing, SizingInput } from '../topology';
import { capacitorValue, requiredRating } from '../topology/common';
import { slotsOf } from './branch';
import { besidePart } from './drawn';
import { endsOf, SOURCE, STRAY } from './loop';
import { resistorOf, resistorValue } from './resistor';
import type { BranchKind } from './types';

/** Level of the clamp over what the part blocks anyway */
const ABOVE = 1.2;
/** Share of the period in which a clamp is filled again, through the switch that hands over to it */
const REFILLS = 0.1;
/** Periods in which a clamp's resistor would empty its capacitor */
const HOLDS = 20;

/**
 * A diode into a capacitor with a resistor beside it, across a switch or diode: takes what the inductance of the loop
 * holds above a level.
 * Source: Mohan, Undeland, Robbins, "Power Electronics", ch. 27 (snubber circuits).
 */
export const clamp: BranchKind = {
  id: 'clamp',
  title: 'clamp R-C-D',
  purpose: 'takes what the loop’s inductance holds above a level',
  across: true,
  fills: ['D', 'C'],
  on(stage, id, branch) {
    const { C, D } = slotsOf(id);
    const at = branch.at!;
    const key = resistorOf(C);
    const node = `${id} level`;
    /** A that the part carries at most when it opens */
    const peak = (input: SizingInput, own: Sizing): number => Math.max(...[input.brief.line.min, input.brief.line.max].map((line) => stage.forecast(input, own, { line, load: input.brief.load.max }).parts[at]!.peak));
    return {
      slots: [
        { id: C, kind: 'capacitor', title: 'clamp capacitor', purpose: `holds the level that ${at} is clamped to` },
        { id: D, kind: 'diode', title: 'clamp diode', purpose: `leads into the clamp what ${at} would block above its level` },
      ],
      size(input, own) {
        const blocked = own.blocking[at]!.most;
        const [stray, amps, level] = [branch.stray ?? STRAY, peak(input, own), ABOVE * blocked];
        const watts = (0.5 * stray * amps ** 2 * input.brief.frequency * level) / (level - blocked);
        const resistor = resistorValue(input, id, branch, C, {
          title: 'resistance of the clamp', formula: 'R = V² / P,  P = ½ L I² f V / (V − Vblocked)', numbers: `V = ${ABOVE} × ${print(blocked, 'V')}, L = ${print(stray, 'H')} of the loop, I = ${print(amps, 'A')}`,
          value: level ** 2 / watts, unit: 'Ω', source: SOURCE, leavesOut: 'the loop’s inductance is not in the circuit: there the clamp stands at what the part blocks anyway',
        });
        const capacitor = capacitorValue(input.parts[C] as CapacitorPart, [{ title: 'capacitance of the clamp', formula: `C ≥ ${HOLDS} / (f R)`, numbers: `${HOLDS} / (${print(input.brief.frequency, 'Hz')} × ${print(resistor.taken, 'Ω')})`, value: HOLDS / (input.brief.frequency * resistor.taken), unit: 'F', source: SOURCE, leavesOut: 'series resistance' }]);
        const stand = requiredRating(level, input.allowed.stress);
        return { values: { [C]: capacitor, [key]: resistor }, blocking: { [C]: stand, [D]: stand } };
      },
      forecast(input, { values }) {
        // What a clamp carries is what its resistor burns.
        const rms = stage.size(input).blocking[at]!.most / values[key]!.taken;
        const carried = { mean: 0, rms, peak: 10 * rms, peakToPeak: 2 * rms, estimate: true } as const;
        return { parts: { [C]: carried, [D]: { ...carried, mean: rms } } };
      },
      put(f, { values }) {
        const [high, low] = endsOf(f.elements, f.standsFor(at));
        f.diode(D, high, node);
        f.capacitor(C, node, low, { across: { id: key, ohms: values[key]!.taken } });
      },
      start: (_, { blocking }) => ({ [C]: blocking[at]!.most }),
      blanking: REFILLS,
      signals: [{ id: `${C}Current`, title: `${C} current`, unit: 'A', of: { current: C } }],
      drawing: besidePart(stage.drawing, at, C, D),
    };
  },
};
