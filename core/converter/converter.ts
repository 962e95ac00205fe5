import type { Circuit } from '../circuit/elements';
import { buildMachine, type Machine } from '../circuit/machine';
import type { Problem } from '../problem';
import { ok, type Result } from '../problem';
import { cycleIntegrals, type Measures } from '../orbit/measure';
import { powersOf } from '../orbit/power';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { instability, multipliers } from '../orbit/stability';
import { bode, margins, type BodeCurve, type Margins } from '../response/margins';
import { loopAt, injectionPointAt } from '../response/injectionPoint';
import { refined, resonancesOf } from '../response/refine';
import { logSpaced } from '../response/system';
import { isDiscontinuous } from './conduction';
import type { FileRoles } from './roles';
import { keptMeasures } from './measures';
import { stressesIn, type PartStress } from './stresses';

/** One closed circuit, and what is what in it. */
export interface Converter {
  circuit: Circuit;
  roles: FileRoles;
}

/** What is known of a converter from its circuit and its roles alone. */
export interface ConverterFigures {
  /** s */
  period: number;
  /** Hz, of what repeats fastest in it */
  frequency: number;
  /** |x(T) − x(0)|, relative */
  closure: number;
  /** Where the roles say by what that is told */
  conduction?: 'continuous' | 'discontinuous';
  /** Size of the largest multiplier, and how the cycle leaves where it does */
  multiplier: number;
  leaves?: Problem;
  /** Volts of each output, the watts that its loads take, and V that it shall be */
  outputs: { voltage: Measures; power: number; wanted?: { voltage: number; within: number; holds: boolean } }[];
  losses: {
    /** W */
    input: number;
    output: number;
    total: number;
    efficiency: number;
    /** W that is burnt in the elements that stand for each part */
    parts: Burnt[];
    /** W in all that stands for none: controller, wiring */
    elsewhere: Burnt;
  };
  stresses: Record<string, PartStress>;
  loops: LoopOf[];
}

/** W burnt in some elements. */
export interface Burnt {
  id: string;
  elements: string[];
  total: number;
}

export interface LoopOf extends Margins {
  title: string;
  /** Hz and degrees wanted, and whether they are met; where there are any */
  wanted?: { crossover?: number; phaseMargin?: number; holds: boolean };
  curve: BodeCurve;
}

/** Decades below the switching frequency that a loop is looked at from, and the share of it to which */
const [DECADES, HIGHEST, GRID] = [4, 0.8, 200];

/** A converter on its settled cycle: what its figures, and what is drawn of it, are read from. */
export interface Settled extends Converter {
  machine: Machine;
  cycle: SettledCycle;
  measured: ReturnType<typeof keptMeasures>;
  /** W that each element takes */
  watts: Readonly<Record<string, number>>;
}

/** Settle a converter from rest. @returns it on its cycle; problems of building and settling the circuit */
export function settleConverter(converter: Converter): Result<Settled> {
  const machine = buildMachine(converter.circuit);
  if (!machine.ok) return machine;
  const settled = settleCycle(machine.value);
  if (!settled.ok) return settled;
  const g = cycleIntegrals(settled.value);
  return ok({ ...converter, machine: machine.value, cycle: settled.value, measured: keptMeasures(g, converter.roles), watts: powersOf(converter.circuit, g).elements });
}

/** Settle a converter, and read everything of it that its roles allow. @returns the figures; problems as of settling it */
export function converterFigures(converter: Converter): Result<ConverterFigures> {
  const settled = settleConverter(converter);
  return settled.ok ? ok(figuresOn(settled.value)) : settled;
}

/** The figures of a converter on its settled cycle. */
export function figuresOn({ circuit, roles, machine, cycle, measured, watts }: Settled): ConverterFigures {
  const burnt = (ids: readonly string[]): number => ids.reduce((sum, id) => sum + (watts[id] ?? 0), 0);
  const outputs = roles.outputs.map(({ loads, voltage, within }, k) => {
    const v = { ...measured({ output: k }) };
    return { voltage: v, power: burnt(loads), ...(voltage === undefined ? {} : { wanted: { voltage, within, holds: Math.abs(v.mean - voltage) <= within * Math.abs(voltage) } }) };
  });
  const input = -watts[roles.line]!;
  const output = outputs.reduce((sum, o) => sum + o.power, 0);
  const parts = Object.entries(roles.parts).map(([id, p]): Burnt => {
    const elements = [...p.elements, p.body, ...[p.across ?? []].flat(), ...(p.copper ?? []).map((c) => c.element)].filter((e) => e !== undefined);
    return { id, elements, total: burnt(elements) };
  });
  const named = new Set([roles.line, ...roles.outputs.flatMap((o) => o.loads), ...parts.flatMap((p) => p.elements)]);
  const leaves = instability(cycle);
  const frequency = 1 / machine.fastest;
  const loops = roles.loops.map((role): LoopOf => {
    const place = injectionPointAt(circuit, role.source);
    if (!place.ok) throw new Error(place.problem.message);
    const loop = loopAt(machine, cycle, place.value);
    const { frequency: f, response } = refined(logSpaced(frequency / 10 ** DECADES, HIGHEST * frequency, GRID), loop, resonancesOf(cycle));
    const curve = bode(f, response);
    const read = margins((x) => loop([x])[0]!, curve, response);
    const { crossover, phaseMargin } = role;
    const holds = (crossover === undefined || read.crossover >= crossover) && (phaseMargin === undefined || read.phaseMargin >= phaseMargin) && leaves === undefined;
    return { title: role.title, ...read, ...(crossover === undefined && phaseMargin === undefined ? {} : { wanted: { crossover, phaseMargin, holds } }), curve };
  });
  return {
    period: cycle.period,
    frequency,
    closure: cycle.closure,
    ...(roles.conduction ? { conduction: isDiscontinuous(cycle, roles.conduction) ? ('discontinuous' as const) : ('continuous' as const) } : {}),
    multiplier: multipliers(cycle)[0]?.size ?? 0,
    ...(leaves ? { leaves } : {}),
    outputs,
    losses: { input, output, total: input - output, efficiency: output / input, parts, elsewhere: { id: 'rest', elements: Object.keys(watts).filter((e) => !named.has(e)), total: input - output - parts.reduce((sum, p) => sum + p.total, 0) } },
    stresses: Object.fromEntries(Object.entries(stressesIn(circuit, roles, measured)).map(([id, s]) => [id, { ...s }])),
    loops,
  };
}
