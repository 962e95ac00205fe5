'use client';
import type { ScaleLinear } from 'd3';
import type { PointerEvent, RefObject } from 'react';
import { printQuantity as print } from '../../../core/quantity';
import plots from '../../plots/plots.module.css';

/** What lanes have in common, of a settled cycle and of a run: where they stand, their colours, and the two cursors. */

export const [LEFT, RIGHT, TOP, BOTTOM, GAP] = [158, 12, 16, 22, 9];
export const LANE_COLOURS = ['var(--ink)', 'var(--spruce)', 'var(--slate)', 'var(--rust)'];

/** Two times, and how to move one of them. */
export type CursorTimes = readonly [number, number];

/** Cursors a and b over the lanes from `top` to `bottom` (px), at times in s; dragged, or moved by arrow keys by so much, with Shift ten times that. */
export function Cursors({ at, move, x, svg, top, bottom, step }: { at: CursorTimes; move: (which: 0 | 1, to: number) => void; x: ScaleLinear<number, number>; svg: RefObject<SVGSVGElement | null>; top: number; bottom: number; step: number }) {
  const [left, right] = x.range() as [number, number];
  const drag = (which: 0 | 1) => (e: PointerEvent<SVGElement>): void => {
    if (e.buttons !== 1) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    move(which, x.invert(e.clientX - svg.current!.getBoundingClientRect().left));
  };
  return ([0, 1] as const).map((which) => {
    const px = x(at[which]);
    if (px < left || px > right) return null;
    return (
      <g
        key={which}
        data-dragged
        className={plots.handle}
        tabIndex={0}
        role="slider"
        aria-label={`Cursor ${which === 0 ? 'a' : 'b'}`}
        aria-valuenow={at[which]}
        aria-valuetext={print(at[which], 's', 4)}
        onPointerDown={drag(which)}
        onPointerMove={drag(which)}
        onKeyDown={(e) => {
          const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
          if (by) move(which, at[which] + by * (e.shiftKey ? 10 : 1) * step);
        }}
      >
        <line x1={px} x2={px} y1={top} y2={bottom} stroke="transparent" strokeWidth={9} />
        <line x1={px} x2={px} y1={top} y2={bottom} stroke="var(--ink)" strokeWidth={1.2} />
        <rect x={px - 8} y={0} width={16} height={15} rx={4} className={plots.halo} style={{ fill: 'var(--ink)' }} />
        <text x={px} y={11} textAnchor="middle" fill="var(--card)" className={plots.mono}>
          {which === 0 ? 'a' : 'b'}
        </text>
      </g>
    );
  });
}
