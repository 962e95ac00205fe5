import type { CapacitorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Sizing, SizingInput } from '../topology';
import { BEST_DAMPING, capacitorValue, DAMPING, ERICKSON, requiredRating, ringingOf } from '../topology/common';
import type { Working } from '../working';
import { slotsOf } from './branch';
import { onOutput } from './drawn';
import { resistorOf, resistorValue } from './resistor';
import type { BranchKind } from './types';

/**
 * A capacitor with a resistor across the output, that takes the ringing out of the inductor and the output capacitor.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 10 (filter damping).
 */
export const damping: BranchKind = {
  id: 'damping',
  title: 'damping R-C',
  purpose: 'takes the ringing of inductor and output capacitor',
  fills: ['C'],
  on(stage, id, branch) {
    const { C } = slotsOf(id);
    const of = ringingOf(stage);
    const key = resistorOf(C);
    return {
      slots: [{ id: C, kind: 'capacitor', title: 'damping capacitor', purpose: damping.purpose }],
      size(input, { values }) {
        const resistor = resistorValue(input, id, branch, C, bestResistance(of, input, values));
        const own = values[of.C]!.taken;
        const capacitor = capacitorValue(input.parts[C] as CapacitorPart, [{
          title: 'capacitance that damps', formula: `C ≥ ${DAMPING} ${of.C},  with a resistor in series`, numbers: `${DAMPING} × ${print(own, 'F')},  ${print(resistor.taken, 'Ω')}`,
          value: DAMPING * own, unit: 'F', source: `${ERICKSON}, ch. 10`, leavesOut: 'what the loop does to the ringing below its crossover',
        }]);
        return { values: { [C]: capacitor, [key]: resistor }, blocking: { [C]: requiredRating(input.brief.output.voltage, input.allowed.stress) } };
      },
      forecast(_, { values }, own) {
        // Nearly all of the ripple stands across the resistor.
        const rms = own.outputRipple / Math.sqrt(12) / values[key]!.taken;
        return { parts: { [C]: { mean: 0, rms, peak: 2 * rms, peakToPeak: 4 * rms, estimate: true } } };
      },
      put(f, { values }) {
        const [plus, minus] = f.outputs[0]!.nodes;
        f.capacitor(C, plus, minus, { series: values[key]!.taken });
      },
      start: (input) => ({ [C]: input.brief.output.voltage }),
      signals: [{ id: `${C}Current`, title: `${C} current`, unit: 'A', of: { current: C } }],
      drawing: onOutput(stage, C, undefined),
    };
  },
};

/** Ω of the resistor that the working proposes. */
function bestResistance(of: { L: string; C: string }, input: SizingInput, values: Sizing['values']): Working {
  const C = values[of.C]!.taken;
  const L = values[of.L]?.taken;
  const level = L === undefined ? 1 / (2 * Math.PI * input.crossover * C) : Math.sqrt(L / C);
  return {
    title: 'damping resistance', formula: L === undefined ? `R = ${BEST_DAMPING.toFixed(2)} / (2π fc ${of.C})` : `R = ${BEST_DAMPING.toFixed(2)} √(${of.L} / ${of.C})`, numbers: L === undefined ? `${print(input.crossover, 'Hz')}, ${print(C, 'F')}` : `${print(L, 'H')}, ${print(C, 'F')}`,
    value: BEST_DAMPING * level, unit: 'Ω', source: `${ERICKSON}, ch. 10`, leavesOut: `resistance of ${of.C}, which damps as well`,
  };
}
