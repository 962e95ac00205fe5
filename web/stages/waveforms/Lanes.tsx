'use client';
import { bisectRight, scaleLinear } from 'd3';
import { useId, useState, type RefObject } from 'react';
import type { Measures } from '../../../core/orbit/measure';
import { printQuantity as print } from '../../../core/quantity';
import { tracePath, XAxis, YAxis } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { useSize } from '../../plots/useSize';
import { useZoomX } from '../../plots/useZoomX';
import { useStore } from '../../state/store';
import { BOTTOM, Cursors, GAP, LANE_COLOURS, LEFT, RIGHT, TOP } from './laneFrame';

/** What is drawn: quantities with their measures and samples over one period. */
export interface Drawn {
  cycle: { period: number; duty: number; signals: Readonly<Record<string, Measures>> };
  detail?: { waves: Waves };
}
export interface Waves {
  ids: readonly string[];
  units: readonly string[];
  time: readonly number[];
  values: readonly (readonly number[])[];
}
export interface Lane {
  id: string;
  title: string;
  unit: 'V' | 'A';
  lane?: 'whole' | 'ripple';
}

/** Samples as they are saved. */
export const wavesAsColumns = (waves: Waves): Record<string, readonly number[]> => ({ 'time (s)': waves.time, ...Object.fromEntries(waves.ids.map((id, i) => [`${id} (${waves.units[i]})`, waves.values[i]!])) });

/** One signal repeated over so many cycles; a ripple lane shows it less its mean. */
function traceOf(f: Drawn, signal: Lane, cycles: number): { time: number[]; value: number[] } {
  const waves = f.detail!.waves;
  const values = waves.values[waves.ids.indexOf(signal.id)]!;
  const offset = signal.lane === 'ripple' ? f.cycle.signals[signal.id]!.mean : 0;
  const time: number[] = [];
  const value: number[] = [];
  for (let k = 0; k < cycles; k++)
    waves.time.forEach((t, i) => {
      time.push(t + k * f.cycle.period);
      value.push(values[i]! - offset);
    });
  return { time, value };
}

/** The drawn value at a time, between its neighbours. */
function valueAt(trace: { time: number[]; value: number[] }, t: number): number {
  const i = Math.min(trace.time.length - 1, Math.max(1, bisectRight(trace.time, t)));
  const [t0, t1] = [trace.time[i - 1]!, trace.time[i]!];
  const share = t1 > t0 ? (t - t0) / (t1 - t0) : 1;
  return trace.value[i - 1]! + share * (trace.value[i]! - trace.value[i - 1]!);
}

/** Lanes over one time axis. Wheel zooms, drag pans, double-click fits; a and b are cursors to drag. */
export function Lanes({ signals: asked, figures, cycles, svg }: { signals: readonly Lane[]; figures: Drawn; cycles: number; svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const kept = useStore((s) => s.kept);
  const keptFigures = useStore((s) => s.answers.kept);
  const [cursors, setCursors] = useState<[number, number]>([figures.cycle.duty, 1]);
  const clip = useId();
  const right = width - RIGHT;
  const transform = useZoomX(svg, LEFT, right);
  const { period } = figures.cycle;
  // Figures that stand, stale, of before a branch was hung have no signals of it yet.
  const signals = asked.filter((s) => figures.detail!.waves.ids.includes(s.id));
  const x = transform.rescaleX(scaleLinear([0, cycles * period], [LEFT, right]));
  const laneHeight = (height - TOP - BOTTOM - GAP * (signals.length - 1)) / signals.length;
  const overlays = kept.flatMap((k, i) => {
    const found = keptFigures[k.id];
    return k.visible && found?.detail ? [{ figures: found, style: keptStyle(i) }] : [];
  });
  const [ta, tb] = cursors.map((c) => c * period) as [number, number];

  const moveCursor = (which: 0 | 1, to: number): void => setCursors((now) => now.map((c, i) => (i === which ? Math.min(cycles, Math.max(0, to / period)) : c)) as [number, number]);
  return (
    <div ref={box} style={{ height: '100%', overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="group" aria-label="Settled cycle" data-testid="lanes">
          <clipPath id={clip}>
            <rect x={LEFT} y={0} width={right - LEFT} height={height} />
          </clipPath>
          <rect x={LEFT} y={0} width={Math.max(0, right - LEFT)} height={height} fill="transparent" />
          <XAxis scale={x} unit="s" y0={TOP} y1={height - BOTTOM} count={7} />
          {signals.map((signal, k) => {
            const y0 = TOP + k * (laneHeight + GAP);
            const own = traceOf(figures, signal, cycles);
            // A kept state of another topology has not every signal of this one.
            const others = overlays.filter((o) => o.figures.detail!.waves.ids.includes(signal.id)).map((o) => ({ ...traceOf(o.figures, signal, cycles), style: o.style }));
            const all = [own, ...others].flatMap((t) => t.value);
            const [low, high] = [Math.min(...all), Math.max(...all)];
            const y = scaleLinear([low, high === low ? low + 1 : high], [y0 + laneHeight - 5, y0 + 5]);
            const m = figures.cycle.signals[signal.id]!;
            return (
              <g key={signal.id} data-lane={signal.id}>
                <rect x={LEFT} y={y0} width={right - LEFT} height={laneHeight} fill="none" stroke="var(--line)" />
                <YAxis scale={y} unit={signal.unit} x0={LEFT} x1={right} count={laneHeight > 110 ? 5 : laneHeight > 50 ? 3 : 2} />
                <g clipPath={`url(#${clip})`} fill="none">
                  {others.map((t, i) => (
                    <path key={i} d={tracePath(t.time, t.value, x, y)} stroke={t.style.colour} strokeWidth={1.6} strokeDasharray={t.style.dash.join(' ')} />
                  ))}
                  <path d={tracePath(own.time, own.value, x, y)} stroke={LANE_COLOURS[k % LANE_COLOURS.length]} strokeWidth={2} />
                </g>
                <g transform={`translate(0 ${y0})`}>
                  <text y={13} className={plots.label} fontWeight={650} fill={LANE_COLOURS[k % LANE_COLOURS.length]}>
                    {signal.title}
                  </text>
                  <g className={plots.mono} fill="var(--muted)">
                    <text y={29} data-testid={`pp-${signal.id}`}>{print(m.peakToPeak, signal.unit)} pp</text>
                    {signal.lane === 'whole' && laneHeight > 46 && <text y={43}>{print(m.rms, signal.unit)} rms</text>}
                    {laneHeight > 72 && (
                      <text y={laneHeight - 3} fill="var(--ink)">
                        b−a {print(valueAt(own, tb) - valueAt(own, ta), signal.unit)}
                      </text>
                    )}
                  </g>
                </g>
              </g>
            );
          })}
          <Cursors at={[ta, tb]} move={moveCursor} x={x} svg={svg} top={TOP} bottom={height - BOTTOM} step={period / 200} />
          <text x={0} y={height - 5} className={plots.mono} fill="var(--ink)">
            b−a {print(tb - ta, 's', 4)}
          </text>
        </svg>
      )}
    </div>
  );
}
