'use client';
import { hottestOf } from '../../core/thermal/network';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { requirementNamed, tightest, type Standing } from '../../core/corners/requirements';
import type { CornerReport } from '../../core/corners/corners';
import type { Design } from '../../core/design';
import type { Figures } from '../../core/evaluation';
import { printQuantity as print } from '../../core/quantity';
import { STAGES, type StageId } from '../stages/list';
import { useStore } from '../state/store';
import { Reed } from './Reed';
import css from './frame.module.css';

/** The one figure of each stage, at the point in view. */
function figureOf(stage: StageId, d: Design, f: Figures | undefined, corners: CornerReport | undefined): string {
  if (stage === 'brief') return `${Object.values(d.requirements).filter((r) => r.on).length} requirements`;
  if (stage === 'corners') return corners ? `${corners.holding} of ${corners.corners.length}` : '…';
  if (stage === 'report') return 'one page';
  if (!f) return '…';
  switch (stage) {
    case 'power-stage':
      return `ripple ${print(f.cycle.rippleShare, '%', 2)} of ${print(f.sizing.inductorCurrent, 'A', 2).replace('.0 ', ' ')}`;
    case 'waveforms':
      return `${print(f.cycle.outputRipple, 'V')} pp`;
    case 'loop':
      if (!f.loop) return 'no figures';
      return f.loop.stable ? `${print(f.loop.crossover, 'Hz')} · ${Math.round(f.loop.phaseMargin)}°` : 'not stable';
    case 'losses':
      return `${print(f.losses.efficiency, '%')} · ${print(f.losses.total, 'W')}`;
    case 'heat': {
      const [first, ...rest] = f.heat.rungs.filter((r) => r.limit !== undefined);
      if (f.problems.heat || !first) return f.problems.heat ? 'runs away' : 'nothing warm';
      const hot = rest.reduce((a, r) => (hottestOf(r) > hottestOf(a) ? r : a), first);
      return `${hot.slot} ${Math.round(hottestOf(hot))} °C`;
    }
  }
}

/** How much room the tightest requirement of a stage has over all corners. */
function roomOf(stage: StageId, corners: CornerReport | undefined): number | undefined {
  if (!corners) return undefined;
  const all: Standing[] = corners.worst;
  if (stage === 'brief' || stage === 'report') return 1;
  // A corner without figures fails the stages that would show them.
  if (corners.corners.some((c) => c.problem && c.requirements.length === 0)) return -1;
  if (stage === 'corners') return tightest(all)?.room;
  return tightest(all.filter((s) => requirementNamed(s.id).stage === stage))?.room;
}

/** What a reed says, in words: its stage's tightest requirement over all corners. */
function reedInWords(stage: StageId, corners: CornerReport | undefined): string {
  if (!corners || stage === 'brief' || stage === 'report') return '';
  const own = tightest(corners.worst.filter((s) => stage === 'corners' || requirementNamed(s.id).stage === stage));
  if (!own) return 'no requirement is asked here';
  const { title, unit, direction } = requirementNamed(own.id);
  const stands = own.room < 0 ? 'broken: fails' : own.room < 0.12 ? 'leaning: little room' : 'straight: has room';
  return `${stands}; tightest is ${title}, ${print(own.value, unit)} where ${direction} ${print(own.limit, unit)} is asked`;
}

/** One strip a stage, in the order of the work. */
export function Reeds() {
  const path = usePathname();
  const { figures, fresh, corners, cornersFresh } = useStore((s) => s.answers);
  const design = useStore((s) => s.design);
  return (
    <ul className={css.reeds}>
      {STAGES.map(({ id, title }) => (
        <li key={id}>
          <Link href={`/${id}`} className={css.strip} aria-current={path === `/${id}` ? 'page' : undefined} data-stage={id} title={reedInWords(id, corners)}>
            <span className={cornersFresh ? '' : 'stale'}>
              <Reed room={roomOf(id, corners)} />
            </span>
            <span>
              <div className={css.stripTitle}>{title}</div>
              <div className={`${css.stripFigure} ${fresh ? '' : 'stale'}`} data-testid={`reed-${id}`}>
                {figureOf(id, design, figures, corners)}
              </div>
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
