'use client';
import type { ScaleContinuousNumeric } from 'd3';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { SETTINGS, type Corners, type Handle } from '../../../core/control';
import { printQuantity as print } from '../../../core/quantity';
import plots from '../../plots/plots.module.css';
import { useEdited } from '../../frame/edited';

/** Zeros (rings), poles (crosses) and the integrator (diamond) of the compensator, dragged along the frequency; one beyond the plot waits at its end, with an arrow. */
export function CornersStrip({ x, y, wanted, handles }: { x: ScaleContinuousNumeric<number, number>; y: number; wanted: Corners; handles: readonly Handle[] }) {
  const document = useEdited();
  const from = useRef(0);
  const set = (key: string, f: number, gesture: string): void => {
    // Three digits are what a dragged corner earns.
    document.edit({ [`control.${key}`]: Number(f.toPrecision(3)) }, gesture);
  };
  const down = (e: PointerEvent<SVGElement>): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    from.current = Date.now();
  };
  const move = (key: string) => (e: PointerEvent<SVGGElement>) => {
    if (e.buttons !== 1) return;
    const left = e.currentTarget.ownerSVGElement!.getBoundingClientRect().left;
    set(key, x.invert(e.clientX - left), `${key} ${from.current}`);
  };
  const onKeyDown = (key: string) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    // From where the last key has put it: its figures may still be under way.
    const now = (document.at(`control.${key}`) as number | null) ?? wanted[key]!;
    set(key, now * (e.shiftKey ? 1.1 : 1.02) ** by, `keys ${key}`);
  };
  const [first, last] = x.range() as [number, number];
  return (
    <g>
      {handles.map(({ key, name, kind }) => {
        const title = SETTINGS[key]!.title;
        const at = wanted[key]!;
        const beyond = Math.sign(Math.min(0, x(at) - first)) + Math.sign(Math.max(0, x(at) - last));
        const px = Math.min(last, Math.max(first, x(at)));
        // Of several of a kind every other stands lower.
        const up = handles.filter((h) => h.kind === kind).findIndex((h) => h.key === key) % 2 === 0;
        // Names stand at the right; the gain's at the left where a zero is near.
        const left = beyond > 0 || (beyond === 0 && kind === 'gain' && handles.some((h) => h.kind === 'zero' && Math.abs(px - x(wanted[h.key]!)) < 34));
        return (
          <g
            key={key}
            data-dragged
            data-corner={key}
            className={plots.handle}
            role="slider"
            tabIndex={0}
            aria-label={title}
            aria-valuenow={at}
            aria-valuetext={print(at, 'Hz')}
            transform={`translate(${px} ${y + (left && kind === 'gain' ? -19 : up ? -9 : 9)})`}
            onPointerDown={down}
            onPointerMove={move(key)}
            onPointerUp={document.endGesture}
            onKeyDown={onKeyDown(key)}
          >
            <title>{`${title} ${print(at, 'Hz')}: drag, or arrow keys`}</title>
            <circle r={12} className={plots.halo} />
            {kind === 'gain' && <path d="M0 -6L6 0L0 6L-6 0Z" fill="var(--ink)" />}
            {kind === 'zero' && <circle r={5.5} fill="var(--card)" stroke="var(--spruce)" strokeWidth={2.6} />}
            {kind === 'pole' && <path d="M-5 -5L5 5M5 -5L-5 5" stroke="var(--rust)" strokeWidth={2.6} strokeLinecap="round" />}
            <text x={left ? -14 : 14} y={4} textAnchor={left ? 'end' : 'start'} className={plots.mono} fill="var(--muted)">
              {beyond < 0 && '← '}
              {name}
              {beyond > 0 && ' →'}
            </text>
          </g>
        );
      })}
    </g>
  );
}
