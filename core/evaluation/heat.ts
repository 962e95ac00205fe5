import { MECHANISMS, partLosses, type PartStates } from '../loss';
import { DEFAULT_TOLERANCE } from '../linear/tolerance';
import { COPPER_RISE } from '../parts/copper';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { solveThermalNetwork, type ThermalNode, type ThermalNodeState } from '../thermal/network';
import { SMOOTH } from '../surroundings/mains';
import type { Cooling } from '../thermal/cooling';
import { shareParallel } from '../thermal/parallel';
import { hotSpot, partNetwork } from '../thermal/partNetwork';
import { stressesIn, type PartStress } from '../converter/stresses';
import { copiesOf, type Slot, type SizingInput, type Topology } from '../topology';
import type { Working } from '../working';
import type { Bill } from './bill';
import type { PartLoss } from './figures';
import { partStates, type StateOf } from './partStates';
import { resistanceAt, settleStage, type SettledStage } from './settleStage';
import type { Standing, View } from './standing';
import { oneMode, visit, type MainsCycle, type Near, type Visited } from './visits';

/** A stage whose temperatures, resistances, currents and losses agree with one another. */
export interface WarmStage {
  /** At the point; on the mains at its angle */
  stage: SettledStage;
  /** Where the line is the mains */
  mains?: MainsCycle;
  duties: Record<string, PartStress>;
  losses: PartLoss[];
  rungs: ThermalNodeState[];
  /** How often the stage was settled */
  iterations: number;
  /** What each mechanism was given, for its working */
  states: StateOf;
  /** W/K by which the losses of each place grow with its temperature, its currents held */
  rises(): Record<string, number>;
  /** Along the mains, where that is the line: W of a place at each angle that was settled, from the zero on, with the share of the time it stands for */
  along(slot: string): { weight: number; watts: number }[];
}

/** Rounds of settling at most; two or three are the rule, and runaway is called within each by what it is */
const MAX_ITERATIONS = 40;
/**
 * K within which temperatures agree: the round that they agree in takes them a hundred times nearer still. On the mains it is what another round
 * would move them by, its currents being those of a resistance that is off by 1e-4 at most: to see it by its angles is a thousandth off by itself.
 * And share of the load within which what is fed is what it takes.
 */
const [AGREES, FED] = [1e-3, 1e-5];
/** Angles of the mains that the first rounds look at: a few say well enough how warm it gets */
const FEW = [4];
/** How exactly those rounds settle: what they find is only come nearer to */
const ROUGH = { ...DEFAULT_TOLERANCE, relative: 1e-6 };

/**
 * Solve electrical cycle, losses and temperatures together. Currents hardly move with the resistances, so each round
 * settles the cycle, then solves temperatures against losses with its currents held; where temperatures come out as
 * the cycle was settled with, all agree.
 * @param cooling sinks, and what stands on them
 * @param from °C by slot to begin with, of a design that differs little; the air's where left out
 * @returns the warm stage; problem "runaway" when heat and resistance drive each other up
 */
