import { MOST_IN_LANE, MOST_LANES, type Look } from '../../../core/design/schema';
import { topologyOf, type Design } from '../../../core/design';
import { usualTraces, type Trace } from '../../../core/schedule';
import { actions, useStore } from '../../state/store';
import { inTimeActions } from '../../state/inTime';

/** Which traces stand in which lane: kept with the design, the topology's own signals one a lane where it says nothing. */

export const lanesOf = (d: Design): string[][] => d.lanes ?? usualTraces(topologyOf(d)!).map((id) => [id]);

/** Is a trace shown? */
export const isShown = (d: Design, id: string): boolean => lanesOf(d).some((l) => l.includes(id));

const put = (lanes: string[][]): unknown => actions.edit({ lanes: lanes.length > 0 ? lanes : undefined });

/** Lanes without a trace; one that is empty then goes. */
export const without = (lanes: readonly (readonly string[])[], id: string): string[][] => lanes.map((l) => l.filter((x) => x !== id)).filter((l) => l.length > 0);

/** Lanes with a trace in one of its own, below. */
export const withLane = (lanes: readonly (readonly string[])[], id: string): string[][] => [...without(lanes, id), [id]];

/** Lanes with a trace moved up (−1) or down (1) by a lane: beside what stands there is a lane of its own. */
export function shifted(lanes: readonly (readonly string[])[], id: string, by: -1 | 1): string[][] {
  const k = lanes.findIndex((l) => l.includes(id));
  const alone = lanes[k]?.length === 1;
  const rest = without(lanes, id);
  const at = alone ? k + by : by < 0 ? k : k + 1;
  return [...rest.slice(0, Math.max(0, at)), [id], ...rest.slice(Math.max(0, at))];
}

/** Lanes with a trace laid into the lane above it. */
export function joinedAbove(lanes: readonly (readonly string[])[], id: string): string[][] {
  const k = lanes.findIndex((l) => l.includes(id));
  if (k < 1 || lanes[k - 1]!.length >= MOST_IN_LANE) return lanes.map((l) => [...l]);
  return lanes.flatMap((l, i) => (i === k - 1 ? [[...l, id]] : i === k && l.length === 1 ? [] : [l.filter((x) => x !== id)]));
}

/** Lanes with a trace let go over a lane: above it, below it, or into it. A full lane takes none in. */
export function dropped(lanes: readonly (readonly string[])[], id: string, onto: number, where: 'above' | 'into' | 'below'): string[][] {
  const target = lanes[onto];
  if (!target || (target.length === 1 && target[0] === id)) return lanes.map((l) => [...l]);
  if (where === 'into') return target.includes(id) || target.length >= MOST_IN_LANE ? lanes.map((l) => [...l]) : lanes.map((l, i) => (i === onto ? [...l, id] : l.filter((x) => x !== id))).filter((l) => l.length > 0);
  return lanes.flatMap((l, i) => {
    const left = l.filter((x) => x !== id);
    return i !== onto ? [left] : where === 'above' ? [[id], left] : [left, [id]];
  }).filter((l) => l.length > 0);
}

/** The least height of a lane (px) */
const LEAST = 34;

/** Heights of lanes (px) that share a room, each as it is looked at: the highest that one of its traces asks for, the usual being 1. */
export function heightsOf(lanes: readonly (readonly string[])[], looks: Design['looks'], room: number): number[] {
  const asked = lanes.map((l) => Math.max(...l.map((id) => looks?.[id]?.height ?? NaN).filter((h) => h > 0), -Infinity)).map((h) => (h > 0 ? h : 1));
  const sum = asked.reduce((a, b) => a + b, 0);
  return asked.map((h) => (h / sum) * room);
}

/** Looks with the edge below a lane moved by so many px: what it gains the next one loses, and none gets lower than can be read. */
export function edgeMoved(lanes: readonly (readonly string[])[], looks: Design['looks'], room: number, edge: number, by: number): NonNullable<Design['looks']> {
  const heights = heightsOf(lanes, looks, room);
  const [above, below] = [heights[edge]!, heights[edge + 1]!];
  const moved = Math.max(Math.min(0, LEAST - above), Math.min(Math.max(0, below - LEAST), by));
  const usual = room / lanes.length;
  const next = heights.map((h, k) => (k === edge ? h + moved : k === edge + 1 ? h - moved : h));
  // Of every lane, so that they keep their shares.
  return Object.fromEntries([...Object.entries(looks ?? {}), ...lanes.flatMap((l, k) => l.map((id): [string, Look] => [id, { ...looks?.[id], height: Number(Math.min(8, Math.max(0.1, next[k]! / usual)).toPrecision(3)) }]))]);
}

/** Looks with a trace called otherwise; as it is usually where the name is empty. */
export function called(looks: Design['looks'], id: string, title: string): Design['looks'] {
  const { title: _, ...rest } = looks?.[id] ?? {};
  const { [id]: _own, ...others } = looks ?? {};
  const own = title.trim() === '' ? rest : { ...rest, title: title.trim() };
  const all = Object.keys(own).length > 0 ? { ...others, [id]: own } : others;
  return Object.keys(all).length > 0 ? all : undefined;
}

/** Show a trace or take it away. */
export function toggle(trace: Pick<Trace, 'id'>): void {
  const { design } = useStore.getState();
  const lanes = lanesOf(design);
  if (isShown(design, trace.id)) {
    if (lanes.flat().length === 1) return actions.refuse({ code: 'range', where: 'lanes', message: 'a run shows one trace at least', remedy: 'add another first' });
    put(without(lanes, trace.id));
    inTimeActions.read(undefined);
    return;
  }
  if (lanes.length >= MOST_LANES) return actions.refuse({ code: 'range', where: 'lanes', message: `there are ${MOST_LANES} lanes at most`, remedy: 'take one away, or lay two traces into one' });
  put(withLane(lanes, trace.id));
  inTimeActions.read(trace.id);
}

export const move = (id: string, by: -1 | 1): unknown => put(shifted(lanesOf(useStore.getState().design), id, by));
export const joinAbove = (id: string): unknown => put(joinedAbove(lanesOf(useStore.getState().design), id));
export const drop = (id: string, onto: number, where: 'above' | 'into' | 'below'): unknown => put(dropped(lanesOf(useStore.getState().design), id, onto, where));
/** The topology's own traces, one a lane, all of one height; names that were given stay. */
export function usual(): void {
  const { looks } = useStore.getState().design;
  const named = Object.entries(looks ?? {}).flatMap(([id, { title }]) => (title === undefined ? [] : [[id, { title }] as const]));
  actions.edit({ lanes: undefined, looks: named.length > 0 ? Object.fromEntries(named) : undefined });
}
