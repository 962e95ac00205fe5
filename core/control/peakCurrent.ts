import { printQuantity as print } from '../quantity';
import { COMMAND } from './command';
import { HEADROOM } from './limits';
import type { Control, ControlStructure, Drive, StageAhead } from './types';

/**
 * Peak-current control: the switch opens where its current, with a ramp added, reaches a command; the voltage loop
 * moves the command in the place of the duty. The command is a share of the largest that the region wants.
 *
 * Without a ramp a disturbance of the current grows from period to period where the duty is above one half; half the
 * slope at which the current falls makes it die out at any duty.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 12.
 */
/** Share of the falling slope that is added */
const RAMP = 0.5;
/** Largest duty of the modulator */
const MOST = 0.97;
/** Node and element that sense */
const [NODE, SENSE] = ['peak', 'sensed current'];

/** A/s added to what is sensed and what would be added without an override; A that the command of one stands for. */
function rampOf({ current, region, period }: StageAhead, override: number | null): { ramp: number; suggested: number; full: number } {
  const { fall, at } = current!;
  const suggested = RAMP * Math.max(...region.map((p) => fall(p.line)));
  const ramp = override ?? suggested;
  const full = Math.max(...region.map((p) => {
    const { peak, duty } = at(p);
    return peak + ramp * duty * period;
  }));
  return { ramp, suggested, full };
}

function drive(stage: StageAhead, control: Control): Drive {
  const { sensed, at } = stage.current!;
  const { period } = stage;
  const { ramp, suggested, full } = rampOf(stage, control.slope as number | null);
  return {
    dutySwitch: sensed,
    commands: { least: 0, most: HEADROOM },
    figures: [
      { key: 'slope', title: 'ramp on the current', unit: 'A/s', value: ramp, suggested, note: `the full command stands for ${print(full, 'A')} at the peak` },
      { title: 'full command', unit: 'A', value: full },
    ],
    elements: (_, closed) => [{ kind: 'current-sense', id: SENSE, a: NODE, b: '0', of: sensed, gain: (closed?.ramp ?? 1) / full }],
    modulator(t, closed) {
      if (t.kind !== 'duty') throw new Error('one command drives one switch and its partner');
      // A snubber is discharged through the switch first, from when its gate comes: that is not looked at.
      return { kind: 'current-mode', id: t.id, gate: t.gate, complement: t.complement, deadTime: 0, period, phase: t.phase, edge: 'peak', sense: [NODE, '0'], control: [COMMAND, '0'], slope: ((closed?.ramp ?? 1) * ramp) / full, maxDuty: MOST, blanking: stage.blanking * period + (stage.blanking > 0 ? (closed?.delay ?? 0) : 0), delay: closed?.delay ?? 0 };
    },
    range(point) {
      const { peak, duty } = at(point);
      return { min: 1e-3, max: 2, guess: (peak + ramp * duty * period) / full };
    },
  };
}

export const peakCurrent: ControlStructure = {
  id: 'peak-current',
  title: 'Peak current',
  sets: 'the peak current',
  by: 'by its peak current',
  settings: { slope: { unit: 'A/s', title: 'compensation ramp', value: 'placed' } },
  refuses: ({ current }) => (current ? undefined : { code: 'range', where: 'control.method', message: 'this power stage is not driven by its peak current here', remedy: 'choose voltage mode, or another topology' }),
  drive,
  averages: false,
  lost: (multiplier, [ramp]) => `A disturbance of the current grows to ${multiplier.toFixed(2)} of itself in each period, at half the switching frequency. Raise the ramp: ${print(ramp!.suggested!, 'A/s')} holds it at any duty.`,
};
