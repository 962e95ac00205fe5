'use client';
import { useState } from 'react';
import type { Design } from '../../../core/design';
import type { Fit } from '../../../core/evaluation';
import { inWords, type Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';

/** The design's values fitted to a measured plant at the point in view: found, with how well they are known, and taken with one click. */
export function FitOf({ title }: { title: string }) {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const [busy, setBusy] = useState(false);
  const [found, setFound] = useState<{ design: Design; fit: Fit } | { design: Design; problem: Problem }>();
  const ask = async (): Promise<void> => {
    setBusy(true);
    try {
      const fit = await jobs().at('asked').fit(design, title, point);
      setFound(fit.ok ? { design, fit: fit.value } : { design, problem: fit.problem });
    } catch {
      // A worker that died twice: nothing is found.
    } finally {
      setBusy(false);
    }
  };
  const told = found?.design === design ? found : undefined;
  return (
    <>
      {' '}
      ·{' '}
      <button type="button" className={frame.link} disabled={busy} title="Inductance, capacitance, resistances, gain and delay that come nearest to it, measured at the point in view" onClick={() => void ask()}>
        {busy ? 'fitting …' : 'fit the design to it'}
      </button>
      {told && 'problem' in told && <p className={css.fails} style={{ margin: 0 }}>{inWords(told.problem)}</p>}
      {told && 'fit' in told && (
        <div data-testid="fit">
          {told.fit.values.map((v) => (
            <div key={v.id} style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }} title={`was ${print(v.was, v.unit)}`}>
              <span className="muted">{v.title}</span>
              <span className="mono">
                {print(v.is, v.unit)} ± {print(v.within, v.unit, 2)}
              </span>
            </div>
          ))}
          <p className="muted" style={{ margin: '2px 0', lineHeight: 1.35 }}>
            Off by {told.fit.after.gain.toFixed(2)} dB and {told.fit.after.phase.toFixed(1)}°, before {told.fit.before.gain.toFixed(2)} dB and {told.fit.before.phase.toFixed(1)}°.{' '}
            <button type="button" className={frame.link} onClick={() => actions.edit(told.fit.changes)}>
              take these values
            </button>
          </p>
        </div>
      )}
    </>
  );
}
