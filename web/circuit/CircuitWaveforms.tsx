'use client';
import { useRef, useState } from 'react';
import type { ConverterView } from '../../core/converter/view';
import { SaveMenu } from '../plots/SaveMenu';
import stages from '../stages/stages.module.css';
import { CycleCount } from '../stages/waveforms/CycleCount';
import { Lanes, wavesAsColumns } from '../stages/waveforms/Lanes';

/** Periods into the drawing at which the first cursor stands */
const FIRST_CURSOR = 0.4;

/** The settled cycle of a circuit: its outputs, the currents of its parts, and the element that is selected. */
export function CircuitWaveforms({ view, fresh }: { view: ConverterView; fresh: boolean }) {
  const [cycles, setCycles] = useState(3);
  const svg = useRef<SVGSVGElement>(null);
  const { period, closure, conduction } = view.figures;
  return (
    <div className={stages.stack}>
      <div className={stages.head}>
        <h2 style={{ margin: 0 }}>
          Settled cycle{' '}
          <span className="muted" style={{ fontWeight: 400 }}>
            {conduction && `${conduction}, `}closes {closure > 0 ? <>to <span className="mono">{closure.toExponential(0)}</span></> : 'exactly'}
          </span>
        </h2>
        <div className={stages.tabs}>
          <CycleCount cycles={cycles} onChange={setCycles} />
          <SaveMenu svg={svg} name="settled-cycle" columns={() => wavesAsColumns(view.waves)} />
        </div>
      </div>
      <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0 }}>
        <Lanes signals={view.looked} figures={{ cycle: { period, duty: FIRST_CURSOR, signals: view.measures }, detail: { waves: view.waves } }} cycles={cycles} svg={svg} />
      </div>
    </div>
  );
}
