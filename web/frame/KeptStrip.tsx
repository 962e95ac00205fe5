'use client';
import type { Figures } from '../../core/evaluation';
import { printQuantity as print, type UnitName } from '../../core/quantity';
import { useState } from 'react';
import { keptStyle } from '../plots/keptStyle';
import { addDesign } from '../state/session';
import { actions, useStore } from '../state/store';
import { KeptTable } from './KeptTable';
import { TourOffer, useTour } from './Tour';
import css from './frame.module.css';

/** Share below which two figures are the same to anybody. */
const SEEN = 2e-4;
const signed = (v: number, text: string): string => (v < 0 || text.startsWith('−') ? text : `+${text}`);

/** What differs between now and a kept state at the point in view, as figures. */
function differences(now: Figures, then: Figures): string {
  const ripple = now.cycle.outputRipple - then.cycle.outputRipple;
  const loss = now.losses.total - then.losses.total;
  const said = (name: string, difference: number, of: number, unit: UnitName): string[] =>
    Math.abs(difference) > SEEN * Math.abs(of) ? [`${name} ${signed(difference, print(difference, unit, 2))}`] : [];
  const all = [
    ...said('ripple', ripple, then.cycle.outputRipple, 'V'),
    ...(now.loop && then.loop ? [...said('crossover', now.loop.crossover - then.loop.crossover, then.loop.crossover, 'Hz'), ...said('margin', now.loop.phaseMargin - then.loop.phaseMargin, then.loop.phaseMargin, '°')] : []),
    ...said('loss', loss, then.losses.total, 'W'),
  ];
  return all.length > 0 ? all.join(' · ') : 'no difference here';
}

/** Kept states, laid over every plot with their own dash; differences; corners that meet the brief. */
export function KeptStrip() {
  const kept = useStore((s) => s.kept);
  const { figures, corners, cornersFresh, kept: keptFigures } = useStore((s) => s.answers);
  const compared = kept.findLast((k) => k.visible);
  const then = compared && keptFigures[compared.id];
  const [table, setTable] = useState(false);
  const offered = useTour((t) => t.offered);
  const meets = corners && corners.holding === corners.corners.length;
  return (
    <>
      <span className="muted" style={{ fontWeight: 600 }}>
        Kept
      </span>
      <span className={css.keptItem}>
        <Sample />
        now
      </span>
      {kept.map((k, i) => (
        <span key={k.id} className={css.keptItem} data-visible={k.visible} data-testid="kept-state">
          <Sample index={i} />
          <button type="button" className={css.link} style={{ textDecoration: 'none' }} title={k.visible ? 'Hide on the plots' : 'Lay over the plots'} aria-pressed={k.visible} onClick={() => actions.showKept(k.id, !k.visible)}>
            {k.label}
          </button>
          <button type="button" className={css.link} style={{ textDecoration: 'none' }} aria-label={`Take ${k.label} back as the design in work`} title="Take back as the design in work" onClick={() => actions.take(k.design)}>
            ↩
          </button>
          <button type="button" className={css.link} style={{ textDecoration: 'none' }} aria-label={`Branch from ${k.label}: a design of its own`} title="Branch: a design of its own, beside this one" onClick={() => void addDesign({ ...k.design, name: `${k.design.name.slice(0, 66)}, from ${k.label}` })}>
            <svg width="10" height="11" viewBox="0 0 10 11" fill="none" stroke="currentColor" strokeWidth="1.4" aria-hidden="true">
              <path d="M2 11V0M2 7C2 4.5 8 5.5 8 2M5.8 3.4L8 1.2L10 3.4" />
            </svg>
          </button>
          <button type="button" className={css.link} style={{ textDecoration: 'none' }} aria-label={`Let ${k.label} go`} title="Let it go" onClick={() => actions.dropKept(k.id)}>
            ×
          </button>
        </span>
      ))}
      {kept.length === 0 && (offered ? <TourOffer /> : <span className="muted">Keep a state and its curves stay here while you change the design.</span>)}
      {compared && then && figures && (
        <span className={`mono ${css.keptSaid}`} data-testid="differences">
          now − {compared.label}: {differences(figures, then)}
        </span>
      )}
      {compared && (
        <button type="button" className={css.link} aria-expanded={table} onClick={() => setTable(!table)} onKeyDown={(e) => e.key === 'Escape' && setTable(false)} style={{ whiteSpace: 'nowrap' }}>
          {table ? 'close the table' : 'table'}
        </button>
      )}
      {compared && table && <KeptTable />}
      <span className={css.spacer} />
      <span className={cornersFresh ? '' : 'stale'} data-testid="corner-count" style={{ whiteSpace: 'nowrap' }}>
        {corners ? (
          <>
            <b className="mono" style={{ color: meets ? 'var(--spruce)' : 'var(--fail)', fontSize: 13 }}>
              {corners.holding}
            </b>{' '}
            of <b>{corners.corners.length}</b> corners meet the brief
          </>
        ) : (
          'judging the corners…'
        )}
      </span>
    </>
  );
}

function Sample({ index }: { index?: number }) {
  const style = index === undefined ? { colour: 'var(--ink)', dash: [] as number[] } : keptStyle(index);
  return (
    <svg width="20" height="6" aria-hidden="true">
      <path d="M0 3H20" stroke={style.colour} strokeWidth={2} strokeDasharray={style.dash.join(' ')} />
    </svg>
  );
}
