import fc from 'fast-check';

/** Circuits drawn at random: any element, any modulator, values of any size; and converters, which mostly have a cycle. */

/** A value over some decades. */
export const decades = (low: number, high: number): fc.Arbitrary<number> => plain(Math.log10(low), Math.log10(high)).map((x) => 10 ** x);
/** A value evenly within a range: fc.double would be even over its exponents. */
export const plain = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min: 0, max: 1_000_000_000 }).map((k) => min + ((max - min) * k) / 1e9);

const NODES = ['0', 'a', 'b', 'c', 'd'];
const node = fc.constantFrom(...NODES);
const pair = fc.uniqueArray(node, { minLength: 2, maxLength: 2 }).map(([a, b]) => [a!, b!] as [string, string]);
const T = 1e-5;

const waveform = fc.oneof(
  { weight: 4, arbitrary: plain(-400, 400) },
  fc.record({ shape: fc.constant('step'), from: plain(-50, 50), to: plain(-50, 50), at: plain(0, 5 * T) }),
  fc.record({ shape: fc.constant('ramp'), from: plain(-50, 50), to: plain(-50, 50), start: plain(0, 3 * T), duration: decades(1e-8, 1e-3) }),
  fc.record({ shape: fc.constant('pulse'), low: plain(-50, 50), high: plain(-50, 50), delay: plain(0, 2 * T), width: plain(1e-9, 0.99 * T), period: fc.constantFrom(T, T / 2, 2 * T) }),
  fc.record({ shape: fc.constant('sine'), offset: plain(-50, 50), amplitude: plain(0, 400), frequency: fc.constantFrom(1 / T, 10 / T, 0.1 / T, 1234.5), phase: plain(-180, 180) }),
  fc.record({ shape: fc.constant('points'), points: fc.array(plain(-50, 50), { minLength: 1, maxLength: 5 }).map((v) => v.map((y, i) => [i * T * 0.7, y] as [number, number])) }),
);

const two = { a: node, b: node };
const controlled = { ...two, plus: node, minus: node };

/** Any one element. */
export const element = fc.oneof(
  { weight: 4, arbitrary: fc.record({ kind: fc.constant('resistor'), ...two, resistance: decades(1e-4, 1e8) }) },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('inductor'), ...two, inductance: decades(1e-10, 10) }) },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('capacitor'), ...two, capacitance: decades(1e-13, 1e-1), esr: fc.oneof(fc.constant(0), decades(1e-4, 10)) }) },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('diode'), ...two, drop: plain(0, 2), onResistance: decades(1e-4, 10), offConductance: decades(1e-13, 1e-6) }) },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('switch'), ...two, onResistance: decades(1e-4, 10), offConductance: decades(1e-13, 1e-6), gate: fc.constantFrom('q', 'p') }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('voltage-source'), ...two, value: waveform }) },
  fc.record({ kind: fc.constant('current-source'), ...two, value: waveform }),
  fc.record({ kind: fc.constant('current-load'), ...two, current: decades(1e-3, 50), lowest: decades(0.1, 50) }),
  fc.record({ kind: fc.constant('power-load'), ...two, power: decades(1e-3, 1e3), lowest: decades(0.1, 50), accuracy: fc.constantFrom(0.005, 0.1) }),
  fc.record({ kind: fc.constant('string-load'), ...two, threshold: plain(0, 50), slope: decades(1e-3, 100) }),
  fc.record({ kind: fc.constant('inductor'), ...two, inductance: decades(1e-7, 1e-2), saturation: fc.constantFrom([{ current: 1, inductance: 1e-8 }], [{ current: 0.5, inductance: 1e-6 }, { current: 5, inductance: 1e-7 }]) }),
  fc.record({ kind: fc.constant('comparator'), ...controlled, low: fc.constant(0), high: plain(1, 20), hysteresis: plain(0, 1), delay: fc.constantFrom(0, 1e-7, 1e-6) }),
  fc.record({ kind: fc.constant('controlled-voltage'), ...controlled, gain: plain(-20, 20) }),
  fc.record({ kind: fc.constant('controlled-current'), ...controlled, gain: plain(-2, 2) }),
  fc.record({ kind: fc.constant('op-amp'), ...controlled, gain: decades(1, 1e6), bandwidth: decades(1, 1e8) }),
  fc.record({ kind: fc.constant('transfer'), ...controlled, numerator: fc.array(plain(-2, 2), { minLength: 1, maxLength: 2 }), denominator: fc.constantFrom([1, 1e-5], [0, 1e-4], [1, 1e-6, 1e-10]) }),
  fc.record({ kind: fc.constant('sampled'), ...controlled, numerator: fc.array(plain(-1, 1), { minLength: 1, maxLength: 4 }), denominator: fc.constantFrom([1], [1, -1], [1, -1.2, 0.2]), period: fc.constantFrom(T, 2 * T), delay: fc.constantFrom(0, 0.3 * T), low: fc.constantFrom(undefined, -1), high: fc.constantFrom(undefined, 1, 5) }),
  fc.record({ kind: fc.constant('transformer'), windings: fc.tuple(pair, pair, plain(1, 30)).map(([p, s, n]) => [{ a: p[0], b: p[1], turns: n }, { a: s[0], b: s[1], turns: 10 }]) }),
  fc.record({ kind: fc.constant('sampled-control'), inputs: fc.record({ x: pair }), memory: fc.constant({ m: 0 }), steps: fc.constantFrom(['m = clamp(m + 0.1 * x, -10, 10)', 'y = m'], ['y = x / m'], ['y = x * x'], ['y = max(0, x)']), outputs: fc.record({ y: fc.record(two) }), period: fc.constantFrom(T, T / 2) }),
);

