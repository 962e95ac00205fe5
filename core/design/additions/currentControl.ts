import type { OperatingPoint, Sizing, Spec, Topology } from '../../topology';
import { COMMAND } from '../assemble';

/**
 * Peak-current control: the switch opens where its current, with a ramp added, reaches a command; the voltage loop
 * moves the command in the place of the duty. The topology that comes out is one like any other; its knob is the
 * command, as a share of the largest that the region wants.
 *
 * Without a ramp a disturbance of the current grows from period to period where the duty is above one half; half the
 * slope at which the current falls makes it die out at any duty.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 12.
 */
export interface PeakCurrent {
  /** A/s added to what is sensed, and what would be added without an override */
  ramp: number;
  suggested: number;
  /** A: the command that one stands for */
  full: number;
}

/** Share of the falling slope that is added */
const RAMP = 0.5;
/** Largest duty of the modulator */
const MOST = 0.97;
/** Element that senses, for what closes the loop around it */
export const SENSE = 'sensed current';

const known = new WeakMap<Spec, Map<string, PeakCurrent>>();

/** Ramp and range of the command, over the corners of line and load. */
export function peakCurrentOf(t: Topology, spec: Spec, sizing: Pick<Sizing, 'values'>, override: number | null): PeakCurrent {
  const { sensed, fall } = t.currentControl!;
  const { line, load, frequency } = spec.brief;
  const lines = [line.min, (line.min + line.max) / 2, line.max];
  // Sizes move with overrides, which make another spec; the name of the topology tells those of one spec apart.
  const key = `${t.id} ${override} ${Object.values(sizing.values).map((v) => v.taken).join(' ')}`;
  const found = known.get(spec)?.get(key);
  if (found) return found;
  const suggested = RAMP * Math.max(...lines.map((v) => fall(spec, sizing, { line: v })));
  const ramp = override ?? suggested;
  const full = Math.max(
    ...lines.flatMap((v) =>
      [load.min, load.max].map((i) => {
        const f = t.forecast(spec, sizing, { line: v, load: i });
        return f.parts[sensed]!.peak + (ramp * f.duty) / frequency;
      }),
    ),
  );
  const made = { ramp, suggested, full };
  known.set(spec, (known.get(spec) ?? new Map<string, PeakCurrent>()).set(key, made));
  return made;
}

/** The topology driven by a command of its peak current. */
export function peakCurrent(t: Topology, override: number | null): Topology {
  const { sensed } = t.currentControl!;
  const of = (spec: Spec, sizing: Pick<Sizing, 'values'>): PeakCurrent => peakCurrentOf(t, spec, sizing, override);
  return {
    ...t,
    timedBy: sensed,
    drive(spec, sizing) {
      const { ramp, full } = of(spec, sizing);
      const period = 1 / spec.brief.frequency;
      return {
        elements: [{ kind: 'current-sense', id: SENSE, a: 'peak', b: '0', of: sensed, gain: 1 / full }],
        modulator(x) {
          if (x.kind !== 'duty') throw new Error(`${t.id} is driven by more than one command`);
          // A snubber is discharged through the switch first: that is not looked at.
          return { kind: 'current-mode', id: x.id, gate: x.gate, complement: x.complement, deadTime: 0, period, phase: x.phase, edge: 'peak', sense: ['peak', '0'], control: [COMMAND, '0'], slope: ramp / full, maxDuty: MOST, blanking: (t.blanking ?? 0) * period, delay: 0 };
        },
      };
    },
    duty(spec, sizing, point: OperatingPoint) {
      const { ramp, full } = of(spec, sizing);
      const f = t.forecast(spec, sizing, point);
      return { min: 1e-3, max: 2, guess: (f.parts[sensed]!.peak + (ramp * f.duty) / spec.brief.frequency) / full };
    },
  };
}
