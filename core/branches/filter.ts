import { windingResistance, type CapacitorPart, type InductorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import { capacitorValue, ERICKSON, inductorValue, requiredRating, ringingOf } from '../topology/common';
import { slotsOf } from './branch';
import { dampingOf } from './damped';
import { onOutput } from './drawn';
import { resistorOf, resistorValue } from './resistor';
import type { BranchKind } from './types';

/** Ripple that the second stage lets through, as a share */
const LETS_THROUGH = 0.1;

/**
 * A second inductor and capacitor behind the output, which then is behind them; fed back behind them or before, damped or not.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 10.
 */
export const filter: BranchKind = {
  id: 'filter',
  title: 'second L-C stage',
  purpose: 'takes most of the ripple that is left',
  fills: ['L', 'C'],
  damps: true,
  on(stage, id, branch) {
    const { C, L, E } = slotsOf(id);
    const parallel = branch.damped === 'parallel';
    const key = resistorOf(branch.damped === 'series' ? C : E);
    const first = ringingOf(stage).C;
    const node = `${id} out`;
    return {
      slots: [
        { id: L, kind: 'inductor', title: 'second-stage inductor', purpose: filter.purpose },
        { id: C, kind: 'capacitor', title: 'second-stage capacitor', purpose: filter.purpose },
        ...(parallel ? [{ id: E, kind: 'capacitor', title: 'damping capacitor', purpose: 'takes the ringing out of the second stage' } as const] : []),
      ],
      ringing: { L, C },
      size(input, { values }) {
        const before = values[first]!.taken;
        const omega = 2 * Math.PI * input.brief.frequency;
        const capacitance = capacitorValue(input.parts[C] as CapacitorPart, [{
          title: 'capacitance of the second stage', formula: `C ≥ ${first} / 4: large against its inductor, small against the load step`, numbers: `${print(before, 'F')} / 4`, value: before / 4, unit: 'F', source: `${ERICKSON}, ch. 10`, leavesOut: 'the load step, of which it takes the first',
        }]);
        const inductance = inductorValue(input.parts[L] as InductorPart, {
          title: 'inductance of the second stage', formula: `ω² L C = 1 + 1 / ${LETS_THROUGH}: lets a tenth of the ripple through`, numbers: `ω = 2π × ${print(input.brief.frequency, 'Hz')}, C = ${print(capacitance.taken, 'F')}`,
          value: (1 + 1 / LETS_THROUGH) / (omega ** 2 * capacitance.taken), unit: 'H', source: `${ERICKSON}, ch. 10`, leavesOut: 'resistance of the capacitor, which lets more through; harmonics, of which less comes through',
        }, input.series);
        const { capacitor, working } = dampingOf(input, branch, E, { L: inductance.taken, C: capacitance.taken, title: C });
        const stand = requiredRating(input.brief.output.voltage, input.allowed.stress);
        return {
          values: { [L]: inductance, [C]: capacitance, ...(capacitor ? { [E]: capacitor } : {}), ...(working ? { [key]: resistorValue(input, id, branch, parallel ? E : C, working) } : {}) },
          blocking: { [C]: stand, ...(parallel ? { [E]: stand } : {}) },
        };
      },
      forecast(input, { values }, own, { load }) {
        const ripple = own.outputRipple / (2 * Math.PI * input.brief.frequency * values[L]!.taken) / 2;
        const rms = ripple / Math.sqrt(3);
        return {
          outputRipple: own.outputRipple * LETS_THROUGH,
          rippleEstimate: true,
          parts: { [L]: { mean: load, rms: Math.hypot(load, rms), peak: load + ripple, peakToPeak: 2 * ripple, estimate: true }, [C]: { mean: 0, rms, peak: ripple, peakToPeak: 2 * ripple, estimate: true }, ...(parallel ? { [E]: { mean: 0, rms: rms / 2, peak: ripple, peakToPeak: 2 * ripple, estimate: true } as const } : {}) },
        };
      },
      put(f, { values }) {
        const [plus, minus] = f.outputs[0]!.nodes;
        f.inductor(L, plus, node);
        f.capacitor(C, node, minus, branch.damped === 'series' ? { series: values[key]!.taken } : {});
        if (parallel) f.capacitor(E, node, minus, { series: values[key]!.taken });
        f.outputs[0]!.nodes = [node, minus];
        if (branch.feedback === 'before') f.outputs[0]!.sensed ??= [plus, minus];
      },
      start(input, _, { load }) {
        const { voltage } = input.brief.output;
        const drop = load * windingResistance(input.parts[L] as InductorPart, 25);
        const behind = branch.feedback === 'before' ? voltage - drop : voltage;
        return { [first]: behind + drop, [C]: behind, [L]: load, ...(parallel ? { [E]: behind } : {}) };
      },
      signals: [{ id: `${L}Current`, title: `${L} current`, unit: 'A', of: { current: L }, lane: 'whole' }],
      // What stands behind the second stage turns further by half a circle at its corner.
      crossoverLimit: ({ values }) => (values[L] && branch.feedback !== 'before' ? 1 / (2 * Math.PI * Math.sqrt(values[L].taken * values[C]!.taken)) / 3 : Infinity),
      drawing: parallel ? onOutput({ ...stage, drawing: onOutput(stage, C, L), ringing: { L, C } }, E, undefined) : onOutput(stage, C, L),
    };
  },
};
