import type { CapacitorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import { capacitorValue, requiredRating, ringingOf } from '../topology/common';
import { slotsOf, type Bead } from './branch';
import { onOutput } from './drawn';
import type { BranchKind } from './types';

/** One of a middling size, where nothing is said: 10 mΩ, 100 Ω at 100 MHz */
export const USUAL_BEAD: Bead = { resistance: 0.01, impedance: [[1e6, 6], [10e6, 45], [100e6, 100]] };
/** Of the output capacitor, what stands behind a bead at least */
const PART = 10;

/**
 * A bead by the table of its impedance: an inductance at the lowest of its frequencies, |Z| / 2πf, beside the largest impedance as a
 * resistance, behind its resistance at dc. Source: the equivalent circuit of a lossy winding, L beside R (Ott, "Electromagnetic Compatibility Engineering", ch. 5).
 */
export function beadOf({ resistance, impedance }: Bead): { resistance: number; inductance: number; loss: number } {
  const sorted = impedance.toSorted(([a], [b]) => a - b);
  const [f, z] = sorted[0]!;
  const loss = Math.max(...sorted.map(([, ohms]) => ohms));
  // Below its bend |Z| is that of the inductance beside the resistance.
  const reactance = z < 0.99 * loss ? z / Math.sqrt(1 - (z / loss) ** 2) : z;
  return { resistance, inductance: reactance / (2 * Math.PI * f), loss };
}

/** A ferrite bead with a capacitor behind it: keeps what is fast off the output, and burns it. Fed back behind it, it rings in the loop; before it, the output sags by its resistance. */
export const bead: BranchKind = {
  id: 'bead',
  title: 'ferrite bead',
  purpose: 'keeps what is fast off the output, and burns it',
  fills: ['C'],
  on(stage, id, branch) {
    const { C } = slotsOf(id);
    const first = ringingOf(stage).C;
    const { resistance, inductance, loss } = beadOf(branch.bead ?? USUAL_BEAD);
    const [between, out] = [`${id} bead`, `${id} out`];
    return {
      slots: [{ id: C, kind: 'capacitor', title: 'capacitor behind the bead', purpose: bead.purpose }],
      size(input, { values }) {
        const before = values[first]!.taken;
        const capacitor = capacitorValue(input.parts[C] as CapacitorPart, [{ title: 'capacitance behind the bead', formula: `C ≥ ${first} / ${PART}`, numbers: `${print(before, 'F')} / ${PART}; the bead has ${print(inductance, 'H')} beside ${print(loss, 'Ω')}`, value: before / PART, unit: 'F', source: 'a tenth: the output capacitor stays the one that holds the step', leavesOut: 'that a bead saturates: its impedance at full current is less than its table says' }]);
        return { values: { [C]: capacitor }, blocking: { [C]: requiredRating(input.brief.output.voltage, input.allowed.stress) } };
      },
      forecast(input, _, own, point) {
        const rms = own.outputRipple / Math.max(loss, 2 * Math.PI * input.brief.frequency * inductance) / 4;
        return { rippleEstimate: true, parts: { [C]: { mean: 0, rms: Math.max(rms, 1e-6 * point.load), peak: 2 * rms, peakToPeak: 4 * rms, estimate: true } } };
      },
      put(f) {
        const [plus, minus] = f.outputs[0]!.nodes;
        f.resistor(`${id} bead dc`, plus, between, resistance);
        f.put({ kind: 'inductor', id: `${id} bead`, a: between, b: out, inductance });
        f.resistor(`${id} bead loss`, between, out, loss);
        f.capacitor(C, out, minus);
        f.burnsFor(C, `${id} bead dc`, `${id} bead loss`);
        f.outputs[0]!.nodes = [out, minus];
        if (branch.feedback === 'before') f.outputs[0]!.sensed ??= [plus, minus];
      },
      start: (input, _, { load }) => ({ [first]: input.brief.output.voltage + (branch.feedback === 'before' ? 0 : load * resistance), [C]: input.brief.output.voltage - (branch.feedback === 'before' ? load * resistance : 0), [`${id} bead`]: load }),
      signals: [{ id: `${C}Current`, title: `${C} current`, unit: 'A', of: { current: C } }],
      drawing: onOutput(stage, C, { bead: `${id} bead` }),
    };
  },
};
