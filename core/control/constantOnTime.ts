import { printQuantity as print } from '../quantity';
import { COMMAND } from './command';
import type { Control, ControlStructure, Drive, StageAhead } from './types';

/**
 * Constant on-time: the switch closes for a given time whenever the current of L1 has fallen to a command, which the voltage loop
 * moves. There is no clock: the frequency is what it takes, Vout over Vline in a buck, and the one of the brief is had at the
 * middle of the line and full load. It has no subharmonics at any duty and wants no ramp; a load that rises is met at once, by
 * times on that follow one another as closely as the least time off lets them.
 * Source: Redl, Sun, "Ripple-based control of switching regulators – an overview", IEEE Trans. Power Electronics 24 (2009), p. 2669.
 */
/** Share of the period that the switch is off at least, where nothing is said */
const LEAST_OFF = 0.08;
/** Node and element that sense */
const [NODE, SENSE] = ['valley', 'sensed current'];

function drive(stage: StageAhead, control: Control): Drive {
  const { period, region, current } = stage;
  const { at } = stage.coil!;
  const nominal = { line: stage.middle, load: Math.max(...region.map((p) => p.load)) };
  const suggested = stage.duty(nominal) * period;
  const onTime = (control.onTime as number | null) ?? suggested;
  const minOff = (control.minimumOff as number | null) ?? LEAST_OFF * period;
  /** A: its mean less half of what it rises by in a time on */
  const leastAt = (p: { line: number; load: number }): number => {
    const { least, rise } = at(p);
    return least + (rise * (stage.duty(p) * period - onTime)) / 2;
  };
  const full = Math.max(...region.map((p) => Math.abs(leastAt(p))));
  return {
    free: (point) => onTime / stage.duty(point),
    given: { on: onTime, leastOff: minOff },
    dutySwitch: current!.sensed,
    figures: [
      { key: 'onTime', title: 'time on', unit: 's', value: onTime, suggested, note: `${print(1 / period, 'Hz')} at the middle of the line and full load` },
      { title: 'full command', unit: 'A', value: full },
    ],
    elements: (_, closed) => [{ kind: 'current-sense', id: SENSE, a: NODE, b: '0', of: 'L1', gain: (closed?.ramp ?? 1) / full }],
    modulator(t, closed) {
      if (t.kind !== 'duty') throw new Error('one command drives one switch and its partner');
      return { kind: 'constant-on-time', id: t.id, gate: t.gate, complement: t.complement, deadTime: 0, onTime, minOff, sense: [NODE, '0'], control: [COMMAND, '0'], delay: closed?.delay ?? 0 };
    },
    range: (point) => ({ min: -2, max: 2, guess: leastAt(point) / full }),
  };
}

export const constantOnTime: ControlStructure = {
  id: 'constant-on-time',
  title: 'Constant on-time',
  sets: 'the least current of L1, without a clock',
  by: 'with a constant time on',
  settings: {
    onTime: { unit: 's', title: 'time on', value: 'placed' },
    minimumOff: { unit: 's', title: 'least time off', value: 'placed' },
  },
  refuses: ({ current, coil }) => (current && coil ? undefined : { code: 'range', where: 'control.method', message: 'this power stage is not driven by the valley of its current here', remedy: 'choose voltage mode, or another topology' }),
  clocked: false,
  drive,
  averages: false,
};
