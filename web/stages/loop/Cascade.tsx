'use client';
import type { WithLoop } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import { OverrideField } from '../../frame/QuantityField';
import css from '../stages.module.css';
import type { ShownLoop } from './shownLoop';

/** The loops of a cascade, inside first: what each has, one of them chosen to be looked at. */
export function Cascade({ loops, shown, choose, figures }: { loops: readonly ShownLoop[]; shown: ShownLoop; choose: (which: ShownLoop['which']) => void; figures: WithLoop }) {
  const { inner } = figures.loop;
  return (
    <section data-testid="cascade">
      <h3 style={{ marginTop: 0 }}>Loops, inside first</h3>
      {loops.map((l, k) => (
        <button key={l.which} type="button" className={css.loopCard} aria-pressed={l.which === shown.which} onClick={() => choose(l.which)}>
          <b style={{ color: l.which === 'inner' ? 'var(--slate)' : 'var(--spruce)' }}>
            {k + 1} {l.title}
          </b>
          <span className="mono">
            {print(l.figures.crossover, 'Hz')} · {print(l.figures.phaseMargin, '°')}
          </span>
        </button>
      ))}
      {inner && (
        <p className="muted" style={{ margin: '3px 0 0', lineHeight: 1.35 }}>
          They cross a factor of {inner.apart.toFixed(1)} apart{inner.follows ? '' : ': too near for the inner to follow what the outer asks'}. Sensed by{' '}
          <OverrideField path="control.senseGain" unit="Ω" label="sense gain, V per A" computed={inner.senseGain} suggested={inner.senseGain} /> (V per A).
        </p>
      )}
    </section>
  );
}
