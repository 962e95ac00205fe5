'use client';
import { useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import { actions, useStore } from '../../state/store';
import { GAP } from './laneFrame';
import { drop, edgeMoved } from './lanes';

/** How lanes are arranged by hand: the edge between two is dragged, a trace is carried by its name to where it shall stand. */

/** px by which the pointer moves before a press is a drag; px that a key moves an edge */
const [MOVED, KEY] = [4, 8];

/** The edge below a lane: dragged, or moved by arrow keys; what the lane gains the next one loses. */
export function LaneEdge({ title, lanes, room, index, y, left, right, svg, height }: { title: string; lanes: readonly (readonly string[])[]; room: number; index: number; y: number; left: number; right: number; svg: RefObject<SVGSVGElement | null>; height: number }) {
  const grabbed = useRef<{ at: number; looks: ReturnType<typeof useStore.getState>['design']['looks']; gesture: string }>(undefined);
  const move = (by: number, gesture: string, looks = useStore.getState().design.looks): unknown => actions.edit({ looks: edgeMoved(lanes, looks, room, index, by) }, gesture);
  const down = (e: PointerEvent<SVGElement>): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    grabbed.current = { at: e.clientY, looks: useStore.getState().design.looks, gesture: `edge ${index} ${Date.now()}` };
  };
  const pull = (e: PointerEvent<SVGElement>): void => {
    if (e.buttons === 1 && grabbed.current) move(e.clientY - grabbed.current.at, grabbed.current.gesture, grabbed.current.looks);
  };
  const nudge = (e: KeyboardEvent): void => {
    const by = { ArrowUp: -KEY, ArrowDown: KEY }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    move(by * (e.shiftKey ? 4 : 1), `keys edge ${index}`);
  };
  return (
    <rect
      x={left}
      y={y}
      width={Math.max(0, right - left)}
      height={GAP}
      fill="transparent"
      style={{ cursor: 'row-resize' }}
      data-dragged
      data-testid={`edge-${index}`}
      tabIndex={0}
      role="slider"
      aria-label={`Height of ${title}`}
      aria-orientation="vertical"
      aria-valuenow={Math.round(height)}
      aria-valuetext={`${Math.round(height)} px of ${Math.round(svg.current?.clientHeight ?? room)}`}
      onPointerDown={down}
      onPointerMove={pull}
      onPointerUp={() => actions.endGesture()}
      onKeyDown={nudge}
    />
  );
}

interface Placed {
  ids: readonly string[];
  y0: number;
  high: number;
}

/** Where something let go at that height (px) stands: into a lane at its middle, else above or below it. */
export function aimedAt(lanes: readonly Placed[], y: number): { onto: number; where: 'above' | 'into' | 'below' } | undefined {
  if (lanes.length === 0) return undefined;
  const under = lanes.findIndex((l) => y < l.y0 + l.high + GAP / 2);
  const onto = under < 0 ? lanes.length - 1 : under;
  const share = (y - lanes[onto]!.y0) / lanes[onto]!.high;
  return { onto, where: share < 0.25 ? 'above' : share > 0.75 ? 'below' : 'into' };
}

/** A trace carried by its name over the lanes, and the mark where it would stand. */
export function useCarried(svg: RefObject<SVGSVGElement | null>, lanes: readonly Placed[]) {
  const [carried, setCarried] = useState<{ id: string; y: number }>();
  const pressed = useRef<{ id: string; at: number }>(undefined);
  const moved = useRef(false);
  const aim = carried && aimedAt(lanes, carried.y);
  const lane = aim && lanes[aim.onto]!;
  const mark = aim && lane && (aim.where === 'into' ? { y: lane.y0, height: lane.high } : { y: (aim.where === 'above' ? lane.y0 - GAP / 2 : lane.y0 + lane.high + GAP / 2) - 1, height: 2 });
  return {
    id: carried?.id,
    mark,
    /** Was the press that has just ended a drag, and no click? */
    wasMoved: (): boolean => moved.current,
    handlers: (id: string) => ({
      onPointerDown(e: PointerEvent<SVGElement>): void {
        // At once: a quick hand is out of the name before it has moved.
        e.currentTarget.setPointerCapture(e.pointerId);
        moved.current = false;
        pressed.current = { id, at: e.clientY };
      },
      onPointerMove(e: PointerEvent<SVGElement>): void {
        if (e.buttons !== 1 || pressed.current?.id !== id) return;
        if (!moved.current && Math.abs(e.clientY - pressed.current.at) < MOVED) return;
        moved.current = true;
        setCarried({ id, y: e.clientY - svg.current!.getBoundingClientRect().top });
      },
      onPointerUp(): void {
        if (moved.current && aim) drop(id, aim.onto, aim.where);
        pressed.current = undefined;
        setCarried(undefined);
      },
      onPointerCancel(): void {
        pressed.current = undefined;
        setCarried(undefined);
      },
    }),
  };
}
