'use client';
import { scaleLinear } from 'd3';
import { useEffect, useRef, useState } from 'react';
import { cornersOf, edgesIn, measuresOf, OVER, spotKey, type Cell, type Over, type Spot } from '../../../core/corners/field';
import { printQuantity as print } from '../../../core/quantity';
import type { UnitName } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { fieldActions, useField } from '../../state/field';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';
import { UnderWay } from '../UnderWay';

const UNIT: Record<Over, UnitName> = { line: 'V', load: 'A', air: '°C' };
const [WIDTH, HEIGHT, LEFT, BOTTOM, RIGHT, TOP] = [470, 310, 62, 34, 14, 8];
const PAIRS: readonly [Over, Over][] = OVER.flatMap((a, i) => OVER.slice(i + 1).map((b): [Over, Over] => [a, b]));

/** Tiles along each side of all that is drawn: a cell is shaded between its corners. */
const TILES = 32;

/** A cell in tiles, each between the cell's corners. */
function tilesOf(c: Cell, known: ReadonlyMap<string, Spot>, measure: number): (Cell & { value: number })[] {
  const [a, b, d, e] = cornersOf(c).map(([u, v]) => known.get(spotKey(u, v))?.values[measure] ?? NaN) as [number, number, number, number];
  const n = Math.max(1, Math.round(c.size * TILES));
  return Array.from({ length: n * n }, (_, k) => {
    const [s, t] = [((k % n) + 0.5) / n, (Math.floor(k / n) + 0.5) / n];
    return { u: c.u + ((k % n) * c.size) / n, v: c.v + (Math.floor(k / n) * c.size) / n, size: c.size / n, value: (1 - t) * ((1 - s) * a + s * b) + t * ((1 - s) * d + s * e) };
  });
}

