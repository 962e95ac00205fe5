'use client';
import { useState } from 'react';
import { inWords } from '../../../core/problem';
import { parseQuantity, printTyped } from '../../../core/quantity';
import { calledIn, MOST_PINNED, pinnedInWords, type Pinned } from '../../../core/schedule';
import frame from '../../frame/frame.module.css';
import type { Run } from '../../state/inTime';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';

/** Share of a trace's own span that is left as room where a requirement is first suggested */
const ROOM = 0.1;

/** What is required of runs, with how many corners hold it; and a way to require something of a trace. */
export function Pins({ run, id, view }: { run: Run; id: string; view: readonly [number, number] }) {
  const pins = useStore((s) => s.design.pins) ?? [];
  const { corners, cornersFresh } = useStore((s) => s.answers);
  const [asking, setAsking] = useState(false);
  const drop = (k: number): void => {
    const left = pins.filter((_, i) => i !== k);
    actions.edit({ pins: left.length > 0 ? left : undefined, 'requirements.pinned.on': left.length > 0 });
  };
  return (
    <div data-testid="pins">
      <h3>Held at every corner</h3>
      {pins.map((p, k) => {
        const all = corners?.corners ?? [];
        const holding = all.filter((c) => c.pinned?.[k]?.holds).length;
        const problem = all.map((c) => c.pinned?.[k]?.problem).find(Boolean);
        return (
          <div className={frame.row} key={k} title={problem && inWords(problem)} style={{ alignItems: 'baseline' }}>
            <span style={{ lineHeight: 1.3, whiteSpace: 'normal', minWidth: 0 }}>{pinnedInWords(p)}</span>
            <span style={{ whiteSpace: 'nowrap', paddingLeft: 6 }}>
              <b className={`mono ${cornersFresh ? '' : 'stale'} ${cornersFresh && holding < all.length ? css.fails : ''}`}>{cornersFresh ? `${holding} of ${all.length}` : '…'}</b>{' '}
              <button type="button" className={frame.link} style={{ textDecoration: 'none' }} aria-label={`no longer require ${pinnedInWords(p)}`} onClick={() => drop(k)}>
                ×
              </button>
            </span>
          </div>
        );
      })}
      {asking ? (
        <Ask run={run} id={id} view={view} close={() => setAsking(false)} />
      ) : pins.length < MOST_PINNED ? (
        <button type="button" className={frame.chip} style={{ padding: '2px 9px' }} onClick={() => setAsking(true)}>
          require this …
        </button>
      ) : null}
    </div>
  );
}

/** A requirement as it is typed: least, most, and from when, of the window in view. */
function Ask({ run, id, view, close }: { run: Run; id: string; view: readonly [number, number]; close: () => void }) {
  const pins = useStore((s) => s.design.pins) ?? [];
  const quantity = run.traces.findIndex((t) => t.id === id);
  const { title, unit } = calledIn(useStore((s) => s.design), run.traces)[quantity]!;
  const read = run.record.read(quantity, ...view);
  const room = ROOM * ((read?.most ?? 0) - (read?.least ?? 0));
  const [low, setLow] = useState(read ? printTyped(read.least - room, unit, 3) : '');
  const [high, setHigh] = useState(read ? printTyped(read.most + room, unit, 3) : '');
  const [from, setFrom] = useState(printTyped(view[0], 's', 3));
  const [wrong, setWrong] = useState<string>();
  const submit = (): void => {
    const pin: Pinned = { schedule: run.schedule.name, trace: id, title, unit, from: 0 };
    for (const [key, text, of] of [['low', low, unit], ['high', high, unit], ['from', from, 's']] as const) {
      if (text.trim() === '') continue;
      const value = parseQuantity(text, of, key);
      if (!value.ok) return setWrong(inWords(value.problem));
      pin[key] = value.value;
    }
    const problem = actions.edit({ pins: [...pins, pin], 'requirements.pinned.on': true });
    if (problem) setWrong(inWords(problem));
    else close();
  };
  const field = (label: string, value: string, set: (text: string) => void) => (
    <label className={frame.row}>
      <span>{label}</span>
      <input className={css.search} style={{ width: 92 }} value={value} aria-label={`required ${label}`} onChange={(e) => set(e.target.value)} onKeyDown={(e) => e.stopPropagation()} />
    </label>
  );
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      {field('at least', low, setLow)}
      {field('at most', high, setHigh)}
      {field('from', from, setFrom)}
      <p className="muted" style={{ margin: '2px 0 4px', fontSize: 11.5 }}>Left empty, that side is free.</p>
      {wrong && <p className={css.fails} style={{ margin: '0 0 4px' }}>{wrong}</p>}
      <button type="submit" className={frame.chip} style={{ padding: '2px 9px' }}>
        Require
      </button>{' '}
      <button type="button" className={frame.link} onClick={close}>
        leave it
      </button>
    </form>
  );
}