export function warmStage(standing: Standing, cooling: Cooling, from?: (slot: string) => number): Result<WarmStage> {
  const { bill, air } = standing;
  const { topology, input } = bill;
  const network = partNetwork(input.parts, cooling, (id) => copiesOf(topology.slots.find((p) => p.id === id)!));
  let temperature: Temperatures = new Map(topology.slots.map((p) => [p.id, from?.(p.id) ?? air]));
  let near: Near | undefined;
  /** K that the last round moved them by at most; and what the next one moves them by of that, as far as is known */
  let [before, shrinks] = [0, 1];
  /** Has it been one mode all along the mains so far? */
  let smooth = true;
  for (let iteration = 1; iteration <= MAX_ITERATIONS; iteration++) {
    const at = (slot: string): number => temperature.get(slot)!;
    const few = FEW[iteration - 1];
    const settled = standing.mains && few !== undefined ? visit(standing, at, near, few, ROUGH) : visit(standing, at, near, smooth ? SMOOTH : undefined);
    if (!settled.ok) return settled;
    near = settled.value;
    const { visits, duties, mains } = settled.value;
    const states = visits.map((v) => partStates(bill, v.stage, v.duties));
    const mechanisms = (slot: Slot, warmer: number): Record<string, number> => lossesOf(slot, settled.value, states, warmer, standing.load);
    const found = temperatures(topology, input, network, air, temperature, mechanisms);
    if (!found.ok) return found;
    const { warm } = found.value;
    const moved = Math.max(...topology.slots.map((p) => Math.abs(warm.get(p.id)! - at(p.id))));
    // Rounds close in on them like a geometric series: what another one would move them by is known from the last two.
    if (before > 0) shrinks = Math.min(shrinks, moved / before);
    before = moved;
    // Where it turns out to be several modes, each is looked at by itself.
    const told = smooth;
    smooth &&= oneMode(visits);
    const [left, seen] = standing.mains ? [shrinks * moved, few === undefined && told === smooth] : [moved, true];
    if (seen && left < AGREES && Math.abs(mains?.excess ?? 0) < FED) {
      const losses = topology.slots.map((slot): PartLoss => {
        // As warm as it has come out to be.
        const [then, now] = [at(slot.id), warm.get(slot.id)!].map((t) => resistanceAt(input.parts[slot.id]!, t));
        const found = mechanisms(slot, then! > 0 ? now! / then! : 1);
        return { id: slot.id, mechanisms: found, total: total(found), temperature: warm.get(slot.id)! };
      });
      const rungs = apart(solveThermalNetwork(network, heatOf(input, new Map(losses.map((l) => [l.id, l.total]))), air), input.parts, losses, duties, (id) => copiesOf(topology.slots.find((p) => p.id === id)!));
      const angle = standing.mains?.seen;
      const known = visits.findIndex((v) => v.view.angle === angle);
      const shown = known >= 0 ? ok({ stage: visits[known]!.stage, states: states[known]! }) : seenAt(bill, standing.mains!.at(angle!, mains!.level), at, visits.at(-1)!.stage);
      const rises = (): Record<string, number> => Object.fromEntries(topology.slots.map((slot) => {
        const [now, more] = [0, 1].map((k) => resistanceAt(input.parts[slot.id]!, at(slot.id) + k));
        return [slot.id, now! > 0 ? total(mechanisms(slot, more! / now!)) - total(mechanisms(slot, 1)) : 0];
      }));
      const along = (id: string): { weight: number; watts: number }[] => {
        const slot = topology.slots.find((p) => p.id === id)!;
        return mains ? visits.map((v, k) => ({ weight: v.weight, watts: copiesOf(slot) * total(partLosses(slot.kind, states[k]![id]! as never)) })) : [];
      };
      return shown.ok ? ok({ ...shown.value, mains, duties: read(duties), losses, rungs, iterations: iteration, rises, along }) : shown;
    }
    temperature = warm;
    if (mains) near = { visits, mains: foreseen(mains, standing.mains!.power, found.value, input.brief.output.voltage * standing.load) };
  }
  return fail('runaway', 'temperatures', 'losses and temperatures do not settle', 'take parts with less loss or a better sink');
}

/** The stage with every part at the temperature of the air: what it is in the first moment, where it has no lasting temperatures. */
export function coldStage(standing: Standing): Result<WarmStage> {
  const { bill, air } = standing;
  const settled = visit(standing, () => air);
  if (!settled.ok) return settled;
  const { visits, duties, mains } = settled.value;
  const states = visits.map((v) => partStates(bill, v.stage, v.duties));
  const losses = bill.topology.slots.map((slot): PartLoss => {
    const found = lossesOf(slot, settled.value, states, 1, standing.load);
    return { id: slot.id, mechanisms: found, total: total(found), temperature: air };
  });
  const last = visits.length - 1;
  return ok({ stage: visits[last]!.stage, states: states[last]!, mains, duties: read(duties), losses, rungs: [], iterations: 1, rises: () => ({}), along: () => [] });
}

/** °C by place */
type Temperatures = Map<string, number>;

/** Temperatures with losses that agree with them while the currents are held, W: what is lost more than before, and what of it goes with a resistance. */
interface Warm {
  warm: Temperatures;
  more: number;
  resistive: number;
}

/**
 * What the next round along the mains is to count with: what is lost more is not fed to the load, and what is lost in resistances
 * goes with the square of the level, so that the load gets less of more than the ideal stage would give it.
 * @param ideal power of the level that what is fed goes with in that; where another has been seen already, losses are in it
 * @param watts that the load takes
 */
