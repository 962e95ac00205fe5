'use client';
import { scaleLinear } from 'd3';
import { useRef, useState } from 'react';
import { REQUIREMENTS } from '../../../core/corners/requirements';
import { printQuantity as print } from '../../../core/quantity';
import { hottestOf, type ThermalNode } from '../../../core/thermal/network';
import { YAxis } from '../../plots/axes';
import { SaveMenu } from '../../plots/SaveMenu';
import { useSize } from '../../plots/useSize';
import plots from '../../plots/plots.module.css';
import { actions, useStore } from '../../state/store';
import { pointName } from '../pointName';
import frame from '../../frame/frame.module.css';
import css from '../stages.module.css';
import { DeratingView } from './DeratingView';
import { Beside } from '../Beside';
import { CoolingPanel } from './CoolingPanel';
import { ProfileView } from './ProfileView';
import { PulsesView } from './PulsesView';
import { WarmUp } from './WarmUp';

const LEFT = 56;
const TOP = 24;
const BOTTOM = 30;

const VIEWS = ['settled', 'warm-up', 'pulses', 'profile', 'derating'] as const;

/** The thermal network, where the parts have lasting temperatures. */
export function HeatStage() {
  const heat = useStore((s) => s.answers.figures!.problems.heat);
  const [view, setView] = useState<(typeof VIEWS)[number]>('settled');
  if (heat) return <p>There are no lasting temperatures to show: each is driven up by the loss that it causes.</p>;
  const tabs = (
    <div className={css.tabs} style={{ marginBottom: 8 }} role="group" aria-label="Temperatures">
      {VIEWS.map((v) => (
        <button key={v} type="button" className={frame.chip} aria-pressed={view === v} onClick={() => setView(v)}>
          {v}
        </button>
      ))}
    </div>
  );
  return (
    <div className={css.stack}>
      {tabs}
      <div style={{ flex: 1, minHeight: 0 }}>{view === 'settled' ? <ThermalNetwork /> : view === 'warm-up' ? <WarmUp /> : view === 'pulses' ? <PulsesView /> : view === 'profile' ? <ProfileView /> : <DeratingView />}</div>
    </div>
  );
}

