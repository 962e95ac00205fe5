import { structureNamed } from '../control';
import { crossoverOf, mostMargin } from '../control/mainsLoop';
import { heldCommand } from '../control/held';
import { latest } from '../control/sampling';
import type { Problem } from '../problem';
import { pinnedProblem } from '../surroundings/schedule';
import { tableProblem } from '../noise/receiver';
import { printQuantity as print } from '../quantity';
import { lineRefusal } from '../surroundings/line';
import { loadRefusal } from '../surroundings/loads';
import { controllable } from '../topology/common';
import { refusal, TOPOLOGIES, topologyNamed, type Sizing, type Topology } from '../topology';
import { BRANCHES, canHangAcross, hangs } from '../branches';
import { slotsOf } from '../branches/branch';
import { cauerOf } from '../thermal/ladder';
import { topologyOf } from './topologyOf';
import { sizingInputOf } from './sizingInput';
import type { Design } from './schema';

const problem = (where: string, message: string, remedy: string, code = 'range'): Problem => ({ code, where, message, remedy });

/**
 * What the schema cannot say: fields that contradict each other, briefs that the topology cannot
 * serve, parts of the wrong kind. Empty when the design can be computed.
 */
export function checkDesign(d: Design): Problem[] {
  const { brief, control, drive } = d;
  const found: Problem[] = (d.pins ?? []).flatMap((p, k) => pinnedProblem(p, `pins.${k}`) ?? []);
  const order = (path: string, r: { min: number; max: number }, unit: 'V' | 'A' | '°C' | 'Hz', fixed = false): void => {
    if (fixed ? r.min > r.max : r.min >= r.max)
      found.push(problem(`${path}.min`, `${print(r.min, unit)} is not below ${print(r.max, unit)}`, 'put the smaller value first'));
  };
  order('brief.line', brief.line, 'V', true);
  order('brief.load', brief.load, 'A');
  order('brief.air', brief.air, '°C');
  const choice = brief.frequencyRange;
  if (choice) {
    order('brief.frequencyRange', choice, 'Hz');
    if (brief.frequency < choice.min || brief.frequency > choice.max)
      found.push(problem('brief.frequency', `${print(brief.frequency, 'Hz')} lies outside the range that the brief leaves open`, `choose ${print(choice.min, 'Hz')} to ${print(choice.max, 'Hz')}`));
  }
  if (brief.loadStep > brief.load.max)
    found.push(problem('brief.loadStep', `a step of ${print(brief.loadStep, 'A')} is more than full load`, `choose ${print(brief.load.max, 'A')} or less`));
  if (brief.lineStep !== undefined && brief.lineStep > brief.line.max - brief.line.min)
    found.push(problem('brief.lineStep', `a step of ${print(brief.lineStep, 'V')} is more than the line range has`, `choose ${print(brief.line.max - brief.line.min, 'V')} or less`));
  const { impedanceMask: mask, gainUpTo } = brief;
  if (mask?.some(([f], k) => k > 0 && f <= mask[k - 1]![0])) found.push(problem('brief.impedanceMask', 'its frequencies do not rise', 'sort its points by frequency, each once'));
  if (mask && mask.at(-1)![0] > brief.frequency / 2) found.push(problem('brief.impedanceMask', `its last point, at ${print(mask.at(-1)![0], 'Hz')}, lies above half the switching frequency`, `end it at ${print(brief.frequency / 2, 'Hz')} or below`));
  if (gainUpTo !== undefined && gainUpTo > brief.frequency / 2) found.push(problem('brief.gainUpTo', `${print(gainUpTo, 'Hz')} lies above half the switching frequency`, `choose less than ${print(brief.frequency / 2, 'Hz')}`));
  const gate = Math.min(drive.gateResistance, drive.turnOffResistance ?? Infinity);
  if ((drive.driverResistance ?? 0) > gate) found.push(problem('drive.driverResistance', `${print(drive.driverResistance!, 'Ω')} is more than the ${print(gate, 'Ω')} that stand before the gate in all`, 'the gate resistance has the driver’s own in it: give less, or raise that'));
  for (const id of ['ripple', 'deviation', 'ratings'] as const)
    if (!(d.requirements[id].limit > 0))
      found.push(problem(`requirements.${id}.limit`, 'a limit of zero can not be sized for', 'choose a limit above zero'));

  for (const key of ['quasiPeak', 'average'] as const) {
    const wrong = d.noise?.[key] && tableProblem(d.noise[key]);
    if (wrong) found.push(problem(`noise.${key}`, wrong, 'sort its rows by frequency, two of one frequency where it steps'));
  }

  const topology = topologyOf(d);
  if (!topology) {
    found.push(problem('topology', `"${d.topology}" is not a topology here`, `choose ${TOPOLOGIES.map((t) => `"${t.id}"`).join(', ')}`, 'unknown'));
    return found;
  }
  found.push(...coolingProblems(d, topology), ...toleranceProblems(d, topology));
  for (const refused of [lineRefusal(brief), loadRefusal(brief)]) if (refused) found.push(refused);
  const refusedControl = structureNamed(control.method)!.refuses?.(controllable(topology));
  if (refusedControl) found.push(refusedControl);
  const refused = refusal(topology, brief);
  if (refused) found.push(refused);
  for (const [id, b] of Object.entries(d.branches ?? {}))
    if (!hangs(topologyNamed(d.topology)!, b)) {
      const across = canHangAcross(topologyNamed(d.topology)!).map((p) => p.id);
      found.push(BRANCHES[b.kind].across ? problem(`branches.${id}.at`, `a ${b.kind} can not hang across ${b.at ?? 'nothing'} here`, across.length > 0 ? `choose ${across.join(', ')}` : 'take it away') : problem('branches', 'this power stage has no output capacitor to hang branches beside', 'take the branches away'));
    }
  for (const slot of topology.slots) {
    const part = d.parts[slot.id];
    if (!part) found.push(problem(`parts.${slot.id}`, `the ${slot.title} is missing`, `give a part of kind "${slot.kind}"`, 'missing'));
    else if (part.kind !== slot.kind)
      found.push(problem(`parts.${slot.id}.kind`, `the ${slot.title} can not be a ${part.kind}`, `give a part of kind "${slot.kind}"`, 'kind'));
    if (slot.leaks && part?.kind === 'transformer' && !(part.leakagePermeance > 0))
      found.push(problem(`parts.${slot.id}.leakagePermeance`, 'a transformer without any leakage can not be built, and this power stage commutates through it', `give its leakage a turn²: ${print(part.permeance / 1000, 'H')} where it is not known`));
    if (part?.kind === 'switch' && part.thresholdVoltage !== undefined && part.thresholdVoltage >= part.plateauVoltage)
      found.push(problem(`parts.${slot.id}.thresholdVoltage`, `a threshold of ${print(part.thresholdVoltage, 'V')} is not below the plateau of ${print(part.plateauVoltage, 'V')}`, 'choose a threshold below the plateau'));
    if (part?.kind === 'switch' && part.plateauVoltage >= drive.voltage)
      found.push(
        problem('drive.voltage', `${print(drive.voltage, 'V')} does not lift ${slot.id} above its plateau of ${print(part.plateauVoltage, 'V')}`, 'raise the drive voltage'),
      );
  }
  for (const id of Object.keys(d.parts))
    if (!topology.slots.some((p) => p.id === id))
      found.push(problem(`parts.${id}`, `this power stage has no place ${id}`, `its places are ${topology.slots.map((p) => p.id).join(', ')}`, 'unknown-field'));

  found.push(...regulatorProblems(d));
  if (found.length === 0) found.push(...unbuildable(d, topology));

  if (drive.deadTime * brief.frequency > 0.1)
    found.push(problem('drive.deadTime', `${print(drive.deadTime, 's')} is more than a tenth of the period`, `choose less than ${print(0.1 / brief.frequency, 's')}`));
  if (control.delay * brief.frequency > 2)
    found.push(problem('control.delay', `${print(control.delay, 's')} is more than two periods`, `choose less than ${print(2 / brief.frequency, 's')}`));
  if (control.crossover > brief.frequency / 2)
    found.push(problem('control.crossover', `${print(control.crossover, 'Hz')} is above half the switching frequency`, `choose ${print(brief.frequency / 10, 'Hz')} or so`));
  found.push(...loopProblems(d));
  if (control.reference >= brief.output.voltage)
    found.push(problem('control.reference', `${print(control.reference, 'V')} is not below the output`, 'choose a reference below the output voltage'));
  return found;
}

