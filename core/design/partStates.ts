import type { CapacitorState, Commutation, DiodeState, InductorState, PartStates, SwitchState, TransformerState } from '../loss';
import { ends } from '../orbit/measure';
import type { DiodePart, SwitchPart } from '../parts/schema';
import type { PartDuty, Sizing, Spec, Topology } from '../topology';
import { elementOf, type SettledStage } from './settleStage';

/** What the loss mechanisms of each part are given, by place. */
export type StateOf = Record<string, PartStates[keyof PartStates]>;

/** Edges of one switch: where its gate changes between neighbouring stretches. */
function commutations(stage: SettledStage, place: string): Commutation[] {
  const { stretches } = stage.cycle;
  const e = elementOf(stage.circuit, place);
  const edges: Commutation[] = [];
  stretches.forEach((s, k) => {
    const previous = (k + stretches.length - 1) % stretches.length;
    const isOn = s.pattern.on.has(place);
    if (isOn === stretches[previous]!.pattern.on.has(place)) return;
    const across = (at: number): { start: number; end: number } => ends(stage.gauge, at, (p) => p.voltage(e.a, e.b));
    const through = (at: number): { start: number; end: number } => ends(stage.gauge, at, (p) => p.current(place));
    edges.push(
      isOn
        ? { edge: 'on', blocked: across(previous).end, carried: through(k).start }
        : { edge: 'off', blocked: across(k).start, carried: through(previous).end },
    );
  });
  return edges;
}

/** What stands across an inductance in each stretch of the cycle. */
function windingVoltages(stage: SettledStage, id: string): { volts: number; seconds: number }[] {
  const e = elementOf(stage.circuit, id);
  return stage.cycle.stretches.map((s, k) => {
    const v = ends(stage.gauge, k, (p) => p.voltage(e.a, e.b));
    return { volts: (v.start + v.end) / 2, seconds: s.duration };
  });
}

/** What the loss mechanisms of each part are given. */
export function partStates(
  topology: Topology,
  spec: Spec,
  sizing: Sizing,
  stage: SettledStage,
  duties: Record<string, PartDuty>,
): StateOf {
  const { frequency } = spec.brief;
  const out: StateOf = {};
  for (const { id } of topology.places) {
    const part = spec.parts[id]!;
    const { rms } = duties[id]!;
    if (part.kind === 'switch') {
      const partner = topology.partners.find((pair) => pair.includes(id))?.find((other) => other !== id);
      out[id] = {
        id,
        part,
        rms,
        resistance: stage.resistance(id),
        junction: stage.temperature(id),
        commutations: commutations(stage, id),
        partner: partner === undefined ? undefined : (spec.parts[partner] as SwitchPart | DiodePart),
        frequency,
        drive: spec.drive,
      } satisfies SwitchState;
    } else if (part.kind === 'diode') out[id] = { id, part, rms, mean: duties[id]!.mean, resistance: stage.resistance(id) } satisfies DiodeState;
    else if (part.kind === 'inductor') out[id] = { id, part, rms, resistance: stage.resistance(id), frequency, voltages: topology.onCoreOf?.[id] ? [{ volts: 0, seconds: 1 / frequency }] : windingVoltages(stage, id) } satisfies InductorState;
    else if (part.kind === 'transformer')
      out[id] = {
        id,
        part,
        windings: topology.windings![id]!.map(({ element }) => {
          const copper = elementOf(stage.circuit, element);
          return { title: element.replace(`${id} `, ''), rms: stage.measure({ current: element }).rms, resistance: copper.kind === 'resistor' ? copper.resistance : 0 };
        }),
        primaryTurns: sizing.values[`${id} primary`]!.taken,
        voltages: windingVoltages(stage, id),
      } satisfies TransformerState;
    else {
      const ohms = topology.parallelResistance?.(spec, sizing, id);
      const e = ohms === undefined ? undefined : elementOf(stage.circuit, id);
      out[id] = {
        id,
        part,
        rms,
        resistance: (part.esr * part.capacitance) / sizing.values[id]!.taken + (topology.seriesResistance?.(sizing, id) ?? 0),
        ...(e ? { beside: { volts: stage.measure({ voltage: [e.a, e.b] }).rms, resistance: ohms! } } : {}),
      } satisfies CapacitorState;
    }
  }
  return out;
}