/** Any measure of any stage over two of the ranges, with the edge at which its requirement is met; fine where it changes. */
export function MapView() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { measure, axes, known, cells, under, failed, design: of, at } = useField();
  const [over, setOver] = useState<{ u: number; v: number }>();
  const box = useRef<SVGSVGElement>(null);
  const measures = measuresOf(design);
  const k = Math.max(0, measures.findIndex((m) => m.id === measure));
  const { title, unit, limit } = measures[k]!;
  // Only what is not gone over makes another field.
  const rest = OVER.filter((o) => !axes.includes(o)).map((o) => point[o]).join();
  useEffect(() => {
    const { point: here } = useStore.getState();
    void fieldActions.look(design, here, useField.getState().measure, useField.getState().axes);
    return fieldActions.stop;
  }, [design, rest]);
  const look = (m: string, a: readonly [Over, Over]): void => void fieldActions.look(design, point, m, a);

  const x = scaleLinear([0, 1], [LEFT, WIDTH - RIGHT]);
  const y = scaleLinear([0, 1], [HEIGHT - BOTTOM, TOP]);
  const along = (o: Over) => scaleLinear([0, 1], [design.brief[o].min, design.brief[o].max]);
  const [ax, ay] = [along(axes[0]), along(axes[1])];
  const values = [...known.values()].map((s) => s.values[k]!).filter(Number.isFinite);
  const [low, high] = values.length > 0 ? [Math.min(...values), Math.max(...values)] : [0, 1];
  const shade = (v: number): string => `color-mix(in srgb, var(--map-tight) ${(100 * ((v - low) / (high - low || 1))).toFixed(1)}%, var(--map-good))`;
  const middle = (c: (typeof cells)[number]): number | undefined => known.get(spotKey(c.u + c.size / 2, c.v + c.size / 2))?.values[k];
  const there = (e: { clientX: number; clientY: number }): { u: number; v: number } => {
    const b = box.current!.getBoundingClientRect();
    const clip = (v: number): number => Math.min(1, Math.max(0, v));
    return { u: clip(x.invert(((e.clientX - b.left) * WIDTH) / b.width)), v: clip(y.invert(((e.clientY - b.top) * HEIGHT) / b.height)) };
  };
  const cell = over && cells.find((c) => over.u >= c.u && over.u <= c.u + c.size && over.v >= c.v && over.v <= c.v + c.size);
  const read = cell && middle(cell);
  const fresh = of === design;
  return (
    <div data-testid="map">
      <div className={css.tabs} style={{ marginBottom: 6, alignItems: 'center' }}>
        <select className={frame.select} style={{ width: 200, maxWidth: 'none' }} aria-label="Measure" value={measures[k]!.id} onChange={(e) => look(e.target.value, axes)}>
          {measures.map((m) => (
            <option key={m.id} value={m.id}>
              {m.title}
            </option>
          ))}
        </select>
        over
        <select className={frame.select} aria-label="Ranges" value={axes.join()} onChange={(e) => look(measure, PAIRS.find((p) => p.join() === e.target.value)!)}>
          {PAIRS.map((p) => (
            <option key={p.join()} value={p.join()}>
              {p.join(' × ')}
            </option>
          ))}
        </select>
        <span className="muted">
          {OVER.filter((o) => !axes.includes(o)).map((o) => `${o} ${print((at ?? point)[o], UNIT[o], 3)}`)}
        </span>
        {under && (
          <UnderWay stop={fieldActions.stop}>{known.size} points</UnderWay>
        )}
      </div>
      {failed && <p className={css.fails}>{failed}</p>}
      <svg ref={box} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" style={{ maxWidth: 620, cursor: 'crosshair' }} className={fresh ? '' : 'stale'} role="img" aria-label={`${title} over ${axes.join(' and ')}: ${print(low, unit, 3)} to ${print(high, unit, 3)}`} onPointerMove={(e) => setOver(there(e))} onPointerLeave={() => setOver(undefined)} onClick={(e) => {
        const at = there(e);
        actions.movePoint({ [axes[0]]: ax(at.u), [axes[1]]: ay(at.v) });
      }}>
        {cells.flatMap((c) => tilesOf(c, known, k)).map((t) => (
          <rect key={`${t.u} ${t.v}`} x={x(t.u)} y={y(t.v + t.size)} width={x(t.size) - x(0) + 0.4} height={y(0) - y(t.size) + 0.4} opacity={0.72} fill={Number.isFinite(t.value) ? shade(t.value) : 'var(--line)'} />
        ))}
        {limit !== undefined && <path d={cells.flatMap((c) => edgesIn(c, known, k, limit)).map(([a, b, c, d]) => `M${x(a)} ${y(b)}L${x(c)} ${y(d)}`).join('')} fill="none" stroke="var(--fail)" strokeWidth={2} strokeLinecap="round" />}
        <rect x={LEFT} y={TOP} width={WIDTH - LEFT - RIGHT} height={HEIGHT - TOP - BOTTOM} fill="none" stroke="var(--line)" />
        {[0, 0.25, 0.5, 0.75, 1].map((s) => (
          <text key={s} x={x(s)} y={HEIGHT - BOTTOM + 14} textAnchor={s === 0 ? 'start' : s === 1 ? 'end' : 'middle'} fontSize={10.5} fill="var(--muted)">
            {print(ax(s), UNIT[axes[0]], 3)}
          </text>
        ))}
        {[0, 0.25, 0.5, 0.75, 1].map((s) => (
          <text key={s} x={LEFT - 6} y={y(s) + (s === 1 ? 8 : 3)} textAnchor="end" fontSize={10.5} fill="var(--muted)">
            {print(ay(s), UNIT[axes[1]], 3)}
          </text>
        ))}
        <text x={WIDTH - RIGHT} y={HEIGHT - 4} textAnchor="end" fontSize={10.5} fill="var(--muted)">
          {axes[0]}
        </text>
        <circle cx={x(ax.invert(point[axes[0]]))} cy={y(ay.invert(point[axes[1]]))} r={6} fill="var(--card)" stroke="var(--ink)" strokeWidth={2.2} pointerEvents="none" />
      </svg>
      <p className="muted mono" style={{ margin: '2px 0', fontSize: 12, whiteSpace: 'normal' }} data-testid="map-reads">
        {over ? `${read !== undefined && Number.isFinite(read) ? print(read, unit) : 'no figures'} at ${print(ax(over.u), UNIT[axes[0]], 3)}, ${print(ay(over.v), UNIT[axes[1]], 3)}` : `${title}: ${print(low, unit)} to ${print(high, unit)}${limit === undefined ? '' : `; the line is where it meets ${print(limit, unit)}`}`}
      </p>
    </div>
  );
}
