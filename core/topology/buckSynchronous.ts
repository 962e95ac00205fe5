import { Circuit } from '../circuit/elements';
import type { CapacitorPart, InductorPart, SwitchPart } from '../parts/schema';
import { onResistance, windingResistance } from '../parts/schema';
import { preferred, printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Brief, OperatingPoint } from './brief';
import type { PartDuty, SizedValue, Sizing, Spec, Topology } from './types';

/**
 * Synchronous buck: Q1 from the line to the switch node, Q2 from there to the return, L1 to the
 * output, C2 across it, C1 across the line. The current is continuous at every load, since Q2
 * conducts both ways.
 *
 * The line is stiff: it carries the mean of Q1's current and C1 all the rest.
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 2 and 8;
 * Mohan, Undeland, Robbins, "Power Electronics", ch. 7.
 */
const ERICKSON = 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 2';
const MOHAN = 'Mohan, Undeland, Robbins: Power Electronics, ch. 7';

const DUTY_MAX = 0.95;
const DUTY_MIN = 0.01;
const OFF_CONDUCTANCE = 1e-7;

interface Parts {
  Q1: SwitchPart;
  Q2: SwitchPart;
  L1: InductorPart;
  C1: CapacitorPart;
  C2: CapacitorPart;
}
const partsOf = (spec: Spec): Parts => spec.parts as unknown as Parts;

/** D = (Vout + I (R2 + RL)) / (Vin − I (R1 − R2)), with cold resistances: sizing and the first guess. */
function dutyAt(spec: Spec, line: number, load: number): number {
  const { Q1, Q2, L1 } = partsOf(spec);
  const r1 = onResistance(Q1, 25);
  const r2 = onResistance(Q2, 25);
  return (spec.brief.output.voltage + load * (r2 + windingResistance(L1, 25))) / (line - load * (r1 - r2));
}

function dutyWorking(spec: Spec, line: number, load: number, title: string): Working {
  const v = spec.brief.output.voltage;
  return {
    title,
    formula: 'D = (Vout + I (R_Q2 + R_L1)) / (Vline − I (R_Q1 − R_Q2))',
    numbers: `at ${print(line, 'V')} and ${print(load, 'A')}, ${print(v, 'V')} out`,
    value: dutyAt(spec, line, load),
    unit: '%',
    source: ERICKSON,
    leavesOut: 'dead time; resistances are taken at 25 °C',
  };
}

function inductorValue(spec: Spec): SizedValue {
  const { brief } = spec;
  const { L1 } = partsOf(spec);
  const v = brief.output.voltage;
  const duty = v / brief.line.max;
  const wanted = (v * (1 - duty)) / (brief.frequency * brief.rippleShare * brief.load.max);
  const suggested = preferred(wanted, 'E12', 'up');
  const taken = L1.inductance ?? suggested;
  return {
    title: 'inductance',
    unit: 'H',
    wanted,
    taken,
    suggested,
    overridden: L1.inductance !== null,
    how: L1.inductance === null ? 'next in E12' : 'your value',
    workings: [
      {
        title: 'inductance for the ripple share',
        formula: 'L ≥ Vout (1 − D) / (f · r · Iout),  D = Vout / Vline',
        numbers: `${print(v, 'V')} × (1 − ${duty.toFixed(3)}) / (${print(brief.frequency, 'Hz')} × ${brief.rippleShare} × ${print(brief.load.max, 'A')})  — ripple is largest at the highest line, ${print(brief.line.max, 'V')}`,
        value: wanted,
        unit: 'H',
        source: ERICKSON,
        leavesOut: 'voltage across the resistances; fall of the inductance with current',
      },
    ],
  };
}

function capacitorValue(part: CapacitorPart, workings: Working[]): SizedValue {
  const wanted = Math.max(...workings.map((w) => w.value));
  const suggested = Math.max(1, Math.ceil(wanted / part.capacitance - 1e-9));
  const count = part.count ?? suggested;
  const many = (n: number): string => `${n} × ${print(part.capacitance, 'F')}`;
  return {
    title: 'capacitance',
    unit: 'F',
    wanted,
    taken: count * part.capacitance,
    suggested: suggested * part.capacitance,
    overridden: part.count !== null,
    how: many(count),
    workings,
  };
}

