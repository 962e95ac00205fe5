'use client';
import { placedOn } from '../../core/plant';
import { printQuantity as print } from '../../core/quantity';
import frame from '../frame/frame.module.css';
import { ChooseMeasured } from '../stages/loop/LayOver';
import { plantActions, usePlant } from '../state/plant';
import { actions } from '../state/store';

/** What was measured: each with the loop that it makes; one of them is placed on. */
export function Measurements() {
  const { plant } = usePlant((s) => s.open!);
  const last = usePlant((s) => s.last);
  const on = placedOn(plant).title;
  const edit = (changes: Record<string, unknown>): void => {
    const wrong = plantActions.edit(changes);
    if (wrong) actions.refuse(wrong);
  };
  return (
    <>
      <h2>Measured</h2>
      {plant.measured.map((m) => {
        const margins = last?.loops.find((l) => l.title === m.title)?.margins;
        return (
          <section key={m.title} data-testid={`measured-${m.title}`} style={{ marginBottom: 12 }}>
            <div style={{ display: 'flex', justifyContent: 'space-between', gap: 6 }}>
              <b style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{m.title}</b>
              {plant.measured.length > 1 && (
                <button type="button" className={frame.link} aria-label={`take ${m.title} away`} onClick={() => edit({ measured: plant.measured.filter((x) => x !== m) })}>
                  ×
                </button>
              )}
            </div>
            <div className="muted">
              {m.frequency.length} points, {print(m.frequency[0]!, 'Hz')} to {print(m.frequency.at(-1)!, 'Hz')}
            </div>
            <div style={{ display: 'flex', justifyContent: 'space-between' }}>
              <span className="muted">its loop</span>
              <span className="mono">{margins && Number.isFinite(margins.crossover) ? `${print(margins.crossover, 'Hz')} · ${print(margins.phaseMargin, '°')}` : 'does not cross'}</span>
            </div>
            <label>
              <input type="radio" name="placed on" checked={m.title === on} onChange={() => edit({ 'control.placedOn': m.title })} style={{ verticalAlign: -2 }} /> place on it
            </label>
          </section>
        );
      })}
      <ChooseMeasured label="one more, cold or hot…" title="The same plant in another condition: another load, line or temperature" act="Take it" take={(traces, name) => {
        const wrong = plantActions.measure(name, traces);
        if (wrong) actions.refuse(wrong);
        return wrong;
      }} />
    </>
  );
}
