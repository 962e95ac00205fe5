'use client';
import { useEffect, useState } from 'react';
import { usual, type Taken } from '../../core/proposal';
import { demoNames, addDemo, listDesigns, openStored } from '../state/session';
import { newDesignActions, useNewDesign } from '../state/newDesign';
import type { StoredDesign } from '../state/storage';
import { useStore } from '../state/store';
import frame from '../frame/frame.module.css';
import { printRange, printTyped } from '../../core/quantity';
import { AskedFields } from './AskedFields';
import { Looks } from './Looks';
import { ProposalCard } from './ProposalCard';
import css from './newDesign.module.css';

/** A new design from a brief alone: what it must do at the left, what can do it at the right, and one action that makes it. */
export function NewSheet({ onOpenFile }: { onOpenFile: () => void }) {
  useEffect(() => {
    const onKeyDown = (e: KeyboardEvent): void => {
      if (e.key === 'Escape') newDesignActions.close();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
  return (
    <form
      className={css.sheet}
      aria-label="A new design"
      onSubmit={(e) => {
        e.preventDefault();
        void newDesignActions.take();
      }}
    >
      <div className={css.ask}>
        <h1>A new design</h1>
        <p className="muted">Say what it must do. What is not said takes a usual value, shown in grey.</p>
        <AskedFields />
        <h3>Start from something else</h3>
        <div className={css.others}>
          <span className="muted">a file</span>
          <span>
            <button type="button" className={frame.chip} onClick={onOpenFile}>
              a design, or a circuit with roles …
            </button>
          </span>
          <span className="muted">a demo</span>
          <span className={css.chips} style={{ margin: 0 }}>
            {demoNames().map((name, k) => (
              <button key={name} type="button" className={frame.chip} onClick={() => void addDemo(k).then(newDesignActions.close)}>
                {name}
              </button>
            ))}
          </span>
        </div>
        <InThisBrowser />
      </div>
      <div className={css.held}>
        <Looks />
        <ProposalCard />
      </div>
    </form>
  );
}

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** Designs stored here, the latest first, each with what tells it apart. */
function InThisBrowser() {
  const [stored, setStored] = useState<StoredDesign[]>([]);
  const open = useStore((s) => s.id);
  useEffect(() => void listDesigns().then(setStored), []);
  if (stored.length === 0) return null;
  return (
    <>
      <h3>In this browser</h3>
      <ul className={css.stored}>
        {stored.slice(0, 6).map((d) => (
          <li key={d.id}>
            <button type="button" className={frame.link} onClick={() => void openStored(d.id).then(newDesignActions.close)}>
              {d.name}
            </button>
            {d.id === open && <span className="muted"> (open)</span>}
            <span className="mono muted">
              {printRange(d.design.brief.line, 'V', 3)} → {printTyped(d.design.brief.output.voltage, 'V', 3)}, {printTyped(d.design.brief.load.max, 'A', 3)}
            </span>
            <span className="muted">{day.format(d.updated)}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What was taken for granted, beside the sheet: each with why. */
export function TakenForGranted() {
  const { asked, taken } = useNewDesign((s) => s.read);
  const more = useUsual();
  return (
    <>
      <h3 style={{ marginTop: 0 }}>Taken for granted</h3>
      {!asked && <p className="muted">Line, output and load are asked; all else has a usual value, which is listed here.</p>}
      {asked &&
        [...taken, ...more].map((t) => (
          <div key={t.path} className={css.taken}>
            <span>
              {t.title}
              <small className="muted">{t.why}</small>
            </span>
            <span className="mono">{printTyped(t.value, t.unit, 3)}</span>
          </div>
        ))}
    </>
  );
}

const NONE: Taken[] = [];
const useUsual = (): Taken[] => {
  const asked = useNewDesign((s) => s.read.asked);
  return asked ? usual(asked).taken : NONE;
};
