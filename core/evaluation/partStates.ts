import type { CapacitorState, Commutation, DiodeState, InductorState, PartStates, SwitchState, TransformerState } from '../loss';
import type { Prepared } from '../circuit/machine';
import { apply, dot } from '../linear/dense';
import { phiOnce, rowOfArea } from '../linear/stepTable';
import { aliveRinging, modalRates, modesOf } from '../linear/modes';
import { areaOf } from '../orbit/cycle';
import { ends, type Quantity } from '../orbit/measure';
import type { DiodePart, SwitchPart } from '../parts/schema';
import { elementOf, type PartStress } from '../converter/stresses';
import { esrOf } from '../converter/fragment';
import { givesWayTo } from '../converter/handOver';
import type { SizingInput } from '../topology';
import type { Bill } from './bill';
import { spectrumOf, windingSpectrum, windowOf } from './windings';
import type { SettledStage } from './settleStage';

/** What the loss mechanisms of each part are given, by place. */
export type StateOf = Record<string, PartStates[keyof PartStates]>;

/** Edges of one switch: where its gate changes between neighbouring intervals. */
function commutations(stage: SettledStage, slot: string, parts: SizingInput['parts']): Commutation[] {
  const { intervals } = stage.cycle;
  const id = stage.roles.parts[slot]!.elements[0]!;
  const e = elementOf(stage.circuit, id);
  const edges: Commutation[] = [];
  intervals.forEach((s, k) => {
    const previous = (k + intervals.length - 1) % intervals.length;
    const isOn = s.pattern.on.has(id);
    if (isOn === intervals[previous]!.pattern.on.has(id)) return;
    const across = (at: number): { start: number; end: number } => ends(stage.cycleIntegrals, at, (p) => p.voltage(e.a, e.b));
    const through = (at: number): { start: number; end: number } => ends(stage.cycleIntegrals, at, (p) => p.current(id));
    edges.push(
      isOn
        ? { edge: 'on', blocked: across(previous).end, carried: through(k).start, givesWay: givesWayTo(stage, id, k).map(({ slot: other, ...g }) => ({ part: parts[other] as SwitchPart | DiodePart, ...g })) }
        : { edge: 'off', blocked: across(k).start, carried: through(previous).end },
    );
  });
  // Told along the way that it blocks: what a switch stands the other way round its body diode would conduct.
  const most = edges.reduce((v, c) => (Math.abs(c.blocked) > Math.abs(v) ? c.blocked : v), 0);
  return most < 0 ? edges.map((c) => ({ ...c, blocked: -c.blocked, carried: -c.carried })) : edges;
}

/** Pieces that an interval is cut into where the voltage does not stand still in it (eight a turn of what rings), and what counts as standing still. */
const CUTS = 12;
const MOST_CUTS = 160;
const FLAT = 0.02;

/**
 * What stands across an inductance along the cycle, in pieces: the mean over each, from the exact integral ∫ v dt, so
 * that a spike at an edge counts with its area and not with its height. Where the voltage sags or rings within a
 * interval the interval is cut.
 */
export function windingVoltages(stage: SettledStage, id: string): { volts: number; seconds: number }[] {
  const e = elementOf(stage.circuit, id);
  const across: Quantity = (p) => p.voltage(e.a, e.b);
  return stage.cycle.intervals.flatMap((s, k) => {
    const { size } = s.pattern;
    const row = across(s.pattern);
    const whole = dot(row, areaOf(s), size) / s.duration;
    const v = ends(stage.cycleIntegrals, k, across);
    if (Math.max(Math.abs(v.start - whole), Math.abs(v.end - whole)) <= FLAT * Math.abs(whole)) return [{ volts: whole, seconds: s.duration }];
    const { stepTable } = s.pattern as Prepared;
    const modes = modesOf(stepTable);
    const q = new Float64Array(modes.count);
    modalRates(modes, s.z0, q);
    const cuts = Math.min(MOST_CUTS, Math.max(CUTS, Math.ceil((s.duration * aliveRinging(modes, s.z0, q, 1e-4)) / (Math.PI / 4))));
    const seconds = s.duration / cuts;
    // All pieces are alike: their means follow from their beginnings by one row, and one step leads from each to the next.
    const [mean, phi] = [rowOfArea(stepTable, row, seconds), phiOnce(stepTable, seconds)];
    let [z, next]: [Float64Array, Float64Array] = [s.z0, new Float64Array(size)];
    const out: { volts: number; seconds: number }[] = [];
    for (let i = 0; i < cuts; i++) {
      out.push({ volts: dot(mean, z, size) / seconds, seconds });
      apply(phi, z, next, size);
      [z, next] = [next, i === 0 ? new Float64Array(size) : z];
    }
    return out;
  });
}

