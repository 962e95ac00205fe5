import { printQuantity as print } from '../quantity';
import { COMMAND } from './command';
import { HEADROOM } from './limits';
import type { Control, ControlStructure, Drive, StageAhead } from './types';

/**
 * Valley-current control: the switch opens at the clock, and closes where the current of L1 has fallen to a command that a ramp
 * raises; the voltage loop moves the command. It is what peak-current control is with the two parts of the period exchanged:
 * without a ramp a disturbance grows where the duty is below one half, and half the slope at which the current rises makes it
 * die out at any duty.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 12, with on and off exchanged.
 */
/** Share of the rising slope that is added */
const RAMP = 0.5;
/** Largest share of the period that the switch is open */
const MOST = 0.97;
/** Node and element that sense */
const [NODE, SENSE] = ['valley', 'sensed current'];

function drive(stage: StageAhead, control: Control): Drive {
  const { period, region, current } = stage;
  const { at } = stage.coil!;
  const suggested = RAMP * Math.max(...region.map((p) => at(p).rise));
  const ramp = (control.slope as number | null) ?? suggested;
  const commandAt = (p: { line: number; load: number }): number => at(p).least - ramp * (1 - stage.duty(p)) * period;
  const full = Math.max(...region.map((p) => Math.abs(at(p).least)), ...region.map((p) => Math.abs(commandAt(p))));
  return {
    dutySwitch: current!.sensed,
    // At light load the current runs backwards at its least, and the ramp takes its share.
    commands: { least: -HEADROOM, most: HEADROOM },
    figures: [
      { key: 'slope', title: 'ramp on the current', unit: 'A/s', value: ramp, suggested, note: `the full command stands for ${print(full, 'A')} at the valley` },
      { title: 'full command', unit: 'A', value: full },
    ],
    elements: (_, closed) => [{ kind: 'current-sense', id: SENSE, a: NODE, b: '0', of: 'L1', gain: (closed?.ramp ?? 1) / full }],
    modulator(t, closed) {
      if (t.kind !== 'duty') throw new Error('one command drives one switch and its partner');
      return { kind: 'current-mode', id: t.id, gate: t.gate, complement: t.complement, deadTime: 0, period, phase: t.phase, edge: 'valley', sense: [NODE, '0'], control: [COMMAND, '0'], slope: ((closed?.ramp ?? 1) * ramp) / full, maxDuty: MOST, blanking: 0, delay: closed?.delay ?? 0 };
    },
    range: (point) => ({ min: -2, max: 2, guess: commandAt(point) / full }),
  };
}

export const valleyCurrent: ControlStructure = {
  id: 'valley-current',
  title: 'Valley current',
  sets: 'the least current of L1',
  by: 'by its valley current',
  settings: { slope: { unit: 'A/s', title: 'compensation ramp', value: 'placed' } },
  refuses: ({ current, coil }) => (current && coil ? undefined : { code: 'range', where: 'control.method', message: 'this power stage is not driven by the valley of its current here', remedy: 'choose voltage mode, or another topology' }),
  drive,
  averages: false,
  lost: (multiplier, [ramp]) => `A disturbance of the current grows to ${multiplier.toFixed(2)} of itself in each period, at half the switching frequency. Raise the ramp: ${print(ramp!.suggested!, 'A/s')} holds it at any duty.`,
};
