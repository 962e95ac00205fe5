'use client';
import { useMemo } from 'react';
import { misfits, overrides, withoutOverrides } from '../../../core/choice';
import frame from '../../frame/frame.module.css';
import { chooseAnew } from '../../state/live';
import { useShelf } from '../../state/shelf';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';

/** Parts that the brief has left behind, by name, and the choice made anew for it. */
export function ChooseAnew() {
  const design = useStore((s) => s.design);
  const selected = useStore((s) => s.selected);
  const shelf = useShelf();
  const left = useMemo(() => misfits(design, shelf), [design, shelf]);
  const byHand = useMemo(() => overrides(design), [design]);
  const drop = (): void => {
    const plain = withoutOverrides(design);
    if (plain.ok) actions.take(plain.value);
    else actions.refuse(plain.problem);
  };
  return (
    <div data-testid="choose-anew">
      {left.map((m) => (
        <p key={m.slot} className={m.fails ? css.fails : ''} style={{ margin: '3px 0' }}>
          <b>{m.slot}</b> {m.fails ? 'does not fit this brief' : 'is far more than this brief wants'}: {m.why}.{' '}
          <button type="button" className={frame.link} onClick={() => void chooseAnew('size', m.slot)}>
            choose it anew
          </button>
        </p>
      ))}
      <p style={{ display: 'flex', flexWrap: 'wrap', gap: 6, alignItems: 'center', margin: '8px 0' }}>
        <b>Choose anew</b>
        {(['loss', 'size', 'cost'] as const).map((by) => (
          <button key={by} type="button" className={frame.chip} onClick={() => void chooseAnew(by)}>
            all by {by}
          </button>
        ))}
        {(['loss', 'size', 'cost'] as const).map((by) => (
          <button key={by} type="button" className={frame.chip} onClick={() => void chooseAnew(by, selected)}>
            {selected} by {by}
          </button>
        ))}
        {byHand.length > 0 && (
          <span className="muted">
            {byHand.length} {byHand.length === 1 ? 'value stands' : 'values stand'} as set by hand ({[...new Set(byHand.map((o) => o.slot))].join(', ')}){' '}
            <button type="button" className={frame.link} onClick={drop}>
              take what is suggested
            </button>
          </span>
        )}
      </p>
    </div>
  );
}
