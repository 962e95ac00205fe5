import { type Fragment, esrOf } from '../converter/fragment';
import { onResistance, slopeResistance, windingResistance } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { BEST_DAMPING, capacitorValue, DAMPING, dutyNear, dutyRange, ERICKSON, holdsStep, inductorValue, lineDrawnAlways, ratings, refusesDuty, rippleFedAlways, rippleFedInPulses } from './common';
import { capacitorZero, landmark } from './landmarks';
import { carried, capacitorRipple, less, type Piece } from './pieces';
import { newton } from './root';
import { partsAs, type Drawing, type Forecast, type Landmark, type Signal, type SizedValue, type Sizing, type SizingInput, type Topology } from './types';

/**
 * Converters with two inductors and a capacitor between them that hands the energy over: L1 from the line to the
 * switch node, Q1 to the return, C3 from the switch node to the second node, where L2 and D1 meet. Both inductors
 * stand on the line while Q1 conducts (L2 through C3) and on the output, the other way, while D1 does; Q1 and D1
 * carry the sum of their currents. So the sum behaves like the one current of an inverting buck-boost with
 * L1 and L2 in parallel; in discontinuous conduction it is the sum that comes to rest, while a current goes on
 * around through both.
 *
 * C3 rings with both inductors, and no voltage loop lives beside that: C4 with its resistor damps it.
 *
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 2, 5, 10 and problems of ch. 6;
 * Mohan, Undeland, Robbins, "Power Electronics", ch. 7.
 */
export interface TwoInductors {
  id: string;
  title: string;
  /** Does the output take the current of L2 all the time, or of both while D1 conducts? */
  feeds: 'always' | 'off';
  /** k of L1 and L2 on one core, of as many turns; none when left out */
  coupling?: number;
  /** V across C3 */
  across(line: number, out: number): number;
  /** Nodes: D1 conducts from the first to the second; L2's current is what the output gets */
  wiring: { D1: readonly [string, string]; L2: readonly [string, string]; output: readonly [string, string] };
  purposes: { D1: string; L2: string; C2: string };
  drawing: Drawing;
}

/** Ripple of C3, as a share of its voltage */
const COUPLING_RIPPLE = 0.05;
/** The same where L1 and L2 are coupled: it stands across what they do not share */
const COUPLED_RIPPLE = 0.005;

const partsOf = partsAs<{ Q1: 'switch'; D1: 'diode'; L1: 'inductor'; L2: 'inductor'; C1: 'capacitor'; C2: 'capacitor'; C3: 'capacitor'; C4: 'capacitor' }>();

/**
 * How a capacitor and a damped one beside it (C4 with its resistor) share a current of straight pieces: voltages
 * drawn straight between the pieces' ends, found by going round a few times.
 * @returns what the damped one takes, and V by which the first one's voltage changes in each piece
 */
function shareDamped(pieces: readonly Piece[], first: { C: number; esr: number }, damped: { C: number; resistance: number }): { beside: Piece[]; changes: number[] } {
  /** The voltage that a current makes on a capacitance, its mean taken away: at the ends of each piece. */
  const voltage = (list: readonly Piece[], C: number): Piece[] => {
    let [v, area, period] = [0, 0, 0];
    const ramps = list.map(({ seconds, from, to }) => {
      const next = v + (((from + to) / 2) * seconds) / C;
      area += v * seconds + ((from / 2 + (to - from) / 6) * seconds ** 2) / C;
      period += seconds;
      const ramp = { seconds, from: v, to: next };
      v = next;
      return ramp;
    });
    return less(ramps, area / period);
  };
  let beside = pieces.map((p): Piece => ({ seconds: p.seconds, from: 0, to: 0 }));
  let own = [...pieces];
  let v = voltage(own, first.C);
  for (let round = 0; round < 12; round++) {
    own = pieces.map((p, k) => ({ seconds: p.seconds, from: p.from - beside[k]!.from, to: p.to - beside[k]!.to }));
    v = voltage(own, first.C);
    const w = voltage(beside, damped.C);
    const towards = (k: number, end: 'from' | 'to'): number => (beside[k]![end] + (v[k]![end] - w[k]![end] + first.esr * own[k]![end]) / damped.resistance) / 2;
    beside = pieces.map((p, k) => ({ seconds: p.seconds, from: towards(k, 'from'), to: towards(k, 'to') }));
  }
  return { beside, changes: v.map((p) => p.to - p.from) };
}

