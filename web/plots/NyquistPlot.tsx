'use client';
import { scaleLinear } from 'd3';
import type { RefObject } from 'react';
import type { BodeCurve } from '../../core/response/margins';
import css from './plots.module.css';
import { useSize } from './useSize';

/** How far from −1 is drawn: beyond, a loop tells nothing of its stability */
const REACH = 2.4;

export interface DrawnNyquist {
  curve: BodeCurve;
  colour: string;
  dash?: number[];
}

/** A loop gain in the complex plane about −1: the unit circle, where it crosses it, and the circle about −1 that it just stays out of. */
export function NyquistPlot({ curves, closest, svg }: { curves: DrawnNyquist[]; closest: number; svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const side = Math.min(width / 2, height / 2) - 16;
  const [cx, cy] = [width / 2, height / 2];
  // One scale for both axes; −1 in the middle.
  const unit = side / REACH;
  const x = scaleLinear([-1, 0], [cx, cx + unit]);
  const y = scaleLinear([0, 1], [cy, cy - unit]);
  const path = ({ frequency, gain, phase }: BodeCurve): string => {
    let pen = 'M';
    return frequency
      .map((_, i) => {
        const size = 10 ** (gain[i]! / 20);
        const [re, im] = [size * Math.cos((phase[i]! * Math.PI) / 180), size * Math.sin((phase[i]! * Math.PI) / 180)];
        if (!(Math.hypot(re + 1, im) < 12)) {
          pen = 'M';
          return '';
        }
        const d = `${pen}${x(re).toFixed(1)} ${y(im).toFixed(1)}`;
        pen = 'L';
        return d;
      })
      .join('');
  };
  return (
    <div ref={box} style={{ flex: 1, minHeight: 0, minWidth: 0, overflow: 'hidden' }}>
      {width > 0 && height > 120 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label="Nyquist plot of the loop gain" data-testid="nyquist">
          <line x1={0} x2={width} y1={cy} y2={cy} stroke="var(--line)" />
          <line x1={x(0)} x2={x(0)} y1={0} y2={height} stroke="var(--line)" />
          <circle cx={x(0)} cy={cy} r={unit} fill="none" stroke="var(--muted)" strokeDasharray="2 3" />
          <circle cx={cx} cy={cy} r={closest * unit} fill="var(--ochre)" opacity={0.14} />
          {curves.map(({ curve, colour, dash }, i) => (
            <path key={i} d={path(curve)} fill="none" stroke={colour} strokeWidth={2} strokeDasharray={dash?.join(' ')} />
          ))}
          <path d={`M${cx - 5} ${cy - 5}L${cx + 5} ${cy + 5}M${cx + 5} ${cy - 5}L${cx - 5} ${cy + 5}`} stroke="var(--rust)" strokeWidth={2.4} />
          <g className={css.mono} fill="var(--muted)" style={{ paintOrder: 'stroke', stroke: 'var(--card)', strokeWidth: 3 }}>
            <text x={cx - 8} y={cy + 20} textAnchor="end">−1</text>
            <text x={x(0) + 6} y={cy + 16}>0</text>
            <text x={cx} y={cy - closest * unit - 6} textAnchor="middle">{closest.toFixed(2)}</text>
            <text x={x(0) + unit * 0.72 + 6} y={cy - unit * 0.72}>unit circle</text>
          </g>
        </svg>
      )}
    </div>
  );
}
