'use client';
import { useEffect, type RefObject } from 'react';
import { heldCommand } from '../../../core/control/held';
import { sameFigures } from '../../../core/design';
import { inWords } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import { keptStyle } from '../../plots/keptStyle';
import { mainsActions, useMains, type Study } from '../../state/mains';
import { useStore } from '../../state/store';
import css from '../stages.module.css';
import { UnderWay } from '../UnderWay';
import { HarmonicsPlot } from './HarmonicsPlot';
import { MainsCycle } from './MainsCycle';
import { QualityTable } from './QualityTable';

/** Share of what is drawn above which the ripple of the switching is told */
const MUCH = 0.1;
/** ms of no change after which the mains is settled */
const REST = 300;

/** A study that is drawn, by which name and look. */
export interface Shown {
  label: string;
  study: Study;
  colour: string;
  dash: number[];
}

/** What is drawn: the design's own first, then the kept states that are shown. */
export function useShown(): Shown[] {
  const kept = useStore((s) => s.kept);
  const { now, kept: studies } = useMains();
  const others = kept.flatMap((k, i): Shown[] => (k.visible && studies[k.id] ? [{ label: k.label.split(' ')[0]!, study: studies[k.id]!, ...keptStyle(i) }] : []));
  return now ? [{ label: 'now', study: now, colour: 'var(--spruce)', dash: [] }, ...others] : [];
}

/** One cycle of the mains of the whole circuit: what is drawn, what becomes of the output, the harmonics against their limits. */
export function MainsView({ svg }: { svg: RefObject<SVGSVGElement | null> }) {
  const design = useStore((s) => s.design);
  const { line, load, air } = useStore((s) => s.point);
  const kept = useStore((s) => s.kept);
  const figures = useStore((s) => s.answers.figures);
  const { now, under, problem, failed, point } = useMains();
  useEffect(() => {
    const timer = setTimeout(() => void mainsActions.ask(design, { line, load, air }, kept), REST);
    return () => clearTimeout(timer);
  }, [design, line, load, air, kept]);
  const shown = useShown();
  const fresh = now !== undefined && sameFigures(now.design, design) && point?.line === line && point.load === load && point.air === air;
  const quick = figures?.mains?.rms;
  return (
    <>
      <div style={{ fontSize: 12, minHeight: 20 }} data-testid="mains-state">
        {problem ? (
          <span className={css.fails}>{inWords(problem)}.</span>
        ) : failed ? (
          <span className={css.fails}>{failed}.</span>
        ) : under ? (
          <UnderWay stop={mainsActions.stop}>settling the whole circuit over a cycle of the mains, {Math.round(design.brief.frequency / design.brief.line.mains!).toLocaleString('en')} switching periods …</UnderWay>
        ) : now ? (
          <span className="muted">
            {now.quality.periods.toLocaleString('en')} periods of {print(now.quality.frequency, 'Hz', 4)}, closes to {now.quality.closure.toExponential(0)}
            {quick !== undefined && fresh && now.quality.distortion < 0.2 ? `; the fast answer, by angles${heldCommand(design.control) ? '' : ' and a current that follows'}, has ${print(quick, 'A', 3)} rms, this ${print(now.quality.smooth, 'A', 3)}` : ''}
            {now.quality.ripple > MUCH * now.quality.current ? ` and ${print(now.quality.ripple, 'A', 3)} that a line filter takes` : ''}
          </span>
        ) : null}
      </div>
      {shown.length === 0 ? (
        !problem && <p className="muted">Settling …</p>
      ) : (
        <div className={fresh ? '' : 'stale'} style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 292px', gap: 16, flex: 1, minHeight: 0 }}>
          <MainsCycle shown={shown} svg={svg} />
          <div style={{ overflow: 'auto', minHeight: 0 }}>
            <HarmonicsPlot shown={shown} />
            <QualityTable shown={shown} />
          </div>
        </div>
      )}
    </>
  );
}
