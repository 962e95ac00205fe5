import { Circuit } from '../circuit/elements';
import { buildMachine, type Machine } from '../circuit/machine';
import { settleCycle, type SettledCycle, type SettleOptions } from '../orbit/settle';

/** Small circuits that several tests run, with the values their closed forms want. */

export const machineOf = (c: Circuit): Machine => {
  const built = buildMachine(c);
  if (!built.ok) throw new Error(`${built.problem.where}: ${built.problem.message}`);
  return built.value;
};

export const cycleOf = (m: Machine, options: SettleOptions = {}): SettledCycle => {
  const settled = settleCycle(m, options);
  if (!settled.ok) throw new Error(`${settled.problem.where}: ${settled.problem.message}`);
  return settled.value;
};

export interface Converter {
  line: number;
  L: number;
  C: number;
  R: number;
  T: number;
  D: number;
  /** V, the diode's drop */
  drop?: number;
  /** Ω of switch, diode and capacitor */
  r?: number;
}

const common = (c: Converter) => ({
  duty: { kind: 'voltage-source' as const, id: 'duty', a: 'duty', b: '0', value: c.D },
  modulators: [{ kind: 'pwm' as const, id: 'M', gate: 'q', period: c.T, control: ['duty', '0'] as [string, string] }],
  line: { kind: 'voltage-source' as const, id: 'line', a: 'in', b: '0', value: c.line },
  load: { kind: 'resistor' as const, id: 'load', a: 'out', b: '0', resistance: c.R },
  filter: { kind: 'capacitor' as const, id: 'C', a: 'out', b: '0', capacitance: c.C, esr: c.r ?? 1e-4 },
});

export function buck(c: Converter): Circuit {
  const { duty, modulators, line, load, filter } = common(c);
  const r = c.r ?? 1e-4;
  return Circuit.parse({
    elements: [
      line,
      { kind: 'switch', id: 'Q', a: 'in', b: 'sw', onResistance: r, gate: 'q' },
      { kind: 'diode', id: 'D', a: '0', b: 'sw', drop: c.drop ?? 0, onResistance: r },
      { kind: 'inductor', id: 'L', a: 'sw', b: 'out', inductance: c.L },
      filter, load, duty,
    ],
    modulators,
  });
}

export function boost(c: Converter): Circuit {
  const { duty, modulators, line, load, filter } = common(c);
  const r = c.r ?? 1e-4;
  return Circuit.parse({
    elements: [
      line,
      { kind: 'inductor', id: 'L', a: 'in', b: 'sw', inductance: c.L },
      { kind: 'switch', id: 'Q', a: 'sw', b: '0', onResistance: r, gate: 'q' },
      { kind: 'diode', id: 'D', a: 'sw', b: 'out', drop: c.drop ?? 0, onResistance: r },
      filter, load, duty,
    ],
    modulators,
  });
}

/** Inverting: the output is negative. */
export function buckBoost(c: Converter): Circuit {
  const { duty, modulators, line, load, filter } = common(c);
  const r = c.r ?? 1e-4;
  return Circuit.parse({
    elements: [
      line,
      { kind: 'switch', id: 'Q', a: 'in', b: 'sw', onResistance: r, gate: 'q' },
      { kind: 'inductor', id: 'L', a: 'sw', b: '0', inductance: c.L },
      { kind: 'diode', id: 'D', a: 'out', b: 'sw', drop: c.drop ?? 0, onResistance: r },
      filter, load, duty,
    ],
    modulators,
  });
}

/** Boost with a peak-current modulator: a sense of 1 V/A against `control` volts, with a ramp of `slope` V/s. */
export function peakBoost(c: Converter, control: number, slope: number): Circuit {
  const base = boost(c);
  return Circuit.parse({
    ...base,
    elements: [
      ...base.elements.filter((e) => e.id !== 'duty'),
      { kind: 'current-sense', id: 'sense', a: 'is', b: '0', of: 'L', gain: 1 },
      { kind: 'voltage-source', id: 'control', a: 'control', b: '0', value: control },
    ],
    modulators: [{ kind: 'current-mode', id: 'M', gate: 'q', period: c.T, sense: ['is', '0'], control: ['control', '0'], slope }],
  });
}
