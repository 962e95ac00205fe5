import fc from 'fast-check';
import { isDiscontinuous } from '../converter/conduction';
import { powerBalance } from '../converter/power';
import { HELD_DUTY } from '../control/held';
import { billFor } from '../evaluation/bill';
import { standAt } from '../evaluation/standing';
import { visit } from '../evaluation/visits';
import type { CapacitorPart, DiodePart, InductorPart, Part, SwitchPart, TransformerPart } from '../parts/schema';
import { preferred } from '../quantity';
import type { Brief, SizingInput, Topology } from '../topology';

/** Briefs drawn at random inside a topology's domain, with parts as a good design has them, and what sizing promises held against the engine. */

export const SWITCH: SwitchPart = { kind: 'switch', part: 'any', count: 1, blockingVoltage: 100, onResistance: 0.01, onResistanceRise: 0.006, gateCharge: 1e-8, switchingCharge: 3e-9, plateauVoltage: 4, outputCapacitance: 2e-10, recoveryCharge: 1e-8, recoveryCurrent: 10, bodyDiodeDrop: 0.8, junctionToCase: 1, caseToSink: 1, maxJunction: 150 };
export const DIODE: DiodePart = { kind: 'diode', part: 'any', count: 1, blockingVoltage: 100, drop: 0.4, slopeResistance: 0.01, recoveryCharge: 0, recoveryCurrent: 10, junctionCapacitance: 1e-10, junctionToCase: 1, caseToSink: 1, maxJunction: 150 };
export const INDUCTOR: InductorPart = { kind: 'inductor', part: 'any', inductance: null, resistance: 0.01, turns: 20, coreArea: 1e-4, coreVolume: 5e-6, maxFluxDensity: 0.3, steinmetz: { k: 2, alpha: 1.4, beta: 2.5 }, thermalResistance: 20, maxTemperature: 125 };
export const CAPACITOR: CapacitorPart = { kind: 'capacitor', part: 'any', count: null, series: 1, capacitance: 1e-6, esr: 5e-3, ratedVoltage: 100, ratedCurrent: 5 };
export const TRANSFORMER: TransformerPart = { kind: 'transformer', part: 'any', primaryTurns: null, secondaryTurns: null, thirdTurns: null, inductance: null, permeance: 3e-6, leakagePermeance: 5e-9, coreArea: 1e-4, coreVolume: 5e-6, maxFluxDensity: 0.3, steinmetz: { k: 2, alpha: 1.4, beta: 2.5 }, windowArea: 1e-4, copperShare: 0.3, turnLength: 0.05, thermalResistance: 20, maxTemperature: 125 };

/** Output over line at the middle of what each kind is for. */
const RATIOS: Record<string, [number, number]> = { buck: [0.2, 0.7], boost: [1.4, 3], inverting: [0.3, 1.8], sepic: [0.3, 1.8], cuk: [0.3, 1.8], forward: [0.05, 1.5], flyback: [0.05, 2], 'flyback-two-outputs': [0.05, 0.7], 'buck-boost-four-switch': [0.4, 2.2], chopper: [0.1, 0.8], half: [0.03, 1], full: [0.03, 1], mains: [1.6, 3], 'mains-sepic': [0.4, 2], 'mains-flyback': [0.05, 2] };

/** V·s by which the flux of a core with one swing of 0.2 T and twenty turns is chosen: gaps store, two-sided drives swing both ways. */
function voltSeconds(t: Topology, line: number, frequency: number, share: number): number {
  if (!t.slots.some((q) => q.kind === 'inductor')) return (0.45 * line * (1 + share)) / (frequency * share);
  return line / (2 * frequency) / (t.id.startsWith('half') ? 5 : t.id.startsWith('full') ? 2.5 : 1);
}

/** A core that wants some twenty turns, whose windings lose about as much as the switches do, and leak a little. */
function transformerFor(line: number, voltage: number, load: number, loss: number, frequency: number, voltSeconds: number): TransformerPart {
  const turns = 20;
  const coreArea = voltSeconds / (turns * 0.2);
  // The primary sees a load of R (line/voltage)²/4 or so.
  const R = (voltage / load) * (line / (2 * voltage)) ** 2;
  return { ...TRANSFORMER, coreArea, permeance: (R * 15) / frequency / turns ** 2, leakagePermeance: (R * 0.012) / frequency / turns ** 2, windowArea: 1e-4, turnLength: (((loss * R) / (2 * turns ** 2)) * TRANSFORMER.copperShare * 1e-4) / 1.76e-8 };
}