/** Straight pieces that each is cut into where a current bends within it */
const FINE = 6;
const fine = (list: readonly Piece[]): Piece[] =>
  list.flatMap((p) => Array.from({ length: FINE }, (_, i): Piece => ({ seconds: p.seconds / FINE, from: p.from + ((p.to - p.from) * i) / FINE, to: p.from + ((p.to - p.from) * (i + 1)) / FINE })));

/** A topology with two inductors and a capacitor between them, from what its file declares: SEPIC (coupled or not), Ćuk. */
export function twoInductors(d: TwoInductors): Topology {
  const k = d.coupling ?? 0;
  /** H that a winding shows while the other stands on the same voltage. */
  const shown = (L: number): number => L * (1 + k);
  /** H around the loop through C3: where both are coupled, only what they do not share is in its way. */
  const around = ({ values }: Pick<Sizing, 'values'>): number => values.L1!.taken + values.L2!.taken - 2 * k * Math.sqrt(values.L1!.taken * values.L2!.taken);
  const parallel = ({ values }: Pick<Sizing, 'values'>): number => 1 / (1 / shown(values.L1!.taken) + 1 / shown(values.L2!.taken));
  const idealDuty = (input: SizingInput, line: number): number => {
    const off = input.brief.output.voltage + partsOf(input).D1.drop;
    return off / (line + off);
  };
  const lineMean = (load: number, duty: number): number => (load * duty) / (1 - duty);

  /** Mean volts across both inductors, in either part of the period, with the resistances that stand in the way. */
  function volts(input: SizingInput, values: Sizing['values'] | undefined, line: number, load: number, D: number): { on1: number; on2: number; off: number; left: number } {
    const p = partsOf(input);
    const [r1, r2, w1, w2] = [onResistance(p.Q1, 25), slopeResistance(p.D1), windingResistance(p.L1, 25), windingResistance(p.L2, 25)];
    const e2 = values && d.feeds === 'off' ? esrOf(p.C2, values.C2!.taken) : 0;
    const e3 = values ? esrOf(p.C3, values.C3!.taken) : 0;
    const drawn = lineMean(load, D);
    const both = drawn + load;
    const off = input.brief.output.voltage + p.D1.drop + both * (r2 + D * e2);
    // C3 (less the output, where it stands on it) settles so that L2 balances.
    const held = ((1 - D) * (off + load * w2)) / D + both * r1 + load * (w2 + e3);
    return {
      on1: line - drawn * w1 - both * r1,
      on2: held - both * r1 - load * (w2 + e3),
      off,
      left: line - drawn * w1 - D * both * r1 - (1 - D) * (held + off + drawn * e3),
    };
  }

  /** Volt-seconds balance of both inductors, by Newton from the ideal duty. */
  function continuousDuty(input: SizingInput, values: Sizing['values'] | undefined, line: number, load: number): number {
    return newton((D) => volts(input, values, line, load, D).left, idealDuty(input, line), 1e-3, 0.99);
  }

  /** Duty where the sum of the currents starts from nothing in each period; resistances by the mean of its ramps. */
  function discontinuousDuty(input: SizingInput, values: Sizing['values'], line: number, load: number): { duty: number; on: number; off: number } {
    const p = partsOf(input);
    const { frequency, output } = input.brief;
    const L = parallel({ values });
    const e2 = d.feeds === 'off' ? esrOf(p.C2, values.C2!.taken) : 0;
    const winding = (windingResistance(p.L1, 25) * L) / shown(values.L1!.taken) + (windingResistance(p.L2, 25) * L) / shown(values.L2!.taken);
    let [on, off, duty] = [line, output.voltage + p.D1.drop, 0];
    for (let k = 0; k < 6; k++) {
      duty = Math.sqrt(2 * frequency * L * load * off) / on;
      const half = (on * duty) / (frequency * L) / 2;
      on = line - half * (onResistance(p.Q1, 25) + winding);
      off = output.voltage + p.D1.drop + half * (slopeResistance(p.D1) + winding + e2 * (1 - (duty * on) / off));
    }
    return { duty, on, off };
  }

  function forecast(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
    const { frequency } = input.brief;
    const { values } = sizing;
    const [L1, L2] = [values.L1!.taken, values.L2!.taken];
    const T = 1 / frequency;
    const continuous = continuousDuty(input, values, point.line, point.load);
    const broken = discontinuousDuty(input, values, point.line, point.load);
    const isContinuous = continuous <= broken.duty;
    const duty = isContinuous ? continuous : broken.duty;
    const fall = isContinuous ? 1 - duty : (duty * broken.on) / broken.off;
    const rest = Math.max(0, 1 - duty - fall) * T;
    const v = volts(input, values, point.line, point.load, duty);
    const own = frequency * (1 - k ** 2);
    const [rise1, rise2] = isContinuous
      ? [((v.on1 - k * v.on2) * duty) / (own * L1), ((v.on2 - k * v.on1) * duty) / (own * L2)]
      : [(broken.on * duty) / (frequency * shown(L1)), (broken.on * duty) / (frequency * shown(L2))];
    // What L1 draws over the whole period, by power where the sum rests.
    const drawn = isContinuous ? lineMean(point.load, duty) : (point.load * broken.off) / broken.on;
    // C3 sags while it feeds L2 and rises while L1 feeds it; that bends their currents upwards in the middle, by
    // ΔV t / 8L, and their ends lie lower by what that adds to the mean.
    const { C3, C4 } = partsOf(input);
    const ringing = dampingResistance(sizing) + esrOf(C4, values.C4!.taken);
    const share = (list: readonly Piece[]): ReturnType<typeof shareDamped> => shareDamped(list, { C: values.C3!.taken, esr: esrOf(C3, values.C3!.taken) }, { C: values.C4!.taken, resistance: ringing });
    const coils = (sag: number): [Piece[], Piece[]] => {
      const bends = (of: number, into: number, L: number): number => ((2 / 3) * sag * (of ** 2 - k * into ** 2) * T) / (8 * L * (1 - k ** 2)) / (duty + fall);
      const coil = (mean: number, rise: number, sinks: number): Piece[] => {
        const low = mean - (rise / 2) * (duty + fall) - sinks;
        return [{ seconds: duty * T, from: low, to: low + rise }, { seconds: fall * T, from: low + rise, to: low }, { seconds: rest, from: low, to: low }];
      };
      return [coil(drawn, rise1, bends(fall, duty, L1)), coil(point.load, rise2, bends(duty, fall, L2))];
    };
    const through = ([first, second]: [Piece[], Piece[]]): Piece[] => first.map((p, i): Piece => (i === 0 ? { seconds: p.seconds, from: -second[0]!.from, to: -second[0]!.to } : p));
    // First with all of it in C3, then with the sag that C4 leaves.
    const rough = share(fine(through(coils((point.load * duty * T) / values.C3!.taken))));
    const [one, two] = coils(-rough.changes.slice(0, FINE).reduce((a, b) => a + b, 0));
    const sum = one.map((p, k): Piece => ({ seconds: p.seconds, from: p.from + two[k]!.from, to: p.to + two[k]!.to }));
    const only = (list: Piece[], k: number): Piece[] => list.map((p, i) => (i === k ? p : { seconds: p.seconds, from: 0, to: 0 }));
    const fed = less(d.feeds === 'always' ? two : only(sum, 1), point.load);
    const both = fine(through([one, two]));
    const { beside } = share(both);
    return {
      mode: isContinuous ? 'continuous' : 'discontinuous',
      border: continuous / broken.duty - 1,
      duty,
      outputRipple: capacitorRipple(less(fed, carried(fed).mean), values.C2!.taken, esrOf(partsOf(input).C2, values.C2!.taken)),
      parts: { Q1: carried(only(sum, 0)), D1: carried(only(sum, 1)), L1: carried(one), L2: carried(two), C1: { ...carried(less(one, drawn)), estimate: true }, C2: carried(fed), C3: carried(both.map((p, k) => ({ seconds: p.seconds, from: p.from - beside[k]!.from, to: p.to - beside[k]!.to }))), C4: { ...carried(beside), estimate: true } },
    };
  }

  /** Ω in series with C4 */
  const dampingResistance = ({ values }: Pick<Sizing, 'values'>): number => BEST_DAMPING * Math.sqrt(around({ values }) / values.C3!.taken);

  const dutyWorking = (input: SizingInput) => (title: string, { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
    title,
    formula: 'D Vline = (1 − D) (Vout + Vf), less I R of switch, diode and windings',
    numbers: `at ${print(line, 'V')} and ${print(load, 'A')}, ${print(input.brief.output.voltage, 'V')} out`,
    value: continuousDuty(input, undefined, line, load),
    unit: '%',
    source: `${ERICKSON}, ch. 2 and 3`,
    leavesOut: 'ripple of C3; resistances are taken at 25 °C; in discontinuous conduction the duty is smaller',
  });

  function inductor(input: SizingInput, id: 'L1' | 'L2', base: number, what: string): SizedValue {
    const { brief } = input;
    // Vline · D grows with the line: the ripple is largest at its highest.
    const duty = idealDuty(input, brief.line.max);
    return inductorValue(partsOf(input)[id], {
      title: 'inductance for the ripple share',
      formula: `L ≥ Vline D / (f · r · I${k > 0 ? ' (1 + k)' : ''}),  D = Vout / (Vline + Vout),  I: ${what}`,
      numbers: `${print(brief.line.max, 'V')} × ${duty.toFixed(3)} / (${print(brief.frequency, 'Hz')} × ${brief.rippleShare} × ${print(base, 'A')})`,
      value: (brief.line.max * duty) / (brief.frequency * brief.rippleShare * base * (1 + k)),
      unit: 'H',
      source: `${ERICKSON}, ch. 2`,
      leavesOut: 'voltage across the resistances; ripple of C3; fall of the inductance with current',
    }, input.series);
  }

  function size(input: SizingInput): Sizing {
    const { brief, allowed, crossover } = input;
    const { C1, C2, C3, C4 } = partsOf(input);
    const largest = idealDuty(input, brief.line.min);
    const drawn = lineMean(brief.load.max, largest);
    const both = 'mean of what the two carry at full load and the lowest line';
    const L1 = k > 0 ? inductor(input, 'L1', (drawn + brief.load.max) / 2, both) : inductor(input, 'L1', drawn, 'what L1 draws at full load and the lowest line');
    const L2 = k > 0 ? { ...L1, overridden: false, how: 'as L1, on its core' } : inductor(input, 'L2', brief.load.max, 'full load');
    const swing = (L: SizedValue): number => (brief.line.max * idealDuty(input, brief.line.max)) / (brief.frequency * shown(L.taken));
    const peak = drawn + brief.load.max + (swing(L1) + swing(L2)) / 2;
    const ripple = d.feeds === 'always' ? rippleFedAlways(C2, swing(L2), brief.frequency, allowed.ripple) : rippleFedInPulses(C2, brief.load.max, largest, peak, brief.frequency, allowed.ripple);
    const step = holdsStep(C2, brief.loadStep, crossover, allowed.deviation);
    const held = d.across(brief.line.min, brief.output.voltage);
    const share = k > 0 ? COUPLED_RIPPLE : COUPLING_RIPPLE;
    const coupling: Working = {
      title: `capacitance for a ripple of ${share * 100} % of its voltage`, formula: 'C ≥ Iout D / (f · ΔV)', numbers: `${print(brief.load.max, 'A')} × ${largest.toFixed(3)} / (${print(brief.frequency, 'Hz')} × ${print(share * held, 'V')})`,
      value: (brief.load.max * largest) / (brief.frequency * share * held), unit: 'F', source: `${ERICKSON}, ch. 2`, leavesOut: 'its resonance with L1 and L2, which the loop has to stay below',
    };
    const line = lineDrawnAlways(swing(L1), brief.frequency, brief.lineRipple);
    const C3value = capacitorValue(C3, [coupling]);
    const damping: Working = {
      title: 'capacitance that damps the ringing of C3', formula: `C4 ≥ ${DAMPING} C3,  with a resistor of ${BEST_DAMPING.toFixed(2)} √((L1 + L2) / C3) in series`,
      numbers: `${DAMPING} × ${print(C3value.taken, 'F')},  ${print(BEST_DAMPING * Math.sqrt(around({ values: { L1, L2 } }) / C3value.taken), 'Ω')}`,
      value: DAMPING * C3value.taken, unit: 'F', source: `${ERICKSON}, ch. 10`, leavesOut: 'what the output adds to the ringing; the resistor is counted with C4',
    };
    const sum = brief.line.max + brief.output.voltage;
    const across = d.across(brief.line.max, brief.output.voltage);
    return {
      duty: dutyRange(input, dutyWorking(input)),
      values: { L1, L2, C1: capacitorValue(C1, [line]), C2: capacitorValue(C2, [ripple, step]), C3: C3value, C4: capacitorValue(C4, [damping]) },
      blocking: ratings(input, { Q1: sum, D1: sum, C1: brief.line.max, C2: brief.output.voltage, C3: across, C4: across }),
      inductorCurrent: Math.max(drawn, brief.load.max),
    };
  }

  function stage(f: Fragment, _: SizingInput, sizing: Sizing): void {
    f.inductor('L1', 'line', 'sw');
    f.switch('Q1', 'sw', '0', 'high');
    f.capacitor('C3', 'sw', 'x');
    f.capacitor('C4', 'sw', 'x', { series: dampingResistance(sizing) });
    f.inductor('L2', ...d.wiring.L2);
    if (k > 0) f.put({ kind: 'coupling', id: 'L1 L2', inductors: ['L1', 'L2'], k });
    f.diode('D1', ...d.wiring.D1);
    f.capacitor('C2', ...d.wiring.output);
    f.aside('C1', { beside: 'line' });
    f.output(...d.wiring.output);
    f.duty('high');
  }

  const signals: Signal[] = [
    { id: 'switchNode', title: 'Switch node', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
    { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
    { id: 'L2Current', title: 'L2 current', unit: 'A', of: { current: 'L2' }, lane: 'whole' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' } },
    { id: 'D1Current', title: 'D1 current', unit: 'A', of: { current: 'D1' } },
    { id: 'C3Current', title: 'C3 current', unit: 'A', of: { current: 'C3' } },
  ];

  /** Hz at which C3 rings with both inductors: the plant turns by half a circle or more there. */
  const resonance = ({ values }: Pick<Sizing, 'values'>): number => 1 / (2 * Math.PI * Math.sqrt(around({ values }) * values.C3!.taken));

  function rightHalfPlaneZero(input: SizingInput, sizing: Sizing, point: Pick<OperatingPoint, 'line' | 'load'>): number | undefined {
    const { duty, mode } = forecast(input, sizing, point);
    if (mode === 'discontinuous') return undefined;
    const L = parallel(sizing);
    return ((1 - duty) ** 2 * (point.line + input.brief.output.voltage)) / (2 * Math.PI * L * point.load);
  }

  function landmarks(input: SizingInput, sizing: Sizing, point: OperatingPoint): Landmark[] {
    const [C2, C3] = [sizing.values.C2!.taken, sizing.values.C3!.taken];
    const right = rightHalfPlaneZero(input, sizing, point);
    return [
      landmark('ringing of C3 with L1 and L2', k > 0 ? 'f = 1 / (2π √((L1 + L2 − 2 M) C3))' : 'f = 1 / (2π √((L1 + L2) C3))', `1 / (2π √(${print(around(sizing), 'H')} × ${print(C3, 'F')}))`, resonance(sizing), 'coupling to the output; C4, which damps it'),
      capacitorZero(esrOf(partsOf(input).C2, C2), C2),
      ...(right === undefined ? [] : [landmark('right-half-plane zero', 'f = (1 − D)² (Vline + Vout) / (2π (L1 ∥ L2) Iout)', `at ${print(point.line, 'V')}, ${print(point.load, 'A')}`, right, 'what C3 does: it is exact far above its ringing')]),
    ];
  }

  return {
    id: d.id,
    title: d.title,
    ...(d.wiring.output[0] === '0' ? { inverts: true as const } : {}),
    slots: [
      { id: 'Q1', kind: 'switch', title: 'switch', purpose: 'puts the line across both inductors for D of the period' },
      { id: 'D1', kind: 'diode', title: 'diode', purpose: d.purposes.D1 },
      { id: 'L1', kind: 'inductor', title: 'line inductor', purpose: 'draws on the line all the time, with its share of ripple' },
      { id: 'L2', kind: 'inductor', title: 'second inductor', purpose: d.purposes.L2, ...(k > 0 ? { core: { slot: 'L1', k } } : {}) },
      { id: 'C3', kind: 'capacitor', title: 'coupling capacitor', purpose: 'hands the energy over from one side to the other' },
      { id: 'C4', kind: 'capacitor', title: 'damping capacitor', purpose: 'with a resistor, takes the ringing out of C3 and the inductors' },
      { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the ripple that the line shall not see' },
      { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: d.purposes.C2 },
    ],
    refuses: (brief) => refusesDuty(brief, brief.output.voltage / (brief.output.voltage + brief.line.min)),
    size,
    forecast,
    rightHalfPlaneZero,
    // Half of where C3 rings, a quarter of the zero.
    crossoverLimit: (input, sizing, point) => Math.min(resonance(sizing) / 2, (rightHalfPlaneZero(input, sizing, point) ?? Infinity) / 4),
    stage,
    // Both currents meet in the switch; the output stands across either inductor while it is open.
    ...(k > 0 ? {} : { currentControl: { sensed: 'Q1', fall: (input: SizingInput, { values }: Pick<Sizing, 'values'>) => (input.brief.output.voltage + partsOf(input).D1.drop) * (1 / values.L1!.taken + 1 / values.L2!.taken) } }),
    duty: (input, sizing, point) => dutyNear(forecast(input, sizing, point).duty),
    start(input, sizing, point) {
      const { parts } = forecast(input, sizing, point);
      const low = (id: string): number => parts[id]!.mean - parts[id]!.peakToPeak / 2;
      return { C2: input.brief.output.voltage, C3: d.across(point.line, input.brief.output.voltage), C4: d.across(point.line, input.brief.output.voltage), L1: low('L1'), L2: low('L2') };
    },
    signals,
    landmarks,
    drawing: d.drawing,
  };
}