/** What of the loop around the mains can not be. */
function mainsLoopProblems(control: Design['control'], mains: number): Problem[] {
  const crossover = crossoverOf(control, mains);
  if (crossover > mains) return [problem('control.outerCrossover', `a voltage loop that crosses at ${print(crossover, 'Hz')} follows the ripple at twice the mains, and draws no sine`, `choose ${print(mains / 5, 'Hz')} or so, at most ${print(mains, 'Hz')}`)];
  const [most, asked] = [mostMargin(control, mains), control.outerPhaseMargin as number];
  if (asked >= most) return [problem('control.outerPhaseMargin', `${print(asked, '°')} are not to be had at ${print(crossover, 'Hz')}: ${control.notchQuality === null ? 'the reservoir leaves 90°' : `the notch leaves ${print(most, '°', 3)}`}`, `ask for ${print(Math.floor(most - 5), '°')} or so${control.notchQuality === null ? '' : ', cross lower, or raise the notch’s quality'}`)];
  return [];
}

/** What of a loop that holds its command over the mains can not be. */
const heldLoopProblems = ({ crossover }: Design['control'], mains: number): Problem[] =>
  crossover > mains ? [problem('control.crossover', `a loop that crosses at ${print(crossover, 'Hz')} moves its command within a cycle of the mains, and what is drawn is no sine`, `choose ${print(mains / 5, 'Hz')} or so, at most ${print(mains, 'Hz')}`)] : [];

