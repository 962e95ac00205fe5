'use client';
import { contours as contourLines, scaleLinear } from 'd3';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import Slider from '@mui/material/Slider';
import { REQUIREMENTS, requirementNamed } from '../../core/corners/requirements';
import type { RequirementId } from '../../core/design';
import { printQuantity as print, printTyped } from '../../core/quantity';
import { actions, useStore } from '../state/store';
import css from './frame.module.css';

const WIDTH = 186;
const HEIGHT = 168;
const BOX = { left: 40, right: 8, top: 8, bottom: 20 };

/**
 * The operating region, line × load: shaded by a measure, with the requirement's edge drawn and the
 * corners marked. The dot is the point that every figure on screen belongs to.
 */
export function Pad() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const measure = useStore((s) => s.padMeasure);
  const { map, mapProgress, corners, cornersFresh, problem } = useStore((s) => s.answers);
  const area = useRef<SVGSVGElement>(null);
  const { line, load, air } = design.brief;
  const x = scaleLinear([line.min, line.max], [BOX.left, WIDTH - BOX.right]);
  const y = scaleLinear([load.min, load.max], [HEIGHT - BOX.bottom, BOX.top]);
  const requirement = requirementNamed(measure);
  const { limit } = design.requirements[measure];

  const move = (e: PointerEvent): void => {
    const at = area.current!.getBoundingClientRect();
    actions.movePoint({ line: x.invert(e.clientX - at.left), load: y.invert(e.clientY - at.top) });
  };
  const onKeyDown = (e: KeyboardEvent): void => {
    const step = e.shiftKey ? 0.1 : 0.02;
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
    if (!by) return;
    e.preventDefault();
    actions.movePoint({
      line: point.line + by[0]! * step * (line.max - line.min),
      load: point.load + by[1]! * step * (load.max - load.min),
    });
  };

  return (
    <div className={css.pad}>
      <div className={css.padHead}>
        <span>Line × load</span>
        <select
          className={css.select}
          aria-label="Shade the pad by"
          value={measure}
          onChange={(e) => actions.shadeBy(e.target.value as RequirementId)}
        >
          {REQUIREMENTS.filter((r) => r.id === measure || !map || map.rows.some((row) => row.some((c) => Number.isFinite(c.values[r.id])))).map((r) => (
            <option key={r.id} value={r.id}>
              {r.short}
            </option>
          ))}
        </select>
      </div>
      <div className={css.progress}>
        {mapProgress !== undefined && (
          <>
            <progress value={mapProgress} aria-label="Shading the pad" />
            <button type="button" className={css.link} onClick={actions.stopMap} title="Leave the shading as it is">
              stop
            </button>
          </>
        )}
      </div>
      <svg
        ref={area}
        className={css.padArea}
        width={WIDTH}
        height={HEIGHT}
        role="application"
        aria-label={`Operating point ${print(point.line, 'V')}, ${print(point.load, 'A')}. Arrow keys move it.`}
        tabIndex={0}
        data-testid="pad"
        data-line={point.line}
        data-load={point.load}
        onKeyDown={onKeyDown}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          move(e);
        }}
        onPointerMove={(e) => e.buttons === 1 && move(e)}
      >
        <g className={mapProgress === undefined ? '' : 'stale'}>
        <Shading x={x} y={y} measure={measure} limit={limit} atMost={requirement.direction === 'at most'} rows={map?.rows} />
        </g>
        <rect x={BOX.left} y={BOX.top} width={WIDTH - BOX.left - BOX.right} height={HEIGHT - BOX.top - BOX.bottom} fill="none" stroke="var(--line)" />
        <g className={cornersFresh ? '' : 'stale'}>
          {corners?.corners.map(({ point: p, holds }, i) =>
            holds ? (
              <circle key={i} cx={x(p.line)} cy={y(p.load)} r={3} fill="var(--card)" stroke="var(--ink)" strokeWidth={1.4} />
            ) : (
              <path key={i} d={`M${x(p.line) - 4} ${y(p.load) - 4}l8 8m0 -8l-8 8`} stroke="var(--fail)" strokeWidth={2.4} />
            ),
          )}
        </g>
        <g transform={`translate(${x(point.line)} ${y(point.load)})`}>
          <circle r={7} fill="var(--card)" stroke={problem ? 'var(--fail)' : 'var(--ink)'} strokeWidth={2.4} />
          <circle r={2} fill="var(--ink)" />
        </g>
        <g fontSize={10.5} fill="var(--muted)" fontFamily="'Sometype Mono Variable', monospace">
          <text x={BOX.left - 7} y={BOX.top + 6} textAnchor="end">{printTyped(load.max, 'A', 3).replace(' mA', 'm')}</text>
          <text x={BOX.left - 7} y={HEIGHT - BOX.bottom + 2} textAnchor="end">{printTyped(load.min, 'A', 3).replace(' mA', 'm')}</text>
          {line.min < line.max && <text x={BOX.left} y={HEIGHT - 6}>{Number(line.min.toPrecision(3))}</text>}
          <text x={line.min < line.max ? WIDTH - BOX.right : x(line.max)} y={HEIGHT - 6} textAnchor={line.min < line.max ? 'end' : 'middle'}>{printTyped(line.max, 'V', 3)}</text>
        </g>
      </svg>
      <div className={css.padPoint}>
        <span className="mono" data-testid="point">
          {print(point.line, 'V')} · {print(point.load, 'A')}
        </span>
      </div>
      <div className={css.padPoint}>
        <span className="muted">air</span>
        <span className="mono">{Math.round(point.air)} °C</span>
        <Slider
          size="small"
          aria-label="Air temperature"
          title="Air temperature of the point in view"
          min={air.min}
          max={air.max}
          value={point.air}
          onChange={(_, v) => actions.movePoint({ air: v as number })}
          sx={{ width: 108, color: 'text.primary', py: '8px', '& .MuiSlider-thumb': { width: 9, height: 9 } }}
        />
      </div>
    </div>
  );
}