/** The thermal network drawn to scale: each node as high as its temperature, down to the air. */
function ThermalNetwork() {
  const design = useStore((s) => s.design);
  const { figures, fresh, corners } = useStore((s) => s.answers);
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const svg = useRef<SVGSVGElement>(null);
  const { rungs } = figures!.heat;
  const { air } = figures!.point;
  const hotSpots = rungs.filter((r) => r.limit !== undefined);
  const limitOf = ({ spot }: ThermalNode): { limit: number; on: boolean } => design.requirements[REQUIREMENTS.find((r) => r.id === spot)!.id];
  const top = Math.max(...hotSpots.map((r) => Math.max(r.temperature, limitOf(r).limit)));
  const y = scaleLinear([air - 6, top + 8], [height - BOTTOM, TOP]);
  const column = (width - LEFT - 10) / Math.max(1, hotSpots.length);
  // Where many stand side by side the figures stand alone, and the heading says what they are.
  const narrow = column < 132;
  return (
    <div className={css.columns}>
      <div className={css.stack}>
        <div className={css.head}>
          <h2 style={{ margin: 0 }}>
            From the parts to the air <span className="muted" style={{ fontWeight: 400 }}>each node as high as its temperature{narrow ? ', °C: junction, case, sink' : ''}</span>
          </h2>
          <span style={{ flex: 1 }} />
          <SaveMenu svg={svg} name="heat" columns={() => ({ 'temperature (°C)': rungs.map((r) => r.temperature), 'heat (W)': rungs.map((r) => r.heat), 'resistance (K/W)': rungs.map((r) => r.resistance) })} />
        </div>
        <div ref={box} className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
          {width > 0 && height > 0 && (
            <svg ref={svg} width={width} height={height} role="img" aria-label="Thermal network">
              <YAxis scale={y} unit="°C" x0={LEFT} x1={width - 10} count={7} />
              <line x1={LEFT} x2={width - 10} y1={y(air)} y2={y(air)} stroke="var(--slate)" strokeWidth={3} />
              <text x={width - 12} y={y(air) + 16} textAnchor="end" className={plots.label} fill="var(--slate)">
                air {print(air, '°C')}
              </text>
              {hotSpots.map((spot, i) => {
                const slot = spot.slot!;
                const cx = LEFT + column * (i + 0.24);
                const chain = [spot];
                for (let at = rungs.find((r) => r.id === spot.towards); at; at = rungs.find((r) => r.id === at!.towards)) chain.push(at);
                const limit = limitOf(spot);
                return (
                  <g key={spot.id} style={{ cursor: 'pointer' }} onClick={() => actions.select(slot)}>
                    {limit.on && (
                      <g>
                        <line x1={cx - (narrow ? 18 : 30)} x2={cx + (narrow ? 18 : 30)} y1={y(limit.limit)} y2={y(limit.limit)} stroke="var(--fail)" strokeDasharray="4 3" />
                        <text x={narrow ? cx : cx + 34} y={y(limit.limit) + (narrow ? -5 : 4)} textAnchor={narrow ? 'middle' : 'start'} className={plots.mono} fill="var(--fail)">
                          {narrow ? Math.round(limit.limit) : print(limit.limit, '°C')}
                        </text>
                      </g>
                    )}
                    <line x1={cx} x2={cx} y1={y(air)} y2={y(spot.temperature)} stroke="var(--rust)" strokeWidth={3} />
                    {labelled(chain.map((r) => y(r.temperature))).map((ly, k) => {
                      const r = chain[k]!;
                      return (
                        <g key={r.id}>
                          <circle cx={cx} cy={y(r.temperature)} r={k === 0 ? 6 : 4} fill="var(--card)" stroke="var(--rust)" strokeWidth={2.4} />
                          <path d={`M${cx + 8} ${y(r.temperature)}L${cx + 18} ${ly}`} stroke="var(--line)" />
                          <text x={cx + 22} y={ly + 4} className={plots.label} fill="var(--ink)">
                            {narrow ? '' : `${r.spot ?? r.title} `}
                            <tspan className={plots.mono} fontWeight={k === 0 ? 700 : 400}>
                              {r.temperature.toFixed(1)}
                              {narrow ? '' : ' °C'}
                            </tspan>
                          </text>
                          {column > 230 && (
                            <text x={cx + 140} y={ly + 4} className={plots.mono} fill="var(--muted)">
                              {print(r.resistance, 'K/W', 2)} below
                            </text>
                          )}
                        </g>
                      );
                    })}
                    <text x={cx} y={height - 8} textAnchor="middle" className={plots.label} fontWeight={650} fill="var(--ink)">
                      {slot}
                      {column > 84 ? ` · ${print(spot.heat, 'W')}` : ''}
                    </text>
                  </g>
                );
              })}
            </svg>
          )}
        </div>
      </div>
      <div>
        <h2>Margin to the limits</h2>
        <table className={css.list}>
          <thead>
            <tr>
              <th />
              <th style={{ textAlign: 'right' }}>here</th>
              <th style={{ textAlign: 'right' }}>limit</th>
              <th style={{ textAlign: 'right' }}>rated</th>
            </tr>
          </thead>
          <tbody>
            {hotSpots.map((r) => (
              <tr key={r.id}>
                <td>{r.title}</td>
                <td className={`${css.number} ${hottestOf(r) > limitOf(r).limit ? css.fails : ''}`} data-testid={`temperature-${r.id}`}>
                  {hottestOf(r).toFixed(1)}
                </td>
                <td className={css.number}>{limitOf(r).limit}</td>
                <td className={css.number}>{r.limit} °C</td>
              </tr>
            ))}
          </tbody>
        </table>
        <h3>Worst of the corners</h3>
        {corners?.worst
          .filter((w) => w.id === 'junction' || w.id === 'winding')
          .map((w) => (
            <p key={w.id} style={{ margin: '2px 0' }}>
              hottest {w.id} <b className="mono">{print(w.value, '°C')}</b> <span className="muted mono">at {pointName(w.at)}</span>
            </p>
          ))}
        <Beside now={figures!} what="heat" />
        <CoolingPanel />
        <p className="muted">
          Temperatures, resistances and losses are solved together: {figures!.heat.iterations} rounds at this point.
        </p>
      </div>
    </div>
  );
}

/** Heights of labels, from the hottest down, kept apart. */
function labelled(heights: number[], gap = 15): number[] {
  const out: number[] = [];
  heights.forEach((h, i) => out.push(i === 0 ? h : Math.max(h, out[i - 1]! + gap)));
  return out;
}
