import type { CapacitorPart, InductorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import { INPUT } from '../surroundings/line';
import { crestOf } from '../surroundings/mains';
import type { OperatingPoint, SizingInput } from '../topology';
import { capacitorValue, ERICKSON, inductorValue, requiredRating } from '../topology/common';
import { slotsOf } from './branch';
import { bestPeak, dampingOf, USUAL_RATIO } from './damped';
import { behindLine } from './drawn';
import { resistorOf, resistorValue } from './resistor';
import type { BranchKind } from './types';

/** dB taken off the ripple where nothing is said; times that the converter's input resistance is above the filter's peak; the peak of an undamped one that its level is chosen for, over √(L/C) */
const [USUAL, ROOM, UNDAMPED] = [40, 2, 2];

/** Of the converter’s own capacitor, what stands in the filter at least: next to the line, for what is fast */
const PART = 10;

/** V at which the line draws most, and W drawn then: of the mains at its crest, where power is twice its mean. */
function fullest({ brief: { line, output, load } }: SizingInput): { volts: number; watts: number } {
  const watts = output.voltage * load.max;
  return line.mains === undefined ? { volts: line.min, watts } : { volts: crestOf(line.min), watts: 2 * watts };
}

/** A drawn from the line at a point, losses left out; of the mains at an angle. */
const drawnAt = ({ brief }: SizingInput, { line, load, angle, drawn }: Partial<OperatingPoint> & Pick<OperatingPoint, 'line' | 'load'>): number => (brief.line.mains === undefined ? (brief.output.voltage * load) / line : (drawn ?? (2 * brief.output.voltage * load) / crestOf(line)) * Math.sin(angle ?? Math.PI / 2));

/**
 * An inductor and a capacitor between the line and the power stage, damped or not. Its level √(L/C) is chosen so that its peak stays below
 * the converter's input resistance V²/P, which is negative; its corner so that it takes as much off the ripple as is asked.
 * Sources: Middlebrook, "Input filter considerations in design and application of switching regulators", IEEE IAS Annual Meeting (1976);
 * Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 10.
 */
export const lineFilter: BranchKind = {
  id: 'line-filter',
  title: 'line filter L-C',
  purpose: 'keeps the ripple of the switching off the line',
  line: true,
  fills: ['L', 'C'],
  damps: true,
  on(stage, id, branch) {
    const { C, L, E } = slotsOf(id);
    const key = resistorOf(branch.damped === 'series' ? C : E);
    const parallel = branch.damped === 'parallel';
    const [inner, outer] = [stage.fedAt ?? INPUT, `${id} in`];
    /** The converter's own capacitor beside the line adds to the first filter's */
    const beside = stage.fedAt === undefined && stage.slots.some((p) => p.id === 'C1' && p.kind === 'capacitor') ? 'C1' : undefined;
    const attenuation = branch.attenuation ?? USUAL;
    return {
      fedAt: outer,
      slots: [
        { id: L, kind: 'inductor', title: 'filter inductor', purpose: lineFilter.purpose },
        { id: C, kind: 'capacitor', title: 'filter capacitor', purpose: lineFilter.purpose },
        ...(parallel ? [{ id: E, kind: 'capacitor', title: 'damping capacitor', purpose: 'takes the ringing out of the filter' } as const] : []),
      ],
      size(input, { values }) {
        const own = beside ? values[beside]!.taken : 0;
        const { volts, watts } = fullest(input);
        const omega = 2 * Math.PI * input.brief.frequency;
        const text = { f: print(input.brief.frequency, 'Hz'), dB: print(attenuation, 'dB') };
        // x = ω √(LC): what comes through is 1 / (x² − 1).
        const square = 10 ** (attenuation / 20) + 1;
        const peak = parallel ? bestPeak(branch.ratio ?? USUAL_RATIO) : UNDAMPED;
        const level = volts ** 2 / watts / ROOM / peak;
        const capacitor = capacitorValue(input.parts[C] as CapacitorPart, [{
          title: 'capacitance of the filter', formula: `C${beside ? ` + ${beside}` : ''} ≥ √(A + 1) / (ω R0),  R0 = V² / (${ROOM} · ${peak.toFixed(2)} P)${beside ? `;  at least ${beside} / ${PART}` : ''}`, numbers: `A = ${text.dB} at ${text.f}, ${print(volts, 'V')}, ${print(watts, 'W')}: R0 = ${print(level, 'Ω')}${beside ? `;  ${beside} has ${print(own, 'F')}` : ''}`,
          value: Math.max(own / PART, Math.sqrt(square) / (omega * level) - own), unit: 'F', source: `${ERICKSON}, ch. 10 (input filter design)`, leavesOut: 'losses; resistance of the capacitors, which lets more through',
        }]);
        const all = capacitor.taken + own;
        const inductance = inductorValue(input.parts[L] as InductorPart, {
          title: 'inductance of the filter', formula: 'L = (A + 1) / (ω² (C + C1))'.replace(beside ? '' : ' + C1', ''), numbers: `A = ${text.dB} at ${text.f}, ${print(all, 'F')}`, value: square / (omega ** 2 * all), unit: 'H', source: `${ERICKSON}, ch. 10`, leavesOut: 'resistance of the capacitors; capacitance of the winding, above its own resonance',
        }, input.series);
        const { capacitor: damper, working } = dampingOf(input, branch, E, { L: inductance.taken, C: all, title: beside ? `(${C} + ${beside})` : C });
        const most = input.brief.line.mains === undefined ? input.brief.line.max : crestOf(input.brief.line.max);
        const stand = requiredRating(most, input.allowed.stress);
        return {
          values: { [L]: inductance, [C]: capacitor, ...(damper ? { [E]: damper } : {}), ...(working ? { [key]: resistorValue(input, id, branch, parallel ? E : C, working) } : {}) },
          blocking: { [C]: stand, ...(parallel ? { [E]: stand } : {}) },
        };
      },
      forecast(input, { values }, own, point) {
        const dc = drawnAt(input, point);
        const before = own.parts[beside ?? 'C1'];
        const pulses = before?.rms ?? 0.3 * dc;
        const all = values[C]!.taken + (beside ? values[beside]!.taken : 0);
        const share = values[C]!.taken / all;
        const through = pulses / 10 ** (attenuation / 20);
        const swing = (rms: number): { mean: number; rms: number; peak: number; peakToPeak: number; estimate: true } => ({ mean: 0, rms, peak: 2 * rms, peakToPeak: 4 * rms, estimate: true });
        const mains = input.brief.line.mains === undefined ? 1 : Math.SQRT1_2;
        return {
          parts: {
            [L]: { mean: dc * (mains === 1 ? 1 : 2 / Math.PI), rms: Math.hypot(dc * mains, through), peak: dc + 2 * through, peakToPeak: 4 * through, estimate: true },
            [C]: swing(pulses * share),
            ...(parallel ? { [E]: swing(0.3 * pulses * share) } : {}),
            ...(beside && before ? { [beside]: { ...before, rms: before.rms * (1 - share), estimate: true as const } } : {}),
          },
        };
      },
      put(f, { values }) {
        f.inductor(L, outer, inner);
        f.capacitor(C, inner, '0', branch.damped === 'series' ? { series: values[key]!.taken } : {});
        if (parallel) f.capacitor(E, inner, '0', { series: values[key]!.taken });
      },
      start(input, _, point) {
        const volts = input.brief.line.mains === undefined ? point.line : crestOf(point.line) * Math.sin(point.angle ?? Math.PI / 2);
        return { [L]: drawnAt(input, point), [C]: volts, ...(parallel ? { [E]: volts } : {}), ...(beside ? { [beside]: volts } : {}) };
      },
      signals: [{ id: `${L}Current`, title: `${L} current`, unit: 'A', of: { current: L } }],
      drawing: behindLine(stage.drawing, L, parallel ? [C, E] : [C]),
    };
  },
};
