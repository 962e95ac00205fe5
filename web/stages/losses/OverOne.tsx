'use client';
import { area, scaleLinear, stack } from 'd3';
import { useEffect, useRef } from 'react';
import { byMechanism, byMechanismOfInput, type LossCell } from '../../../core/corners/lossMap';
import { MECHANISMS } from '../../../core/loss';
import { printQuantity as print, type UnitName } from '../../../core/quantity';
import { spaced, XAxis, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { useSize } from '../../plots/useSize';
import { isOver, lossActions, useLossMap, type Over } from '../../state/lossMap';
import { useStore } from '../../state/store';
import frame from '../../frame/frame.module.css';
import css from '../stages.module.css';
import { columnsOf } from './LossMap';

const [LEFT, RIGHT, TOP, BOTTOM] = [52, 182, 8, 24];
const TITLE = new Map<string, string>([...Object.values(MECHANISMS).flat().map((m): [string, string] => [m.id, m.title]), ['divider', 'divider'], ['supply', 'supply of the control']]);
/** Shades of what is lost, from the darkest */
const SHADES = [0.92, 0.74, 0.58, 0.45, 0.34, 0.25, 0.18, 0.12];

const OVER: Record<Over, { unit: UnitName; says: string }> = { load: { unit: 'A', says: 'load' }, line: { unit: 'V', says: 'line' }, frequency: { unit: 'Hz', says: 'frequency' } };

/** Losses by mechanism over the load, the line or the frequency, one upon the other: in watts, or as a share of what goes in. */
export function OverOne() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { over, of, share } = useLossMap();
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const svg = useRef<SVGSVGElement>(null);
  useEffect(() => void lossActions.overOne(design, point, of), [design, point, of]);
  const fresh = isOver(over, design, point, of);
  const shown = over?.of ?? of;
  const at = (c: LossCell): number => (shown === 'load' ? c.load : c.x);
  const here = shown === 'load' ? point.load : shown === 'line' ? point.line : design.brief.frequency;
  const cells = (over?.cells ?? []).filter((c) => c.figures);
  const rows = cells.map((c) => (share ? byMechanismOfInput : byMechanism)(c.figures!));
  // The largest lie lowest.
  const sum = (id: string): number => rows.reduce((s, r) => s + (r[id] ?? 0), 0);
  const ids = [...new Set(rows.flatMap((r) => Object.keys(r)))].filter((id) => sum(id) > 0).toSorted((a, b) => sum(b) - sum(a));
  const layers = stack<Record<string, number>>().keys(ids).value((r, id) => r[id] ?? 0)(rows);
  const most = Math.max(1e-9, ...layers.flatMap((l) => l.map(([, top]) => top)));
  const x = scaleLinear([shown === 'load' || cells.length === 0 ? 0 : at(cells[0]!), cells.length > 0 ? at(cells.at(-1)!) : 1], [LEFT, width - RIGHT]);
  const y = scaleLinear([0, most], [height - BOTTOM, TOP]).nice();
  const shape = area<[number, number]>().x((_, i) => x(at(cells[i]!))).y0(([low]) => y(low)).y1(([, high]) => y(high));
  const labels = spaced(layers.map((l) => -y((l.at(-1)![0] + l.at(-1)![1]) / 2))).map((v) => -v);
  return (
    <>
      <div className={css.head}>
        <div className={css.tabs} role="group" aria-label="Losses over">
          {(Object.keys(OVER) as Over[]).map((o) => (
            <button key={o} type="button" className={frame.chip} aria-pressed={of === o} disabled={o === 'line' && design.brief.line.min === design.brief.line.max} onClick={() => lossActions.overWhat(o)}>
              {OVER[o].says}
            </button>
          ))}
        </div>
        <div className={css.tabs} role="group" aria-label="Losses in">
          {[false, true].map((s) => (
            <button key={String(s)} type="button" className={frame.chip} aria-pressed={share === s} onClick={() => lossActions.shareOf(s)}>
              {s ? 'share of the input' : 'watts'}
            </button>
          ))}
        </div>
        <SaveMenu svg={svg} name={`losses-over-${shown}`} columns={() => columnsOf(cells, shown === 'load' ? 'line' : shown)} />
      </div>
      <p className="muted" style={{ margin: '0 0 2px' }}>
        at {[...(shown === 'line' ? [] : [print(point.line, 'V')]), ...(shown === 'load' ? [] : [print(point.load, 'A')])].join(', ')}
        {shown === 'frequency' && ', the hardware as it is built'}
      </p>
      <div ref={box} className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
        {over && cells.length === 0 && <p className="muted">No {shown} has figures here: {over.cells[0]?.problem?.message}.</p>}
        {width > 0 && height > 0 && cells.length > 1 && (
          <svg ref={svg} width={width} height={height} role="img" aria-label={`Losses over ${shown} by mechanism`} data-testid="over-load">
            <XAxis scale={x} unit={OVER[shown].unit} y0={TOP} y1={height - BOTTOM} />
            <YAxis scale={y} unit={share ? '%' : 'W'} x0={LEFT} x1={width - RIGHT} />
            {layers.map((l, k) => (
              <path key={l.key} d={shape(l as unknown as [number, number][])!} fill="var(--rust)" fillOpacity={SHADES[Math.min(k, SHADES.length - 1)]} stroke="var(--card)" strokeWidth={0.8}>
                <title>{TITLE.get(l.key) ?? l.key}</title>
              </path>
            ))}
            {layers.map((l, k) => (
              <text key={l.key} x={width - RIGHT + 6} y={labels[k]! + 4} className={plots.label} fill="var(--ink)">
                {TITLE.get(l.key) ?? l.key} <tspan className={plots.mono}>{print(rows.at(-1)![l.key]!, share ? '%' : 'W', 3)}</tspan>
              </text>
            ))}
            <line x1={x(here)} x2={x(here)} y1={TOP} y2={height - BOTTOM} stroke="var(--ink)" strokeDasharray="2 3" />
          </svg>
        )}
      </div>
    </>
  );
}
