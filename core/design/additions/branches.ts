import { windingResistance, type CapacitorPart, type InductorPart } from '../../parts/schema';
import { preferred, printQuantity as print } from '../../quantity';
import { recent } from '../../recent';
import { topologyNamed, type Drawing, type Slot, type Sizing, type SizedValue, type SizingInput, type Topology } from '../../topology';
import { BEST_DAMPING, capacitorValue, DAMPING, ERICKSON, inductorValue, requiredRating } from '../../topology/common';
import type { Working } from '../../working';
import { across, canHangAcross } from './across';
import { slotsOf } from './branchSlots';
import type { Branch, Design } from '../schema';

/**
 * Branches hung on a power stage: the topology that comes out is one like any other, with the branch's parts among
 * its places, in its circuit and in its drawing; so loop, step, losses and corners follow by themselves.
 *
 * Across a switch or diode: see across.ts. On the output:
 *
 * damping: a capacitor with a resistor across the output, that takes the ringing out of L1 and C2;
 * filter: a second inductor and capacitor behind the output, which then is behind them.
 *
 * Source of both: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 10 (filter damping).
 */
export const BRANCHES: Record<Branch['kind'], { title: string; purpose: string; across?: true }> = {
  damping: { title: 'damping R-C', purpose: 'takes the ringing of inductor and output capacitor' },
  filter: { title: 'second L-C stage', purpose: 'takes most of the ripple that is left' },
  snubber: { title: 'snubber R-C', purpose: 'damps the ringing of a switch or diode', across: true },
  clamp: { title: 'clamp R-C-D', purpose: 'takes what the loop’s inductance holds above a level', across: true },
};

/** Ripple that the second stage lets through, as a share */
const LETS_THROUGH = 0.1;
/** Room in the drawing for a branch */
const ROOM: Record<'damping' | 'filter', number> = { damping: 105, filter: 215 };

/** Can branches be hung on this topology's output? Where an output capacitor stands, that is no reservoir. */
export const takesBranches = (t: Topology): boolean => t.mains === undefined && t.slots.some((p) => p.id === 'C2');

/** Can this branch hang on this topology, where it says? */
export const hangs = (t: Topology, b: Branch): boolean => (BRANCHES[b.kind].across ? canHangAcross(t).some((p) => p.id === b.at) : takesBranches(t));

/** Topologies with additions that are kept, so that what is known of one is found again */
const find = recent<string, Topology>(64);

/** The topology of a design with its branches; undefined when there is none of that name. */
export function topologyOf(d: Pick<Design, 'topology' | 'branches'>): Topology | undefined {
  const base = topologyNamed(d.topology);
  const list = Object.entries(d.branches ?? {});
  if (!base || list.length === 0 || list.some(([, b]) => !hangs(base, b))) return base;
  return find(`${base.id} ${JSON.stringify(list)}`, () => list.reduce((t, [id, b]) => hang(t, id, b), base));
}

function hang(t: Topology, id: string, branch: Branch): Topology {
  if (branch.kind === 'damping') return damping(t, id, branch);
  return branch.kind === 'filter' ? filter(t, id) : across(t, id, branch);
}

/** Ω of the resistor that the working proposes. */
function bestResistance(of: { L: string; C: string }, spec: SizingInput, values: Sizing['values']): Working {
  const C = values[of.C]!.taken;
  const L = values[of.L]?.taken;
  const level = L === undefined ? 1 / (2 * Math.PI * spec.crossover * C) : Math.sqrt(L / C);
  return {
    title: 'damping resistance', formula: L === undefined ? `R = ${BEST_DAMPING.toFixed(2)} / (2π fc ${of.C})` : `R = ${BEST_DAMPING.toFixed(2)} √(${of.L} / ${of.C})`, numbers: L === undefined ? `${print(spec.crossover, 'Hz')}, ${print(C, 'F')}` : `${print(L, 'H')}, ${print(C, 'F')}`,
    value: BEST_DAMPING * level, unit: 'Ω', source: `${ERICKSON}, ch. 10`, leavesOut: `resistance of ${of.C}, which damps as well`,
  };
}