function outputCapacitor(spec: Spec, inductance: number): SizedValue {
  const { brief, crossover, allowed } = spec;
  const { C2 } = partsOf(spec);
  const tau = C2.esr * C2.capacitance;
  const ripple = (brief.output.voltage * (1 - brief.output.voltage / brief.line.max)) / (brief.frequency * inductance);
  const tauText = `τ = ${print(C2.esr, 'Ω')} × ${print(C2.capacitance, 'F')} = ${print(tau, 's')}`;
  return capacitorValue(C2, [
    {
      title: 'capacitance for the ripple',
      formula: 'C ≥ ΔI (1 / 8f + τ) / ΔV,  τ = ESR · C of one',
      numbers: `${print(ripple, 'A')} × (1 / (8 × ${print(brief.frequency, 'Hz')}) + τ) / ${print(allowed.ripple, 'V')},  ${tauText}`,
      value: (ripple * (1 / (8 * brief.frequency) + tau)) / allowed.ripple,
      unit: 'F',
      source: MOHAN,
      leavesOut: 'adds the two parts of the ripple as if their peaks met: on the safe side',
    },
    {
      title: 'capacitance for the load step',
      formula: 'C ≥ ΔI (1 / 2π fc + τ) / ΔV',
      numbers: `${print(brief.loadStep, 'A')} × (1 / (2π × ${print(crossover, 'Hz')}) + τ) / ${print(allowed.deviation, 'V')},  ${tauText}`,
      value: (brief.loadStep * (1 / (2 * Math.PI * crossover) + tau)) / allowed.deviation,
      unit: 'F',
      source: 'output impedance near crossover taken as that of the capacitor (Erickson, Maksimović, ch. 9)',
      leavesOut: 'phase margin: a loop with little of it dips deeper',
    },
  ]);
}

function inputCapacitor(spec: Spec): SizedValue {
  const { brief } = spec;
  const { C1 } = partsOf(spec);
  const low = brief.output.voltage / brief.line.max;
  const high = brief.output.voltage / brief.line.min;
  // D(1−D) is largest at one half, or at the end of the duty range next to it
  const duty = low <= 0.5 && high >= 0.5 ? 0.5 : Math.abs(low - 0.5) < Math.abs(high - 0.5) ? low : high;
  return capacitorValue(C1, [
    {
      title: 'capacitance for the ripple on the line',
      formula: 'C ≥ Iout D (1 − D) / (f · ΔV)',
      numbers: `${print(brief.load.max, 'A')} × ${duty.toFixed(3)} × ${(1 - duty).toFixed(3)} / (${print(brief.frequency, 'Hz')} × ${print(brief.lineRipple, 'V')})`,
      value: (brief.load.max * duty * (1 - duty)) / (brief.frequency * brief.lineRipple),
      unit: 'F',
      source: MOHAN,
      leavesOut: 'series resistance; what the line itself carries',
    },
  ]);
}

const corner = (inductance: number, capacitance: number): number => 1 / (2 * Math.PI * Math.sqrt(inductance * capacitance));

