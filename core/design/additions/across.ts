import type { Element } from '../../circuit/elements';
import type { CapacitorPart, Part } from '../../parts/schema';
import { preferred, printQuantity as print } from '../../quantity';
import { copiesOf, type Drawing, type Slot, type Sizing, type SizedValue, type SizingInput, type Topology } from '../../topology';
import { capacitorValue, requiredRating } from '../../topology/common';
import type { Working } from '../../working';
import { slotsOf } from './branchSlots';
import type { Branch } from '../schema';

/**
 * Branches across a switch or a diode, for what its edges ring with: the inductance of the loop that hands the current
 * over, and its own capacitance.
 *
 * snubber: a capacitor with a resistor in series, that damps the ringing and pays for it with C V² f;
 * clamp: a diode into a capacitor with a resistor beside it, that takes what the inductance holds above a level.
 *
 * Source of both: Mohan, Undeland, Robbins, "Power Electronics", ch. 27 (snubber circuits).
 */
const SOURCE = 'Mohan, Undeland, Robbins: Power Electronics, ch. 27';
/** Snubber capacitance over that of the part */
const TIMES = 3;
/** Level of the clamp over what the part blocks anyway */
const ABOVE = 1.2;
/** Periods in which a clamp's resistor would empty its capacitor */
const HOLDS = 20;
/** Share of the period within which a snubber is charged at any load worth speaking of */
const HAND_OVER = 0.03;
/** H of the loop, where nobody has measured it */
export const STRAY = 20e-9;

/** Where such a branch can hang: one switch or diode, not several alike. */
export const canHangAcross = (t: Topology): Slot[] => t.slots.filter((p) => (p.kind === 'switch' || p.kind === 'diode') && copiesOf(p) === 1 && t.drawing.symbols.some((s) => s.id === p.id));

const ownCapacitance = (p: Part): number => (p.kind === 'switch' ? p.outputCapacitance * p.count : p.kind === 'diode' ? p.junctionCapacitance * p.count : 0);

/** The two ends of a part, the one that stands higher while it blocks first. */
function endsOf(elements: readonly Element[], id: string): [string, string] {
  const e = elements.find((x) => x.id === id);
  if (!e || !('a' in e)) throw new Error(`the circuit has no ${id}`);
  return e.kind === 'diode' ? [e.b, e.a] : [e.a, e.b];
}

interface Values {
  capacitor: SizedValue;
  resistor: SizedValue;
}

function snubberValues(spec: SizingInput, id: string, at: string, branch: Branch, C: string): Values {
  const own = ownCapacitance(spec.parts[at]!);
  const stray = branch.stray ?? STRAY;
  const capacitor = capacitorValue(spec.parts[C] as CapacitorPart, [{ title: 'capacitance of the snubber', formula: `C ≥ ${TIMES} C(${at})`, numbers: `${TIMES} × ${print(own, 'F')}`, value: TIMES * own, unit: 'F', source: SOURCE, leavesOut: 'what the capacitance of the other side adds; more damps better and burns more' }]);
  return { capacitor, resistor: resistorValue(spec, id, branch, C, { title: 'resistance of the snubber', formula: `R = √(L / C(${at}))`, numbers: `L = ${print(stray, 'H')} of the loop, ${print(own, 'F')}`, value: Math.sqrt(stray / own), unit: 'Ω', source: SOURCE, leavesOut: 'damping by skin effect and by the part itself' }) };
}

function clampValues(spec: SizingInput, id: string, branch: Branch, C: string, blocked: number, peak: number): Values {
  const stray = branch.stray ?? STRAY;
  const level = ABOVE * blocked;
  const watts = (0.5 * stray * peak ** 2 * spec.brief.frequency * level) / (level - blocked);
  const resistor = resistorValue(spec, id, branch, C, {
    title: 'resistance of the clamp', formula: 'R = V² / P,  P = ½ L I² f V / (V − Vblocked)', numbers: `V = ${ABOVE} × ${print(blocked, 'V')}, L = ${print(stray, 'H')} of the loop, I = ${print(peak, 'A')}`,
    value: level ** 2 / watts, unit: 'Ω', source: SOURCE, leavesOut: 'the loop’s inductance is not in the circuit: there the clamp stands at what the part blocks anyway',
  });
  const C0 = HOLDS / (spec.brief.frequency * resistor.taken);
  return { resistor, capacitor: capacitorValue(spec.parts[C] as CapacitorPart, [{ title: 'capacitance of the clamp', formula: `C ≥ ${HOLDS} / (f R)`, numbers: `${HOLDS} / (${print(spec.brief.frequency, 'Hz')} × ${print(resistor.taken, 'Ω')})`, value: C0, unit: 'F', source: SOURCE, leavesOut: 'series resistance' }]) };
}

function resistorValue(spec: SizingInput, id: string, branch: Branch, C: string, working: Working): SizedValue {
  const suggested = Number(preferred(working.value, spec.series ?? 'E24').toPrecision(6));
  return { slot: C, path: `branches.${id}.resistance`, title: working.title, unit: 'Ω', wanted: working.value, suggested, taken: branch.resistance ?? suggested, overridden: branch.resistance !== null, how: branch.resistance === null ? `nearest in ${spec.series ?? 'E24'}` : 'your value', workings: [working] };
}