const foreseen = ({ level, excess, power }: MainsCycle, ideal: number, { more, resistive }: Warm, watts: number): Near['mains'] => ({ level, excess: excess - more / watts, power: power === ideal ? ideal * (1 - resistive / watts) : power });

const total = (mechanisms: Readonly<Record<string, number>>): number => Object.values(mechanisms).reduce((a, b) => a + b, 0);

/** W by mechanism of all parts in a place, as a mean over what was settled; `warmer` times the resistance it was settled with. */
function lossesOf({ id, kind, copies = 1 }: Slot, { visits, mains }: Visited, states: readonly StateOf[], warmer: number, load: number): Record<string, number> {
  const out: Record<string, number> = {};
  const add = (state: PartStates[keyof PartStates], weight: number): void => {
    for (const [name, watts] of Object.entries(partLosses(kind, scaled(state, warmer) as never))) out[name] = (out[name] ?? 0) + weight * copies * watts;
  };
  visits.forEach((v, k) => add(states[k]![id]!, v.weight));
  // While the mains is too low to draw on, the reservoir alone feeds the load.
  if (mains && id === visits[0]!.stage.roles.mains!.reservoir) add({ ...states[0]![id]!, rms: load } as PartStates['capacitor'], 1 - visits.reduce((s, v) => s + v.weight, 0));
  return out;
}

/** The same part with so many times its resistance; of copper with the temperature that makes it so, on which depends what it loses at frequency. */
function scaled(state: PartStates[keyof PartStates], factor: number): PartStates[keyof PartStates] {
  if (factor === 1) return state;
  const hotter = (T: number): number => 25 + (factor * (1 + COPPER_RISE * (T - 25)) - 1) / COPPER_RISE;
  if (!('windings' in state)) return { ...state, resistance: state.resistance * factor, ...('temperature' in state ? { temperature: hotter(state.temperature) } : {}) };
  const { wound } = state;
  return { ...state, windings: state.windings.map((w) => ({ ...w, resistance: w.resistance * factor })), ...(wound ? { wound: { ...wound, turn: wound.turn * factor, temperature: hotter(wound.temperature) } } : {}) };
}

/** Share more of a resistance that its losses' rise is seen by: copper at frequency is not straight in it */
const WARMER = 0.01;
/** °C: where there is a solution the steps towards it shrink; what grows from step to step passes any bound, and this one ends it. */
const HOPELESS = 1e6;
/** K within which temperatures agree with losses while the currents are held */
const EXACT = 1e-8;
/** Steps of the temperatures at most while the currents are held */
const MAX_ROUNDS = 400;

/**
 * Temperatures and losses that agree while the currents are held: losses rise with the resistance in proportion, and
 * run down the step tables. Fixed point, each temperature extrapolated by Aitken's rule.
 * @param from what the currents were settled with
 */
function temperatures(t: Topology, input: SizingInput, network: readonly ThermalNode[], air: number, from: Temperatures, mechanisms: (slot: Slot, warmer: number) => Record<string, number>): Result<Warm> {
  const watts = new Map(t.slots.map((p) => {
    const once = total(mechanisms(p, 1));
    return [p.id, { once, more: (total(mechanisms(p, 1 + WARMER)) - once) / WARMER }];
  }));
  const warmer = (id: string, now: number): number => {
    const then = resistanceAt(input.parts[id]!, from.get(id)!);
    return then > 0 ? resistanceAt(input.parts[id]!, now) / then : 1;
  };
  const now: Temperatures = new Map(from);
  const before = new Map<string, number>();
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const heat = new Map(t.slots.map(({ id }) => [id, watts.get(id)!.once + (warmer(id, now.get(id)!) - 1) * watts.get(id)!.more]));
    const rungs = new Map(solveThermalNetwork(network, heatOf(input, heat), air).map((r) => [r.id, r.temperature]));
    let moved = 0;
    for (const { id } of t.slots) {
      const found = rungs.get(hotSpot(id, input.parts[id]!) ?? '') ?? air;
      if (!(found < HOPELESS)) return fail('runaway', id, 'its losses and its temperature drive each other up without end', 'take a part with less resistance, a better sink, or a smaller load');
      const step = found - now.get(id)!;
      const ratio = before.get(id) ? step / before.get(id)! : 0;
      // Aitken: the rest of a geometric series, where the steps shrink like one.
      const next = Math.abs(ratio) < 0.7 ? now.get(id)! + step / (1 - ratio) : found;
      before.set(id, next === found ? step : 0);
      moved = Math.max(moved, Math.abs(step));
      now.set(id, next);
    }
    if (moved < EXACT) {
      const all = [...watts].map(([id, w]) => ({ ...w, more: w.more * warmer(id, now.get(id)!), rise: (warmer(id, now.get(id)!) - 1) * w.more }));
      return ok({ warm: now, more: all.reduce((sum, w) => sum + w.rise, 0), resistive: all.reduce((sum, w) => sum + w.more, 0) });
    }
  }
  const hottest = [...now].reduce((a, b) => (b[1] > a[1] ? b : a));
  return fail('runaway', hottest[0], 'its losses and its temperature drive each other up without end', 'take a part with less resistance, a better sink, or a smaller load');
}

