'use client';
import type { LoopFigures } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { actions } from '../../state/store';

type Read = Pick<LoopFigures, 'crossovers' | 'beyond'>;

/** Every crossover with what is left there: where the gain rises through one as well as where it falls. */
const said = (m: Read): string[] => (m.crossovers.length > 0 ? m.crossovers.map((c) => `${c.rises ? '↑ ' : ''}${print(c.at, 'Hz')} · ${print(c.margin, '°')}`) : [`the gain stays ${m.beyond ?? 'above'} one`]);

/** Where the loop is broken, besides at its output: chosen here or on the power path; both beside one another, and why they differ. */
export function Places({ loop }: { loop: LoopFigures }) {
  const { place, places } = loop;
  if (places.length < 2) return null;
  const [first] = places;
  const shown = places.find((p) => p.id === place?.id);
  return (
    <section data-testid="places" style={{ marginBottom: 6 }}>
      <div style={{ display: 'flex', flexWrap: 'wrap', gap: 3, alignItems: 'center' }} role="group" aria-label="Where the loop is broken">
        <span className="muted">broken at</span>
        {places.map((p) => (
          <button key={p.id} type="button" className={frame.chip} style={{ padding: '1px 6px', fontSize: 12 }} aria-pressed={p.id === (shown ?? first)!.id} title={p.note} onClick={() => actions.readAt(p === first ? undefined : p.id)}>
            {p.title}
          </button>
        ))}
      </div>
      {shown && (
        <>
          {[[first!.title, loop, 'var(--spruce)'] as const, [shown.title, place!, 'var(--rust)'] as const].map(([title, m, colour]) => (
            <div key={title} style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }}>
              <span style={{ color: colour, fontWeight: 600 }}>{title}</span>
              <span className="mono" style={{ textAlign: 'right' }}>
                {said(m).map((line) => (
                  <div key={line}>{line}</div>
                ))}
              </span>
            </div>
          ))}
          <p className="muted" style={{ margin: '2px 0 0', lineHeight: 1.35 }} data-testid="why-differ">
            At the {shown.title} {shown.note}; at the {first!.title} {first!.note}.
          </p>
        </>
      )}
    </section>
  );
}
