'use client';
import { useRef, useState } from 'react';
import { topologyOf } from '../../../core/design';
import { SaveMenu } from '../../plots/SaveMenu';
import { useStore } from '../../state/store';
import css from '../stages.module.css';
import { CycleCount } from './CycleCount';
import { Lanes, wavesAsColumns } from './Lanes';
import { MainsPlot } from './MainsPlot';

/** The settled cycle in lanes, kept states laid over it, two cursors. */
export function WaveformsStage() {
  const design = useStore((s) => s.design);
  const { figures, fresh } = useStore((s) => s.answers);
  const [cycles, setCycles] = useState(3);
  const svg = useRef<SVGSVGElement>(null);
  const signals = topologyOf(design)!.signals.filter((s) => s.lane);
  const f = figures!;
  return (
    <div className={css.stack}>
      <div className={css.head}>
        <h2 style={{ margin: 0 }}>
          {f.mains ? `Settled at ${Math.round((f.mains.seen * 180) / Math.PI)}° of the mains` : 'Settled cycle'}{' '}
          <span className="muted" style={{ fontWeight: 400 }}>
            duty <span className="mono" data-testid="duty">{(f.cycle.duty * 100).toFixed(2)} %</span>, {f.cycle.conduction}, closes {f.cycle.closure > 0 ? <>to <span className="mono">{f.cycle.closure.toExponential(0)}</span></> : 'exactly'}
          </span>
        </h2>
        <div className={css.tabs}>
          <CycleCount cycles={cycles} onChange={setCycles} />
          <SaveMenu svg={svg} name="settled-cycle" columns={() => wavesAsColumns(f.detail!.waves)} />
        </div>
      </div>
      {f.mains && f.detail!.mains && (
        <div className={fresh ? '' : 'stale'} style={{ height: 150, flexShrink: 0, marginBottom: 6 }}>
          <MainsPlot figures={f} mains={design.brief.line.mains!} />
        </div>
      )}
      <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0 }}>
        <Lanes signals={signals} figures={f} cycles={cycles} svg={svg} />
      </div>
    </div>
  );
}
