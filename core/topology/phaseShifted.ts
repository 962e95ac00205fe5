import { type Fragment, esrOf, windingOhms } from '../converter/fragment';
import { onResistance, slopeResistance, turnResistance, windingResistance } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { CENTRE_TAPPED, centreTapped, drawnAround, placesBehind } from './centreTap';
import { capacitorValue, dutyNear, dutyRange, ERICKSON, holdsStep, inductorValue, lineDrawnInPulses, ratings, rippleFedAlways } from './common';
import { afterBuck } from './landmarks';
import { capacitorRipple, carried, less, through, type Span } from './pieces';
import { root } from './root';
import { partsAs, type Forecast, type Signal, type Sizing, type SizingInput, type Topology } from './types';
import { CORE_DAMPING, leakage, LEAKAGE_DAMPING, turnsFor, ungapped } from './windings';

/**
 * Full bridge with phase shift: either leg is high for half the period, the second later than the first by D of
 * that half; so the line stands on the primary for D, one way and then the other. Between, the primary is shorted
 * by two switches and its current runs on, which is what turns the next switch on without voltage.
 *
 * At the beginning of each half the leakage has to turn the primary's current round; until then both halves of the
 * secondary conduct and the output gets nothing: D loses that share. While the primary is shorted, its current
 * falls by the resistances, but no slower than the current of L1 lets it.
 *
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 6 and 23 (zero-voltage transition
 * bridge); the run of the primary's current while it is shorted is worked out here.
 */
/** Overlap of the two legs at most, and what the turns are made for: some is left for the loop and for what the leakage takes */
const LIMIT = 0.98;
const LARGEST = 0.8;
/** Share of the full flux density that the swing takes at rest: what the loop adds in a step stands on it */
const FLUX_SHARE = 0.5;
/** Steps in which the shorted part of a half period is walked */
const STEPS = 24;

const partsOf = partsAs<{ Q1: 'switch'; Q3: 'switch'; T1: 'transformer'; D1: 'diode'; L1: 'inductor'; C1: 'capacitor'; C2: 'capacitor' }>();

const ratio = (input: SizingInput): Working => {
  const { brief } = input;
  const { D1 } = partsOf(input);
  return {
    title: 'turns ratio', formula: 'Ns / Np ≥ 1.05 (Vout + Vf) / (Dmax Vline)', numbers: `1.05 × (${print(brief.output.voltage, 'V')} + ${print(D1.drop, 'V')}) / (${LARGEST} × ${print(brief.line.min, 'V')})`,
    value: (1.05 * (brief.output.voltage + D1.drop)) / (LARGEST * brief.line.min), unit: '', source: `${ERICKSON}, ch. 6`, leavesOut: 'five percent are left for resistances and for the duty that the leakage takes',
  };
};

interface Cycle {
  mode: Forecast['mode'];
  border: number;
  duty: number;
  /** Half a period: turning round, feeding, shorted (in steps), resting */
  spans: Span[];
  /** A at the beginning of the half: L1, the primary (against the line), what magnetises (likewise) */
  start: { coil: number; primary: number; flux: number };
  peak: number;
}

