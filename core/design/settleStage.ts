import { ZodError } from 'zod';
import type { Circuit, Element } from '../circuit/elements';
import { freeColumns } from '../circuit/layout';
import { buildMachine, restState, type Machine } from '../circuit/machine';
import type { State } from '../circuit/machine';
import { gauge, integrals, meanProduct, range, type Extremes, type Gauge, type Measures, type Quantity } from '../orbit/measure';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { multipliers } from '../orbit/stability';
import { stretchSlopes } from '../response/averaged';
import { onResistance, slopeResistance, turnResistance, windingResistance, type Part } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint, Signal, Sizing, Spec, Topology } from '../topology';

/** A power stage settled at one point with given part temperatures. */
export interface SettledStage {
  circuit: Circuit;
  machine: Machine;
  cycle: SettledCycle;
  /** Share of the period that the switch conducts, and the value of the knob: the same where that is the duty */
  duty: number;
  setting: number;
  gauge: Gauge;
  /** s of each stretch per unit of duty */
  perDuty: number[];
  /** °C that it was settled with */
  temperature: (place: string) => number;
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
      let extremes: Extremes | undefined;
      const ends = (): Extremes => (extremes ??= range(g, quantity));
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
        get minAt() {
          return ends().minAt;
        },
        get maxAt() {
          return ends().maxAt;
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

/** Ω of the part at a temperature in °C: of a turn that fills the window for transformers; capacitors keep theirs in the circuit. */
export function resistanceAt(part: Part, temperature: number): number {
  switch (part.kind) {
    case 'switch':
      return onResistance(part, temperature);
    case 'diode':
      return slopeResistance(part);
    case 'inductor':
      return windingResistance(part, temperature);
    case 'transformer':
      return turnResistance(part, temperature);
    case 'capacitor':
      return 0;
  }
}

/** Where the search for a cycle begins. */
export interface Near {
  state: State;
  setting: number;
  /** Of a circuit that differs in the values of constant sources only: its patterns serve again */
  machine?: Machine;
}

/** Build the circuit at a point and settle it at the regulated output. */
export function settleStage(
  topology: Topology,
  spec: Spec,
  sizing: Sizing,
  point: OperatingPoint,
  temperature: (place: string) => number,
  near?: Near,
): Result<SettledStage> {
  const resistance = (place: string): number => resistanceAt(spec.parts[place]!, temperature(place));
  const made = circuitOf(() => topology.circuit(spec, sizing, point, resistance));
  if (!made.ok) return made;
  const circuit = made.value;
  const machine = near?.machine ? ok(near.machine) : buildMachine(circuit);
  if (!machine.ok) return machine;
  const range = topology.duty(spec, sizing, point);
  const settled = settleCycle(machine.value, {
    near: near ? fromNeighbour(machine.value, circuit, near.state) : startState(machine.value, topology.start(spec, sizing, point)),
    regulate: {
      ...regulation(topology, spec, point),
      source: topology.knob,
      min: range.min,
      max: range.max,
      guess: near?.setting ?? range.guess,
    },
  });
  if (!settled.ok) return settled.problem.code === 'limit' ? dutyLimit(range, settled.problem.message) : settled;
  const cycle = settled.value;
  const g = gauge(cycle);
  return ok({
    circuit,
    machine: machine.value,
    cycle,
    duty: topology.timedBy ? shareOn(cycle, topology.timedBy) : cycle.setting!,
    setting: cycle.setting!,
    gauge: g,
    perDuty: stretchSlopes(cycle.trace, machine.value.layout.column.get(topology.knob)!),
    temperature,
    resistance,
    measure: keptMeasures(g),
  });
}

/** The circuit of a stage; values that come out as no number, or as nothing where there has to be something, are a problem of the part they stand for. */
function circuitOf(make: () => Circuit): Result<Circuit> {
  try {
    return ok(make());
  } catch (error) {
    if (!(error instanceof ZodError)) throw error;
    const path = error.issues[0]!.path.map(String);
    return fail('value', path.slice(-1)[0] ?? '', `no circuit can be made of these parts: the ${path.slice(-1)[0] ?? 'value'} of its element ${Number(path[1]) + 1} is none that can be computed with`, 'look for a part whose values are nothing, or far from those of the others');
  }
}

/** What the duty is set by: the mean of the output, or that of the current drawn from the mains. */
export function regulation({ mains, output }: Topology, spec: Spec, point: OperatingPoint): { quantity: Quantity; target: number } {
  if (mains) return { quantity: (p) => p.current(mains.regulated), target: point.drawn! * Math.sin(point.angle!) };
  return { quantity: (p) => p.voltage(output[0], output[1]), target: spec.brief.output.voltage };
}

/** Share of the period in which a switch is on. */
const shareOn = ({ stretches, period }: SettledCycle, id: string): number => stretches.reduce((s, x) => s + (x.pattern.on.has(id) ? x.duration : 0), 0) / period;

/** A neighbour's inductor currents and capacitor voltages, with the sources of this circuit. */
function fromNeighbour(machine: Machine, circuit: Circuit, neighbour: State): State {
  const state = { ...neighbour, z: restState(machine).z };
  for (const column of freeColumns(machine.layout)) state.z[column] = neighbour.z[column]!;
  for (const e of circuit.elements) if ((e.kind === 'voltage-source' || e.kind === 'current-source') && typeof e.value === 'number') state.z[machine.layout.column.get(e.id)!] = e.value;
  return state;
}

/** From rest, but with some states where they are expected. */
function startState(machine: Machine, expected: Readonly<Record<string, number>>): State {
  const state = restState(machine);
  for (const [element, value] of Object.entries(expected)) state.z[machine.layout.column.get(element)!] = value;
  return state;
}

const dutyLimit = (range: { min: number; max: number }, detail: string): Result<never> =>
  fail(
    'duty-limit',
    'duty',
    `no duty between ${(range.min * 100).toFixed(0)} % and ${(range.max * 100).toFixed(0)} % reaches the output (${detail.replace(/^.*\(/, '').replace(/\)$/, '')})`,
    'change the line range or the output voltage',
  );

/** Shorter than this share of the period, nothing rests: one device hands over to another */
const MOMENT = 1e-5;

/** Does the main inductor rest for some part of the period? */
export const isDiscontinuous = (stage: SettledStage, t: Topology): boolean => stage.cycle.stretches.some((s) => s.duration > (t.handOver ?? MOMENT) * stage.cycle.period && (t.rests ? t.rests(s.pattern.on) : s.pattern.on.size === 0));

/** Size of the largest multiplier of the cycle with the duty held. */
export const largestMultiplier = (cycle: SettledCycle): number => multipliers(cycle)[0]?.size ?? 0;

/** An element with two ends, by its id. */
export function elementOf(circuit: Circuit, id: string): Extract<Element, { a: string }> {
  const e = circuit.elements.find((x) => x.id === id);
  if (!e || !('a' in e)) throw new Error(`no element ${id} with two ends`);
  return e;
}

/** Is this element a load: a resistance across the regulated output, or that of a further output? */
const isLoad = (e: Element, t: Topology): boolean =>
  e.kind === 'resistor' && ((e.a === t.output[0] && e.b === t.output[1]) || (t.furtherLoads?.includes(e.id) ?? false));

/** W into the resistances across the outputs. */
export const outputPower = (stage: SettledStage, topology: Topology): number =>
  stage.circuit.elements.reduce((sum, e) => (e.kind === 'resistor' && isLoad(e, topology) ? sum + stage.measure({ current: e.id }).rms ** 2 * e.resistance : sum), 0);

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
    if (e.kind === 'voltage-source') input -= Number(e.value) * integrals(g, current).mean;
    else if (e.kind === 'current-source') input -= Number(e.value) * integrals(g, (p) => p.voltage(e.a, e.b)).mean;
    else if (e.kind === 'resistor') {
      const watts = integrals(g, current).rms ** 2 * e.resistance;
      if (isLoad(e, topology)) output += watts;
      else dissipated += watts;
    } else if (e.kind === 'diode') dissipated += meanProduct(g, (p) => p.voltage(e.a, e.b), current);
    else if (e.kind === 'capacitor') dissipated += integrals(g, current).rms ** 2 * e.esr;
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