/** The topology with a snubber or a clamp across the part in a place. */
export function across(t: Topology, id: string, branch: Branch): Topology {
  const { C, D } = slotsOf(id);
  const at = branch.at!;
  const isClamp = branch.kind === 'clamp';
  const key = `${C} resistor`;
  const node = `${id} level`;
  const ohms = (sizing: Pick<Sizing, 'values'>): number => sizing.values[key]!.taken;
  const slots: Slot[] = [{ id: C, kind: 'capacitor', title: isClamp ? 'clamp capacitor' : 'snubber capacitor', purpose: isClamp ? `holds the level that ${at} is clamped to` : `damps the ringing at ${at}` }];
  if (isClamp) slots.push({ id: D, kind: 'diode', title: 'clamp diode', purpose: `leads into the clamp what ${at} would block above its level` });
  return {
    ...t,
    slots: [...t.slots, ...slots],
    size(spec) {
      const s = t.size(spec);
      const blocked = s.blocking[at]!.most;
      const peak = Math.max(...[spec.brief.line.min, spec.brief.line.max].map((line) => t.forecast(spec, s, { line, load: spec.brief.load.max }).parts[at]!.peak));
      const v = isClamp ? clampValues(spec, id, branch, C, blocked, peak) : snubberValues(spec, id, at, branch, C);
      const stand = requiredRating(isClamp ? ABOVE * blocked : blocked, spec.allowed.stress);
      return { ...s, values: { ...s.values, [C]: v.capacitor, [key]: v.resistor }, blocking: { ...s.blocking, [C]: stand, ...(isClamp ? { [D]: stand } : {}) } };
    },
    forecast(spec, sizing, point) {
      const f = t.forecast(spec, sizing, point);
      const volts = t.size(spec).blocking[at]!.most;
      const C0 = sizing.values[C]!.taken;
      // A capacitor charged and discharged once a period through R; what a clamp carries is what its resistor burns.
      const rms = isClamp ? volts / ohms(sizing) : volts * Math.sqrt((C0 * spec.brief.frequency) / ohms(sizing));
      const carried = { mean: 0, rms, peak: isClamp ? 10 * rms : volts / ohms(sizing), peakToPeak: 2 * rms, estimate: true } as const;
      return { ...f, parts: { ...f.parts, [C]: carried, ...(isClamp ? { [D]: { ...carried, mean: volts / ohms(sizing) } } : {}) } };
    },
    stage(f, spec, sizing, point) {
      t.stage(f, spec, sizing, point);
      f.whole();
      const [high, low] = endsOf(f.elements, f.standsFor(at));
      if (isClamp) {
        f.diode(D, high, node);
        f.capacitor(C, node, low, { across: { id: key, ohms: ohms(sizing) } });
      } else {
        f.capacitor(C, high, low, { series: ohms(sizing) });
        f.restsLonger(HAND_OVER);
      }
    },
    start(spec, sizing, point) {
      return { ...t.start(spec, sizing, point), ...(isClamp ? { [C]: sizing.blocking[at]!.most } : {}) };
    },
    ...(isClamp ? {} : { blanking: HAND_OVER }),
    signals: [...t.signals, { id: `${C}Current`, title: `${C} current`, unit: 'A', of: { current: C } }],
    drawing: drawn(t.drawing, at, C, isClamp ? D : undefined),
  };
}

/** Room beside an upright symbol, and above one that lies in a wire */
const BESIDE = 100;
const OVER = 64;
const REACH = 36;

/** The drawing with the branch beside its part: to the right of an upright one, above one that lies in a wire. */
function drawn(d: Drawing, at: string, C: string, D: string | undefined): Drawing {
  const s = d.symbols.find((x) => x.id === at)!;
  return s.turn % 2 === 0 ? besideUpright(d, s, C, D) : overLying(d, s, C, D);
}

function besideUpright(d: Drawing, s: Drawing['symbols'][number], C: string, D: string | undefined): Drawing {
  const shift = (x: number): number => (x > s.x + 1 ? x + BESIDE + (D ? 70 : 0) : x);
  const x = s.x + BESIDE + (D ? 70 : 0) - 10;
  const [top, bottom] = [s.y - REACH, s.y + REACH];
  return {
    width: d.width + BESIDE + (D ? 70 : 0),
    height: d.height,
    symbols: [...d.symbols.map((o) => ({ ...o, x: shift(o.x) })), { id: C, symbol: 'capacitor', x, y: s.y, turn: 0, label: 'right' }, ...(D ? [{ id: D, symbol: 'diode', x: s.x + 60, y: top, turn: 3, label: 'none' } as const] : [])],
    wires: [...d.wires.map((w) => ({ ...w, points: w.points.map(([px, py]) => [shift(px), py] as const) })), { points: [[s.x, top], [x, top], [x, bottom], [s.x, bottom]], carries: C }],
    dots: [...d.dots.map(([px, py]) => [shift(px), py] as const), [s.x, top], [s.x, bottom]],
  };
}

function overLying(d: Drawing, s: Drawing['symbols'][number], C: string, D: string | undefined): Drawing {
  const y = s.y;
  const half = D ? 108 : REACH;
  const wide = D ? 2 * (half - REACH) : 0;
  const shift = (x: number): number => (x > s.x + 1 ? x + wide : x);
  const middle = s.x + wide / 2;
  const down = (py: number): number => py + OVER;
  return {
    width: d.width + wide,
    height: d.height + OVER,
    symbols: [
      ...d.symbols.map((o) => ({ ...o, x: o === s ? middle : shift(o.x), y: down(o.y) })),
      { id: C, symbol: 'capacitor', x: D ? middle + 64 : middle, y, turn: 1, label: 'above' },
      ...(D ? [{ id: D, symbol: 'diode', x: middle - 72, y, turn: s.turn, label: 'none' } as const] : []),
    ],
    wires: [...d.wires.map((w) => ({ ...w, points: w.points.map(([px, py]) => [shift(px), down(py)] as const) })), { points: [[middle - half, down(y)], [middle - half, y], [middle + half, y], [middle + half, down(y)]], carries: C }],
    dots: [...d.dots.map(([px, py]) => [shift(px), down(py)] as const), [middle - half, down(y)], [middle + half, down(y)]],
  };
}