function cycleAt(input: SizingInput, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Cycle {
  const p = partsOf(input);
  const [Np, Ns] = [values['T1 primary']!.taken, values['T1 secondary']!.taken];
  const n = Ns / Np;
  const L = values.L1!.taken;
  const Lm = values.T1!.taken;
  const Lk = leakage(p.T1, Np);
  const half = 0.5 / input.brief.frequency;
  const turn = turnResistance(p.T1, 25);
  const first = onResistance(p.Q1, 25) + onResistance(p.Q3, 25) + windingOhms(turn, Np, 0.4);
  const second = slopeResistance(p.D1) + windingOhms(turn, Ns, 0.3);
  const coil = windingResistance(p.L1, 25);
  const out = input.brief.output.voltage;
  const up = L + n ** 2 * Lk;
  const volts = (i: number): { on: number; off: number; across: number } => {
    const across = (line - n * i * first) / (1 + Lk / Lm);
    return { across, on: n * across - p.D1.drop - i * (second + coil) - out, off: out + p.D1.drop + i * (second / 2 + coil) };
  };
  /** A of the magnetising current after a pulse of so long a feed. */
  const fluxOf = (v: ReturnType<typeof volts>, feed: number): number => ((v.across - (Lk * n * v.on) / up) * feed) / Lm / 2;

  /** The primary is shorted, for so long, or until L1's current is gone: its own current falls by the resistances, or is bound to that of L1. */
  function shorted(end: number, flux: number, lasts: number): { steps: Span[]; coil: number; primary: number; area: number; more: number } {
    const beside = second / (2 * n ** 2);
    const towards = (beside * flux) / (first + beside);
    const single = out + p.D1.drop;
    const h = Math.min(lasts, (end * up) / single) / STEPS;
    const keep = Math.exp((-h * (first + beside)) / Lk);
    const steps: Span[] = [];
    let [i, primary, area, bound, more] = [end, n * end + flux, 0, false, 0];
    for (let left = lasts; left > 1e-9 * half && i > 0; ) {
      // One diode carries all while the two are bound: the leakage, seen through the turns, stands in series with L1.
      const slope = bound ? (single + i * (second + coil + n ** 2 * first) + n * first * flux) / up : (single + i * (second / 2 + coil)) / L;
      const step = Math.min(h, left, i / slope);
      const to = i - slope * step;
      const free = towards + (primary - towards) * (step === h ? keep : Math.exp((-step * (first + beside)) / Lk));
      bound = free > n * to + flux;
      const next = bound ? n * to + flux : free;
      const part = (amps: number, own: number, sign: number): number => (amps + (sign * (own - flux)) / n) / 2;
      steps.push({ seconds: step, at: { L1: [i, to], primary: [primary, next], first: [part(i, primary, 1), part(to, next, 1)], second: [part(i, primary, -1), part(to, next, -1)] } });
      area += ((i + to) / 2) * step;
      // What the leakage then leaves on the core magnetises a little further.
      if (bound) more += (Math.max(0, Lk * n * slope - (first * (primary + next)) / 2) * step) / Lm;
      left -= step;
      [i, primary] = [to < 1e-12 * end ? 0 : to, next];
    }
    return { steps, coil: i, primary, area, more };
  }

  /** Continuous: feeding from `load` less half its swing; what is missing when the primary has turned round. */
  const full = volts(load);
  const continuous = (feed: number): Cycle & { misses: number } => {
    const swing = (full.on * feed) / up;
    const [begin, end] = [load - swing / 2, load + swing / 2];
    let flux = fluxOf(full, feed);
    let turning = (2 * Lk * n * begin) / line;
    let s = shorted(end, flux, half - feed - turning);
    for (let round = 0; round < 2; round++) {
      flux = fluxOf(full, feed) + s.more / 2;
      turning = Math.max(0, (Lk * (s.primary + n * begin - flux)) / line);
      s = shorted(end, flux, half - feed - turning);
    }
    const handed = (s.coil - (s.primary - flux) / n) / 2;
    const spans: Span[] = [
      { seconds: turning, at: { L1: [s.coil, begin], primary: [-s.primary, n * begin - flux], first: [handed, begin], second: [s.coil - handed, 0], line: [-s.primary, n * begin - flux] } },
      { seconds: feed, at: { L1: [begin, end], primary: [n * begin - flux, n * end + flux], first: [begin, end], flux: [-flux, flux], line: [n * begin - flux, n * end + flux] } },
      ...s.steps,
    ];
    const duty = (feed + turning) / half;
    return { mode: 'continuous', border: begin / load, duty, spans, start: { coil: s.coil, primary: s.primary, flux }, peak: flux, misses: s.coil - (full.off / L) * turning - begin };
  };
  // More feed leaves less time to fall, and begins lower: what is missing rises with it.
  const guess = (full.off * half) / ((full.on * L) / up + full.off);
  const found = continuous(root((feed) => continuous(feed).misses, 0.5 * guess, Math.min(0.999 * half, 1.05 * guess), 1e-9 * load));
  if (found.border > 0 && found.start.coil > 0) return found;

  let peak = 2 * load;
  for (let k = 0; ; k++) {
    const v = volts(peak / 2);
    const feed = (peak * up) / v.on;
    const { more } = shorted(peak, fluxOf(v, feed), half);
    const flux = fluxOf(v, feed) + more / 2;
    const s = shorted(peak, flux, half);
    const ratio = (load * half) / ((peak * feed) / 2 + s.area);
    if (k < 25 && Math.abs(ratio - 1) > 1e-9) {
      peak *= Math.sqrt(ratio);
      continue;
    }
    const rest = Math.max(0, half - feed - s.steps.reduce((sum, x) => sum + x.seconds, 0));
    const spans: Span[] = [{ seconds: feed, at: { L1: [0, peak], primary: [-flux, n * peak + flux], first: [0, peak], flux: [-flux, flux], line: [-flux, n * peak + flux] } }, ...s.steps, { seconds: rest, at: { primary: [flux, flux] } }];
    return { mode: 'discontinuous', border: found.border, duty: feed / half, spans, start: { coil: 0, primary: flux, flux }, peak: flux };
  }
}

/** The other half of the period: the same with the two halves of the secondary and all signs of the primary changed over. */
const otherHalf = (list: readonly Span[]): Span[] =>
  list.map(({ seconds, at }) => {
    const back = (id: string): readonly [number, number] => (at[id] ? [-at[id][0], -at[id][1]] : [0, 0]);
    return { seconds, at: { ...at, primary: back('primary'), flux: back('flux'), first: at.second ?? [0, 0], second: at.first ?? [0, 0] } };
  });

function forecast(input: SizingInput, { values }: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
  const c = cycleAt(input, values, point);
  const all = [...c.spans, ...otherHalf(c.spans)];
  const none = c.spans.map((x) => ({ seconds: x.seconds, from: 0, to: 0 }));
  // The first leg's upper switch carries the primary's current for the half that begins with a pulse; the second leg's the same, D later.
  const Q = carried([...through(c.spans, 'primary'), ...none]);
  const primary = carried(through(all, 'primary'));
  const D1 = carried(through(all, 'first'));
  const drawn = through(all, 'line');
  const C = values.C2!.taken;
  const coil = through(all, 'L1');
  const fed = less(coil, carried(coil).mean);
  return {
    mode: c.mode, border: c.border, duty: c.duty, outputRipple: capacitorRipple(fed, C, esrOf(partsOf(input).C2, C)),
    parts: {
      Q1: Q, Q3: Q, D1, L1: carried(through(all, 'L1')), C2: carried(fed), T1: { ...primary, peak: c.peak, peakToPeak: 2 * c.peak },
      'T1 primary': primary, 'T1 secondary': D1, 'T1 secondary 2': D1, C1: { ...carried(less(drawn, carried(drawn).mean)), estimate: true },
    },
  };
}

function size(input: SizingInput): Sizing {
  const { brief, allowed, crossover } = input;
  const p = partsOf(input);
  const { frequency, output, line, load } = brief;
  const turns = turnsFor(p.T1, { ratio: ratio(input), voltSeconds: (line.min * LARGEST) / (2 * frequency), where: 'in a pulse of the largest duty', swing: 2 * FLUX_SHARE * p.T1.maxFluxDensity });
  const n = turns.secondary.taken / turns.primary.taken;
  const off = output.voltage + p.D1.drop;
  const smallest = off / (n * line.max);
  const L1 = inductorValue(p.L1, {
    title: 'inductance for the ripple share', formula: 'L ≥ (Vout + Vf) (1 − D) / (2 f · r · Iout)', numbers: `${print(off, 'V')} × ${(1 - smallest).toFixed(3)} / (2 × ${print(frequency, 'Hz')} × ${brief.rippleShare} × ${print(load.max, 'A')})  — ripple is largest at a line of ${print(line.max, 'V')}`,
    value: (off * (1 - smallest)) / (2 * frequency * brief.rippleShare * load.max), unit: 'H', source: `${ERICKSON}, ch. 2`, leavesOut: 'voltage across the resistances; leakage; fall of the inductance with current',
  }, input.series);
  const swing = (off * (1 - smallest)) / (2 * frequency * L1.taken);
  const largest = Math.min(0.95, off / (n * line.min));
  const values: Sizing['values'] = {
    T1: ungapped(p.T1, turns.primary.taken), 'T1 primary': turns.primary, 'T1 secondary': turns.secondary, L1,
    C1: capacitorValue(p.C1, [lineDrawnInPulses(n * load.max, Math.max(0.5, Math.min(largest, off / (n * line.max))), 2 * frequency, brief.lineRipple)]),
    C2: capacitorValue(p.C2, [rippleFedAlways(p.C2, swing, 2 * frequency, allowed.ripple), holdsStep(p.C2, brief.loadStep, crossover, allowed.deviation)]),
  };
  const duty = (title: string, at: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
    title, formula: 'D = (Vout + Vf + I R) / (n Vline − I R) + 4 f Lk n I / Vline, of half the period', numbers: `at ${print(at.line, 'V')} and ${print(at.load, 'A')}, n = ${turns.secondary.taken}/${turns.primary.taken}, Lk = ${print(leakage(p.T1, turns.primary.taken), 'H')}`,
    value: cycleAt(input, values, at).duty, unit: '%', source: `${ERICKSON}, ch. 23`, leavesOut: 'dead time; capacitance of the switches; resistances are taken at 25 °C',
  });
  return {
    duty: dutyRange(input, duty), values, inductorCurrent: load.max,
    blocking: ratings(input, { Q1: line.max, Q3: line.max, D1: 2 * n * line.max, C1: line.max, C2: output.voltage }),
  };
}