/** W entering the step tables by the rung they enter at. */
function heatOf(input: SizingInput, watts: ReadonlyMap<string, number>): Record<string, number> {
  const out: Record<string, number> = {};
  for (const [id, w] of watts) {
    const spot = hotSpot(id, input.parts[id]!);
    if (spot) out[spot] = w;
  }
  return out;
}

/** With the hottest of those in parallel that do not share alike: what each carries and how warm that makes it agree once more, above what all stand on. */
function apart(rungs: ThermalNodeState[], parts: SizingInput['parts'], losses: readonly PartLoss[], duties: Readonly<Record<string, PartStress>>, copies: (slot: string) => number): ThermalNodeState[] {
  return rungs.map((r) => {
    const part = r.slot === undefined ? undefined : parts[r.slot];
    if (r.spot !== 'junction' || part?.kind !== 'switch' || !part.spread || part.count < 2) return r;
    const base = rungs.find((x) => x.id === rungs.find((c) => c.id === `${r.slot} case`)!.towards)!.temperature;
    const alike = copies(r.slot!);
    const { mechanisms, total: watts } = losses.find((l) => l.id === r.slot)!;
    const found = shareParallel({ count: part.count, spread: part.spread, rise: part.onResistanceRise, resistance: part.onResistance, rms: duties[r.slot!]!.rms, others: (watts - mechanisms.conduction!) / alike / part.count, toBase: part.junctionToCase + part.caseToSink, base });
    return found ? { ...r, hottest: Math.max(r.temperature, found.temperatures[0]!) } : r;
  });
}

/** The stage at the angle of the mains that is looked at, or wanted for drawing. */
export function seenAt(bill: Bill, view: View, temperature: (slot: string) => number, near: SettledStage): Result<Pick<WarmStage, 'stage' | 'states'>> {
  const settled = settleStage(bill, view, temperature, { state: near.cycle.state, setting: near.setting, machine: near.machine, ...(near.assembled.clock === undefined ? {} : { clock: near.assembled.clock }) });
  return settled.ok ? ok({ stage: settled.value, states: partStates(bill, settled.value, stressesIn(settled.value.circuit, settled.value.roles, settled.value.measure)) }) : settled;
}

/** Plain copies, every lazy figure read. */
const read = (duties: Record<string, PartStress>): Record<string, PartStress> =>
  Object.fromEntries(Object.entries(duties).map(([id, d]) => [id, { ...d }]));

/** The workings of every loss of a warm stage, by "place/mechanism". */
export function lossWorkings(topology: Topology, warm: WarmStage, angle = Math.PI / 2): Record<string, Working> {
  const out: Record<string, Working> = {};
  for (const slot of topology.slots)
    for (const mechanism of MECHANISMS[slot.kind]) {
      const { id } = slot;
      const alike = copiesOf(slot);
      if (warm.losses.find((l) => l.id === id)!.mechanisms[mechanism.id] === undefined) continue;
      const of = mechanism.working(warm.states[id]! as never);
      const each = alike === 1 ? of.numbers : `${alike} alike, each: ${of.numbers}`;
      out[`${id}/${mechanism.id}`] = {
        title: `${id} ${mechanism.title}`,
        value: warm.losses.find((l) => l.id === id)!.mechanisms[mechanism.id]!,
        unit: 'W',
        ...of,
        numbers: warm.mains ? `${each} = ${print(alike * mechanism.power(warm.states[id]! as never), 'W')} at ${Math.round((angle * 180) / Math.PI)}° of the mains; the figure is the mean over it` : each,
      };
    }
  return out;
}
