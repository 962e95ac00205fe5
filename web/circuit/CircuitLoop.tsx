'use client';
import { useRef, useState } from 'react';
import type { ConverterView } from '../../core/converter/view';
import { describeProblem } from '../../core/problem';
import { printQuantity as print, type UnitName } from '../../core/quantity';
import frame from '../frame/frame.module.css';
import { BodePlot } from '../plots/BodePlot';
import { marksOf } from '../plots/marksOf';
import { SaveMenu } from '../plots/SaveMenu';
import stages from '../stages/stages.module.css';
import css from './circuit.module.css';

/** A loop of a circuit where its roles break it: exact on the settled cycle, all other loops closed. */
export function CircuitLoop({ view: { figures: f }, fresh }: { view: ConverterView; fresh: boolean }) {
  const [chosen, choose] = useState(0);
  const svg = useRef<SVGSVGElement>(null);
  const loop = f.loops[chosen] ?? f.loops[0];
  if (!loop) return <p className="muted">No loop is named: give the roles of the file “loops”, with the sources of 0 V at which they can be broken.</p>;
  const { curve, wanted } = loop;
  const crosses = loop.beyond === undefined;
  const figure = (value: number, unit: UnitName): string => (crosses && Number.isFinite(value) ? print(value, unit) : '–');
  const rows: { title: string; here: string; wanted?: string }[] = [
    { title: 'crossover', here: figure(loop.crossover, 'Hz'), wanted: wanted?.crossover ? print(wanted.crossover, 'Hz') : undefined },
    { title: 'phase margin', here: figure(loop.phaseMargin, '°'), wanted: wanted?.phaseMargin ? print(wanted.phaseMargin, '°') : undefined },
    { title: 'gain margin', here: Number.isFinite(loop.gainMargin) ? print(loop.gainMargin, 'dB') : 'none' },
    { title: 'delay margin', here: figure(loop.delayMargin, 's') },
    { title: 'closest to −1', here: Number.isFinite(loop.closest) ? loop.closest.toFixed(2) : '–' },
  ];
  return (
    <div className={stages.columns}>
      <div className={stages.stack}>
        <div className={stages.head}>
          <div className={stages.tabs} role="tablist">
            {f.loops.map((l, k) => (
              <button key={l.title} type="button" role="tab" className={frame.chip} aria-selected={l === loop} onClick={() => choose(k)}>
                {l.title}
              </button>
            ))}
          </div>
          <SaveMenu svg={svg} name="bode-loop" columns={() => ({ 'frequency (Hz)': curve.frequency, 'gain (dB)': curve.gain, 'phase (°)': curve.phase })} />
        </div>
        <div className="muted" style={{ fontSize: 11.5 }}>
          loop gain, exact on the settled cycle, all other loops closed · grey: past half fsw
        </div>
        <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, display: 'flex' }}>
          <BodePlot
            svg={svg}
            curves={[{ curve, label: 'now', colour: 'var(--spruce)' }]}
            nyquist={f.frequency / 2}
            marks={marksOf(loop)}
          />
        </div>
      </div>
      <div className={`${stages.tight} ${fresh ? '' : 'stale'}`}>
        <table className={css.figures} data-testid="loop-figures">
          <thead>
            <tr>
              <th style={{ textAlign: 'left', fontWeight: 650 }}>Margins</th>
              <th className={stages.number} style={{ fontWeight: 400, color: 'var(--muted)' }}>
                here{wanted ? ' / wanted' : ''}
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.title}>
                <td className="muted">{r.title}</td>
                <td className={stages.number}>
                  {r.here}
                  {r.wanted ? ` / ${r.wanted}` : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <h3>Stability</h3>
        <p style={{ margin: 0 }} className={f.leaves ? stages.fails : ''}>
          {f.leaves ? describeProblem(f.leaves) : <>stable: the largest multiplier of the cycle is <span className="mono">{f.multiplier.toFixed(4)}</span></>}
        </p>
      </div>
    </div>
  );
}
