'use client';
import { useCallback, useMemo } from 'react';
import type { Behind, StageWay } from '../../../core/choice';
import { inWords } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import css from '../stages.module.css';

const NAMED: Record<Behind, string> = { filter: 'A second L-C stage', bead: 'A ferrite bead' };

/** What a second stage, or a bead, would cost the loop and give, in each way to hang it: one is chosen knowing that, or none. */
export function StageOffer({ kind, leave }: { kind: Behind; leave: (hung?: string) => void }) {
  const design = useStore((s) => s.design);
  const own = useStore((s) => s.ownParts);
  const args = useMemo(() => [design, own, kind] as [typeof design, typeof own, Behind], [design, own, kind]);
  const ask = useCallback((engine: Engine, ...a: typeof args) => engine.secondStages(...a), []);
  const found = useAsked(ask, args);
  const { phaseMargin, gainMargin } = design.requirements;
  const offer = found?.value;
  const degrees = (v: number): string => (Number.isFinite(v) ? print(v, '°', 3) : 'no loop');
  const change = (w: StageWay): string => (offer && Number.isFinite(w.phaseMargin) ? `${w.phaseMargin < offer.now.phaseMargin ? '−' : '+'}${Math.abs(w.phaseMargin - offer.now.phaseMargin).toFixed(0)}°` : '');
  return (
    <section style={{ border: '1px solid var(--line)', borderRadius: 10, padding: '8px 12px', margin: '8px 0' }} data-testid="stage-offer" aria-label={NAMED[kind]}>
      <div style={{ display: 'flex', justifyContent: 'space-between' }}>
        <b>{NAMED[kind]}, at mid line and full load</b>
        <button type="button" className={frame.link} onClick={() => leave()}>
          leave it
        </button>
      </div>
      {found?.problem && <p className={css.fails}>{inWords(found.problem)}.</p>}
      {!offer && !found?.problem && <p className="muted">Closing the loop around each …</p>}
      {offer && (
        <table className={css.list}>
          <thead>
            <tr>
              <th>way</th>
              <th style={{ textAlign: 'right' }}>phase</th>
              <th style={{ textAlign: 'right' }}>gain margin</th>
              <th style={{ textAlign: 'right' }}>ripple</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr>
              <td>as it is</td>
              <td className={css.number}>{degrees(offer.now.phaseMargin)}</td>
              <td className={css.number}>{print(offer.now.gainMargin, 'dB', 3)}</td>
              <td className={css.number}>{print(offer.now.ripple, 'V', 3)}</td>
              <td />
            </tr>
            {offer.ways.map((w) => (
              <tr key={w.id}>
                <td>{w.title}</td>
                <td className={`${css.number} ${w.stable && w.phaseMargin >= phaseMargin.limit ? '' : css.fails}`}>
                  {w.stable ? `${degrees(w.phaseMargin)} (${change(w)})` : 'unstable'}
                </td>
                <td className={`${css.number} ${w.stable && w.gainMargin >= gainMargin.limit ? '' : css.fails}`}>{Number.isFinite(w.gainMargin) ? print(w.gainMargin, 'dB', 3) : '–'}</td>
                <td className={css.number}>{print(w.ripple, 'V', 3)}</td>
                <td style={{ textAlign: 'right' }}>
                  <button type="button" className={frame.chip} style={{ padding: '1px 8px' }} aria-label={`Hang it ${w.title}`} onClick={() => (actions.take(w.design), leave(Object.keys(w.design.branches!).find((x) => !design.branches?.[x])))}>
                    hang it
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
