'use client';
import { useState } from 'react';
import { REQUIREMENTS, requirementNamed, tightest } from '../../../core/corners/requirements';
import type { RequirementId } from '../../../core/design';
import { describeProblem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { Reed } from '../../frame/Reed';
import { actions, useStore } from '../../state/store';
import { pointName } from '../pointName';
import { choosable } from '../rows';
import css from '../stages.module.css';
import { between, MovesIn, useRegion } from './RegionOf';
import { FaultsView } from './FaultsView';
import { MapView } from './MapView';
import { SearchView } from './SearchView';
import { SpreadView } from './SpreadView';
import { WorstCaseView } from './WorstCaseView';

const TABS: { id: RequirementId | 'all'; title: string }[] = [
  { id: 'all', title: 'All' },
  { id: 'phaseMargin', title: 'Margin' },
  { id: 'ripple', title: 'Ripple' },
  { id: 'deviation', title: 'Load step' },
  { id: 'junction', title: 'Junction' },
  { id: 'efficiency', title: 'Efficiency' },
];

const MODES = [
  { id: 'corners', title: 'Corners' },
  { id: 'map', title: 'Map' },
  { id: 'spread', title: 'Spread' },
  { id: 'worst', title: 'Worst case' },
  { id: 'search', title: 'Search' },
  { id: 'faults', title: 'Faults' },
] as const;
type ModeId = (typeof MODES)[number]['id'];

/** Line × load as a matrix; a click goes there. Beside it the requirements, tightest first. */
export function CornersStage() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { corners, cornersFresh } = useStore((s) => s.answers);
  const [shown, setShown] = useState<RequirementId | 'all'>('all');
  const [mode, setMode] = useState<ModeId>('corners');
  const region = useRegion();
  if (!corners) return <p className="muted">Judging the corners…</p>;
  const lines = [...new Set(corners.corners.map((c) => c.point.line))];
  const loads = [...new Set(corners.corners.map((c) => c.point.load))];
  const go = (line: number, load: number, air: number): void => actions.movePoint({ line, load, air });
  return (
    <div className={css.columns} style={{ gridTemplateColumns: mode === 'faults' ? 'minmax(0, 1fr)' : 'minmax(0, 1.4fr) minmax(250px, 1fr)' }}>
      <div>
        <div className={css.tabs} role="tablist" aria-label="What is held against the requirements" style={{ marginBottom: 10 }}>
          {MODES.map((m) => (
            <button key={m.id} type="button" role="tab" className={frame.chip} aria-selected={mode === m.id} onClick={() => setMode(m.id)}>
              {m.title}
            </button>
          ))}
        </div>
        {mode === 'map' && <MapView />}
        {mode === 'spread' && <SpreadView region={region} />}
        {mode === 'worst' && <WorstCaseView region={region} />}
        {mode === 'search' && <SearchView region={region} />}
        {mode === 'faults' && <FaultsView />}
        {mode === 'corners' && <>
        <div className={css.tabs} role="tablist" aria-label="Requirement" style={{ marginBottom: 10 }}>
          {TABS.map((t) => (
            <button key={t.id} type="button" role="tab" className={frame.chip} aria-selected={shown === t.id} onClick={() => setShown(t.id)}>
              {t.title}
            </button>
          ))}
        </div>
        <table style={{ width: '100%', tableLayout: 'fixed', borderSpacing: 5, borderCollapse: 'separate' }} className={cornersFresh ? '' : 'stale'} data-testid="corner-matrix">
          <thead>
            <tr>
              <th style={{ width: 54 }} />
              {lines.map((v) => (
                <th key={v} className="mono muted" style={{ fontWeight: 400 }}>
                  {print(v, 'V')}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {loads.map((amps) => (
              <tr key={amps}>
                <th className="mono muted" style={{ fontWeight: 400, textAlign: 'right' }}>
                  {print(amps, 'A')}
                </th>
                {lines.map((volts) => {
                  const c = corners.corners.find((k) => k.point.line === volts && k.point.load === amps)!;
                  const s = shown === 'all' ? tightest(c.requirements) : c.requirements.find((r) => r.id === shown);
                  const fails = c.problem !== undefined || (shown === 'all' ? !c.holds : s !== undefined && !s.holds);
                  const room = s ? Math.max(0, Math.min(1, s.room / 0.5)) : 1;
                  const here = Math.abs(point.line - volts) < 1e-9 && Math.abs(point.load - amps) < 1e-9;
                  return (
                    <td key={volts}>
                      <button
                        type="button"
                        className={css.cell}
                        data-here={here}
                        data-holds={!fails}
                        style={{
                          background: s ? `color-mix(in srgb, color-mix(in srgb, var(--map-good) ${100 * room}%, var(--map-tight)) 42%, var(--card))` : 'var(--paper)',
                          borderColor: fails ? 'var(--fail)' : 'transparent',
                          borderWidth: fails ? 2 : 1,
                        }}
                        title={c.problem ? describeProblem(c.problem) : 'Go to this point'}
                        onClick={() => go(volts, amps, c.point.air)}
                      >
                        {c.problem && c.requirements.length === 0 ? 'no figures ✕' : s ? print(s.value, requirementNamed(s.id).unit) : 'not asked'}
                        {fails && c.requirements.length > 0 ? ' ✕' : ''}
                        {shown === 'all' && s && <div style={{ fontSize: 10.5, fontFamily: 'inherit' }}>{requirementNamed(s.id).short}</div>}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
        <p className="muted">
          {shown === 'all' ? 'Each corner shows its tightest requirement. ' : ''}In air of {print(design.brief.air.max, '°C')}. Click a corner to stand there.
        </p>
        {region ? <MovesIn region={region} /> : <p className="muted" role="status">Searching the region between the corners …</p>}
        </>}
      </div>
      {mode !== 'faults' && <div style={{ overflow: 'auto' }}>
        <h2>
          Tightest requirements{' '}
          {region && <span className={region.fresh ? 'muted' : 'muted stale'} style={{ fontWeight: 400 }} data-testid="searched">{`${region.verdict.points} points judged`}</span>}
        </h2>
        <table className={css.list} style={{ tableLayout: 'fixed' }} data-testid="tightest">
          <colgroup>
            <col style={{ width: 26 }} />
            <col />
            <col style={{ width: 84 }} />
          </colgroup>
          <tbody>
            {corners.worst.map((w) => {
              const r = REQUIREMENTS.find((x) => x.id === w.id)!;
              return (
                <tr key={w.id} {...choosable(() => go(w.at.line, w.at.load, w.at.air))}>
                  <td style={{ width: 22, lineHeight: 0 }}>
                    <Reed room={w.room} height={26} />
                  </td>
                  <td>
                    <div style={{ fontWeight: 600 }}>
                      {r.title} {r.direction === 'at most' ? '≤' : '≥'} {print(w.limit, r.unit)}
                    </div>
                    <div className="muted mono" style={{ fontSize: 11 }}>
                      worst at {pointName(w.at)}
                    </div>
                    {region?.fresh && <div className="muted mono" style={{ fontSize: 11, whiteSpace: 'normal' }}>{between(region.verdict.worst.find((x) => x.id === w.id), w, region.design)}</div>}
                  </td>
                  <td className={`${css.number} ${w.holds ? '' : css.fails}`}>{print(w.value, r.unit)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>}
    </div>
  );
}

