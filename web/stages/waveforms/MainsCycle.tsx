'use client';
import { bisectLeft, extent, scaleLinear, type ScaleLinear } from 'd3';
import { useColorScheme } from '@mui/material/styles';
import { useLayoutEffect, useRef, type RefObject } from 'react';
import type { MainsCourse } from '../../../core/schedule/mainsQuality';
import { tracePath, XAxis, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { alsoPainted } from '../../plots/savePlot';
import { useSize } from '../../plots/useSize';
import { useZoomX } from '../../plots/useZoomX';
import type { Shown } from './MainsView';

const [LEFT, RIGHT, TOP, BOTTOM, GAP] = [78, 8, 6, 22, 12];
/** How far in the wheel goes: to some switching periods */
const FURTHEST = 700;

/** A lane: which course over which times, its share of the height, how it is called. */
interface Lane {
  title(c: MainsCourse): string;
  under?: string;
  unit: 'A' | 'V' | '%';
  share: number;
  colour: string;
  of(c: MainsCourse): readonly number[];
  time(c: MainsCourse): readonly number[];
}

const mean = (v: readonly number[]): number => v.reduce((a, b) => a + b, 0) / v.length;
const lessMean = (v: readonly number[]): number[] => {
  const m = mean(v);
  return v.map((x) => x - m);
};

const LANES: readonly Lane[] = [
  { title: () => 'Line', under: 'current', unit: 'A', share: 0.42, colour: 'var(--spruce)', of: (c) => c.line, time: (c) => c.time },
  { title: (c) => c.wound, under: 'current', unit: 'A', share: 0.24, colour: 'var(--slate)', of: (c) => c.inductor, time: (c) => c.time },
  { title: () => 'Output', under: '− mean', unit: 'V', share: 0.18, colour: 'var(--plum)', of: (c) => lessMean(c.output), time: (c) => c.time },
  { title: () => 'Duty', unit: '%', share: 0.16, colour: 'var(--rust)', of: (c) => c.duty, time: (c) => c.period },
];

/** What of a course lies in a window, a point beyond on either side. */
function within(time: readonly number[], value: readonly number[], [from, until]: [number, number]): { time: number[]; value: number[] } {
  const [a, b] = [Math.max(0, bisectLeft(time, from) - 1), Math.min(time.length, bisectLeft(time, until) + 1)];
  return { time: time.slice(a, b), value: value.slice(a, b) };
}

/** One cycle of the mains in lanes, on a canvas; the wheel zooms in to the edges of the switching. */
export function MainsCycle({ shown, svg }: { shown: readonly Shown[]; svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { mode } = useColorScheme();
  const whole = Math.max(...shown.map((s) => s.study.course.time.at(-1)!));
  const right = width - RIGHT;
  const transform = useZoomX(svg, LEFT, right, FURTHEST);
  const x = transform.rescaleX(scaleLinear([0, whole], [LEFT, right]));
  const window = x.domain() as [number, number];
  const room = height - TOP - BOTTOM - GAP * (LANES.length - 1);
  const placed = LANES.map((lane, k) => {
    const tall = lane.share * room;
    const top = TOP + GAP * k + room * LANES.slice(0, k).reduce((sum, l) => sum + l.share, 0);
    const curves = shown.map((s) => ({ ...s, ...within(lane.time(s.study.course), lane.of(s.study.course), window) }));
    const [low, high] = extent(curves.flatMap((c) => c.value)) as [number, number];
    const pad = 0.05 * (high - low || 1);
    const y = scaleLinear([Math.min(low - pad, low), high + pad], [top + tall, top]);
    return { lane, curves, y, top };
  });
  useLayoutEffect(() => {
    const c = canvas.current;
    if (!c || width === 0) return;
    const ratio = globalThis.devicePixelRatio || 1;
    c.width = width * ratio;
    c.height = height * ratio;
    const g = c.getContext('2d')!;
    g.scale(ratio, ratio);
    const style = getComputedStyle(c);
    g.clearRect(0, 0, width, height);
    g.save();
    g.beginPath();
    g.rect(LEFT, 0, right - LEFT, height);
    g.clip();
    for (const { lane, curves, y } of placed)
      for (const k of curves.toReversed()) {
        g.strokeStyle = style.getPropertyValue((k.label === 'now' ? lane.colour : k.colour).slice(4, -1));
        g.setLineDash(k.dash);
        g.lineWidth = k.label === 'now' ? 1.6 : 1.3;
        g.beginPath();
        k.time.forEach((t, i) => g.lineTo(x(t), y(k.value[i]!)));
        g.stroke();
      }
    g.restore();
  });
  useLayoutEffect(() => {
    if (svg.current) alsoPainted(svg.current, () => placed.flatMap(({ lane, curves, y }) => curves.map((k) => pathOf(k, lane, x, y))).join(''));
  });
  return (
    <div ref={box} style={{ position: 'relative', minHeight: 0, height: '100%', overflow: 'hidden' }} data-mode={mode}>
      <canvas ref={canvas} style={{ position: 'absolute', inset: 0, width, height }} />
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} style={{ position: 'absolute', inset: 0 }} role="img" aria-label="One cycle of the mains: line current, what is wound, output, duty" data-testid="mains-cycle">
          <rect x={LEFT} y={TOP} width={Math.max(0, right - LEFT)} height={height - TOP - BOTTOM} fill="transparent" />
          <XAxis scale={x} unit="s" y0={TOP} y1={height - BOTTOM} count={6} />
          {placed.map(({ lane, y, top: at }) => (
            <g key={lane.title(shown[0]!.study.course)}>
              <YAxis scale={y} unit={lane.unit} x0={LEFT} x1={right} count={lane.share > 0.3 ? 5 : 3} />
              <g className={plots.label}>
                <text x={0} y={at + 11} fill={lane.colour} fontWeight={650}>
                  {lane.title(shown[0]!.study.course)}
                </text>
                <text x={0} y={at + 24} fill="var(--muted)">
                  {lane.under}
                </text>
              </g>
            </g>
          ))}
          <g className={plots.label}>
            {shown.length > 1 &&
              shown.map((s, i) => (
                <text key={s.label} x={right - 4} y={TOP + 12 + 13 * i} textAnchor="end" fill={s.colour} fontWeight={650}>
                  {s.label === 'now' ? 'now' : `${s.label} ${dashName(s.dash)}`}
                </text>
              ))}
          </g>
        </svg>
      )}
    </div>
  );
}

const dashName = (dash: readonly number[]): string => (dash.length > 0 ? '- -' : '');

const pathOf = (k: Shown & { time: number[]; value: number[] }, lane: Lane, x: ScaleLinear<number, number>, y: ScaleLinear<number, number>): string =>
  `<path d="${tracePath(k.time, k.value, x, y)}" fill="none" stroke="${k.label === 'now' ? lane.colour : k.colour}" stroke-dasharray="${k.dash.join(' ')}"/>`;

/** Columns to save: the design's own course. */
export const courseAsColumns = ({ wound, time, line, inductor, voltage, output }: MainsCourse): Record<string, readonly number[]> => ({ 'time (s)': time, 'line voltage (V)': voltage, 'line current (A)': line, [`${wound} current (A)`]: inductor, 'output (V)': output });