/** What of loops inside one another, of that around the mains, and of sampling, can not be. */
function loopProblems({ brief, control }: Design): Problem[] {
  const found: Problem[] = brief.line.mains === undefined ? [] : heldCommand(control) ? heldLoopProblems(control, brief.line.mains) : mainsLoopProblems(control, brief.line.mains);
  const { inner } = structureNamed(control.method)!;
  if (inner) {
    const crossover = (control.innerCrossover as number | null) ?? inner.crossover * brief.frequency;
    if (crossover > brief.frequency / 2)
      found.push(problem('control.innerCrossover', `${print(crossover, 'Hz')} is above half the switching frequency`, `choose ${print(inner.crossover * brief.frequency, 'Hz')} or so`));
    if (control.crossover > crossover / 2)
      found.push(problem('control.crossover', `${print(control.crossover, 'Hz')} is more than half of what the loop inside crosses at, ${print(crossover, 'Hz')}: there it does not follow`, `choose ${print(crossover / 5, 'Hz')} or so`));
  }
  const [low, high] = [control.clipsLow as number | null, control.clipsHigh as number | null];
  if (low !== null && high !== null && low >= high) found.push(problem('control.clipsLow', `${print(low, 'V')} is not below ${print(high, 'V')}`, 'let it clip lower there, or higher above'));
  if (control.sampled !== 'none' && structureNamed(control.method)!.clocked === false) found.push(problem('control.sampled', 'there is no clock to sample by', 'choose a network, or a way to control that has a clock'));
  if (control.sampled !== 'none') {
    const computing = control.computing as number;
    const at = (control.sampleAt as number | null) ?? latest(control, brief.frequency);
    if (computing * brief.frequency >= 1) found.push(problem('control.computing', `${print(computing, 's')} of computing is more than the period`, `choose less than ${print(1 / brief.frequency, 's')}`));
    else if (at >= 1) found.push(problem('control.sampleAt', 'a sample is taken within the period', 'choose less than 100 %'));
    else if (at + computing * brief.frequency > 1 + 1e-9) found.push(problem('control.sampleAt', `sampled at ${print(at, '%')}, what is computed in ${print(computing, 's')} is not there as the next period begins`, `sample at ${print(latest(control, brief.frequency), '%')} or before`));
  }
  return found;
}

