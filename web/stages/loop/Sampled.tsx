'use client';
import { DISCRETISATIONS } from '../../../core/control';
import type { SampledFigures, WithLoop } from '../../../core/evaluation';
import { inWords } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { OverrideField, QuantityField } from '../../frame/QuantityField';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';
import { ProofOf } from './Proof';

const Row = ({ label, children, title }: { label: string; children: React.ReactNode; title?: string }) => (
  <div style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }} title={title}>
    <span className="muted">{label}</span>
    <span className="mono" style={{ textAlign: 'right' }}>{children}</span>
  </div>
);

/** Coefficients as they go into a program: outputs first, with the sign that they have on the left. */
const copied = ({ numerator, denominator }: SampledFigures): string => [`b: ${numerator.map((v) => v.toPrecision(9)).join(', ')}`, `a: ${denominator.map((v) => v.toPrecision(9)).join(', ')}`].join('\n');

/** A controller that samples: when, what that costs, its difference equation, and whether its steps are small enough. */
export function Sampled({ sampled: s, outermost, saveC, figures }: { sampled: SampledFigures; outermost: boolean; saveC: () => void; figures: WithLoop }) {
  const control = useStore((d) => d.design.control);
  const r = s.resolution;
  return (
    <section data-testid="sampled">
      <h3>
        Sampled once a period
      </h3>
      <Row label="by">
        <select className={frame.select} aria-label="Way to sample" value={control.sampled} onChange={(e) => actions.edit({ 'control.sampled': e.target.value })}>
          {DISCRETISATIONS.map((m) => (
            <option key={m.id} value={m.id}>
              {m.title}
            </option>
          ))}
          <option value="none">not sampled: a network</option>
        </select>
      </Row>
      <Row label="samples at">
        <OverrideField path="control.sampleAt" unit="%" label="share of the period at which it samples" computed={s.phase} suggested={s.phase} />
      </Row>
      <Row label="computes for">
        <QuantityField path="control.computing" />
      </Row>
      <Row label="costs" title="against the continuous controller it stands for, at the crossover wanted: sampling, computing, and half a period of hold">
        <b data-testid="sampled-costs">{print(s.costs, '°')}</b>
      </Row>
      <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
        Coefficients
        <span>
          <button type="button" className={frame.link} onClick={() => void navigator.clipboard?.writeText(copied(s)).then(() => actions.notify('coefficients copied: b of the error, then a of the output, a₀ = 1'))}>
            copy
          </button>{' '}
          <button type="button" className={frame.link} onClick={saveC}>
            C file
          </button>
        </span>
      </h3>
      <Row label="b, of the error">{s.numerator.map((v) => v.toPrecision(5)).join('  ')}</Row>
      <Row label="a, of the output">{s.denominator.map((v) => Number(v.toPrecision(5))).join('  ')}</Row>
      {s.fixed && (
        <Row label={`in Q${s.fixed.word - s.fixed.fraction}.${s.fixed.fraction}`} title="what rounding the coefficients does at the crossover">
          {s.fixed.off.gain.toFixed(3)} dB · {s.fixed.off.phase.toFixed(2)}°
        </Row>
      )}
      {s.fixed && outermost && !figures.loop.outer && <ProofOf figures={figures} />}
      {s.problem && <p className={css.fails} style={{ margin: 0 }}>{inWords(s.problem)}</p>}
      {r && (
        <>
          <h3>Resolution</h3>
          <Row label="converter step">{print(r.converterStep, 'V')}</Row>
          <Row label="duty step moves">{print(r.outputStep, 'V')}</Row>
          <Row label="limit cycle">
            <span className={r.cycles ? css.fails : ''} data-testid="limit-cycle">
              {r.cycles === 'modulator' ? `wants ${r.bits.wants} bits` : r.cycles === 'integral' ? 'the integrator is too fast' : 'none'}
            </span>
          </Row>
          {r.cycles === 'modulator' && (
            <p className={css.fails} style={{ margin: 0, lineHeight: 1.35 }}>
              A step of the duty is coarser than one of the converter: take steps of{' '}
              <button type="button" className={frame.link} onClick={() => actions.edit({ 'control.modulatorStep': r.modulatorStep })}>
                {print(r.modulatorStep, 's', 2)}
              </button>{' '}
              or fewer bits of the converter.
            </p>
          )}
        </>
      )}
    </section>
  );
}
