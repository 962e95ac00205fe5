'use client';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { TypeThree } from '../../../core/control/typeThree';
import { printQuantity as print } from '../../../core/quantity';
import plots from '../../plots/plots.module.css';
import { actions, useStore } from '../../state/store';

const HANDLES: { key: keyof TypeThree; name: string; title: string; up: boolean }[] = [
  { key: 'integrator', name: 'g', title: 'integrator', up: true },
  { key: 'zero1', name: 'z1', title: 'first zero', up: true },
  { key: 'zero2', name: 'z2', title: 'second zero', up: false },
  { key: 'pole1', name: 'p1', title: 'first pole', up: true },
  { key: 'pole2', name: 'p2', title: 'second pole', up: false },
];

/** Zeros (rings), poles (crosses) and the integrator (diamond) of the compensator, dragged along the frequency. */
export function CornersStrip({ x, invert, y, wanted }: { x: (f: number) => number; invert: (px: number) => number; y: number; wanted: TypeThree }) {
  const from = useRef(0);
  const set = (key: keyof TypeThree, f: number, gesture: string): void => {
    // Three digits are what a dragged corner earns.
    actions.edit({ [`control.${key}`]: Number(f.toPrecision(3)) }, gesture);
  };
  const down = (e: PointerEvent<SVGElement>): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    from.current = Date.now();
  };
  const move = (key: keyof TypeThree) => (e: PointerEvent<SVGGElement>) => {
    if (e.buttons !== 1) return;
    const left = e.currentTarget.ownerSVGElement!.getBoundingClientRect().left;
    set(key, invert(e.clientX - left), `${key} ${from.current}`);
  };
  const onKeyDown = (key: keyof TypeThree) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    // From where the last key has put it: its figures may still be under way.
    const now = useStore.getState().design.control[key] ?? wanted[key];
    set(key, now * (e.shiftKey ? 1.1 : 1.01) ** by, `keys ${key}`);
  };
  return (
    <g>
      {HANDLES.map(({ key, name, title, up }) => {
        const px = x(wanted[key]);
        // Names stand at the right; the integrator's at the left where a zero is near.
        const left = key === 'integrator' && Math.abs(px - x(wanted.zero1)) < 34;
        return (
          <g
            key={key}
            data-dragged
            data-corner={key}
            className={plots.handle}
            role="slider"
            tabIndex={0}
            aria-label={title}
            aria-valuenow={wanted[key]}
            aria-valuetext={print(wanted[key], 'Hz')}
            transform={`translate(${px} ${y + (left ? -19 : up ? -9 : 9)})`}
            onPointerDown={down}
            onPointerMove={move(key)}
            onPointerUp={() => actions.endGesture()}
            onKeyDown={onKeyDown(key)}
          >
            <title>{`${title} ${print(wanted[key], 'Hz')}: drag, or arrow keys`}</title>
            <circle r={12} className={plots.halo} />
            {key === 'integrator' && <path d="M0 -6L6 0L0 6L-6 0Z" fill="var(--ink)" />}
            {key.startsWith('zero') && <circle r={5.5} fill="var(--card)" stroke="var(--spruce)" strokeWidth={2.6} />}
            {key.startsWith('pole') && <path d="M-5 -5L5 5M5 -5L-5 5" stroke="var(--rust)" strokeWidth={2.6} strokeLinecap="round" />}
            <text x={left ? -14 : 14} y={4} textAnchor={left ? 'end' : 'start'} className={plots.mono} fill="var(--muted)">
              {name}
            </text>
          </g>
        );
      })}
    </g>
  );
}