/** A brief inside a topology's domain, with parts whose drops are a percent or so, as a good design has them. */
export function sizingInputs(t: Topology): fc.Arbitrary<SizingInput> {
  const [low, high] = (RATIOS[t.id] ?? RATIOS[t.id.split('-')[0]!])!;
  const number = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });
  return fc
    .record({ line: number(10, 200), spread: number(1.02, 1.3), ratio: number(low, high), power: number(10, 500), light: number(0.04, 0.3), frequency: number(5e4, 5e5), share: number(0.15, 0.6), loss: number(0.0005, 0.004), esr: number(0.01, 0.4), second: number(0.5, 2) })
    .map(({ line: drawn, spread, ratio, power, light, frequency, share, loss, esr, second }) => {
      // What draws from the mains in pulses is given one that there is: 70 V and more.
      const line = t.mains?.pulsed ? 70 + drawn : drawn;
      const voltage = line * ratio;
      const load = power / voltage;
      const R = voltage / load;
      const brief: Brief = {
        line: { min: line / spread, max: line * spread, ...(t.mains ? { mains: 50 } : {}) }, output: { voltage }, load: { min: load * light, max: load }, loadStep: load / 2, frequency,
        // Time constants from one to twenty periods: lighter loads have shorter ones.
        ...(t.id === 'chopper' ? { loadInductance: (R * (1 + 40 * esr)) / frequency } : {}),
        ...(t.outputs === 2 ? { further: [{ voltage: voltage * second, load: { min: (load * light) / 3, max: load / 3 } }] } : {}),
        air: { min: 0, max: 50 }, rippleShare: share, lineRipple: line / 50,
      };
      // Small capacitors in the count that the brief wants, their resistance a part of what the ripple allows.
      const C = preferred(load / frequency / (0.05 * voltage), 'E12', 'up') / 10;
      const parts: Record<string, Part> = {};
      for (const p of t.slots)
        parts[p.id] =
          p.kind === 'switch' ? { ...SWITCH, onResistance: loss * R * Math.min(1, 1 / ratio ** 2) }
          : p.kind === 'diode' ? { ...DIODE, drop: Math.min(0.8, 0.02 * voltage), slopeResistance: loss * R * Math.min(1, 1 / ratio ** 2) }
          : p.kind === 'inductor' ? { ...INDUCTOR, resistance: loss * R * Math.min(1, 1 / ratio ** 2) }
          : p.kind === 'transformer' ? (t.mains ? transformerFor(Math.SQRT2 * line, voltage, 2 * load, loss, frequency, voltSeconds(t, Math.SQRT2 * line, frequency, 1)) : transformerFor(line, voltage, load, loss, frequency, voltSeconds(t, line, frequency, share)))
          : { ...CAPACITOR, capacitance: C, esr: (esr * 0.01 * voltage) / load };
      // What can not be shaped by a loop is held.
      const control = t.mains?.pulsed ? { control: { method: HELD_DUTY } as SizingInput['control'] } : {};
      return { brief, parts, ...control, drive: { voltage: 10, gateResistance: 3, turnOffResistance: null, deadTime: 2e-8 }, crossover: frequency / 15, allowed: { ripple: 0.01 * voltage, deviation: 0.04 * voltage, stress: 0.8 } };
    });
}


/** One figure of a promise, with what the engine found. */
export interface Kept {
  what: string;
  promised: number;
  found: number;
  /** Largest relative difference allowed */
  within: number;
  /** What counts as nothing: open switches leak some microamperes */
  nothing: number;
}

/** Everything that sizing promises at the four corners of a brief, beside what the engine finds there. */
export function promises(t: Topology, input: SizingInput): { modes: string[]; kept: Kept[] } {
  const sizing = t.size(input);
  const { line, load } = input.brief;
  const modes: string[] = [];
  const kept: Kept[] = [];
  // Near the zero crossings, where a clamp takes all that is stored and more is not there, no closed form here tells what is drawn: at light loads that is some hundredths of it.
  const loads = t.mains?.pulsed ? [load.max] : [load.min, load.max];
  for (const at of [line.min, line.max].flatMap((v) => loads.map((i) => ({ line: v, load: i, air: 25 })))) {
    const promised = t.forecast(input, sizing, at);
    const where = `at ${at.line} V, ${at.load} A, ${promised.mode}`;
    const standing = standAt(billFor(t, input, sizing), at);
    if (!standing.ok) throw new Error(standing.problem.message);
    let settled = visit(standing.value, () => 25);
    // On the mains the current is what the load wants once no more is fed to the output.
    for (let round = 0; settled.ok && Math.abs(settled.value.mains?.excess ?? 0) > 1e-6; round++) {
      if (round > 20) throw new Error(`no current feeds the load ${where}`);
      settled = visit(standing.value, () => 25, settled.value);
    }
    if (!settled.ok) throw new Error(`${settled.problem.message} ${where}`);
    const { visits, duties: found, mains } = settled.value;
    const { stage } = visits.at(-1)!;
    const see = (what: string, a: number, b: number, within: number, nothing = 1e-9): void => void kept.push({ what: `${what} ${where}`, promised: a, found: b, within, nothing });
    modes.push(promised.mode);
    // Just at the border of the modes either is right.
    if (!(Math.abs(promised.border ?? 1) < 0.02)) see('mode', promised.mode === 'discontinuous' ? 2 : 1, isDiscontinuous(stage.cycle, stage.roles.conduction) ? 2 : 1, 0);
    // What the sources give is what the loads take and what is burnt: no energy of a leakage goes astray.
    const power = powerBalance(stage.circuit, stage.roles, stage.cycleIntegrals);
    see('power', power.input, power.output + power.dissipated, 1e-6);
    see('duty', promised.duty, stage.duty, 0.01);
    if (!promised.rippleEstimate) see('ripple', promised.outputRipple, mains?.output.peakToPeak ?? stage.measure({ output: 0 }).peakToPeak, 0.03);
    for (const { id } of t.slots) {
      if (promised.parts[id]!.estimate) continue;
      see(`rms of ${id}`, promised.parts[id]!.rms, found[id]!.rms, 0.02, Math.max(1e-3 * at.load, 2e-6 * at.line));
      see(`peak of ${id}`, promised.parts[id]!.peak, found[id]!.peak, 0.02, Math.max(1e-3 * at.load, 2e-6 * at.line));
    }
  }
  return { modes, kept };
}

export const broken = (k: Kept): boolean => !(Math.abs(k.found - k.promised) <= k.within * Math.max(Math.abs(k.promised), k.nothing));
