'use client';
import type { Compared } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import { FitOf } from './FitOf';

/** Measured responses that lie over the computed ones: how far apart they are, the loop they make, and whether the compensator is placed on one. */
export function MeasuredList({ compared }: { compared: readonly Compared[] }) {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const away = (c: Compared): boolean => c.at !== undefined && (Math.abs(c.at.line - point.line) > 1e-3 * point.line || Math.abs(c.at.load - point.load) > 1e-3 * Math.max(point.load, c.at.load));
  if (compared.length === 0) return null;
  return (
    <section data-testid="measured">
      <h3>Measured</h3>
      {compared.map((c) => (
        <div key={c.title} style={{ marginBottom: 4 }}>
          <div style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }}>
            <b style={{ color: 'var(--ochre)', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{c.title}</b>
            <button
              type="button"
              className={frame.link}
              aria-label={`take ${c.title} away`}
              onClick={() => actions.edit({ measured: design.measured!.filter((m) => m.title !== c.title), ...(design.control.placedOn === c.title ? { 'control.placedOn': '' } : {}) })}
            >
              ×
            </button>
          </div>
          {away(c) && (
            <p className="muted" style={{ margin: 0 }}>
              Measured at {print(c.at!.line, 'V')}, {print(c.at!.load, 'A')}:{' '}
              <button type="button" className={frame.link} onClick={() => actions.movePoint(c.at!)}>
                go there
              </button>
            </p>
          )}
          {c.misfit && (
            <div style={{ display: 'flex', justifyContent: 'space-between' }} title={`largest ${c.misfit.largest.gain.toFixed(1)} dB at ${print(c.misfit.largest.at, 'Hz')}`}>
              <span className="muted">off by, rms</span>
              <span className="mono" data-testid="misfit">
                {c.misfit.gain.toFixed(1)} dB · {c.misfit.phase.toFixed(1)}°
              </span>
            </div>
          )}
          <div style={{ display: 'flex', justifyContent: 'space-between' }}>
            <span className="muted">its loop</span>
            <span className="mono">{Number.isFinite(c.margins.crossover) ? `${print(c.margins.crossover, 'Hz')} · ${print(c.margins.phaseMargin, '°')}` : 'does not cross'}</span>
          </div>
          {c.of === 'plant' && (
            <>
            <label>
              <input type="checkbox" checked={design.control.placedOn === c.title} onChange={(e) => actions.edit({ 'control.placedOn': e.target.checked ? c.title : '' })} style={{ verticalAlign: -2 }} /> place on it
            </label>
            <FitOf title={c.title} />
            </>
          )}
        </div>
      ))}
    </section>
  );
}
