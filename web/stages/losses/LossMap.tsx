'use client';
import { contours as contourLines, scaleLinear } from 'd3';
import { useRef } from 'react';
import { ACROSS, bestOf, byMechanism, type Across, type LossCell } from '../../../core/corners/lossMap';
import { printQuantity as print, type UnitName } from '../../../core/quantity';
import { XAxis, YAxis } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { useSize } from '../../plots/useSize';
import { isOf, lossActions, useLossMap } from '../../state/lossMap';
import { actions, useStore } from '../../state/store';
import frame from '../../frame/frame.module.css';
import css from '../stages.module.css';

const [LEFT, RIGHT, TOP, BOTTOM] = [52, 14, 6, 24];
/** Contours that are drawn at most; the shading is as light as it gets where nine tenths of the map are better, or so far under the best */
const [CONTOURS, DARKEST] = [6, 0.02];

/** The efficiency map: every cell a settled solution with its temperatures. */
export function LossMap() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const kept = useStore((s) => s.kept);
  const { across, map, less, progress, problem } = useLossMap();
  const svg = useRef<SVGSVGElement>(null);
  const there = map?.rows.filter((r): r is LossCell[] => r !== undefined) ?? [];
  const best = bestOf(there);
  const fresh = isOf(map, design, point, across) && map!.across === across;
  return (
    <>
      <div className={css.head} style={{ flexWrap: 'wrap' }}>
        <div className={css.tabs} role="group" aria-label="What lies across">
          {(['line', 'output', 'frequency'] as const).map((a) => (
            <button key={a} type="button" className={frame.chip} aria-pressed={across === a} disabled={a === 'line' && design.brief.line.min === design.brief.line.max} onClick={() => lossActions.cross(a)}>
              {ACROSS[a].title} × load
            </button>
          ))}
          {kept.map((k, i) => (
            <button key={k.id} type="button" className={frame.chip} aria-pressed={less?.id === k.id} disabled={!map || progress !== undefined} style={{ color: keptStyle(i).colour }} onClick={() => void lossActions.lessThan(less?.id === k.id ? undefined : k)}>
              less {k.label.split(' ')[0]}
            </button>
          ))}
        </div>
        <SaveMenu svg={svg} name="efficiency-map" columns={() => columnsOf(there.flat(), map?.across ?? across)} />
      </div>
      <p className="muted" role="status" style={{ margin: '0 0 4px', minHeight: 20 }}>
        {progress !== undefined ? (
          <>
            {Math.round(progress * 100)} % of the map{' '}
            <button type="button" className={frame.link} onClick={lossActions.stop}>
              stop
            </button>
          </>
        ) : (
          <>
            {best && !less && <span data-testid="map-best">{`best ${print(best.figures!.efficiency, '%', 4)} at ${print(best.x, ACROSS[map!.across].unit)}, ${print(best.load, 'A')}; ${there.length * (map?.x.length ?? 0)} settled points `}</span>}
            {less && <span data-testid="map-less">{`by how much it is better than ${less.label.split(' ')[0]}, in points of a percent `}</span>}
            <button type="button" className={frame.link} onClick={() => void lossActions.make()}>
              {map && fresh && there.length === map.load.length ? 'make it again' : 'make the map'}
            </button>
            {map && !fresh && ' of the design and point as they are now'}
          </>
        )}
        {problem && <span className={css.fails}>: {problem.message}</span>}
      </p>
      <MapPlot svg={svg} fresh={fresh} />
    </>
  );
}