/** More parts in parallel than anybody would place, or values beyond what numbers hold. */
const MOST_PARALLEL = 1000;

/** Values that the brief wants and nobody can build. */
function unbuildable(d: Design, topology: Topology): Problem[] {
  const { values } = topology.size(sizingInputOf(d));
  const out: Problem[] = resonant(d, values);
  for (const [slot, v] of Object.entries(values)) {
    const part = d.parts[slot];
    if (!Number.isFinite(v.taken) || !(v.taken > 0))
      out.push(problem(`parts.${v.slot ?? slot}`, `the brief wants ${print(v.wanted, v.unit)} here, which nobody can build`, 'look at frequency, ripple and load of the brief'));
    else if (part?.kind === 'capacitor' && v.count !== undefined && v.count > MOST_PARALLEL)
      out.push(problem(`parts.${slot}`, `the brief wants ${v.count} of these in parallel`, 'choose a larger capacitor, or allow more ripple'));
  }
  return out;
}

/** Regulators that have nothing above them, tables out of order, and more of them than one. */
function regulatorProblems({ branches = {}, brief }: Design): Problem[] {
  const own = Object.entries(branches).filter(([, b]) => b.kind === 'regulator');
  const rises = (table: readonly (readonly [number, number])[], where: string): Problem[] => {
    const back = table.findIndex(([f], k) => k > 0 && f <= table[k - 1]![0]);
    return back > 0 ? [problem(where, `row ${back + 1} does not rise in frequency`, 'sort its rows by frequency, each once')] : [];
  };
  return [
    ...(own.length > 1 ? [problem('branches', 'there are two linear regulators behind one output', 'take one of them away')] : []),
    ...own.flatMap(([id, { regulator }]) => (regulator && regulator.voltage + regulator.dropout >= brief.output.voltage ? [problem(`branches.${id}.regulator.voltage`, `it makes ${print(regulator.voltage, 'V')} and wants ${print(regulator.dropout, 'V')} above that: the output of ${print(brief.output.voltage, 'V')} does not reach it`, `raise the output above ${print(regulator.voltage + regulator.dropout, 'V')}, or let it make less`)] : [])),
    ...Object.entries(branches).flatMap(([id, b]) => [...(b.regulator ? rises(b.regulator.rejection, `branches.${id}.regulator.rejection`) : []), ...(b.bead ? rises(b.bead.impedance, `branches.${id}.bead.impedance`) : [])]),
  ];
}

/** Filters that ring where the converter switches, or above: they let its ripple through, or raise it. */
function resonant({ branches = {}, brief }: Design, values: Sizing['values']): Problem[] {
  return Object.entries(branches).flatMap(([id, { kind }]) => {
    if (kind !== 'filter' && kind !== 'line-filter') return [];
    const { L, C } = slotsOf(id);
    const own = kind === 'line-filter' && id === Object.keys(branches).find((x) => branches[x]!.kind === kind) ? (values.C1?.taken ?? 0) : 0;
    const rings = 1 / (2 * Math.PI * Math.sqrt((values[L]?.taken ?? NaN) * ((values[C]?.taken ?? NaN) + own)));
    return rings > RINGS_BELOW * brief.frequency ? [problem(`parts.${L}.inductance`, `the filter ${L}, ${C} rings at ${print(rings, 'Hz')}, and the converter switches at ${print(brief.frequency, 'Hz')}: it takes nothing off that ripple`, `give it more, so that it rings below ${print(RINGS_BELOW * brief.frequency, 'Hz')}: four times the inductance halves it`)] : [];
  });
}
/** Of the switching frequency: an L-C filter that rings there lets as much through as none */
const RINGS_BELOW = Math.SQRT1_2;

