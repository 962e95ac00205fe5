'use client';
import type { LoopFigures } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import css from '../stages.module.css';

const Row = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }}>
    <span className="muted">{label}</span>
    <span className="mono" style={{ textAlign: 'right' }}>{children}</span>
  </div>
);

/** Every crossover, where there is more than one. */
export function Crossovers({ loop: { crossovers } }: { loop: Pick<LoopFigures, 'crossovers'> }) {
  if (crossovers.length < 2) return null;
  return (
    <p className="muted" style={{ margin: '2px 0', lineHeight: 1.35 }} data-testid="crossovers">
      Its gain is one at {crossovers.map((c) => `${print(c.at, 'Hz')} (${print(c.margin, '°', 2)}${c.rises ? ', rising' : ''})`).join(', ')}.
    </p>
  );
}

/** What a loop that falls below one and comes back is worth: said where its crossover stands. */
export function Dip({ loop: { dip } }: { loop: Pick<LoopFigures, 'dip'> }) {
  if (!dip) return null;
  return (
    <p className={css.fails} style={{ margin: '2px 0', lineHeight: 1.35 }} data-testid="dip">
      Below 0 dB from {print(dip.from, 'Hz', 2)} to {print(dip.to, 'Hz', 2)}, by {print(dip.by, 'dB', 2)} at {print(dip.at, 'Hz', 2)}: it controls little there. Move the zeros up to what rings, raise the crossover, or command a current.
    </p>
  );
}

/** What takes the phase at the crossover, most first, and what would give some back; then the modes of the closed circuit. */
export function Reading({ loop }: { loop: LoopFigures }) {
  const [first] = loop.shares.filter((s) => s.title !== 'power stage');
  const at = loop.dip?.marginAt ?? loop.crossover;
  return (
    <>
      {loop.shares.length > 0 && (
        <section data-testid="limits">
          <h3>What takes the phase at {print(at, 'Hz')}</h3>
          {loop.shares.map((s) => (
            <Row key={s.title} label={s.title}>
              {print(s.degrees, '°')}
            </Row>
          ))}
          {first && (
            <p className="muted" style={{ margin: '2px 0 0', lineHeight: 1.35 }}>
              Of the {first.title}, some comes back by {first.remedy}.
            </p>
          )}
        </section>
      )}
      {loop.modes.length > 0 && (
        <section data-testid="modes">
          <h3>Closed-loop modes</h3>
          {loop.modes.map((m, k) => (
            <div key={k} style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }} title={`multiplier ${m.multiplier.toFixed(3)} a period`}>
              <span className="mono">{print(m.frequency, 'Hz')}</span>
              <span className="muted" style={{ textAlign: 'right' }}>
                {m.damping < 1 ? `damping ${m.damping.toFixed(2)}` : 'does not ring'}, {m.of}
              </span>
            </div>
          ))}
        </section>
      )}
    </>
  );
}