function MapPlot({ svg, fresh }: { svg: React.RefObject<SVGSVGElement | null>; fresh: boolean }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const point = useStore((s) => s.point);
  const output = useStore((s) => s.design.brief.output.voltage);
  const frequency = useStore((s) => s.design.brief.frequency);
  const { map, less } = useLossMap();
  if (!map) return <div ref={box} style={{ flex: 1 }} />;
  const x = scaleLinear([map.x[0]!, map.x.at(-1)!], [LEFT, width - RIGHT]);
  const y = scaleLinear([map.load[0]!, map.load.at(-1)!], [height - BOTTOM, TOP]);
  const value = (j: number, i: number): number => {
    const own = map.rows[j]?.[i]?.figures?.efficiency ?? NaN;
    return less ? own - (less.map.rows[j]?.[i]?.figures?.efficiency ?? NaN) : own;
  };
  const values = map.load.flatMap((_, j) => map.x.map((_, i) => value(j, i)));
  const finite = values.filter(Number.isFinite);
  const [low, high] = finite.length > 0 ? [Math.min(...finite), Math.max(...finite)] : [0, 1];
  const [nx, ny] = [map.x.length, map.load.length];
  const w = (width - RIGHT - LEFT) / nx;
  const h = (height - BOTTOM - TOP) / ny;
  // What is far below the best is all alike; differences go to either side of nothing.
  const span = Math.max(DARKEST, high - (finite.toSorted((a, b) => a - b)[Math.floor(finite.length / 10)] ?? low));
  const edge = less ? Math.max(Math.abs(low), Math.abs(high), 1e-6) : 0;
  const shade = (v: number): string => {
    if (!Number.isFinite(v)) return 'var(--line)';
    const share = less ? (edge - v) / (2 * edge) : Math.min(1, (high - v) / span);
    return `color-mix(in srgb, var(--map-tight) ${(100 * share).toFixed(1)}%, var(--map-good))`;
  };
  const levels = less ? scaleLinear([low, high], [0, 1]).ticks(CONTOURS) : levelsOf(low, high);
  const lines = finite.length === values.length && w > 0 ? contourLines().size([nx, ny]).thresholds(levels)(values) : [];
  const toX = (g: number): number => LEFT + ((g - 0.5) / (nx - 1)) * (width - RIGHT - LEFT);
  const toY = (g: number): number => height - BOTTOM - ((g - 0.5) / (ny - 1)) * (height - BOTTOM - TOP);
  const inBorder = ([a, b]: [number, number]): boolean => a <= 0.5 || b <= 0.5 || a >= nx - 0.5 || b >= ny - 0.5;
  const here = map.across === 'line' ? point.line : map.across === 'output' ? output : frequency;
  return (
    <div ref={box} className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label="Efficiency map" data-testid="loss-map">
          <g opacity={0.8} shapeRendering="crispEdges">
          {map.load.map((load, j) =>
            map.x.map((v, i) => (
              <rect
                key={`${i} ${j}`}
                x={LEFT + i * w}
                y={height - BOTTOM - (j + 1) * h}
                width={w + 0.4}
                height={h + 0.4}
                fill={shade(value(j, i))}
                onClick={() => map.across === 'line' && actions.movePoint({ line: v, load })}
              >
                <title>{titleOf(map.rows[j]?.[i], v, load, ACROSS[map.across].unit)}</title>
              </rect>
            )),
          )}
          </g>
          {lines.map((line) => {
            const runs = line.coordinates.flat().flatMap((ring) => runsOf(ring as [number, number][], inBorder));
            const longest = runs.reduce((a, b) => (b.length > a.length ? b : a), [] as [number, number][]);
            const [lx, ly] = longest[Math.floor(longest.length / 2)] ?? [NaN, NaN];
            return (
              <g key={line.value} pointerEvents="none">
                <path d={runs.map((run) => 'M' + run.map(([a, b]) => `${toX(a).toFixed(1)} ${toY(b).toFixed(1)}`).join('L')).join('')} fill="none" stroke="var(--ink)" strokeOpacity={0.55} strokeWidth={1.2} />
                {longest.length > 6 && (
                  <text x={Math.min(width - RIGHT - 22, Math.max(LEFT + 22, toX(lx)))} y={toY(ly) - 3} textAnchor="middle" className={plots.mono} fill="var(--ink)" paintOrder="stroke" stroke="var(--card)" strokeOpacity={0.75} strokeWidth={3}>
                    {less ? `${line.value > 0 ? '+' : line.value < 0 ? '−' : ''}${Number((100 * Math.abs(line.value)).toPrecision(2))}` : `${Number((100 * line.value).toPrecision(4))} %`}
                  </text>
                )}
              </g>
            );
          })}
          <XAxis scale={x} unit={ACROSS[map.across].unit} y0={height - BOTTOM} y1={height - BOTTOM} />
          <YAxis scale={y} unit="A" x0={LEFT} x1={LEFT} />
          {here >= map.x[0]! && here <= map.x.at(-1)! && <circle cx={x(here)} cy={y(point.load)} r={6} fill="var(--card)" stroke="var(--ink)" strokeWidth={2.4} pointerEvents="none" />}
        </svg>
      )}
    </div>
  );
}

/** Round levels that close in on the best: 80, 90, 95, 97, 98 … %. */
function levelsOf(low: number, high: number): number[] {
  const all = [0.5, 0.7, 0.8, 0.85, 0.9, 0.92, 0.94, 0.95, 0.96, 0.965, 0.97, 0.975, 0.98, 0.982, 0.984, 0.986, 0.988, 0.99, 0.992, 0.994, 0.996, 0.998].filter((v) => v > low && v < high);
  return all.slice(-CONTOURS);
}

/** A contour closes along the border of the grid; what lies on it is no contour. */
function runsOf(ring: readonly [number, number][], border: (p: [number, number]) => boolean): [number, number][][] {
  const runs: [number, number][][] = [];
  let run: [number, number][] = [];
  for (const p of ring) {
    if (!border(p)) {
      run.push(p);
      continue;
    }
    if (run.length > 1) runs.push([...run, p]);
    run = [p];
  }
  if (run.length > 1) runs.push(run);
  return runs.filter((r) => r.length > 2);
}

function titleOf(cell: LossCell | undefined, x: number, load: number, unit: UnitName): string {
  const at = `at ${print(x, unit)}, ${print(load, 'A')}`;
  if (!cell) return at;
  return cell.figures ? `${print(cell.figures.efficiency, '%', 4)}, ${print(cell.figures.total, 'W')} lost ${at}` : `${cell.problem!.message}, ${at}`;
}

/** Cells as columns: V, A, efficiency, W, and W of every mechanism. */
export function columnsOf(cells: readonly LossCell[], across: Across): Record<string, number[]> {
  const able = cells.filter((c) => c.figures);
  const sums = able.map((c) => byMechanism(c.figures!));
  const ids = [...new Set(sums.flatMap((s) => Object.keys(s)))];
  return {
    [`${ACROSS[across].title} (${ACROSS[across].unit})`]: able.map((c) => c.x),
    'load (A)': able.map((c) => c.load),
    efficiency: able.map((c) => c.figures!.efficiency),
    'lost (W)': able.map((c) => c.figures!.total),
    ...Object.fromEntries(ids.map((id) => [`${id} (W)`, sums.map((s) => s[id] ?? 0)])),
  };
}