/** Any one modulator of the gate q, and a timed one of p. */
const modulator = fc.oneof(
  plain(0.02, 0.98).map((d) => ({ kind: 'timed', gate: 'q', period: T, on: 0, off: d })),
  fc.record({ kind: fc.constant('pwm'), gate: fc.constant('q'), period: fc.constantFrom(T, T / 2), carrier: fc.constantFrom('trailing', 'leading', 'double'), sampling: fc.constantFrom('natural', 'uniform'), control: pair, delay: fc.constantFrom(0, 1e-7) }),
  fc.record({ kind: fc.constant('current-mode'), gate: fc.constant('q'), period: fc.constant(T), edge: fc.constantFrom('peak', 'valley'), sense: pair, control: pair, slope: fc.constantFrom(0, 1e4), blanking: fc.constantFrom(0, 2e-7) }),
  fc.record({ kind: fc.constant('constant-on-time'), gate: fc.constant('q'), onTime: plain(0.1 * T, T), minOff: plain(0.05 * T, 0.5 * T), sense: pair, control: pair }),
  fc.record({ kind: fc.constant('hysteretic'), gate: fc.constant('q'), sense: pair, control: pair, width: decades(1e-3, 10) }),
);

/** A circuit of anything, as a file would have it. */
export const network: fc.Arbitrary<Record<string, unknown>> = fc.tuple(fc.array(element, { minLength: 2, maxLength: 12 }), modulator, plain(0.05, 0.95)).map(([list, m, d]) => ({
  kind: 'jump-reed circuit',
  version: 1,
  name: 'network',
  elements: [
    ...list.map((e, i) => ({ ...e, ...('a' in e && e.a === e.b ? { b: NODES[(NODES.indexOf(e.a) + 1) % NODES.length] } : {}), id: `E${i}` })),
    // Every node is there and has a path to the reference.
    ...NODES.slice(1).map((n, k) => ({ kind: 'resistor', id: `R${k}`, a: n, b: '0', resistance: 10 ** (1 + 2 * k) })),
  ],
  modulators: [{ ...m, id: 'M' }, { kind: 'timed', id: 'N', gate: 'p', period: T, on: 0, off: d }],
  period: undefined,
}));

/** A converter of one inductor with values over decades, its switch timed, its loop open: it has a cycle. */
export const converter: fc.Arbitrary<Record<string, unknown>> = fc
  .record({
    shape: fc.constantFrom('buck', 'boost', 'inverting'),
    line: decades(3, 800), D: plain(0.05, 0.95), T: decades(1e-7, 1e-3),
    // Ripple of the current over the load's, resonance over the switching frequency, damping of the load.
    ripple: decades(0.02, 50), resonance: decades(0.003, 0.5), R: decades(0.05, 1e5), loss: decades(1e-5, 0.05), drop: plain(0, 1.2), leak: decades(1e-13, 1e-6),
    extra: fc.constantFrom('none', 'snubber', 'stray'),
  })
  .map(({ shape, line, D, T: period, ripple, resonance, R, loss, drop, leak, extra }) => {
    const L = (R * period) / ripple;
    const C = 1 / ((2 * Math.PI * resonance) / period) ** 2 / L;
    const r = loss * R;
    const [q, d, l] = shape === 'buck' ? [['in', 'x'], ['0', 'x'], ['x', 'out']] : shape === 'boost' ? [['x', '0'], ['x', 'out'], ['in', 'x']] : [['in', 'x'], ['out', 'x'], ['x', '0']];
    return {
      kind: 'jump-reed circuit',
      version: 1,
      name: shape,
      elements: [
        { kind: 'voltage-source', id: 'line', a: 'in0', b: '0', value: line },
        ...(extra === 'stray' ? [{ kind: 'inductor', id: 'stray', a: 'in0', b: 'in', inductance: L / 1000 }, { kind: 'resistor', id: 'damp', a: 'in0', b: 'in', resistance: 100 * R }] : [{ kind: 'resistor', id: 'feed', a: 'in0', b: 'in', resistance: r }]),
        { kind: 'switch', id: 'Q', a: q[0], b: q[1], onResistance: r, offConductance: leak, gate: 'q' },
        { kind: 'diode', id: 'D', a: d[0], b: d[1], drop, onResistance: r, offConductance: leak },
        { kind: 'inductor', id: 'L', a: l[0], b: l[1], inductance: L },
        { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: C, esr: r },
        { kind: 'resistor', id: 'load', a: 'out', b: '0', resistance: R },
        ...(extra === 'snubber' ? [{ kind: 'capacitor', id: 'Cs', a: 'x', b: 's', capacitance: C / 1000 }, { kind: 'resistor', id: 'Rs', a: 's', b: '0', resistance: R / 3 }] : []),
      ],
      modulators: [{ kind: 'timed', id: 'M', gate: 'q', period, on: 0, off: D }],
    };
  });
