'use client';
import { useEffect, useState, type ReactNode } from 'react';
import { CircuitFrame } from '../circuit/CircuitFrame';
import { PlantFrame } from '../plant/PlantFrame';
import { useCircuit } from '../state/circuit';
import { NewSheet, TakenForGranted } from '../newDesign/NewSheet';
import sheet from '../newDesign/newDesign.module.css';
import { startLive } from '../state/live';
import { usePlant } from '../state/plant';
import { useNewDesign } from '../state/newDesign';
import { restore, startSaving } from '../state/session';
import { useStore } from '../state/store';
import { Banners } from './Banners';
import { BriefLine, NewHead } from './BriefLine';
import { Keys } from './Keys';
import { KeptStrip } from './KeptStrip';
import { Pad } from './Pad';
import { PartPanel } from './PartPanel';
import { PowerPath } from './PowerPath';
import { Reeds } from './Reeds';
import { Messages } from './Messages';
import { Tour } from './Tour';
import { usePathname } from 'next/navigation';
import { Readings, useReadings } from '../stages/waveforms/Readings';
import { TuningPanel, useMainsSeen } from '../stages/waveforms/TuningPanel';
import css from './frame.module.css';

/** The frame around every stage: brief line, reeds, pad, power path, part panel, kept strip. */
export function Frame({ children }: { children: ReactNode }) {
  const ready = useStore((s) => s.ready);
  const circuit = useCircuit((s) => s.open !== undefined);
  const plant = usePlant((s) => s.open !== undefined);
  const asking = useNewDesign((s) => s.open);
  const selected = useStore((s) => s.selected);
  const [drawer, setDrawer] = useState(false);
  const waveforms = usePathname() === '/waveforms';
  const found = useReadings();
  const mainsSeen = useMainsSeen();
  const readings = waveforms ? found : undefined;
  const tuning = waveforms && mainsSeen;
  useEffect(() => {
    let stop: (() => void) | undefined;
    let gone = false;
    void restore().then(() => {
      if (!gone) stop = startSaving();
    });
    return () => {
      gone = true;
      stop?.();
    };
  }, []);
  // The design behind a circuit or a plant waits.
  const behind = circuit || plant;
  useEffect(() => (ready && !behind ? startLive() : undefined), [ready, behind]);
  if (!ready)
    return (
      <main className={css.opening} aria-busy="true">
        Opening the last design…
      </main>
    );
  if (asking)
    return (
      <div className={css.frame}>
        <header className={css.brief}>
          <NewHead />
        </header>
        <nav className={`${css.left} ${sheet.dimmed}`} aria-label="Stages" inert>
          <Reeds />
          <Pad />
        </nav>
        <main className={css.centre}>
          <Banners />
          <NewSheet onOpenFile={() => document.querySelector<HTMLInputElement>('[data-testid=open-file]')?.click()} />
        </main>
        <aside className={css.right} aria-label="Taken for granted">
          <TakenForGranted />
        </aside>
        <footer className={css.kept}>
          <span className="muted">Nothing is stored until you make it. Esc goes back.</span>
        </footer>
        <Messages />
        <Keys />
      </div>
    );
  if (circuit) return <CircuitFrame />;
  if (plant) return <PlantFrame />;
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
        <Banners />
        <PowerPath />
        <section className={css.stage} aria-label="Stage">
          {children}
        </section>
      </main>
      <aside className={css.right} aria-label={readings ? 'Readings' : tuning ? 'Tuning' : 'Selected part'} data-drawn={drawer}>
        {readings ? <Readings {...readings} /> : tuning ? <TuningPanel /> : <PartPanel />}
      </aside>
      <button type="button" className={`${css.chip} ${css.drawer}`} aria-expanded={drawer} onClick={() => setDrawer(!drawer)}>
        {drawer ? 'close' : selected}
      </button>
      <footer className={css.kept}>
        <KeptStrip />
      </footer>
      <Tour />
      <Messages />
      <Keys />
    </div>
  );
}
