'use client';
import { scaleLinear, scaleLog, type ScaleContinuousNumeric } from 'd3';
import { useId, useRef, type ReactNode, type RefObject } from 'react';
import type { BodeCurve } from '../../core/response/margins';
import { LogXAxis, tracePath, YAxis } from './axes';
import css from './plots.module.css';
import type { Marks } from './marksOf';
import { useSize } from './useSize';
import { useZoomX } from './useZoomX';

export interface DrawnCurve {
  curve: BodeCurve;
  label: string;
  colour: string;
  dash?: number[];
}

const LEFT = 52;
const RIGHT = 12;
const STRIP = 44;

/**
 * Gain above, phase below, one frequency axis; between them a strip for what is dragged along the
 * frequency. `band` shades the range over all corners.
 */
export function BodePlot({
  curves, band, flat, points = [], gainUnit = 'dB', nyquist, marks, strip, svg,
}: {
  curves: DrawnCurve[];
  band?: { frequency: number[]; gain: [number, number][]; phase: [number, number][] };
  /** Hz between which the phase is flattest */
  flat?: { from: number; to: number };
  /** Read one by one: drawn as dots, hollow where they are not to be trusted */
  points?: readonly { frequency: number; gain: number; phase: number; good: boolean }[];
  gainUnit?: 'dB';
  /** Hz: half the switching frequency; beyond it an averaged model says little */
  nyquist: number;
  /** Crossover and margin, drawn where they are read */
  marks?: Marks | undefined;
  strip?: (x: ScaleContinuousNumeric<number, number>, y: number) => ReactNode;
  svg: RefObject<SVGSVGElement | null>;
}) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const right = width - RIGHT;
  const overlay = useRef<SVGRectElement>(null);
  const transform = useZoomX(svg, LEFT, right);
  const clip = useId();
  // The one in view is drawn last, over all others.
  const frequency = curves.at(-1)?.curve.frequency ?? [10, 1e5];
  const base = scaleLog([frequency[0]!, frequency.at(-1)!], [LEFT, right]);
  const x = transform.rescaleX(base);
  const stripHeight = strip ? STRIP : 14;
  const half = (height - stripHeight - 22 - 10) / 2;
  const gainBox = [10, 10 + half] as const;
  const phaseBox = [gainBox[1] + stripHeight, gainBox[1] + stripHeight + half] as const;

  // Past half the switching frequency a sampled loop falls into a hole, and its phase jumps: that shall not make the rest small.
  const seen = (key: 'gain' | 'phase'): number[] => curves.flatMap((c) => c.curve[key].filter((v, i) => Number.isFinite(v) && c.curve.frequency[i]! < nyquist * 0.95));
  const gains = seen('gain');
  const phases = seen('phase');
  const gain = scaleLinear([Math.max(-120, Math.floor(Math.min(...gains, 0) / 20) * 20), Math.ceil(Math.max(...gains, 0) / 20) * 20], [gainBox[1], gainBox[0]]);
  const phase = scaleLinear([Math.floor(Math.min(...phases) / 90) * 90, Math.ceil(Math.max(...phases, -90) / 90) * 90], [phaseBox[1], phaseBox[0]]);
  const stepOf = (scale: typeof gain, step: number, most: number): number[] => {
    const [low, high] = scale.domain() as [number, number];
    const every = step * Math.max(1, Math.ceil((high - low) / step / most));
    const out: number[] = [];
    for (let v = Math.ceil(low / every) * every; v <= high; v += every) out.push(v);
    return out;
  };
  const bandPath = (values: [number, number][], y: (v: number) => number): string =>
    'M' + values.map((v, i) => `${x(band!.frequency[i]!).toFixed(1)} ${y(v[1]).toFixed(1)}`).join('L') + 'L' + values.map((v, i) => `${x(band!.frequency[i]!).toFixed(1)} ${y(v[0]).toFixed(1)}`).reverse().join('L') + 'Z';
  const fc = marks && x(marks.crossover);
  const pastNyquist = Math.max(LEFT, Math.min(right, x(nyquist)));

  return (
    <div ref={box} style={{ flex: 1, minHeight: 0, minWidth: 0, overflow: 'hidden' }}>
      {width > 0 && height > 120 && (
        <svg ref={svg} width={width} height={height} role="group" aria-label="Bode plot" data-testid="bode">
          <clipPath id={clip}>
            <rect x={LEFT} y={0} width={right - LEFT} height={height - 20} />
          </clipPath>
          {right - pastNyquist > 0 && (
            <g>
              <rect x={pastNyquist} y={gainBox[0]} width={right - pastNyquist} height={half} fill="var(--paper)" />
              <rect x={pastNyquist} y={phaseBox[0]} width={right - pastNyquist} height={half} fill="var(--paper)" />
            </g>
          )}
          <LogXAxis scale={x} y0={gainBox[0]} y1={gainBox[1]} labels={false} />
          <LogXAxis scale={x} y0={phaseBox[0]} y1={phaseBox[1]} />
          <YAxis scale={gain} unit={gainUnit} x0={LEFT} x1={right} ticks={stepOf(gain, 20, 7)} />
          <YAxis scale={phase} unit="°" x0={LEFT} x1={right} ticks={stepOf(phase, 45, 6)} />
          <rect ref={overlay} x={LEFT} y={0} width={Math.max(0, right - LEFT)} height={height} fill="transparent" />
          <g clipPath={`url(#${clip})`}>
            {flat && (
              <g>
                <rect x={x(flat.from)} y={phaseBox[0]} width={x(flat.to) - x(flat.from)} height={half} fill="var(--spruce)" opacity={0.09} />
                <text x={(x(flat.from) + x(flat.to)) / 2} y={phaseBox[1] - 5} textAnchor="middle" fontSize={11} fill="var(--muted)">
                  flattest
                </text>
              </g>
            )}
            {band && (
              <g fill="var(--spruce)" opacity={0.16}>
                <path d={bandPath(band.gain, gain)} />
                <path d={bandPath(band.phase, phase)} />
              </g>
            )}
            {phase.domain()[0]! < -180 && marks && <line x1={LEFT} x2={right} y1={phase(-180)} y2={phase(-180)} stroke="var(--muted)" />}
            {fc !== undefined && (
              <g>
                <line x1={fc} x2={fc} y1={gainBox[0]} y2={phaseBox[1]} stroke="var(--ink)" strokeDasharray="2 3" />
                <line x1={x(marks!.marginAt)} x2={x(marks!.marginAt)} y1={phase(-180)} y2={phase(marks!.phaseMargin - 180)} stroke="var(--ochre)" strokeWidth={4} />
              </g>
            )}
            {curves.map(({ curve, colour, dash }, i) => (
              <g key={i} fill="none" stroke={colour} strokeWidth={2} strokeDasharray={dash?.join(' ')}>
                <path d={tracePath(curve.frequency, curve.gain, x, gain)} />
                <path d={tracePath(curve.frequency, curve.phase, x, phase)} />
              </g>
            ))}
            {points.map((p) => {
              // On the curve's own turn.
              const near = curves.at(-1)!.curve;
              const i = near.frequency.findIndex((f) => f >= p.frequency);
              const turned = p.phase + 360 * Math.round(((near.phase[i < 0 ? near.phase.length - 1 : i] ?? p.phase) - p.phase) / 360);
              return [gain(p.gain), phase(turned)].map((y, k) => <circle key={`${p.frequency} ${k}`} cx={x(p.frequency)} cy={y} r={4} fill={p.good ? 'var(--rust)' : 'var(--card)'} stroke="var(--rust)" strokeWidth={1.6} />);
            })}
          </g>
          {fc !== undefined && fc > LEFT && fc < right && (
            <g transform={`translate(${Math.min(fc + 8, right - 20 - 6.6 * marks!.label.length)} ${gainBox[0] + 4})`}>
              <rect width={14 + 6.6 * marks!.label.length} height={20} rx={4} fill="var(--card)" stroke="var(--line)" />
              <text x={7} y={14} className={css.mono} fill="var(--ink)" fontWeight={600}>
                {marks!.label}
              </text>
            </g>
          )}
          {strip?.(x, gainBox[1] + stripHeight / 2)}
        </svg>
      )}
    </div>
  );
}
