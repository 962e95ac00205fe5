import type { Drawing, Topology } from '../topology';
import { ringingOf } from '../topology/common';

/** Where branches stand in the drawing of a power stage. */

/** Room before the load for a capacitor alone, for an inductor before it, and for a regulator */
const [ALONE, WITH_INDUCTOR, REGULATOR] = [105, 215, 170];

/** A drawing with `room` made before the load, behind what stands at its output: from `last` on, between its wires. */
function openedOutput(stage: Topology, room: number): { d: Drawing; last: number; top: number; bottom: number } {
  const d = stage.drawing;
  const own = d.wires.filter((w) => w.carries === ringingOf(stage).C).at(-1)!.points;
  const [at, top] = own[0]!;
  const last = Math.max(at, ...d.symbols.filter((s) => s.hung).map((s) => s.x));
  const shift = (x: number): number => (x > last + 1 ? x + room : x);
  return {
    d: {
      width: d.width + room,
      height: d.height,
      symbols: d.symbols.map((s) => ({ ...s, x: shift(s.x) })),
      wires: d.wires.map((w) => ({ ...w, points: w.points.map(([x, y]) => [shift(x), y] as const) })),
      dots: d.dots.map(([x, y]) => [shift(x), y] as const),
    },
    last,
    top,
    bottom: own.at(-1)![1],
  };
}

/** The drawing with room made before the load, and the branch in it. @param L what lies in the wire before its capacitor: an inductor, or a bead, which has no place of its own and opens the capacitor's */
export function onOutput(stage: Topology, C: string, L?: string | { bead: string }): Drawing {
  const room = L ? WITH_INDUCTOR : ALONE;
  const { d, last, top, bottom } = openedOutput(stage, room);
  const x = last + room - (L ? 10 : 5);
  return {
    ...d,
    symbols: [
      ...d.symbols,
      ...(L ? [{ ...(typeof L === 'string' ? ({ id: L, label: 'below' } as const) : ({ id: L.bead, slot: C, label: 'none' } as const)), symbol: 'inductor', x: last + room / 2, y: top, turn: 1 } as const] : []),
      { id: C, symbol: 'capacitor', x, y: (top + bottom) / 2, turn: 0, label: 'right', hung: true },
    ],
    wires: [...d.wires, { points: [[x, top], [x, bottom]], carries: C }],
    dots: [...d.dots, [x, top], [x, bottom]],
  };
}

/** The drawing with room made before the load, and a regulator in its wire with a connection to the return. */
export function beforeLoad(stage: Topology, id: string): Drawing {
  const { d, last, top, bottom } = openedOutput(stage, REGULATOR);
  const x = last + 0.72 * REGULATOR;
  return {
    ...d,
    symbols: [...d.symbols, { id: 'regulator', slot: id, symbol: 'regulator', x, y: top, turn: 0, label: 'above', hung: true }],
    wires: [...d.wires, { points: [[x, top], [x, bottom]], carries: '' }],
    dots: [...d.dots, [x, bottom]],
  };
}

/** Room behind the line for an inductor, from one capacitor to the next with a figure between them, and behind the last */
const [LINE_INDUCTOR, NEXT_CAPACITOR, LINE_CAPACITOR] = [108, 104, 98];

/** Units from a source up to its wire, from which on a name fits between both */
const HIGH = 52;

/** The drawing with room made behind the line, and a filter in it: its inductor lying in the upper wire, then its capacitors. */
export function behindLine(d: Drawing, L: string, capacitors: readonly string[]): Drawing {
  const source = d.symbols.find((s) => s.id === 'line')!;
  const room = LINE_INDUCTOR + NEXT_CAPACITOR * (capacitors.length - 1) + LINE_CAPACITOR;
  const shift = (x: number): number => (x > source.x + 1 ? x + room : x);
  const heights = d.wires.flatMap((w) => w.points.flatMap(([x, y]) => (x === source.x ? [y] : [])));
  const [top, bottom] = [Math.min(...heights), Math.max(...heights)];
  const at = capacitors.map((_, k) => source.x + LINE_INDUCTOR + 12 + NEXT_CAPACITOR * k);
  return {
    width: d.width + room,
    height: d.height,
    symbols: [
      ...d.symbols.map((s) => ({ ...s, x: shift(s.x) })),
      // Below it, where the wire runs high enough over what is said of the line.
      { id: L, symbol: 'inductor', x: source.x + LINE_INDUCTOR / 2 + 17, y: top, turn: 1, label: source.y - top < HIGH ? 'above' : 'below', terse: true },
      ...capacitors.map((id, k) => ({ id, symbol: 'capacitor', x: at[k]!, y: (top + bottom) / 2, turn: 0, label: 'right', terse: true }) as const),
    ],
    wires: [...d.wires.map((w) => ({ ...w, points: w.points.map(([x, y]) => [shift(x), y] as const) })), ...capacitors.map((id, k) => ({ points: [[at[k]!, top], [at[k]!, bottom]] as const, carries: id }))],
    dots: [...d.dots.map(([x, y]) => [shift(x), y] as const), ...at.flatMap((x) => [[x, top], [x, bottom]] as const)],
  };
}

/** Room beside an upright symbol, and above one that lies in a wire */
const BESIDE = 100;
const OVER = 64;
const REACH = 36;

/** The drawing with the branch beside its part: to the right of an upright one, above one that lies in a wire. */
export function besidePart(d: Drawing, at: string, C: string, D: string | undefined): Drawing {
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