/** Resistors as the one that burns what they do: the first, at so many volts. */
const together = (list: readonly { volts: number; resistance: number }[]): { volts: number; resistance: number } => {
  const { resistance } = list[0]!;
  return { volts: Math.sqrt(list.reduce((sum, r) => sum + (r.volts ** 2 / r.resistance) * resistance, 0)), resistance };
};

/** Hz that a stage switches at: without a clock of the brief's it is what it takes. */
export const switchedAt = ({ cycle, assembled: { clock } }: SettledStage, brief: number): number => (cycle.free || clock !== undefined ? 1 / cycle.period : brief);

/** What the loss mechanisms of each part are given. */
export function partStates({ topology, input, sizing }: Bill, stage: SettledStage, duties: Record<string, PartStress>): StateOf {
  const frequency = switchedAt(stage, input.brief.frequency);
  const out: StateOf = {};
  for (const { id } of topology.slots) {
    const part = input.parts[id]!;
    const role = stage.roles.parts[id]!;
    const { rms } = duties[id]!;
    if (part.kind === 'switch') {
      out[id] = {
        id,
        part,
        rms,
        resistance: stage.resistance(id),
        junction: stage.temperature(id),
        commutations: commutations(stage, id, input.parts),
        ...(role.body === undefined ? {} : { body: stage.measure({ current: role.body }) }),
        frequency,
        drive: input.drive,
      } satisfies SwitchState;
    } else if (part.kind === 'diode') out[id] = { id, part, rms, mean: duties[id]!.mean, resistance: stage.resistance(id) } satisfies DiodeState;
    else if (part.kind === 'inductor') out[id] = { id, part, rms, resistance: stage.resistance(id), temperature: stage.temperature(id), frequency, ...(part.winding ? { spectrum: spectrumOf(stage, id) } : {}), voltages: role.core ? [{ volts: 0, seconds: 1 / frequency }] : windingVoltages(stage, id) } satisfies InductorState;
    else if (part.kind === 'transformer')
      out[id] = {
        id,
        part,
        windings: role.copper!.map(({ element, title }) => {
          const copper = elementOf(stage.circuit, element);
          return { title, rms: stage.measure({ current: element }).rms, resistance: copper.kind === 'resistor' ? copper.resistance : 0 };
        }),
        primaryTurns: sizing.values[`${id} primary`]!.taken,
        voltages: windingVoltages(stage, id),
        ...(part.winding ? { wound: { window: windowOf(topology, sizing, id, part, role.copper!), spectrum: windingSpectrum(stage, id), frequency: 1 / stage.cycle.period, turn: stage.resistance(id), temperature: stage.temperature(id) } } : {}),
      } satisfies TransformerState;
    else {
      const own = role.elements[0] === undefined ? undefined : elementOf(stage.circuit, role.elements[0]);
const beside = [role.across ?? []].flat().map((r) => elementOf(stage.circuit, r)).flatMap((e) => (e.kind === 'resistor' ? [{ volts: stage.measure({ voltage: [e.a, e.b] }).rms, resistance: e.resistance }] : []));
      out[id] = {
        id,
        part,
        rms,
        resistance: own?.kind === 'capacitor' ? own.esr : esrOf(part, sizing.values[id]!.taken),
        ...(part.balancingResistance === undefined ? {} : { balancing: { volts: duties[id]!.voltage, resistance: part.balancingResistance / Math.max(1, sizing.values[id]!.count ?? 1) } }),
        ...(beside.length > 0 ? { beside: together(beside) } : {}),
      } satisfies CapacitorState;
    }
  }
  return out;
}
