import { COMMAND } from './command';
import { CRITICAL, leastOff, POWER } from './held';
import type { Control, ControlStructure, Drive, StageAhead } from './types';

/**
 * Critical conduction: the switch closes as soon as the current has come to rest, and is on for a time that the error amplifier,
 * slow against the mains, sets for all of its cycle. So the frequency follows the line: lowest at the crest of a boost that is not near its
 * output, and as fast as the least time off lets it near the zero crossing. The frequency of the brief is the lowest one.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (critical conduction mode, constant time on).
 */
/** Longest time on over the longest that the forecast wants */
const ROOM = 1.5;
/** Share of its largest peak at which the current counts as come to rest */
const REST = 0.002;
/** Times the least time off within which the time that the current takes to rest is not told from that, and by which the clock stays off longer than that then */
const [CLOSE, NEARER] = [1.05, 1.01];
const [NODE, SENSE, AT_REST, RAMP, RESET] = ['rest', 'sensed rest', 'at rest', 'ramp', 'ramp reset'];
/** F of the ramp's capacitor, and the time constants of its emptying within the least time off */
const [C, CONSTANTS] = [1e-12, 300];

function drive(stage: StageAhead, control: Control): Drive {
  const { at, rests, sensed } = stage.held!;
  const all = stage.region.map((p) => at(p));
  const full = ROOM * Math.max(...all.map((x) => x.command));
  const peak = Math.max(...all.map((x) => x.peak));
  const minOff = leastOff(control, 1 / stage.period);
  return {
    free: (point) => at(point).period,
    held: { power: POWER['on-time'], full },
    dutySwitch: sensed,
    figures: [
      { title: 'longest time on', unit: 's', value: full, note: 'at the full command' },
      { key: 'minimumOff', title: 'least time off', unit: 's', value: minOff, note: 'it ends where the frequency rises near the zero crossing' },
    ],
    elements: (_, closed) => [
      { kind: 'current-sense', id: SENSE, a: NODE, b: '0', of: rests!, gain: 1 / peak },
      { kind: 'voltage-source', id: AT_REST, a: AT_REST, b: '0', value: REST },
      // The ramp: a capacitor that a current charges while the switch is on, emptied while it is off.
      { kind: 'current-source', id: `${RAMP} current`, a: '0', b: RAMP, value: ((closed?.ramp ?? 1) * C) / full },
      { kind: 'capacitor', id: RAMP, a: RAMP, b: '0', capacitance: C, esr: 0 },
      { kind: 'switch', id: RESET, a: RAMP, b: '0', onResistance: minOff / (CONSTANTS * C), offConductance: 0, gate: RESET },
    ],
    // Kept off for longer than the current takes, it is a clock of the time on and the least time off; within a little of it as well.
    clockAt({ command, ...point }) {
      // Which of both it is goes by the forecast alone, so that it does not change from round to round.
      const ahead = at(point);
      if (ahead.period - ahead.command > CLOSE * minOff) return undefined;
      const on = command ?? ahead.command;
      return on + Math.max(minOff, NEARER * (at({ ...point, command: on }).period - on));
    },
    modulator(t, closed, clock) {
      if (t.kind !== 'duty') throw new Error('one command drives one switch');
      if (clock !== undefined) return { kind: 'pwm', id: t.id, gate: t.gate, complement: RESET, deadTime: 0, period: clock, phase: 0, carrier: 'trailing', sampling: 'natural', control: [COMMAND, '0'], low: 0, high: clock / full, delay: 0 };
      return { kind: 'critical', id: t.id, gate: t.gate, complement: RESET, deadTime: 0, minOff, sense: [NODE, '0'], rest: [AT_REST, '0'], ramp: [RAMP, '0'], control: [COMMAND, '0'], delay: closed?.delay ?? 0, ...(closed?.restarts === undefined ? {} : { restarts: closed.restarts }) };
    },
  };
}

export const criticalConduction: ControlStructure = {
  id: CRITICAL,
  title: 'Critical conduction',
  sets: 'the time on, held over the mains; it closes when the current has come to rest',
  by: 'in critical conduction',
  settings: { minimumOff: { unit: 's', title: 'least time off', value: 'placed' } },
  refuses({ mains, rests }) {
    if (!mains) return { code: 'range', where: 'control.method', message: 'critical conduction is driven on the mains here', remedy: 'choose peak current, or feed it from the mains' };
    return rests ? undefined : { code: 'range', where: 'control.method', message: 'this power stage has no one current whose rest closes its switch', remedy: 'choose another way to control it, or one phase' };
  },
  clocked: false,
  drive,
  averages: false,
};
