import { buildPattern, sourceValues, type Pattern } from '../circuit/pattern';
import type { Circuit } from '../circuit/elements';
import { eigenvalues } from '../linear/eigen';
import { gauge, integrals, range, type Gauge, type Measures, type Quantity } from '../orbit/measure';
import { settle, type Cycle, type Interval } from '../orbit/settle';
import { onResistance, windingResistance, type Part } from '../parts/schema';
import { ok, type Result } from '../problem';
import type { OperatingPoint, Signal, Sizing, Spec, Topology } from '../topology';
import type { Design } from './schema';

/** What a topology is given of a design. */
export const specOf = (d: Design): Spec => ({
  brief: d.brief,
  parts: d.parts,
  drive: d.drive,
  crossover: d.control.crossover,
  allowed: { ripple: d.requirements.ripple.limit, deviation: d.requirements.deviation.limit },
});

/** A power stage settled at one point with given part temperatures. */
export interface SettledStage {
  circuit: Circuit;
  cycle: Cycle;
  gauge: Gauge;
  /** s of each stretch per unit of duty */
  perDuty: number[];
  /** Ω of each part with a hot spot */
  resistance: (place: string) => number;
  /** Measures of a voltage or current; each is computed once, and extremes only when read. */
  measure(of: Signal['of']): Measures;
}

/** Measures by quantity, kept for the life of a cycle. */
function keptMeasures(g: Gauge): (of: Signal['of']) => Measures {
  const kept = new Map<string, Measures>();
  return (of) => {
    const key = JSON.stringify(of);
    let found = kept.get(key);
    if (!found) {
      const quantity = quantityOf(of);
      let extremes: { min: number; max: number } | undefined;
      const ends = (): { min: number; max: number } => (extremes ??= range(g, quantity));
      found = {
        ...integrals(g, quantity),
        get min() {
          return ends().min;
        },
        get max() {
          return ends().max;
        },
        get peakToPeak() {
          return ends().max - ends().min;
        },
      };
      kept.set(key, found);
    }
    return found;
  };
}

/** The row of a signal in any pattern. */
export const quantityOf =
  (of: Signal['of']): Quantity =>
  (p) =>
    'voltage' in of ? p.voltage(of.voltage[0], of.voltage[1]) : p.current(of.current);

/** Ω of the part at a temperature in °C; capacitors keep theirs in the circuit. */
export const resistanceAt = (part: Part, temperature: number): number =>
  part.kind === 'switch' ? onResistance(part, temperature) : part.kind === 'inductor' ? windingResistance(part, temperature) : 0;

/** Build the circuit at a point and settle it at the regulated output. */
export function settleStage(
  topology: Topology,
  spec: Spec,
  sizing: Sizing,
  point: OperatingPoint,
  temperature: (place: string) => number,
  near?: { start: ArrayLike<number>; duty: number },
): Result<SettledStage> {
  const resistance = (place: string): number => resistanceAt(spec.parts[place]!, temperature(place));
  const circuit = topology.circuit(spec, sizing, point, resistance);
  const period = 1 / spec.brief.frequency;
  const patterns = new Map<string, Pattern>();
  const intervals: Interval[] = [];
  for (const phase of topology.phases) {
    const key = phase.on.join(' ');
    let pattern = patterns.get(key);
    if (!pattern) {
      const built = buildPattern(circuit, new Set(phase.on));
      if (!built.ok) return built;
      pattern = built.value;
      patterns.set(key, pattern);
    }
    intervals.push({ pattern, fixed: phase.fixed * period, perDuty: phase.perDuty * period });
  }
  const duty = topology.duty(spec, point);
  const [plus, minus] = topology.output;
  const settled = settle(
    intervals,
    sourceValues(circuit),
    { row: (p) => p.voltage(plus, minus), target: spec.brief.output.voltage, duty: near ? { ...duty, guess: near.duty } : duty },
    near?.start,
  );
  if (!settled.ok) return settled;
  const g = gauge(settled.value);
  return ok({
    circuit,
    cycle: settled.value,
    gauge: g,
    perDuty: intervals.map((i) => i.perDuty),
    resistance,
    measure: keptMeasures(g),
  });
}

/** Size of the largest multiplier of the cycle with the duty held. */
export const largestMultiplier = (cycle: Cycle): number =>
  eigenvalues(cycle.monodromy, cycle.states).reduce((most, m) => Math.max(most, Math.hypot(m.re, m.im)), 0);

/**
 * W put in by the sources, taken by the load and burnt elsewhere, each by its own exact integral:
 * sources by v·i, resistances by i²R. They agree only on a cycle that is really settled.
 */
export function powerBalance(stage: SettledStage, topology: Topology): { input: number; output: number; dissipated: number; residual: number } {
  const { circuit, gauge: g } = stage;
  let input = 0;
  let output = 0;
  let dissipated = 0;
  for (const e of circuit.elements) {
    const current: Quantity = (p) => p.current(e.id);
    if (e.kind === 'voltage-source') input -= e.value * integrals(g, current).mean;
    else if (e.kind === 'current-source') input -= e.value * integrals(g, (p) => p.voltage(e.a, e.b)).mean;
    else if (e.kind === 'resistor') {
      const watts = integrals(g, current).rms ** 2 * e.resistance;
      if (e.a === topology.output[0] && e.b === topology.output[1]) output += watts;
      else dissipated += watts;
    } else if (e.kind === 'capacitor') dissipated += integrals(g, current).rms ** 2 * e.esr;
    else if (e.kind === 'switch') {
      // i²R with the R of each pattern: scale the row by √R before squaring
      const scaled: Quantity = (p) => {
        const root = Math.sqrt(p.on.has(e.id) ? e.onResistance : 1 / e.offConductance);
        return p.current(e.id).map((v) => v * root);
      };
      dissipated += integrals(g, scaled).rms ** 2;
    }
  }
  return { input, output, dissipated, residual: (input - output - dissipated) / input };
}