function stage(f: Fragment, input: SizingInput, { values }: Sizing): void {
  const level = (input.brief.line.max * values['T1 primary']!.taken) / (values['T1 secondary']!.taken * input.brief.load.max);
  f.switch('Q1', 'line', 'a', 'Q1');
  f.switch('Q1', 'a', '0', 'Q2', 'Q2');
  f.switch('Q3', 'line', 'b', 'Q3');
  f.switch('Q3', 'b', '0', 'Q4', 'Q4');
  f.leakage('T1', 'a', 'pk', leakage(partsOf(input).T1, values['T1 primary']!.taken), LEAKAGE_DAMPING * level);
  f.core('T1', 'pk', 'pw', CORE_DAMPING * level);
  centreTapped(f, ['pk', 'pw'], 'b', 'diode');
  f.shifted(['Q1', 'Q2', 'Q3', 'Q4']);
  f.conducts('D1', 'D2');
}

const signals: Signal[] = [
  { id: 'switchNode', title: 'Primary', unit: 'V', of: { voltage: ['a', 'b'] }, lane: 'whole' },
  { id: 'primaryCurrent', title: 'Primary current', unit: 'A', of: { current: 'T1 primary' }, lane: 'whole' },
  { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
  { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
  { id: 'D1Current', title: 'D1 current', unit: 'A', of: { current: 'D1' } },
  { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' } },
  { id: 'Q3Current', title: 'Q3 current', unit: 'A', of: { current: 'Q3' } },
];

export const phaseShifted: Topology = {
  id: 'full-bridge-phase-shifted',
  title: 'Full bridge, phase-shifted',
  isolated: true,
  slots: [
    { id: 'Q1', kind: 'switch', title: 'switches of the leading leg', purpose: 'put one end of the primary on the line and on the return, half a period each', copies: 2 },
    { id: 'Q3', kind: 'switch', title: 'switches of the following leg', purpose: 'do the same with the other end, later by D of half a period', copies: 2 },
    { id: 'T1', kind: 'transformer', leaks: true, title: 'transformer', purpose: 'brings the line to what the output wants, and parts the two' },
    ...placesBehind('diode'),
  ],
  refuses: () => undefined,
  size,
  forecast,
  rightHalfPlaneZero: () => undefined,
  crossoverLimit: () => Infinity,
  stage,
  duty: (input, sizing, point) => dutyNear(cycleAt(input, sizing.values, point).duty, LIMIT),
  start(input, { values }, point) {
    const { start } = cycleAt(input, values, point);
    return { C2: input.brief.output.voltage, L1: start.coil, T1: -start.flux, 'T1 leakage': -start.primary };
  },
  signals,
  windings: { T1: CENTRE_TAPPED },
  landmarks: (input, sizing, point) => afterBuck(input, sizing, point, cycleAt(input, sizing.values, point).mode),
  drawing: drawnAround(490, 'diode', {
    symbols: [
      { id: 'Q1', symbol: 'switch', x: 215, y: 45, turn: 0, label: 'right' },
      { id: 'Q2', slot: 'Q1', symbol: 'switch', x: 215, y: 145, turn: 0, label: 'right' },
      { id: 'Q3', symbol: 'switch', x: 325, y: 45, turn: 0, label: 'right' },
      { id: 'Q4', slot: 'Q3', symbol: 'switch', x: 325, y: 145, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[215, 5], [215, 180]], carries: 'Q1' },
      { points: [[325, 5], [325, 180]], carries: 'Q3' },
      { points: [[215, 88], [440, 88], [440, 63], [470, 63]], carries: 'T1' },
      { points: [[325, 102], [440, 102], [440, 127], [470, 127]], carries: 'T1' },
    ],
    dots: [[215, 5], [215, 180], [215, 88], [325, 102]],
  }),
};
