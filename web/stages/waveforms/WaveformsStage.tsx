'use client';
import { useRef, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { topologyOf } from '../../../core/design';
import { calledIn, schedulesOf } from '../../../core/schedule';
import frame from '../../frame/frame.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { useStore } from '../../state/store';
import css from '../stages.module.css';
import { CycleCount } from './CycleCount';
import { InTime, runAsColumns, runInColumns } from './InTime';
import { inTimeActions, useInTime } from '../../state/inTime';
import { Lanes, wavesAsColumns } from './Lanes';
import { courseAsColumns } from './MainsCycle';
import { MainsPlot } from './MainsPlot';
import { MainsView } from './MainsView';
import { NoiseView } from './NoiseView';
import { useMains } from '../../state/mains';
import { useSweep } from '../../state/sweep';
import { sweepAsColumns, SweepView } from './SweepView';

/** The settled cycle in lanes, kept states laid over it, two cursors; or the converter in time, through one of its schedules. */
export function WaveformsStage() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { figures, fresh } = useStore((s) => s.answers);
  const [cycles, setCycles] = useState(3);
  const { name, mode, run } = useInTime(useShallow(({ name, mode, run }) => ({ name, mode, run })));
  const sweep = useSweep((s) => s.sweep);
  const svg = useRef<SVGSVGElement>(null);
  const f = figures!;
  const inTime = mode === 'time';
  const swept = mode === 'sweep';
  const onMains = mode === 'mains' && design.brief.line.mains !== undefined;
  const noisy = mode === 'noise';
  const study = useMains((s) => s.now);
  const closes = f.cycle.closure > 0 ? `closes to ${f.cycle.closure.toExponential(0)}` : 'closes exactly';
  // Saved by the names that they are seen by.
  const called = run && { ...run, traces: calledIn(design, run.traces) };
  const known = schedulesOf(design, point).some((s) => s.name === name);
  const signals = topologyOf(design)!.signals.filter((s) => s.lane);
  return (
    <div className={css.stack}>
      <div className={css.head}>
        <h2 style={{ margin: 0 }}>
          {onMains ? 'One cycle of the mains, solved' : inTime ? 'In time' : swept ? 'Sweep' : noisy ? 'Conducted noise at the line' : f.mains ? `Settled at ${Math.round((f.mains.seen * 180) / Math.PI)}° of the mains` : 'Settled cycle'}{' '}
          {!inTime && !swept && !onMains && !noisy && (
            <span className="muted" style={{ fontWeight: 400 }} title={`${f.cycle.conduction}, ${closes}`}>
              duty <span className="mono" data-testid="duty">{(f.cycle.duty * 100).toFixed(2)} %</span>
              {f.mains ? null : `, ${f.cycle.conduction}, ${closes}`}
            </span>
          )}
        </h2>
        <div className={css.tabs}>
          {inTime ? (
            <select className={frame.select} aria-label="Schedule" value={known ? name : 'load step'} onChange={(e) => inTimeActions.choose(e.target.value)}>
              {schedulesOf(design, point).map((s) => (
                <option key={s.name}>{s.name}</option>
              ))}
            </select>
          ) : (
            !swept && !onMains && !noisy && <CycleCount cycles={cycles} onChange={setCycles} />
          )}
          {(
            [
              ['cycle', 'Settled cycle'],
              ['mains', 'Mains'],
              ['time', 'In time'],
              ['sweep', 'Sweep'],
              ['noise', 'Noise'],
            ] as const
          ).filter(([id]) => id !== 'mains' || design.brief.line.mains !== undefined).map(([id, title]) => (
            <button key={id} type="button" className={frame.chip} aria-pressed={id === (onMains ? 'mains' : inTime ? 'time' : swept ? 'sweep' : noisy ? 'noise' : 'cycle')} onClick={() => inTimeActions.look(id)}>
              {title}
            </button>
          ))}
          <SaveMenu svg={svg} name={onMains ? 'mains' : inTime ? name.replace(' ', '-') : swept ? 'sweep' : 'settled-cycle'} columns={() => (onMains && study ? courseAsColumns(study.course) : swept && sweep ? sweepAsColumns(sweep) : inTime && called ? runAsColumns(called) : wavesAsColumns(f.detail!.waves))} {...(inTime && called ? { binary: () => runInColumns(called) } : {})} />
        </div>
      </div>
      {onMains ? (
        <MainsView svg={svg} />
      ) : noisy ? (
        <NoiseView svg={svg} />
      ) : swept ? (
        <SweepView svg={svg} />
      ) : inTime ? (
        <InTime svg={svg} />
      ) : (
        <>
          {f.mains && f.detail!.mains && (
            <div className={fresh ? '' : 'stale'} style={{ height: 150, flexShrink: 0, marginBottom: 6 }}>
              <MainsPlot figures={f} mains={design.brief.line.mains!} />
            </div>
          )}
          <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0 }}>
            <Lanes signals={signals} figures={f} cycles={cycles} svg={svg} />
          </div>
        </>
      )}
    </div>
  );
}
