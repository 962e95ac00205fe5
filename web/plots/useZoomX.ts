'use client';
import { select, zoom, zoomIdentity, type D3ZoomEvent, type ZoomTransform } from 'd3';
import { useEffect, useState, type RefObject } from 'react';

/** Wheel zooms, drag pans, double-click fits: a transform of the x axis. */
export function useZoomX(target: RefObject<SVGElement | null>, x0: number, x1: number, furthest = 200): ZoomTransform {
  const [transform, setTransform] = useState<ZoomTransform>(zoomIdentity);
  useEffect(() => {
    const element = target.current;
    if (!element || x1 <= x0) return;
    const behaviour = zoom<SVGElement, unknown>()
      .scaleExtent([1, furthest])
      .extent([[x0, 0], [x1, 1]])
      .translateExtent([[x0, -Infinity], [x1, Infinity]])
      // Things that are dragged themselves (cursors, zeros) keep their drag.
      .filter((e: Event) => !(e.target as Element).closest('[data-dragged]') && (e.type === 'wheel' || !(e as MouseEvent).button))
      .on('zoom', (e: D3ZoomEvent<SVGElement, unknown>) => setTransform(e.transform));
    const selection = select(element).call(behaviour).on('dblclick.zoom', () => void selection.call(behaviour.transform, zoomIdentity));
    return () => void selection.on('.zoom', null);
  }, [target, x0, x1, furthest]);
  return transform;
}
