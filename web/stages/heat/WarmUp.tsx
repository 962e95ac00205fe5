'use client';
import { line, scaleLinear, scaleLog } from 'd3';
import { useEffect, useRef, useState } from 'react';
import type { Design } from '../../../core/design';
import type { Warming } from '../../../core/evaluation/warming';
import type { Problem } from '../../../core/problem';
import { printDuration } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import { QuantityField } from '../../frame/QuantityField';
import { spaced, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { useSize } from '../../plots/useSize';
import { useStore } from '../../state/store';
import { isAborted } from '../../workers/jobs';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';

const [LEFT, RIGHT, TOP, BOTTOM] = [52, 142, 10, 24];
/** Moments that the axis tells, s */
const MOMENTS = [[1e-3, '1 ms'], [1e-2, '10 ms'], [0.1, '100 ms'], [1, '1 s'], [10, '10 s'], [60, '1 min'], [600, '10 min'], [3600, '1 h'], [36_000, '10 h']] as const;
const COLOURS = ['var(--rust)', 'var(--spruce)', 'var(--slate)', 'var(--plum)', 'var(--ochre)'];

/** How the parts warm up after they are switched on: every node over the decades of time. */
export function WarmUp() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const svg = useRef<SVGSVGElement>(null);
  const [found, setFound] = useState<{ design: Design; point: OperatingPoint; warming?: Warming; problem?: Problem }>();
  useEffect(() => {
    const own = new AbortController();
    jobs().at('asked', own.signal).warming(design, point).then(
      (r) => void (own.signal.aborted || setFound({ design, point, ...(r.ok ? { warming: r.value } : { problem: r.problem }) })),
      (error) => void (isAborted(error) || console.error(error)),
    );
    return () => own.abort();
  }, [design, point]);
  const fresh = found?.design === design && found.point === point;
  const w = found?.warming;
  return (
    <div className={css.columns}>
      <div className={css.stack}>
        <div className={css.head}>
          <h2 style={{ margin: 0 }}>
            From cold
          </h2>
          <span style={{ flex: 1 }} />
          <SaveMenu svg={svg} name="warm-up" columns={() => ({ 'time (s)': w?.time ?? [], ...Object.fromEntries((w?.nodes ?? []).map((n, i) => [`${n.title} (°C)`, w!.temperatures[i]!])) })} />
        </div>
        {found?.problem && <p className={css.fails}>{found.problem.message}: {found.problem.remedy}</p>}
        <Curves warming={w} fresh={fresh} svg={svg} />
      </div>
      <div className={found && !fresh ? 'stale' : ''}>
        <h2>How long it takes</h2>
        <table className={css.list} data-testid="warming">
          <thead>
            <tr>
              <th />
              <th style={{ textAlign: 'right' }}>ends at</th>
              <th style={{ textAlign: 'right' }}>within 1 K after</th>
            </tr>
          </thead>
          <tbody>
            {w?.nodes.map((n, i) => (
              <tr key={n.id}>
                <td>{n.title}</td>
                <td className={css.number}>{w.ends[i]!.toFixed(1)} °C</td>
                <td className={css.number}>{printDuration(w.within[i]!)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <h3>Sink</h3>
        <div style={{ display: 'flex', justifyContent: 'space-between' }}>
          <span className="muted">stores</span>
          {design.sink.heatCapacity === undefined ? <span className="muted">an estimate</span> : <QuantityField path="sink.heatCapacity" />}
        </div>
        <p className="muted">What dies, cases and cores store is estimated from their size: good for how long it takes, not for the last tenth. Copper and channels are as warm as they are at each moment.</p>
      </div>
    </div>
  );
}

function Curves({ warming, fresh, svg }: { warming: Warming | undefined; fresh: boolean; svg: React.RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  if (!warming) return <div ref={box} className="muted" style={{ flex: 1 }} />;
  const { nodes, time, temperatures } = warming;
  const all = temperatures.flat();
  const shown = time.slice(1);
  const x = scaleLog([shown[0]!, shown.at(-1)!], [LEFT, width - RIGHT]);
  const y = scaleLinear([Math.min(...all) - 1, Math.max(...all) + 2], [height - BOTTOM, TOP]).nice();
  const moments = MOMENTS.filter(([t]) => t >= x.domain()[0]! && t <= x.domain()[1]!);
  // Names where there is room for them.
  const named = moments.reduce<number[]>((list, [t]) => (list.length > 0 && x(t) - x(list.at(-1)!) < 44 ? list : [...list, t]), []);
  const labels = spaced(temperatures.map((list) => y(list.at(-1)!)));
  return (
    <div ref={box} className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label="Warm-up" data-testid="warm-up">
          <YAxis scale={y} unit="°C" x0={LEFT} x1={width - RIGHT} count={7} />
          {moments.map(([t, name]) => (
            <g key={t} transform={`translate(${x(t)} 0)`}>
              <line y1={TOP} y2={height - BOTTOM} stroke="var(--line)" />
              <text y={height - BOTTOM + 15} textAnchor="middle" className={plots.mono} fill="var(--muted)">
                {named.includes(t) ? name : ''}
              </text>
            </g>
          ))}
          {temperatures.map((list, i) => (
            <g key={nodes[i]!.id}>
              <path d={line<number>((_, k) => x(shown[k]!), (v) => y(v))(list.slice(1))!} fill="none" stroke={COLOURS[i % COLOURS.length]} strokeWidth={nodes[i]!.limit === undefined ? 1.2 : 2} strokeDasharray={nodes[i]!.limit === undefined ? '4 3' : ''} />
              <text x={width - RIGHT + 6} y={labels[i]! + 4} className={plots.label} fill={COLOURS[i % COLOURS.length]}>
                {nodes[i]!.title} <tspan className={plots.mono}>{list.at(-1)!.toFixed(1)}</tspan>
              </text>
            </g>
          ))}
        </svg>
      )}
    </div>
  );
}