type Scale = (v: number) => number;

/** Cells coloured by the measure, and a dashed line where it meets its limit. */
function Shading({
  x, y, measure, limit, atMost, rows,
}: {
  x: Scale; y: Scale; measure: RequirementId; limit: number; atMost: boolean; rows: { line: number; load: number; values: Partial<Record<RequirementId, number>> }[][] | undefined;
}) {
  if (!rows?.length) return null;
  const values = rows.flat().map((c) => c.values[measure] ?? NaN);
  const finite = values.filter(Number.isFinite);
  if (finite.length === 0)
    return (
      <text x={(x(rows[0]![0]!.line) + x(rows[0]!.at(-1)!.line)) / 2} y={HEIGHT / 2} textAnchor="middle" fontSize={11} fill="var(--muted)">
        no figures of this here
      </text>
    );
  const [low, high] = [Math.min(...finite), Math.max(...finite)];
  // Good end: small for "at most", large for "at least".
  // What hardly varies beside its limit is one colour: the good one.
  const least = 0.1 * Math.abs(limit) + 1e-12;
  const colour = scaleLinear(atMost ? [low, Math.max(high, low + least)] : [high, Math.min(low, high - least)], [0, 1]);
  const mix = (share: number): string => `color-mix(in srgb, var(--map-tight) ${(100 * share).toFixed(1)}%, var(--map-good))`;
  const nx = rows[0]!.length;
  const ny = rows.length;
  const right = x(rows[0]!.at(-1)!.line);
  const left = x(rows[0]![0]!.line);
  const top = y(rows.at(-1)![0]!.load);
  const bottom = y(rows[0]![0]!.load);
  const w = (right - left) / nx;
  const h = (bottom - top) / ny;
  const edge = contourLines().size([nx, ny]).thresholds([limit])(values.map((v) => (Number.isFinite(v) ? v : high)))[0]!;
  const toX = (gx: number): number => left + ((gx - 0.5) / (nx - 1)) * (right - left);
  const toY = (gy: number): number => bottom - ((gy - 0.5) / (ny - 1)) * (bottom - top);
  const inside = low < limit && limit < high;
  return (
    <>
      <clipPath id="pad-region">
        <rect x={left} y={top} width={right - left} height={bottom - top} />
      </clipPath>
      {rows.map((row, j) =>
        row.map((c, i) => {
          const v = c.values[measure];
          return (
            <rect key={`${i} ${j}`} x={left + i * w} y={bottom - (j + 1) * h} width={w + 0.4} height={h + 0.4} opacity={0.72} fill={v === undefined || !Number.isFinite(v) ? 'var(--line)' : mix(colour(v))}>
              <title>{v === undefined ? 'no figures here' : `${print(v, requirementNamed(measure).unit)} at ${print(c.line, 'V')}, ${print(c.load, 'A')}`}</title>
            </rect>
          );
        }),
      )}
      {inside && (
        <g clipPath="url(#pad-region)">
          {edge.coordinates.flat().map((ring, i) => (
            <path
              key={i}
              d={inner(ring as [number, number][], nx, ny).map((run) => 'M' + run.map(([gx, gy]) => `${toX(gx)} ${toY(gy)}`).join('L')).join('')}
              fill="none"
              stroke="var(--fail)"
              strokeDasharray="4 3"
              strokeWidth={1.4}
            />
          ))}
        </g>
      )}
    </>
  );
}

/** A contour ring closes along the border of the grid; only its inner runs are edges. */
function inner(ring: readonly [number, number][], nx: number, ny: number): [number, number][][] {
  const border = ([a, b]: [number, number]): boolean => a <= 0.5 || b <= 0.5 || a >= nx - 0.5 || b >= ny - 0.5;
  const runs: [number, number][][] = [];
  let run: [number, number][] = [];
  for (const p of ring) {
    if (border(p)) {
      if (run.length > 0) runs.push([...run, p]);
      run = [p];
    } else run.push(p);
  }
  if (run.length > 1) runs.push(run);
  return runs.filter((r) => r.length > 2);
}