function damping(t: Topology, id: string, branch: Branch): Topology {
  const { C } = slotsOf(id);
  const of = t.ringing ?? { L: 'L1', C: 'C2' };
  const part = (spec: SizingInput): CapacitorPart => spec.parts[C] as CapacitorPart;
  const value = (spec: SizingInput, values: Sizing['values']): SizedValue => {
    const own = values[of.C]!.taken;
    return capacitorValue(part(spec), [{
      title: 'capacitance that damps', formula: `C ≥ ${DAMPING} ${of.C},  with a resistor in series`, numbers: `${DAMPING} × ${print(own, 'F')},  ${print(ohms(spec, values), 'Ω')}`,
      value: DAMPING * own, unit: 'F', source: `${ERICKSON}, ch. 10`, leavesOut: 'what the loop does to the ringing below its crossover',
    }]);
  };
  const ohms = (spec: SizingInput, values: Sizing['values']): number => branch.resistance ?? Number(preferred(bestResistance(of, spec, values).value, spec.series ?? 'E24').toPrecision(6));
  const slot: Slot = { id: C, kind: 'capacitor', title: 'damping capacitor', purpose: BRANCHES.damping.purpose };
  return {
    ...t,
    slots: [...t.slots, slot],
    size(spec) {
      const s = t.size(spec);
      const resistor: SizedValue = {
        slot: C, path: `branches.${id}.resistance`, title: 'damping resistance', unit: 'Ω', wanted: bestResistance(of, spec, s.values).value, suggested: preferred(bestResistance(of, spec, s.values).value, spec.series ?? 'E24'), taken: ohms(spec, s.values),
        overridden: branch.resistance !== null, how: branch.resistance === null ? `nearest in ${spec.series ?? 'E24'}` : 'your value', workings: [bestResistance(of, spec, s.values)],
      };
      return { ...s, values: { ...s.values, [C]: value(spec, s.values), [`${C} resistor`]: resistor }, blocking: { ...s.blocking, [C]: requiredRating(spec.brief.output.voltage, spec.allowed.stress) } };
    },
    forecast(spec, sizing, point) {
      const f = t.forecast(spec, sizing, point);
      // Nearly all of the ripple stands across the resistor.
      const rms = f.outputRipple / Math.sqrt(12) / sizing.values[`${C} resistor`]!.taken;
      return { ...f, parts: { ...f.parts, [C]: { mean: 0, rms, peak: 2 * rms, peakToPeak: 4 * rms, estimate: true } } };
    },
    stage(f, spec, sizing, point) {
      t.stage(f, spec, sizing, point);
      f.whole();
      const [plus, minus] = f.outputs[0]!.nodes;
      f.capacitor(C, plus, minus, { series: sizing.values[`${C} resistor`]!.taken });
    },
    start: (spec, sizing, point) => ({ ...t.start(spec, sizing, point), [C]: spec.brief.output.voltage }),
    signals: [...t.signals, { id: `${C}Current`, title: `${C} current`, unit: 'A', of: { current: C } }],
    drawing: drawn(t.drawing, 'damping', C, undefined),
  };
}

