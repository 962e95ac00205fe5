'use client';
import { useEffect, useRef, useState, type KeyboardEvent, type RefObject } from 'react';

/** A window of time in s. */
export type TimeWindow = readonly [number, number];

/** Share of the whole that a window shows at least: picoseconds of an hour */
const LEAST = 1e-16;

/** A window moved and scaled about a time, kept within 0 … whole. */
export function moved([from, until]: TimeWindow, whole: number, { about = from, scale = 1, by = 0 }: { about?: number; scale?: number; by?: number }): TimeWindow {
  const width = Math.min(whole, Math.max(LEAST * whole, (until - from) * scale));
  const start = about - ((about - from) * width) / (until - from) + by;
  const inside = Math.min(whole - width, Math.max(0, start));
  return [inside, inside + width];
}

/**
 * The window of time that a plot shows: the wheel scales it about the pointer, a drag moves it, a double click shows all; by keys
 * + and −, arrows, and 0. What is dragged itself (data-dragged) keeps its drag.
 * @param left px of its first moment and of its last
 */
export function useTimeWindow(target: RefObject<SVGElement | null>, left: number, right: number, whole: number): { view: TimeWindow; show(view: TimeWindow): void; onKeyDown(e: KeyboardEvent): void } {
  const [shown, setShown] = useState<TimeWindow>();
  const view = shown && shown[1] <= whole * (1 + 1e-12) ? shown : ([0, whole] as const);
  const now = useRef({ view, whole, left, right });
  useEffect(() => {
    now.current = { view, whole, left, right };
  });
  const change = (how: Parameters<typeof moved>[2]): void => {
    const next = moved(now.current.view, now.current.whole, how);
    now.current = { ...now.current, view: next };
    setShown(next);
  };
  useEffect(() => {
    const element = target.current;
    if (!element) return undefined;
    const timeAt = (px: number): number => {
      const { view: [from, until], left: a, right: b } = now.current;
      return from + ((px - element.getBoundingClientRect().left - a) / (b - a)) * (until - from);
    };
    const wheel = (e: WheelEvent): void => {
      e.preventDefault();
      const [from, until] = now.current.view;
      if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) return change({ by: ((e.deltaX || e.deltaY) / 800) * (until - from) });
      change({ about: timeAt(e.clientX), scale: 2 ** (e.deltaY / 300) });
    };
    let grabbed: { at: number; pointer: number } | undefined;
    const down = (e: PointerEvent): void => {
      if (e.button !== 0 || (e.target as Element).closest('[data-dragged]')) return;
      grabbed = { at: timeAt(e.clientX), pointer: e.pointerId };
      element.setPointerCapture(e.pointerId);
    };
    const pull = (e: PointerEvent): void => {
      if (grabbed && e.buttons === 1) change({ by: grabbed.at - timeAt(e.clientX) });
    };
    const up = (): void => void (grabbed = undefined);
    const all = (): void => setShown(undefined);
    element.addEventListener('wheel', wheel, { passive: false });
    element.addEventListener('pointerdown', down);
    element.addEventListener('pointermove', pull);
    element.addEventListener('pointerup', up);
    element.addEventListener('dblclick', all);
    return () => {
      element.removeEventListener('wheel', wheel);
      element.removeEventListener('pointerdown', down);
      element.removeEventListener('pointermove', pull);
      element.removeEventListener('pointerup', up);
      element.removeEventListener('dblclick', all);
    };
  }, [target, right]);
  const onKeyDown = (e: KeyboardEvent): void => {
    if (e.target !== e.currentTarget) return;
    const [from, until] = now.current.view;
    const how = { ArrowLeft: { by: -0.1 * (until - from) }, ArrowRight: { by: 0.1 * (until - from) }, '+': { about: (from + until) / 2, scale: 0.5 }, '-': { about: (from + until) / 2, scale: 2 } }[e.key];
    if (how) change(how);
    else if (e.key === '0') setShown(undefined);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return { view, show: setShown, onKeyDown };
}
