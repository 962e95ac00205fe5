'use client';
import { useEffect, type ReactNode } from 'react';
import { startLive } from '../state/live';
import { restore, startSaving } from '../state/session';
import { useStore } from '../state/store';
import { BriefLine } from './BriefLine';
import { Keys } from './Keys';
import { KeptStrip } from './KeptStrip';
import { Pad } from './Pad';
import { PartPanel } from './PartPanel';
import { PowerPath } from './PowerPath';
import { Reeds } from './Reeds';
import { Messages } from './Messages';
import css from './frame.module.css';

/** The frame around every stage: brief line, reeds, pad, power path, part panel, kept strip. */
export function Frame({ children }: { children: ReactNode }) {
  const ready = useStore((s) => s.ready);
  useEffect(() => {
    let stop: (() => void)[] = [];
    let gone = false;
    void restore().then(() => {
      if (!gone) stop = [startSaving(), startLive()];
    });
    return () => {
      gone = true;
      stop.forEach((f) => f());
    };
  }, []);
  if (!ready)
    return (
      <main className={css.opening} aria-busy="true">
        Opening the last design…
      </main>
    );
  return (
    <div className={css.frame}>
      <header className={css.brief}>
        <BriefLine />
      </header>
      <nav className={css.left} aria-label="Stages">
        <Reeds />
        <Pad />
      </nav>
      <main className={css.centre}>
        <PowerPath />
        <section className={css.stage} aria-label="Stage">
          {children}
        </section>
      </main>
      <aside className={css.right} aria-label="Selected part">
        <PartPanel />
      </aside>
      <footer className={css.kept}>
        <KeptStrip />
      </footer>
      <Messages />
      <Keys />
    </div>
  );
}