function filter(t: Topology, id: string): Topology {
  const { C, L } = slotsOf(id);
  const node = `${id} out`;
  const parts = (spec: SizingInput): { C: CapacitorPart; L: InductorPart } => ({ C: spec.parts[C] as CapacitorPart, L: spec.parts[L] as InductorPart });
  const values = (spec: SizingInput, own: Sizing['values']): Record<string, SizedValue> => {
    const p = parts(spec);
    const omega = 2 * Math.PI * spec.brief.frequency;
    const capacitance = capacitorValue(p.C, [{
      title: 'capacitance of the second stage', formula: 'C ≥ C2 / 4: large against its inductor, small against the load step', numbers: `${print(own.C2!.taken, 'F')} / 4`, value: own.C2!.taken / 4, unit: 'F', source: `${ERICKSON}, ch. 10`, leavesOut: 'the load step, of which it takes the first',
    }]);
    const inductance = inductorValue(p.L, {
      title: 'inductance of the second stage', formula: `ω² L C = 1 + 1 / ${LETS_THROUGH}: lets a tenth of the ripple through`, numbers: `ω = 2π × ${print(spec.brief.frequency, 'Hz')}, C = ${print(capacitance.taken, 'F')}`,
      value: (1 + 1 / LETS_THROUGH) / (omega ** 2 * capacitance.taken), unit: 'H', source: `${ERICKSON}, ch. 10`, leavesOut: 'resistance of the capacitor, which lets more through; harmonics, of which less comes through',
    }, spec.series);
    return { [L]: inductance, [C]: capacitance };
  };
  return {
    ...t,
    slots: [...t.slots, { id: L, kind: 'inductor', title: 'second-stage inductor', purpose: BRANCHES.filter.purpose }, { id: C, kind: 'capacitor', title: 'second-stage capacitor', purpose: BRANCHES.filter.purpose }],
    ringing: { L, C },
    size(spec) {
      const s = t.size(spec);
      return { ...s, values: { ...s.values, ...values(spec, s.values) }, blocking: { ...s.blocking, [C]: requiredRating(spec.brief.output.voltage, spec.allowed.stress) } };
    },
    forecast(spec, sizing, point) {
      const f = t.forecast(spec, sizing, point);
      const ripple = f.outputRipple / (2 * Math.PI * spec.brief.frequency * sizing.values[L]!.taken) / 2;
      const rms = ripple / Math.sqrt(3);
      return {
        ...f, outputRipple: f.outputRipple * LETS_THROUGH, rippleEstimate: true,
        parts: { ...f.parts, [L]: { mean: point.load, rms: Math.hypot(point.load, rms), peak: point.load + ripple, peakToPeak: 2 * ripple, estimate: true }, [C]: { mean: 0, rms, peak: ripple, peakToPeak: 2 * ripple, estimate: true } },
      };
    },
    stage(f, spec, sizing, point) {
      t.stage(f, spec, sizing, point);
      f.whole();
      const [plus, minus] = f.outputs[0]!.nodes;
      f.inductor(L, plus, node);
      f.capacitor(C, node, minus);
      f.outputs[0]!.nodes = [node, minus];
    },
    start(spec, sizing, point) {
      const drop = point.load * windingResistance(parts(spec).L, 25);
      return { ...t.start(spec, sizing, point), C2: spec.brief.output.voltage + drop, [C]: spec.brief.output.voltage, [L]: point.load };
    },
    signals: [...t.signals, { id: `${L}Current`, title: `${L} current`, unit: 'A', of: { current: L }, lane: 'whole' }],
    // What stands behind the second stage turns further by half a circle at its corner.
    crossoverLimit(spec, sizing, point) {
      const own = sizing.values;
      const corner = own[L] ? 1 / (2 * Math.PI * Math.sqrt(own[L].taken * own[C]!.taken)) : Infinity;
      return Math.min(t.crossoverLimit(spec, sizing, point), corner / 3);
    },
    drawing: drawn(t.drawing, 'filter', C, L),
  };
}

/** The drawing with room made before the load, and the branch in it. */
function drawn(d: Drawing, kind: 'damping' | 'filter', C: string, L: string | undefined): Drawing {
  const own = d.wires.filter((w) => w.carries === 'C2').at(-1)!.points;
  const [at, top] = own[0]!;
  const bottom = own.at(-1)![1];
  const room = ROOM[kind];
  const last = Math.max(at, ...d.symbols.filter((s) => s.hung).map((s) => s.x));
  const shift = (x: number): number => (x > last + 1 ? x + room : x);
  const x = last + room - (kind === 'damping' ? 5 : 10);
  return {
    width: d.width + room,
    height: d.height,
    symbols: [
      ...d.symbols.map((s) => ({ ...s, x: shift(s.x) })),
      ...(L ? [{ id: L, symbol: 'inductor', x: last + room / 2, y: top, turn: 1, label: 'below' } as const] : []),
      { id: C, symbol: 'capacitor', x, y: (top + bottom) / 2, turn: 0, label: 'right', hung: true },
    ],
    wires: [...d.wires.map((w) => ({ ...w, points: w.points.map(([px, py]) => [shift(px), py] as const) })), { points: [[x, top], [x, bottom]], carries: C }],
    dots: [...d.dots.map(([px, py]) => [shift(px), py] as const), [x, top], [x, bottom]],
  };
}
