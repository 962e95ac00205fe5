import { MOST_IN_LANE, MOST_LANES } from '../../../core/design/schema';
import { topologyOf, type Design } from '../../../core/design';
import type { Trace } from '../../../core/schedule';
import { actions, useStore } from '../../state/store';
import { inTimeActions } from '../../state/inTime';

/** Which traces stand in which lane: kept with the design, the topology's own signals one a lane where it says nothing. */

export const lanesOf = (d: Design): string[][] => d.lanes ?? topologyOf(d)!.signals.filter((s) => s.lane).map((s) => [s.id]);

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
export const usual = (): unknown => put([]);
