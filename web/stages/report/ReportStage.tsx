'use client';
import { useEffect, useMemo, useState } from 'react';
import { hashOf, reportOf, SECTIONS, type Known, type SectionId } from '../../../core/report';
import { spreadOf } from '../../../core/corners/spread';
import frame from '../../frame/frame.module.css';
import { useFaults } from '../../state/faults';
import { askCandidates } from '../../state/live';
import { saveController, saveFile } from '../../state/session';
import { useShelf } from '../../state/shelf';
import { useSpread } from '../../state/spread';
import { useStore } from '../../state/store';
import { Beside } from '../Beside';
import { useRegion } from '../corners/RegionOf';
import css from '../stages.module.css';
import { BlockView } from './BlockView';
import { FORMS, saveAs } from './saveAs';
import page from './report.module.css';

/** What all is known of a design, as it is handed over: the page and the file are made of the same. */
export function ReportStage() {
  const design = useStore((s) => s.design);
  const { figures, corners, fresh, cornersFresh, candidates, candidatesOf } = useStore((s) => s.answers);
  const shelf = useShelf();
  const region = useRegion();
  const spread = useSpread();
  const faults = useFaults();
  const [left, setLeft] = useState<ReadonlySet<SectionId>>(new Set());
  // Why not another topology: held against the brief while one reads.
  useEffect(() => {
    const later = setTimeout(() => askCandidates(design), LATER);
    return () => clearTimeout(later);
  }, [design]);
  const known = useMemo((): Known | undefined => {
    if (!figures || !corners || !region) return undefined;
    const drawn = spread.design === design && spread.draws.length > 1;
    const { tolerances } = spread;
    return {
      design, figures, corners, region: region.verdict, shelf,
      ...(candidates && candidatesOf === design ? { candidates } : {}),
      ...(drawn ? { spread: { found: spreadOf(tolerances, spread.draws), tolerances, seed: spread.seed } } : {}),
      ...(faults.design === design && faults.found.length > 0 ? { faults: faults.found } : {}),
    };
  }, [design, figures, corners, region, shelf, candidates, candidatesOf, spread, faults.design, faults.found]);
  const whole = useMemo(() => known && reportOf(known), [known]);
  if (!known || !whole) return <p className="muted" role="status">Judging the corners and the region …</p>;
  const shown = { ...whole, sections: whole.sections.filter((s) => !left.has(s.id)) };
  const there = new Set(whole.sections.map((s) => s.id));
  const stale = !(fresh && cornersFresh && region!.fresh);
  return (
    <article className={page.page}>
      <div className={page.tools}>
        <div className={css.tabs} role="group" aria-label="Sections">
          {SECTIONS.map((s) => (
            <button key={s.id} type="button" className={frame.chip} aria-pressed={there.has(s.id) && !left.has(s.id)} disabled={!there.has(s.id)} title={there.has(s.id) ? undefined : WHERE[s.id]} onClick={() => setLeft(new Set(left.has(s.id) ? [...left].filter((x) => x !== s.id) : [...left, s.id]))}>
              {s.title}
            </button>
          ))}
        </div>
        <div className={css.tabs} role="group" aria-label="Hand it over" style={{ marginTop: 8 }}>
          <button type="button" className={frame.chip} onClick={() => window.print()}>
            Print
          </button>
          {FORMS.map((f) => (
            <button key={f.id} type="button" className={frame.chip} title={f.says} disabled={stale} onClick={() => void saveAs(f.id, known, shown)}>
              {f.title}
            </button>
          ))}
          {known.figures.loop?.sampled && (
            <button type="button" className={frame.chip} title="The program of the controller that samples" onClick={() => saveController('voltage loop', known.figures.loop?.sampled)}>
              Controller, C
            </button>
          )}
          <button type="button" className={frame.chip} onClick={saveFile}>
            Design file
          </button>
        </div>
      </div>
      <div className={`${page.paper} ${stale ? 'stale' : ''}`} data-testid="report">
        <h1 className={page.title}>{shown.title}</h1>
        <p>{shown.summary}.</p>
        <p className={shown.holds ? page.holds : page.fails} role="status">
          {shown.verdict}
        </p>
        {shown.sections.map((s) => (
          <section key={s.id} aria-label={s.title}>
            <h2>{s.title}</h2>
            {s.blocks.map((b, k) => (
              <BlockView key={k} block={b} />
            ))}
          </section>
        ))}
        <div className={page.two}>
          <Beside now={known.figures} what="losses" />
          <Beside now={known.figures} what="heat" />
        </div>
        <p className={page.about}>
          {shown.about[0]!.join(' ')}; design {hashOf(design).slice(0, 16)}…
        </p>
      </div>
    </article>
  );
}

/** ms after which the topologies are held against the brief */
const LATER = 1500;

/** Where what is not there yet is made. */
const WHERE: Partial<Record<SectionId, string>> = { spread: 'Draw it on Corners, Spread', faults: 'Run them on Corners, Faults' };
