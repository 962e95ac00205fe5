import { MECHANISMS, partLosses, type CapacitorState, type Commutation, type DiodeState, type InductorState, type PartStates, type SwitchState, type TransformerState } from '../loss';
import { ends } from '../orbit/measure';
import { fail, ok, type Result } from '../problem';
import { solveLadder, type RungState } from '../thermal/ladder';
import { hotSpot, partLadder } from '../thermal/partLadder';
import { copiesOf, type OperatingPoint, type PartDuty, type Sizing, type Spec, type Topology } from '../topology';
import type { Working } from '../working';
import type { PartLoss } from './figures';
import { elementOf, settleStage, type SettledStage } from './settleStage';
import type { State } from '../circuit/machine';
import type { DiodePart, SwitchPart } from '../parts/schema';

/** A stage whose temperatures, resistances, currents and losses agree with one another. */
export interface WarmStage {
  stage: SettledStage;
  duties: Record<string, PartDuty>;
  losses: PartLoss[];
  rungs: RungState[];
  iterations: number;
  /** What each mechanism was given, for its working */
  states: Record<string, PartStates[keyof PartStates]>;
}

const MAX_ITERATIONS = 60;
const HOPELESS = 1000; // °C: no part of this trade lives there

/**
 * Solve electrical cycle, losses and temperatures together: settle, take the losses, run them down
 * the ladders, and again with the new resistances, until no temperature moves by 1e-6 K.
 * Each temperature is extrapolated by Aitken's rule once two steps are known.
 * @returns the warm stage; problem "runaway" when heat and resistance drive each other up
 */
export function warmStage(topology: Topology, spec: Spec, sizing: Sizing, point: OperatingPoint, sink: number): Result<WarmStage> {
  const alike = (place: string): number => copiesOf(topology.places.find((p) => p.id === place)!);
  const ladder = partLadder(spec.parts, sink, alike);
  const temperature = new Map(topology.places.map((p) => [p.id, point.air]));
  let before = new Map<string, number>();
  let near: { state: State; duty: number } | undefined;
  for (let iteration = 1; iteration <= MAX_ITERATIONS; iteration++) {
    const settled = settleStage(topology, spec, sizing, point, (place) => temperature.get(place)!, near);
    if (!settled.ok) return settled;
    const stage = settled.value;
    near = { state: stage.cycle.state, duty: stage.duty };
    const duties = measureDuties(topology, stage);
    const states = partStates(topology, spec, sizing, stage, duties);
    const losses = topology.places.map(({ id, kind }): PartLoss => {
      const one = partLosses(kind, states[id]! as never);
      const mechanisms = Object.fromEntries(Object.entries(one).map(([name, watts]) => [name, watts * alike(id)]));
      return { id, mechanisms, total: Object.values(mechanisms).reduce((a, b) => a + b, 0), temperature: point.air };
    });
    const heat: Record<string, number> = {};
    for (const loss of losses) {
      const spot = hotSpot(loss.id, spec.parts[loss.id]!);
      if (spot) heat[spot] = loss.total;
    }
    const rungs = solveLadder(ladder, heat, point.air);
    let moved = 0;
    let hottest = { place: '', value: -Infinity };
    const steps = new Map<string, number>();
    for (const loss of losses) {
      const spot = hotSpot(loss.id, spec.parts[loss.id]!);
      const found = rungs.find((r) => r.id === spot)?.temperature ?? point.air;
      const now = temperature.get(loss.id)!;
      const step = found - now;
      const last = before.get(loss.id);
      const ratio = last ? step / last : 0;
      // Aitken: the rest of a geometric series, where the steps shrink like one.
      const next = Math.abs(ratio) < 0.7 ? now + step / (1 - ratio) : found;
      steps.set(loss.id, next === found ? step : 0);
      moved = Math.max(moved, Math.abs(step));
      loss.temperature = found;
      temperature.set(loss.id, next);
      if (found > hottest.value) hottest = { place: loss.id, value: found };
    }
    before = steps;
    if (!(hottest.value < HOPELESS))
      return fail('runaway', hottest.place, 'its losses and its temperature drive each other up without end', 'take a part with less resistance, a better sink, or a smaller load');
    if (moved < 1e-6) return ok({ stage, duties: read(duties), losses, rungs, iterations: iteration, states });
  }
  return fail('runaway', 'temperatures', 'losses and temperatures do not settle', 'take parts with less loss or a better sink');
}

function measureDuties(topology: Topology, stage: SettledStage): Record<string, PartDuty> {
  return topology.duties(
    (element) => stage.measure({ current: element }),
    (a, b) => stage.measure({ voltage: [a, b] }),
  );
}

/** Plain copies, every lazy figure read. */
const read = (duties: Record<string, PartDuty>): Record<string, PartDuty> =>
  Object.fromEntries(Object.entries(duties).map(([id, d]) => [id, { ...d }]));

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
function partStates(
  topology: Topology,
  spec: Spec,
  sizing: Sizing,
  stage: SettledStage,
  duties: Record<string, PartDuty>,
): Record<string, PartStates[keyof PartStates]> {
  const { frequency } = spec.brief;
  const out: Record<string, PartStates[keyof PartStates]> = {};
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

/** The workings of every loss of a warm stage, by "place/mechanism". */
export function lossWorkings(topology: Topology, warm: WarmStage): Record<string, Working> {
  const out: Record<string, Working> = {};
  for (const place of topology.places)
    for (const mechanism of MECHANISMS[place.kind]) {
      const { id } = place;
      const alike = copiesOf(place);
      if (warm.losses.find((l) => l.id === id)!.mechanisms[mechanism.id] === undefined) continue;
      const of = mechanism.working(warm.states[id]! as never);
      out[`${id}/${mechanism.id}`] = {
        title: `${id} ${mechanism.title}`,
        value: warm.losses.find((l) => l.id === id)!.mechanisms[mechanism.id]!,
        unit: 'W',
        ...of,
        numbers: alike === 1 ? of.numbers : `${alike} alike, each: ${of.numbers}`,
      };
    }
  return out;
}
