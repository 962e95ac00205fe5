'use client';
import type { ComponentType } from 'react';
import { inWords } from '../../core/problem';
import { useStore } from '../state/store';
import { BriefStage } from './brief/BriefStage';
import { CornersStage } from './corners/CornersStage';
import { HeatStage } from './heat/HeatStage';
import type { StageId } from './list';
import { LoopStage } from './loop/LoopStage';
import { LossesStage } from './losses/LossesStage';
import { PowerStage } from './powerStage/PowerStage';
import { ReportStage } from './report/ReportStage';
import { WaveformsStage } from './waveforms/WaveformsStage';
import css from './stages.module.css';

const VIEWS: Record<StageId, ComponentType> = {
  brief: BriefStage,
  'power-stage': PowerStage,
  waveforms: WaveformsStage,
  loop: LoopStage,
  losses: LossesStage,
  heat: HeatStage,
  corners: CornersStage,
  report: ReportStage,
};

/** The stage in view; where the point has no figures at all, the reason stands above the last ones. */
export function StageView({ stage }: { stage: StageId }) {
  const View = VIEWS[stage];
  const problem = useStore((s) => s.answers.problem);
  const figures = useStore((s) => s.answers.figures);
  const has = figures !== undefined;
  const missing = figures?.problems;
  return (
    <>
      {problem && (
        <div className={css.problem} role="alert">
          <b>No figures at this point.</b> {inWords(problem)}. {has && 'What stands below is from the last point that had them.'}
        </div>
      )}
      {!problem && missing?.heat && (
        <div className={css.problem} role="alert">
          <b>Heat runs away here.</b> {inWords(missing.heat)}. What stands below is the stage in its first moment, as cold as the air.
        </div>
      )}
      {!problem && missing?.loop && stage !== 'loop' && (
        <p className="muted" role="status" style={{ margin: '0 0 6px' }}>
          The loop has no figures here: {inWords(missing.loop)}.
        </p>
      )}
      {has || stage === 'brief' ? <View /> : problem ? null : <p className="muted">Settling the cycle…</p>}
    </>
  );
}