/** Share by which the resistances of a ladder may differ from what stands beside them */
const ROUNDED = 0.02;

/** Places that are cooled by what is not there, and ladders that make none or another resistance. */
function coolingProblems(d: Design, topology: Topology): Problem[] {
  const sinks = 1 + (d.sinks?.length ?? 0);
  const places = Object.entries(d.cooling ?? {}).flatMap(([slot, { sink, board }]): Problem[] => {
    const kind = topology.slots.find((p) => p.id === slot)?.kind;
    if (kind !== 'switch' && kind !== 'diode') return [problem(`cooling.${slot}`, `${slot} is no switch and no diode here`, `name one of ${topology.slots.filter((p) => p.kind === 'switch' || p.kind === 'diode').map((p) => p.id).join(', ')}`, 'unknown')];
    if (sink !== undefined && board !== undefined) return [problem(`cooling.${slot}`, 'a part stands on a sink or on its board, not on both', 'leave one of them out')];
    return sink !== undefined && sink > sinks ? [problem(`cooling.${slot}.sink`, `there is no sink ${sink}`, sinks === 1 ? 'add it to "sinks", or leave it on the shared one' : `choose 1 to ${sinks}`)] : [];
  });
  const ladders = Object.entries(d.parts).flatMap(([slot, part]): Problem[] => {
    if ((part.kind !== 'switch' && part.kind !== 'diode') || !part.ladder) return [];
    const at = `parts.${slot}.ladder`;
    if (!cauerOf(part.ladder)) return [problem(at, 'these terms make no ladder', 'give terms with positive resistances and time constants that stand apart')];
    const sum = part.ladder.rungs.reduce((all, [r]) => all + r, 0);
    return Math.abs(sum / part.junctionToCase - 1) > ROUNDED ? [problem(at, `its resistances add up to ${print(sum, 'K/W')}, from junction to case there are ${print(part.junctionToCase, 'K/W')}`, 'make them agree')] : [];
  });
  return [...places, ...ladders];
}

/** Tolerances of what is not there, slots that are off together and not alike. */
function toleranceProblems({ tolerances, parts }: Design, { slots }: Topology): Problem[] {
  if (!tolerances) return [];
  const names = slots.map((p) => p.id);
  const known = (id: string): boolean => names.includes(id);
  const list = names.join(', ');
  return [
    ...Object.entries(tolerances.values).flatMap(([slot, values]): Problem[] => {
      if (slot === 'network') return [];
      if (!known(slot)) return [problem(`tolerances.values.${slot}`, `there is no ${slot}`, `name one of ${list}, or network`, 'unknown')];
      const not = Object.keys(values).find((key) => typeof (parts[slot] as Record<string, unknown> | undefined)?.[key] !== 'number' && key !== 'inductance' && key !== 'capacitance');
      return not === undefined ? [] : [problem(`tolerances.values.${slot}.${not}`, `${slot} has no such value`, 'name a value of the part', 'unknown')];
    }),
    ...tolerances.matched.flatMap((group, k): Problem[] => {
      const missing = group.find((id) => !known(id));
      if (missing !== undefined) return [problem(`tolerances.matched.${k}`, `there is no ${missing}`, `name some of ${list}`, 'unknown')];
      return new Set(group.map((id) => parts[id]?.kind)).size > 1 ? [problem(`tolerances.matched.${k}`, 'parts of several kinds are not off together', 'name parts of one kind', 'kind')] : [];
    }),
  ];
}
