'use client';
import { useEffect, useRef, useState } from 'react';
import { tightInWords, type Lift, type RegionPlacement } from '../../../core/corners/region';
import type { Design } from '../../../core/design';
import type { Result } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';

type Found = { design: Design } & ({ kind: 'place'; placement: RegionPlacement } | { kind: 'lift'; lift: Lift | undefined });

/** The loop placed for the whole region, and what would lift its worst corner: asked for, tried with one click, taken back by undo. */
export function ForRegion() {
  const design = useStore((s) => s.design);
  const [busy, setBusy] = useState<'place' | 'lift'>();
  const [found, setFound] = useState<Found>();
  const stop = useRef<AbortController>(undefined);
  useEffect(() => () => stop.current?.abort(), []);
  const ask = async (kind: 'place' | 'lift'): Promise<void> => {
    const own = (stop.current = new AbortController());
    setBusy(kind);
    setFound(undefined);
    try {
      const engine = jobs().at('asked', own.signal);
      if (kind === 'lift') setFound({ design, kind, lift: await engine.liftWorst(design) });
      else {
        const placed: Result<RegionPlacement> = await engine.placeForRegion(design);
        if (!placed.ok) actions.refuse(placed.problem);
        else {
          setFound({ design, kind, placement: placed.value });
          // Meanwhile something else was changed: that stands.
          if (useStore.getState().design === design) actions.edit(placed.value.changes);
        }
      }
    } catch {
      // Stopped, or a worker that died twice: nothing is taken.
    } finally {
      setBusy(undefined);
    }
  };
  return (
    <div data-testid="for-region">
      {busy ? (
        <span className="muted">
          {busy === 'place' ? 'looking for the highest crossover …' : 'looking for what lifts the worst corner …'}{' '}
          <button type="button" className={frame.link} onClick={() => (stop.current?.abort(), setBusy(undefined))}>
            stop
          </button>
        </span>
      ) : (
        <>
          <button type="button" className={frame.link} title="The highest crossover at which margins and steps hold at every end of line and load" onClick={() => void ask('place')}>
            place for all corners
          </button>{' '}
          ·{' '}
          <button type="button" className={frame.link} title="The change that lifts the corner with least room most" onClick={() => void ask('lift')}>
            lift the worst
          </button>
        </>
      )}
      {found && <Told found={found} standing={design} />}
    </div>
  );
}

function Told({ found, standing }: { found: Found; standing: Design }) {
  if (found.kind === 'place') {
    const { crossover, holds, limit, highest } = found.placement;
    return (
      <p className={holds ? 'muted' : css.fails} style={{ margin: '2px 0', lineHeight: 1.35 }} data-testid="limited-by">
        {holds ? `${print(crossover, 'Hz')} holds at every corner.` : `No crossover holds; ${print(crossover, 'Hz')} comes nearest.`}
        {highest ? ' Higher, the ripple on the command counts.' : ''}
        {limit ? ` ${holds ? 'What limits it' : 'What fails'}: ${tightInWords(limit)}.` : ''}
      </p>
    );
  }
  const { lift } = found;
  if (!lift) return <p className="muted" style={{ margin: '2px 0' }}>None of what was tried lifts it.</p>;
  return (
    <p className="muted" style={{ margin: '2px 0', lineHeight: 1.35 }} data-testid="lift">
      {standing === found.design ? (
        <button type="button" className={frame.link} onClick={() => actions.edit(lift.changes)}>
          {lift.title}
        </button>
      ) : (
        lift.title
      )}
      : from {tightInWords(lift.before)}, to {tightInWords(lift.after)}.
    </p>
  );
}