export const buckSynchronous: Topology = {
  id: 'buck-synchronous',
  title: 'Buck, synchronous',
  places: [
    { id: 'Q1', kind: 'switch', title: 'high-side switch', purpose: 'puts the line on the switch node for D of the period' },
    { id: 'Q2', kind: 'switch', title: 'low-side switch', purpose: 'carries the inductor current for the rest' },
    { id: 'L1', kind: 'inductor', title: 'output inductor', purpose: 'keeps the ripple to its share of full load' },
    { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
    { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'takes the ripple and the first of a load step' },
  ],

  refuses(brief: Brief) {
    const { voltage } = brief.output;
    const highest = brief.line.min * DUTY_MAX;
    if (voltage <= highest) return undefined;
    return {
      code: 'impossible',
      where: 'brief.output.voltage',
      message: `a buck only steps down, and ${print(voltage, 'V')} is above ${print(highest, 'V')}, ${DUTY_MAX * 100} % of the lowest line`,
      remedy: `lower the output below ${print(highest, 'V')} or raise the line above ${print(voltage / DUTY_MAX, 'V')}`,
    };
  },

  size(spec): Sizing {
    const { line, load } = spec.brief;
    const L1 = inductorValue(spec);
    const blocked = { most: line.max, wanted: line.max / spec.allowed.stress };
    const workings = [
      dutyWorking(spec, line.max, load.min, 'smallest duty'),
      dutyWorking(spec, line.min, load.max, 'largest duty'),
    ];
    return {
      duty: { min: workings[0]!.value, max: workings[1]!.value, workings },
      values: { L1, C1: inputCapacitor(spec), C2: outputCapacitor(spec, L1.taken) },
      // Each switch blocks the line while the other conducts.
      blocking: { Q1: blocked, Q2: blocked },
    };
  },

  circuit(spec, sizing, point, resistance) {
    const { C2 } = partsOf(spec);
    const out = sizing.values.C2!.taken;
    return Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'line', a: 'line', b: '0', value: point.line },
        { kind: 'switch', id: 'Q1', a: 'line', b: 'sw', onResistance: resistance('Q1'), offConductance: OFF_CONDUCTANCE, gate: 'high' },
        { kind: 'switch', id: 'Q2', a: 'sw', b: '0', onResistance: resistance('Q2'), offConductance: OFF_CONDUCTANCE, gate: 'low' },
        { kind: 'inductor', id: 'L1', a: 'sw', b: 'wound', inductance: sizing.values.L1!.taken },
        { kind: 'resistor', id: 'L1 winding', a: 'wound', b: 'out', resistance: resistance('L1') },
        { kind: 'capacitor', id: 'C2', a: 'out', b: '0', capacitance: out, esr: (C2.esr * C2.capacitance) / out },
        { kind: 'resistor', id: 'load', a: 'out', b: '0', resistance: spec.brief.output.voltage / point.load },
        { kind: 'current-source', id: 'load step', a: 'out', b: '0', value: 0 },
        { kind: 'voltage-source', id: 'duty', a: 'duty', b: '0', value: 0.5 },
      ],
      modulators: [{ kind: 'pwm', id: 'modulator', gate: 'high', complement: 'low', period: 1 / spec.brief.frequency, control: ['duty', '0'] }],
    });
  },

  knob: 'duty',

  duty: (spec: Spec, point: OperatingPoint) => ({ min: DUTY_MIN, max: 0.99, guess: Math.min(0.98, dutyAt(spec, point.line, point.load)) }),

  output: ['out', '0'],
  line: 'line',
  loadStep: 'load step',

  signals: [
    { id: 'switchNode', title: 'Switch node', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
    { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { voltage: ['out'] }, lane: 'ripple' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' }, lane: 'whole' },
    { id: 'Q2Current', title: 'Q2 current', unit: 'A', of: { current: 'Q2' } },
    { id: 'C2Current', title: 'C2 current', unit: 'A', of: { current: 'C2' } },
  ],

  duties(current, voltage) {
    const of = (element: string, a: string, b?: string): PartDuty => {
      const i = current(element);
      const v = voltage(a, b);
      return {
        rms: i.rms,
        mean: i.mean,
        // Extremes cost more than integrals and are read once, after the temperatures have settled.
        get peak() {
          return Math.max(Math.abs(i.min), Math.abs(i.max));
        },
        get voltage() {
          return Math.max(Math.abs(v.min), Math.abs(v.max));
        },
        get peakToPeak() {
          return i.max - i.min;
        },
      };
    };
    const Q1 = of('Q1', 'line', 'sw');
    return {
      Q1,
      Q2: of('Q2', 'sw'),
      L1: of('L1', 'sw', 'out'),
      // The line carries Q1's mean, C1 what is left of it.
      C1: {
        rms: Math.sqrt(Math.max(0, Q1.rms ** 2 - Q1.mean ** 2)),
        mean: 0,
        get peak() {
          return Q1.peak - Q1.mean;
        },
        get voltage() {
          return voltage('line').max;
        },
        get peakToPeak() {
          return Q1.peakToPeak;
        },
      },
      C2: of('C2', 'out'),
    };
  },

  partners: [['Q1', 'Q2']],

  landmarks(spec, sizing) {
    const L = sizing.values.L1!.taken;
    const C = sizing.values.C2!.taken;
    const { C2 } = partsOf(spec);
    const esr = (C2.esr * C2.capacitance) / C;
    const source = 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 8';
    return [
      {
        title: 'double pole of L1 and C2',
        frequency: corner(L, C),
        working: {
          title: 'double pole of L1 and C2',
          formula: 'f₀ = 1 / (2π √(L C))',
          numbers: `1 / (2π √(${print(L, 'H')} × ${print(C, 'F')}))`,
          value: corner(L, C),
          unit: 'Hz',
          source,
          leavesOut: 'damping by load and resistances, which moves it by less than a percent here',
        },
      },
      {
        title: 'zero of the capacitor’s resistance',
        frequency: 1 / (2 * Math.PI * esr * C),
        working: {
          title: 'zero of the capacitor’s resistance',
          formula: 'f = 1 / (2π · ESR · C)',
          numbers: `1 / (2π × ${print(esr, 'Ω')} × ${print(C, 'F')})`,
          value: 1 / (2 * Math.PI * esr * C),
          unit: 'Hz',
          source,
          leavesOut: '',
        },
      },
    ];
  },

  drawing: {
    width: 800,
    height: 140,
    symbols: [
      { id: 'line', symbol: 'source', x: 40, y: 75, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 145, y: 75, turn: 0, label: 'right' },
      { id: 'Q1', symbol: 'switch', x: 265, y: 25, turn: 1, label: 'below' },
      { id: 'Q2', symbol: 'switch', x: 375, y: 75, turn: 0, label: 'right' },
      { id: 'L1', symbol: 'inductor', x: 500, y: 25, turn: 1, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 625, y: 75, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 745, y: 75, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[40, 75], [40, 25], [145, 25]], carries: 'line' },
      { points: [[145, 25], [265, 25]], carries: 'Q1' },
      { points: [[145, 25], [145, 125]], carries: 'C1' },
      { points: [[265, 25], [375, 25]], carries: 'Q1' },
      { points: [[375, 25], [375, 125]], carries: 'Q2' },
      { points: [[375, 25], [625, 25]], carries: 'L1' },
      { points: [[625, 25], [625, 125]], carries: 'C2' },
      { points: [[625, 25], [745, 25], [745, 125]], carries: 'load' },
      { points: [[40, 75], [40, 125], [745, 125]], carries: '' },
    ],
    dots: [[145, 25], [375, 25], [625, 25], [145, 125], [375, 125], [625, 125]],
  },
};
