'use client';
import { line as curve, scaleLinear } from 'd3';
import { useEffect, useRef, useState } from 'react';
import type { Design } from '../../../core/design';
import type { Allowed, Derating } from '../../../core/evaluation/derating';
import { printQuantity as print } from '../../../core/quantity';
import { XAxis, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { useSize } from '../../plots/useSize';
import { useStore } from '../../state/store';
import { isAborted } from '../../workers/jobs';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';

const [LEFT, RIGHT, TOP, BOTTOM] = [52, 20, 10, 24];

/** The load that is allowed in each air at the line in view, and what stops a larger one. */
export function DeratingView() {
  const design = useStore((s) => s.design);
  const line = useStore((s) => s.point.line);
  const svg = useRef<SVGSVGElement>(null);
  const [found, setFound] = useState<{ design: Design; derating: Derating }>();
  useEffect(() => {
    const own = new AbortController();
    jobs().at('asked', own.signal).derating(design, line).then(
      (derating) => void (own.signal.aborted || setFound({ design, derating })),
      (error) => void (isAborted(error) || console.error(error)),
    );
    return () => own.abort();
  }, [design, line]);
  const fresh = found?.design === design && found.derating.line === line;
  const { load, air } = design.brief;
  const points = found?.derating.points ?? [];
  const first = points.find((p) => p.by !== undefined && p.load < load.max * 0.999);
  return (
    <div className={css.columns}>
      <div className={css.stack}>
        <div className={css.head}>
          <h2 style={{ margin: 0 }}>
            Load allowed <span className="muted" style={{ fontWeight: 400 }}>over the air, at {print(line, 'V')}</span>
          </h2>
          <span style={{ flex: 1 }} />
          <SaveMenu svg={svg} name="derating" columns={() => ({ 'air (°C)': points.map((p) => p.air), 'load (A)': points.map((p) => p.load) })} />
        </div>
        {!found && (
          <p className="muted" role="status">
            Looking for the load of each air …
          </p>
        )}
        {found && <Curve points={points} fresh={fresh} svg={svg} box={{ air, load }} />}
      </div>
      <div className={found && !fresh ? 'stale' : ''} data-testid="derating">
        <h2>What stops more</h2>
        {found?.derating.runaway !== undefined && <p className={css.fails}>At full load its heat runs away from {print(found.derating.runaway, '°C')} of air on: each is driven up by the loss that it causes.</p>}
        <p>{first ? `Less than full load from ${print(first.air, '°C')} of air on: ${first.by} is at its limit.` : found ? `Full load all the way to ${print(points.at(-1)!.air, '°C')} of air.` : ''}</p>
        <table className={css.list}>
          <thead>
            <tr>
              <th>air</th>
              <th style={{ textAlign: 'right' }}>load</th>
              <th>by</th>
            </tr>
          </thead>
          <tbody>
            {points.filter((_, k) => k % 2 === 0).map((p) => (
              <tr key={p.air}>
                <td className="mono">{print(p.air, '°C', 2)}</td>
                <td className={css.number}>{p.load > 0 ? print(p.load, 'A') : 'none'}</td>
                <td>{p.by ?? 'not yet'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function Curve({ points, fresh, svg, box: asked }: { points: readonly Allowed[]; fresh: boolean; svg: React.RefObject<SVGSVGElement | null>; box: { air: { min: number; max: number }; load: { min: number; max: number } } }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const x = scaleLinear([points[0]!.air, points.at(-1)!.air], [LEFT, width - RIGHT]);
  const y = scaleLinear([0, Math.max(...points.map((p) => p.load), asked.load.max)], [height - BOTTOM, TOP]).nice();
  const path = curve<Allowed>((p) => x(p.air), (p) => y(p.load))([...points])!;
  return (
    <div ref={box} className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label="Load allowed over air">
          <path d={`${path}L${x(points.at(-1)!.air)} ${y(0)}L${x(points[0]!.air)} ${y(0)}Z`} fill="var(--spruce)" fillOpacity={0.14} />
          <XAxis scale={x} unit="°C" y0={TOP} y1={height - BOTTOM} />
          <YAxis scale={y} unit="A" x0={LEFT} x1={width - RIGHT} />
          <path d={path} fill="none" stroke="var(--spruce)" strokeWidth={2.2} />
          <rect x={x(asked.air.min)} y={y(asked.load.max)} width={Math.max(2, x(asked.air.max) - x(asked.air.min))} height={y(asked.load.min) - y(asked.load.max)} fill="none" stroke="var(--ink)" strokeDasharray="4 3" />
          <text x={x(asked.air.max) - 5} y={y(asked.load.max) + 14} textAnchor="end" className={plots.label} fill="var(--ink)">
            the brief
          </text>
        </svg>
      )}
    </div>
  );
}
