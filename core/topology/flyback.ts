import { type Fragment, esrOf } from '../converter/fragment';
import { preferred, printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { capacitorValue, dutyNear, dutyRange, ERICKSON, holdsStep, lineDrawnInPulses, MOHAN, ratings, rippleFedInPulses } from './common';
import { CLAMP, flybackCycle, LARGEST, partsOf } from './flybackCycle';
import { capacitorZero, doublePole, loadPole, rightZero } from './landmarks';
import type { Drawing, Slot, Signal, SizedValue, Sizing, SizingInput, Topology } from './types';
import { CORE_DAMPING, leakage, LEAKAGE_DAMPING, turnsFor, winding } from './windings';

/**
 * Flyback converters: Q1 puts the line on the primary and fills the gap; when it opens, the secondaries empty it
 * through their diodes. What the leakage holds goes through D2 into C3, from where a resistor burns it. With the
 * leakage the current needs time to pass from the primary to the secondaries and back; then both conduct.
 *
 * A second output hangs on a winding of its own; only the first is regulated, and the two share the current by
 * their resistances. Its load goes with that of the first, from its smallest to its largest.
 *
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 6; Mohan, Undeland, Robbins, "Power
 * Electronics", ch. 10.
 */
/** Share of the full flux density that the peak current takes */
const FLUX_SHARE = 0.8;
/** Ripple of the clamp as a share of it */
const CLAMP_RIPPLE = 0.05;

/** A flyback with one or two outputs: the file’s head says how it works; see flybackOne.ts and flybackTwo.ts for what differs. */
export function flyback(outputs: 1 | 2, drawing: Drawing): Topology {
  const { channels, voltageOf, loadOf, largestMean, reflected, clampResistance, atWorst, nearly, forecast } = flybackCycle(outputs);
  const windings = [winding('T1', 'primary', 0.5), ...channels.map((c) => winding('T1', c.winding.replace('T1 ', ''), c.share))];

  const ratio = (input: SizingInput): Working => {
    const { brief } = input;
    const drop = partsOf(input).D1.drop;
    return {
      title: 'turns ratio', formula: 'Ns / Np ≥ (Vout + Vf) (1 − Dmax) / (Dmax Vline)', numbers: `(${print(brief.output.voltage, 'V')} + ${print(drop, 'V')}) × ${1 - LARGEST} / (${LARGEST} × ${print(brief.line.min, 'V')})`,
      value: ((brief.output.voltage + drop) * (1 - LARGEST)) / (LARGEST * brief.line.min), unit: '', source: `${ERICKSON}, ch. 6`, leavesOut: 'resistances; a larger duty spares the diode and strains the switch',
    };
  };

  function inductance(input: SizingInput): SizedValue {
    const { brief } = input;
    const { T1 } = partsOf(input);
    const over = reflected(input, ratio(input).value);
    const duty = over / (brief.line.max + over);
    const base = largestMean(input);
    const value = (brief.line.max * duty) / (brief.frequency * brief.rippleShare * base);
    const suggested = preferred(value, input.series ?? 'E24', 'up');
    return {
      title: 'inductance of the primary', unit: 'H', wanted: value, suggested, taken: T1.inductance ?? suggested, overridden: T1.inductance !== null, how: T1.inductance === null ? `next in ${input.series ?? 'E24'}, by the gap` : 'your value',
      workings: [{
        title: 'inductance for the ripple share', formula: 'L ≥ Vline D / (f · r · I),  I = Pout / (Vline D) at the lowest line', numbers: `${print(brief.line.max, 'V')} × ${duty.toFixed(3)} / (${print(brief.frequency, 'Hz')} × ${brief.rippleShare} × ${print(base, 'A')})`,
        value, unit: 'H', source: `${ERICKSON}, ch. 6`, leavesOut: 'voltage across the resistances; leakage',
      }],
    };
  }

  function size(input: SizingInput): Sizing {
    const { brief, allowed, crossover } = input;
    const p = partsOf(input);
    const { frequency } = brief;
    const T1 = inductance(input);
    const worst = atWorst(input, T1.taken);
    const turns = turnsFor(p.T1, { ratio: ratio(input), voltSeconds: T1.taken * worst.peak, where: `= ${print(T1.taken, 'H')} × ${print(worst.peak, 'A')} at full load and the lowest line`, swing: FLUX_SHARE * p.T1.maxFluxDensity });
    const n = turns.secondary.taken / turns.primary.taken;
    const values: Record<string, SizedValue> = { T1, 'T1 primary': turns.primary, 'T1 secondary': turns.secondary };
    if (outputs === 2) {
      const wanted = (turns.secondary.taken * (voltageOf(brief, 1) + p.D3.drop)) / (brief.output.voltage + p.D1.drop);
      const suggested = Math.max(1, Math.round(wanted));
      values['T1 third'] = {
        slot: 'T1', path: 'parts.T1.thirdTurns', title: 'turns of the third winding', unit: '', wanted, suggested, taken: p.T1.thirdTurns ?? suggested, overridden: p.T1.thirdTurns !== null, how: p.T1.thirdTurns === null ? 'nearest whole turn' : 'your value',
        workings: [{ title: 'turns of the third winding', formula: 'N3 = Ns (Vout2 + Vf) / (Vout + Vf)', numbers: `${turns.secondary.taken} × (${print(voltageOf(brief, 1), 'V')} + ${print(p.D3.drop, 'V')}) / (${print(brief.output.voltage, 'V')} + ${print(p.D1.drop, 'V')})`, value: wanted, unit: '', source: `${ERICKSON}, ch. 6`, leavesOut: 'resistances: the second output sags with its load; whole turns set its voltage' }],
      };
    }
    channels.forEach((c, i) => {
      const load = loadOf(brief, i, brief.load.max);
      // A secondary that gets its share of the charge in the same time has its load over 1 − D, and the ripple on top.
      const peak = (load / (1 - LARGEST)) * (worst.peak / worst.mean);
      const ripple = rippleFedInPulses(p[c.capacitor], load, LARGEST, peak, frequency, (allowed.ripple * voltageOf(brief, i)) / brief.output.voltage);
      values[c.capacitor] = capacitorValue(p[c.capacitor], i === 0 ? [ripple, holdsStep(p.C2, brief.loadStep, crossover, allowed.deviation)] : [ripple]);
    });
    values.C1 = capacitorValue(p.C1, [lineDrawnInPulses(worst.mean, LARGEST, frequency, brief.lineRipple)]);
    const R = clampResistance(input, values);
    const over = reflected(input, n);
    values.C3 = capacitorValue(p.C3, [{
      title: `capacitance for a ripple of ${CLAMP_RIPPLE * 100} % of the clamp`, formula: 'C ≥ 1 / (0.05 f R),  R = Vc² / P,  P = ½ Lk Ipeak² f Vc / (Vc − Vor)',
      numbers: `R = ${print(R, 'Ω')} for ${print(CLAMP * over, 'V')} with ${print(over, 'V')} reflected, Lk = ${print(leakage(p.T1, turns.primary.taken), 'H')}, ${print(worst.peak, 'A')}`,
      value: 1 / (CLAMP_RIPPLE * frequency * R), unit: 'F', source: `${MOHAN}, ch. 10`, leavesOut: 'capacitance of the switch, which takes some of the energy',
    }]);
    const clampMost = Math.max(...[brief.line.min, brief.line.max].map((line) => nearly(input, values, { line, load: brief.load.max }).clamp)) * (1 + CLAMP_RIPPLE);
    const duty = (title: string, at: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
      title, formula: 'D = Vor / (Vline + Vor),  Vor = (Vout + Vf + I R) Np / Ns, and the time the leakage takes', numbers: `at ${print(at.line, 'V')} and ${print(at.load, 'A')}, Ns / Np = ${turns.secondary.taken}/${turns.primary.taken}`,
      value: nearly(input, values, at).duty, unit: '%', source: `${ERICKSON}, ch. 6`, leavesOut: 'dead time; resistances are taken at 25 °C',
    });
    const most: Record<string, number> = { Q1: brief.line.max + clampMost + p.D2.drop, D2: brief.line.max + clampMost, C1: brief.line.max, C3: clampMost };
    channels.forEach((c, i) => {
      most[c.diode] = (values[c.winding]!.taken / turns.primary.taken) * brief.line.max + voltageOf(brief, i);
      most[c.capacitor] = voltageOf(brief, i);
    });
    return { duty: dutyRange(input, duty), values, blocking: ratings(input, most), inductorCurrent: worst.mean };
  }

  function stage(f: Fragment, input: SizingInput, { values }: Sizing): void {
    const level = input.brief.line.max / atWorst(input, values.T1!.taken).mean;
    f.core('T1', 'pk', 'pw', CORE_DAMPING * level);
    f.leakage('T1', 'line', 'pk', leakage(partsOf(input).T1, values['T1 primary']!.taken), LEAKAGE_DAMPING * level);
    f.copper('T1', windings[0]!, 'pw', 'sw');
    f.turns('T1', [['pk', 'pw', 'T1 primary'], ...channels.map((c, i): [string, string, string] => ['0', `s${i + 1}`, c.winding])]);
    f.switch('Q1', 'sw', '0', 'high');
    f.diode('D2', 'sw', 'clamp');
    f.capacitor('C3', 'clamp', 'line', { across: { id: 'clamp resistor', ohms: clampResistance(input, values) } });
    channels.forEach((c, i) => {
      f.copper('T1', windings[i + 1]!, `s${i + 1}`, `w${i + 1}`);
      f.diode(c.diode, `w${i + 1}`, c.node);
      f.capacitor(c.capacitor, c.node, '0');
      f.output(c.node, '0');
    });
    f.aside('C1', { beside: 'line' });
    f.duty('high');
  }

  function rightHalfPlaneZero(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): number | undefined {
    const s = nearly(input, sizing.values, point);
    if (s.mode === 'discontinuous') return undefined;
    return ((1 - s.duty) * (point.line + s.over)) / (2 * Math.PI * sizing.values.T1!.taken * ((s.low + s.high) / 2));
  }

  const signals: Signal[] = [
    { id: 'switchNode', title: 'Q1 voltage', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
    { id: 'D1Current', title: 'D1 current', unit: 'A', of: { current: 'D1' }, lane: 'whole' },
    ...(outputs === 2 ? [{ id: 'output2', title: 'Second output', unit: 'V', of: { output: 1 }, lane: 'ripple' } satisfies Signal, { id: 'D3Current', title: 'D3 current', unit: 'A', of: { current: 'D3' } } satisfies Signal] : []),
    { id: 'T1Current', title: 'T1 magnetising current', unit: 'A', of: { current: 'T1' } },
    { id: 'C3Current', title: 'C3 current', unit: 'A', of: { current: 'C3' } },
  ];

  const second: Slot[] = [
    { id: 'D3', kind: 'diode', title: 'diode of the second output', purpose: 'passes its share of the gap’s energy to the second output' },
    { id: 'C4', kind: 'capacitor', title: 'second output capacitor', purpose: 'feeds the second load while Q1 conducts' },
  ];
  return {
    id: outputs === 1 ? 'flyback' : 'flyback-two-outputs',
    title: outputs === 1 ? 'Flyback' : 'Flyback, two outputs',
    outputs,
    isolated: true,
    slots: [
      { id: 'Q1', kind: 'switch', title: 'switch', purpose: 'puts the line on the primary for D of the period' },
      { id: 'T1', kind: 'transformer', leaks: true, title: 'transformer', purpose: 'stores in its gap what the line gives and the output takes' },
      { id: 'D1', kind: 'diode', title: 'diode', purpose: 'passes the current of the secondary while Q1 is open' },
      { id: 'D2', kind: 'diode', title: 'clamp diode', purpose: 'leads the current of the leakage away from Q1' },
      { id: 'C3', kind: 'capacitor', title: 'clamp capacitor', purpose: 'holds the clamp’s voltage; the resistor beside it burns the energy of the leakage' },
      { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
      { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'feeds the load while Q1 conducts' },
      ...(outputs === 2 ? second : []),
    ],
    refuses: () => undefined,
    size,
    forecast,
    rightHalfPlaneZero,
    crossoverLimit: (input, sizing, point) => (rightHalfPlaneZero(input, sizing, point) ?? Infinity) / 4,
    stage,
    // What the gap gives back falls in the primary as the reflected output has it.
    currentControl: { sensed: 'Q1', fall: (input, { values }) => ((input.brief.output.voltage + partsOf(input).D1.drop) * values['T1 primary']!.taken) / (values['T1 secondary']!.taken * values.T1!.taken) },
    duty: (input, sizing, point) => dutyNear(nearly(input, sizing.values, point).duty, 0.9),
    start(input, sizing, point) {
      const s = nearly(input, sizing.values, point);
      const { brief } = input;
      const p = partsOf(input);
      const second = (): number => (sizing.values['T1 third']!.taken / sizing.values['T1 secondary']!.taken) * (brief.output.voltage + p.D1.drop) - p.D3.drop;
      return { C2: brief.output.voltage, ...(outputs === 2 ? { C4: second() } : {}), C3: s.clamp, T1: s.mode === 'continuous' ? s.low + (s.over / sizing.values.T1!.taken) * s.t[0] : 0 };
    },
    signals,
    windings: { T1: windings },
    landmarks(input, sizing, point) {
      const { values } = sizing;
      const p = partsOf(input);
      const s = nearly(input, values, point);
      const n = values['T1 secondary']!.taken / values['T1 primary']!.taken;
      const [L, C] = [n ** 2 * values.T1!.taken, values.C2!.taken];
      const first = s.mode === 'continuous'
        ? doublePole(1 - s.duty, L, C, 'damping by load, clamp and resistances', 'double pole of T1 and C2', 'n² L')
        : loadPole(input.brief.output.voltage / point.load, C);
      const right = rightHalfPlaneZero(input, sizing, point);
      return [
        first, capacitorZero(esrOf(p.C2, C), C),
        ...(right === undefined ? [] : [rightZero(s.duty, point.line + s.over, values.T1!.taken, (s.low + s.high) / 2, right)]),
      ];
    },
    drawing,
  };
}
