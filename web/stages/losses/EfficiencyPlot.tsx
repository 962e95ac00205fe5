'use client';
import { scaleLinear } from 'd3';
import type { RefObject } from 'react';
import { printQuantity as print } from '../../../core/quantity';
import { spaced, tracePath, XAxis, YAxis } from '../../plots/axes';
import { useSize } from '../../plots/useSize';
import plots from '../../plots/plots.module.css';
import { useStore } from '../../state/store';

const LEFT = 52;
const RIGHT = 56;
const TOP = 8;
const BOTTOM = 22;
const COLOURS = ['var(--slate)', 'var(--spruce)', 'var(--plum)'];

/** Efficiency over load at the lowest, middle and highest line, from the same map as the pad. */
export function EfficiencyPlot({ svg }: { svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  // What is there of the newest map, as soon as it makes a curve; the one before until then.
  const rows = useStore(({ answers: { map, mapRows } }) => (mapRows && mapRows.length > 1 ? mapRows : map?.rows));
  const figures = useStore((s) => s.answers.figures);
  const limit = useStore((s) => s.design.requirements.efficiency);
  const most = useStore((s) => s.design.brief.load.max);
  const columns = rows?.[0] ? [0, (rows[0].length - 1) / 2, rows[0].length - 1].map(Math.round) : [];
  const series = columns.map((c, i) => ({
    line: rows![0]![c]!.line,
    colour: COLOURS[i]!,
    load: rows!.map((r) => r[c]!.load),
    value: rows!.map((r) => r[c]!.values.efficiency ?? NaN),
  }));
  const all = series.flatMap((s) => s.value).filter(Number.isFinite);
  const low = Math.max(0, Math.min(...all, limit.on ? limit.limit : 1) - 0.005);
  const x = scaleLinear([0, Math.max(most, ...series.flatMap((s) => s.load))], [LEFT, width - RIGHT]);
  const y = scaleLinear([low, Math.min(1, Math.max(low + 0.01, ...all) + 0.003)], [height - BOTTOM, TOP]).nice();
  const ends = spaced(series.map((s) => y(s.value.at(-1) ?? NaN)));
  return (
    <div ref={box} style={{ flex: 1, minHeight: 110, overflow: 'hidden' }}>
      {!rows && <p className="muted">Computing the operating map…</p>}
      {rows && all.length === 0 && <p className="muted">No point of the region has figures: see the problem above.</p>}
      {width > 0 && height > 0 && all.length > 0 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label="Efficiency over load">
          <XAxis scale={x} unit="A" y0={TOP} y1={height - BOTTOM} />
          <YAxis scale={y} unit="%" x0={LEFT} x1={width - RIGHT} />
          {limit.on && limit.limit > low && <line x1={LEFT} x2={width - RIGHT} y1={y(limit.limit)} y2={y(limit.limit)} stroke="var(--fail)" strokeDasharray="4 3" />}
          {series.map((s, i) => (
            <g key={s.line}>
              <path d={tracePath(s.load, s.value, x, y)} fill="none" stroke={s.colour} strokeWidth={2} />
              <text x={width - RIGHT + 6} y={ends[i]! + 4} className={plots.mono} fill={s.colour}>
                {print(s.line, 'V')}
              </text>
            </g>
          ))}
          {figures && <circle cx={x(figures.point.load)} cy={y(figures.losses.efficiency)} r={5} fill="var(--card)" stroke="var(--ink)" strokeWidth={2} />}
        </svg>
      )}
    </div>
  );
}
