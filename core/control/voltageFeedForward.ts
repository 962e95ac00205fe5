import type { Timing } from '../converter/fragment';
import { COMMAND } from './command';
import type { ControlStructure, Drive, StageAhead } from './types';

/**
 * Voltage mode with line feed-forward: the ramp is a capacitor that a current charges in step with the line, so that a higher
 * line makes the duty smaller in the very same period, and the gain of the modulator keeps pace with that of the plant. At the
 * end of each period a switch discharges it.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 7 (modulator gain) and ch. 9 (line rejection).
 */
/** F of the ramp's capacitor: what it carries is lost in what the line gives */
const C = 1e-12;
/** Share of the period in which it is discharged, and by so many time constants; the duty ends before */
const [RESET, CONSTANTS] = [0.02, 20];

const rampOf = (t: Timing): string => `ramp ${t.id}`;
const byDuty = (timings: readonly Timing[]): Extract<Timing, { kind: 'duty' }>[] => timings.flatMap((t) => (t.kind === 'duty' ? [t] : []));

function drive({ period, middle, region, duty, current }: StageAhead): Drive {
  return {
    ...(current ? { dutySwitch: current.sensed } : {}),
    // The ramp ends there at the highest line.
    commands: { least: 0, most: Math.max(...region.map((p) => p.line)) / middle },
    figures: [],
    elements: (timings, closed) => byDuty(timings).flatMap((t) => [
      { kind: 'controlled-current', id: `${rampOf(t)} current`, a: '0', b: rampOf(t), plus: 'line', minus: '0', gain: ((closed?.ramp ?? 1) * C) / (period * middle) },
      { kind: 'capacitor', id: rampOf(t), a: rampOf(t), b: '0', capacitance: C, esr: 0 },
      { kind: 'switch', id: `${rampOf(t)} reset`, a: rampOf(t), b: '0', onResistance: (RESET * period) / (CONSTANTS * C), offConductance: 0, gate: `${rampOf(t)} reset` },
    ]),
    further: (timings) => byDuty(timings).map((t) => {
      const on = (t.phase + 1 - RESET) % 1;
      return { kind: 'timed', id: `${rampOf(t)} discharge`, gate: `${rampOf(t)} reset`, period, on, off: on + RESET };
    }),
    modulator(t, closed) {
      if (t.kind !== 'duty') throw new Error('a leg is driven by its duty');
      return { kind: 'current-mode', id: t.id, gate: t.gate, complement: t.complement, deadTime: 0, period, phase: t.phase, edge: 'peak', sense: [rampOf(t), '0'], control: [COMMAND, '0'], slope: 0, maxDuty: 1 - RESET, blanking: 0, delay: closed?.delay ?? 0 };
    },
    range(point) {
      const guess = (duty(point) * point.line) / middle;
      return { min: 1e-3, max: 2, guess };
    },
  };
}

export const voltageFeedForward: ControlStructure = {
  id: 'voltage-feed-forward',
  title: 'Voltage mode, line feed-forward',
  sets: 'the duty, by a ramp that keeps pace with the line',
  by: 'with line feed-forward',
  settings: {},
  refuses: ({ current, mains }) => (current && !mains ? undefined : { code: 'range', where: 'control.method', message: 'this power stage is not driven by one ramp in step with its line here', remedy: 'choose voltage mode, or another topology' }),
  drive,
  averages: false,
};
