import { type Fragment, esrOf } from '../converter/fragment';
import { onResistance, windingResistance } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { capacitorValue, DUTY_MAX, dutyNear, dutyRange, ERICKSON, holdsStep, inductorValue, lineDrawnInPulses, ratings, refusesAbove, rippleFedAlways } from './common';
import { afterBuck } from './landmarks';
import { capacitorRipple, carried, less, superposed, type Piece } from './pieces';
import { partsAs, type Drawing, type DrawnSymbol, type Forecast, type Signal, type Sizing, type SizingInput, type Topology } from './types';

/**
 * Interleaved synchronous buck: n phases alike, each a further n-th of the period later, share the load. What
 * their currents add up to has n times the frequency and less ripple than one of them; none at all where the
 * duty is a multiple of 1/n.
 *
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 2, for each phase; the sum of the ripples
 * is worked out here.
 */

const partsOf = partsAs<{ Q1: 'switch'; Q2: 'switch'; L1: 'inductor'; C1: 'capacitor'; C2: 'capacitor' }>();

/** A buck of so many phases: the file’s head says how it works. */
export function interleavedBuck(n: number): Topology {
  const phases = Array.from({ length: n }, (_, k) => k);
  const tail = (k: number): string => (k === 0 ? '' : ` ${k + 1}`);

  /** Volt-seconds of one phase's inductor with its resistances. */
  function dutyOf(input: SizingInput, line: number, load: number): number {
    const p = partsOf(input);
    const i = load / n;
    const [r1, r2, rl] = [onResistance(p.Q1, 25), onResistance(p.Q2, 25), windingResistance(p.L1, 25)];
    return (input.brief.output.voltage + i * (r2 + rl)) / (line + i * (r2 - r1));
  }

  /** Ripple of the sum over that of one phase (both peak to peak), at a duty. */
  function cancelled(D: number): number {
    const m = Math.floor(n * D + 1e-12);
    return (n * (D - m / n) * ((m + 1) / n - D)) / (D * (1 - D));
  }

  const coilOf = (input: SizingInput, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): { D: number; coil: Piece[]; low: number } => {
    const p = partsOf(input);
    const D = dutyOf(input, line, load);
    const T = 1 / input.brief.frequency;
    const i = load / n;
    const swing = ((line - input.brief.output.voltage - i * (onResistance(p.Q1, 25) + windingResistance(p.L1, 25))) * D * T) / values.L1!.taken;
    const [low, high] = [i - swing / 2, i + swing / 2];
    return { D, low, coil: [{ seconds: D * T, from: low, to: high }, { seconds: (1 - D) * T, from: high, to: low }] };
  };

  function forecast(input: SizingInput, { values }: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
    const { D, coil } = coilOf(input, values, point);
    const first = coil.map((p, k): Piece => (k === 0 ? p : { seconds: p.seconds, from: 0, to: 0 }));
    const second = coil.map((p, k): Piece => (k === 1 ? p : { seconds: p.seconds, from: 0, to: 0 }));
    const fed = less(superposed(coil, n), point.load);
    const drawn = superposed(first, n);
    const C = values.C2!.taken;
    const L1 = carried(coil);
    const C2 = carried(fed);
    // Where the phases nearly cancel, what is left hangs on the sag of the voltages within the period.
    const little = C2.peakToPeak < 0.15 * L1.peakToPeak ? true : undefined;
    return {
      mode: 'continuous', duty: D, outputRipple: capacitorRipple(fed, C, esrOf(partsOf(input).C2, C)), rippleEstimate: little,
      parts: { Q1: carried(first), Q2: carried(second), L1, C1: { ...carried(less(drawn, carried(drawn).mean)), estimate: true }, C2: { ...C2, estimate: little } },
    };
  }

  function size(input: SizingInput): Sizing {
    const { brief, allowed, crossover } = input;
    const p = partsOf(input);
    const { frequency, output, line, load } = brief;
    const smallest = output.voltage / line.max;
    const L1 = inductorValue(p.L1, {
      title: 'inductance for the ripple share of a phase', formula: 'L ≥ Vout (1 − D) / (f · r · Iout / n)',
      numbers: `${print(output.voltage, 'V')} × ${(1 - smallest).toFixed(3)} / (${print(frequency, 'Hz')} × ${brief.rippleShare} × ${print(load.max / n, 'A')})  — ripple is largest at a line of ${print(line.max, 'V')}`,
      value: (output.voltage * (1 - smallest)) / (frequency * brief.rippleShare * (load.max / n)), unit: 'H', source: `${ERICKSON}, ch. 2`, leavesOut: 'voltage across the resistances; fall of the inductance with current',
    }, input.series);
    const lines = Array.from({ length: 65 }, (_, k) => line.min + ((line.max - line.min) * k) / 64);
    const swing = Math.max(...lines.map((v) => ((output.voltage * (1 - output.voltage / v)) / (frequency * L1.taken)) * cancelled(output.voltage / v)));
    // What the line gives in pulses of one phase's current, of which m or m + 1 stand at once.
    const share = (v: number): number => (n * output.voltage) / v - Math.floor((n * output.voltage) / v + 1e-12);
    const worst = lines.reduce((a, b) => (share(b) * (1 - share(b)) > share(a) * (1 - share(a)) ? b : a));
    const values = {
      L1,
      C1: capacitorValue(p.C1, [lineDrawnInPulses(load.max / n, share(worst), n * frequency, brief.lineRipple)]),
      C2: capacitorValue(p.C2, [rippleFedAlways(p.C2, swing, n * frequency, allowed.ripple), holdsStep(p.C2, brief.loadStep, crossover, allowed.deviation)]),
    };
    const duty = (title: string, at: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
      title, formula: 'D = (Vout + I (R_Q2 + R_L)) / (Vline + I (R_Q2 − R_Q1)),  I = Iout / n', numbers: `at ${print(at.line, 'V')} and ${print(at.load, 'A')}, ${n} phases`,
      value: dutyOf(input, at.line, at.load), unit: '%', source: `${ERICKSON}, ch. 3`, leavesOut: 'dead time; resistances are taken at 25 °C; phases that differ',
    });
    return {
      duty: dutyRange(input, duty), values, inductorCurrent: load.max / n,
      blocking: ratings(input, { Q1: line.max, Q2: line.max, C1: line.max, C2: output.voltage }),
    };
  }

  function stage(f: Fragment): void {
    for (const k of phases) {
      const [high, low, sw] = [`high${tail(k)}`, `low${tail(k)}`, `sw${tail(k)}`];
      f.switch('Q1', 'line', sw, high, `Q1${tail(k)}`);
      f.switch('Q2', sw, '0', low, `Q2${tail(k)}`);
      f.inductor('L1', sw, 'out', { id: `L1${tail(k)}` });
      f.duty(high, low, { id: `modulator${tail(k)}`, phase: k / n });
    }
    f.capacitor('C2', 'out', '0');
    f.aside('C1', { beside: 'line' });
    f.output('out', '0');
  }

  const signals: Signal[] = [
    { id: 'switchNode', title: 'Switch node', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
    { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
    { id: 'L1SecondCurrent', title: 'L1 current, phase 2', unit: 'A', of: { current: 'L1 2' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' } },
    { id: 'C2Current', title: 'C2 current', unit: 'A', of: { current: 'C2' } },
  ];

  return {
    id: `buck-interleaved-${n}`,
    title: `Buck, ${['', '', 'two', 'three', 'four'][n]} phases`,
    slots: [
      { id: 'Q1', kind: 'switch', title: 'high-side switches', purpose: 'put the line on their inductors for D of the period, one after the other', copies: n },
      { id: 'Q2', kind: 'switch', title: 'low-side switches', purpose: 'carry the inductor currents for the rest', copies: n },
      { id: 'L1', kind: 'inductor', title: 'inductors', purpose: 'share the load; their ripples partly cancel', copies: n },
      { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
      { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'takes what is left of the ripple and the first of a load step' },
    ],
    refuses: (brief) => refusesAbove(brief, DUTY_MAX, 'a buck makes less than its line'),
    size,
    forecast,
    rightHalfPlaneZero: () => undefined,
    crossoverLimit: () => Infinity,
    stage,
    duty: (input, _, point) => dutyNear(dutyOf(input, point.line, point.load)),
    start(input, { values }, point) {
      const { D, coil } = coilOf(input, values, point);
      const [up, down] = coil as [Piece, Piece];
      // Where phase k stands at the period's beginning: 1 − k/n of a period into its own.
      const at = (k: number): number => {
        const x = k === 0 ? 0 : 1 - k / n;
        return x < D ? up.from + ((up.to - up.from) * x) / D : down.from + ((down.to - down.from) * (x - D)) / (1 - D);
      };
      return { C2: input.brief.output.voltage, ...Object.fromEntries(phases.map((k) => [`L1${tail(k)}`, at(k)])) };
    },
    signals,
    landmarks: (input, sizing, point) => afterBuck(input, sizing, point, 'continuous', n),
    drawing: drawing(n),
  };
}

/** The phases under one another, between the line at the left and the output at the right. */
function drawing(n: number): Drawing {
  const row = 108;
  const top = (k: number): number => 5 + k * row;
  const bottom = top(n - 1) + 75;
  const symbols: DrawnSymbol[] = Array.from({ length: n }, (_, k) => {
    const y = top(k);
    const own = (id: string): Pick<DrawnSymbol, 'id' | 'slot'> => (k === 0 ? { id } : { id: `${id}${'abcd'[k]}`, slot: id });
    return [
      { ...own('Q1'), symbol: 'switch', x: 270, y, turn: 1, label: 'below' } as DrawnSymbol,
      { ...own('Q2'), symbol: 'switch', x: 380, y: y + 40, turn: 0, label: 'right' } as DrawnSymbol,
      { ...own('L1'), symbol: 'inductor', x: 520, y, turn: 1, label: 'below' } as DrawnSymbol,
    ];
  }).flat();
  const middle = (top(0) + bottom) / 2;
  return {
    width: 800,
    height: bottom + 10,
    symbols: [
      { id: 'line', symbol: 'source', x: 40, y: middle, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 145, y: middle, turn: 0, label: 'right' },
      ...symbols,
      { id: 'C2', symbol: 'capacitor', x: 640, y: middle, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 750, y: middle, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[40, middle], [40, top(0)], [210, top(0)]], carries: 'line' },
      { points: [[145, top(0)], [145, bottom]], carries: 'C1' },
      { points: [[210, top(0)], [210, top(n - 1)]], carries: 'line' },
      ...Array.from({ length: n }, (_, k): Drawing['wires'][number][] => [
        { points: [[210, top(k)], [380, top(k)]], carries: 'Q1' },
        { points: [[380, top(k)], [380, top(k) + 75]], carries: 'Q2' },
        { points: [[380, top(k)], [590, top(k)]], carries: 'L1' },
        ...(k < n - 1 ? [{ points: [[380, top(k) + 75], [330, top(k) + 75], [330, bottom]] as [number, number][], carries: '' }] : []),
      ]).flat(),
      { points: [[590, top(n - 1)], [590, top(0)], [640, top(0)]], carries: 'load' },
      { points: [[640, top(0)], [640, bottom]], carries: 'C2' },
      { points: [[640, top(0)], [750, top(0)], [750, bottom]], carries: 'load' },
      { points: [[40, middle], [40, bottom], [750, bottom]], carries: '' },
    ],
    dots: [[145, top(0)], [145, bottom], [640, top(0)], [640, bottom], [380, bottom], ...Array.from({ length: n }, (_, k): [number, number] => [380, top(k)])],
  };
}
