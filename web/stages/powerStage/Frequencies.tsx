'use client';
import { scaleLinear, scaleLog } from 'd3';
import { useEffect } from 'react';
import { FREQUENCIES, frequencyRange, type FrequencyChoice } from '../../../core/choice';
import { printQuantity as print } from '../../../core/quantity';
import { QuantityField, RangeField } from '../../frame/QuantityField';
import { LogXAxis, tracePath, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { useSize } from '../../plots/useSize';
import { askFrequencies } from '../../state/live';
import { actions, useStore } from '../../state/store';
import frame from '../../frame/frame.module.css';
import css from '../stages.module.css';

type Able = FrequencyChoice & { figures: NonNullable<FrequencyChoice['figures']> };

/** The switching frequency chosen by what it costs: loss and size of the magnetics over the range that the brief leaves open. */
export function Frequencies() {
  const design = useStore((s) => s.design);
  const { frequencies, frequenciesOf, frequenciesProgress } = useStore((s) => s.answers);
  useEffect(() => askFrequencies(design), [design]);
  const able = (frequencies ?? []).filter((f): f is Able => f.figures !== undefined);
  const range = frequencyRange(design);
  return (
    <div className={frequenciesOf === design || frequenciesProgress !== undefined ? '' : 'stale'} data-testid="frequencies">
      <p style={{ margin: '0 0 6px' }}>
        From{' '}
        {design.brief.frequencyRange ? (
          <RangeField path="brief.frequencyRange" label="frequencies to choose from" />
        ) : (
          <button type="button" className={frame.link} onClick={() => actions.edit({ 'brief.frequencyRange': range })}>
            {print(range.min, 'Hz', 2)} to {print(range.max, 'Hz', 2)}: write it into the brief
          </button>
        )}
        ; now <QuantityField path="brief.frequency" />. Cores and capacitors anew for each; other parts stay if they fit.
      </p>
      {frequenciesProgress !== undefined && (
        <p className="muted" style={{ margin: '0 0 6px' }} role="status">
          {Math.round(frequenciesProgress * FREQUENCIES)} of {FREQUENCIES} frequencies tried{' '}
          <button type="button" className={frame.link} onClick={actions.stopFrequencies}>
            stop
          </button>
        </p>
      )}
      {frequenciesProgress === undefined && frequenciesOf !== design && (
        <p className="muted" style={{ margin: '0 0 6px' }} role="status">
          Stopped.{' '}
          <button type="button" className={frame.link} onClick={() => askFrequencies(design)}>
            try them all
          </button>
        </p>
      )}
      {able.length > 1 && <FrequencyPlot choices={able} now={design.brief.frequency} range={range} />}
      <table className={css.list}>
        <thead>
          <tr>
            {['switching at', 'loss', 'efficiency', 'cores', 'tallest', 'capacitors', ''].map((title, k) => (
              <th key={title} style={{ textAlign: k === 0 ? 'left' : 'right' }}>
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {(frequencies ?? []).map((f) => (
            <tr key={f.frequency} aria-selected={f.frequency === design.brief.frequency} data-frequency={f.frequency}>
              <td className="mono" style={{ whiteSpace: 'nowrap' }}>
                {print(f.frequency, 'Hz', 2)}
              </td>
              {f.figures ? (
                <>
                  <td className={css.number}>{print(f.figures.loss, 'W')}</td>
                  <td className={css.number}>{print(f.figures.efficiency, '%')}</td>
                  <td className={css.number}>{(f.figures.coreVolume * 1e6).toPrecision(3)} cm³</td>
                  <td className={css.number}>{f.figures.height === undefined ? '' : print(f.figures.height, 'm', 2)}</td>
                  <td className={css.number}>{print(f.figures.capacitorCurrent, 'A')}</td>
                  <td style={{ textAlign: 'right' }}>
                    <button type="button" className={frame.chip} aria-label={`Take ${print(f.frequency, 'Hz', 2)}`} onClick={() => actions.take(f.design!)}>
                      Take
                    </button>
                  </td>
                </>
              ) : (
                <td className="muted" colSpan={6}>
                  {f.refusal!.message}: {f.refusal!.remedy}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const HEIGHT = 168;
const LEFT = 56;
const RIGHT = 62;
const TOP = 20;
const BOTTOM = 22;

/** Loss at the left, volume of the cores at the right, over the frequency. */
function FrequencyPlot({ choices, now, range }: { choices: readonly Able[]; now: number; range: { min: number; max: number } }) {
  const [box, { width }] = useSize<HTMLDivElement>();
  const x = scaleLog([range.min * 0.95, range.max * 1.05], [LEFT, width - RIGHT]);
  const loss = choices.map((c) => c.figures.loss);
  const volume = choices.map((c) => c.figures.coreVolume * 1e6);
  const at = choices.map((c) => c.frequency);
  const y = scaleLinear([0, Math.max(...loss) * 1.1], [HEIGHT - BOTTOM, TOP]);
  const right = scaleLinear([0, Math.max(...volume) * 1.1], [HEIGHT - BOTTOM, TOP]);
  return (
    <div ref={box} style={{ height: HEIGHT, maxWidth: 1100 }}>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label="Loss and volume of the cores over the switching frequency">
          <LogXAxis scale={x} y0={TOP} y1={HEIGHT - BOTTOM} />
          <YAxis scale={y} unit="W" x0={LEFT} x1={width - RIGHT} count={4} />
          {now >= range.min && now <= range.max && <line x1={x(now)} x2={x(now)} y1={TOP} y2={HEIGHT - BOTTOM} stroke="var(--ink)" strokeDasharray="2 3" />}
          <path d={tracePath(at, loss, x, y)} fill="none" stroke="var(--rust)" strokeWidth={2} />
          <path d={tracePath(at, volume, x, right)} fill="none" stroke="var(--slate)" strokeWidth={2} strokeDasharray="5 3" />
          {choices.map((c, k) => (
            <g key={c.frequency}>
              <circle cx={x(c.frequency)} cy={y(loss[k]!)} r={3} fill="var(--rust)" />
              <rect x={x(c.frequency) - 2.6} y={right(volume[k]!) - 2.6} width={5.2} height={5.2} fill="var(--slate)" />
            </g>
          ))}
          <g className={plots.label} fontWeight={650}>
            <text x={LEFT} y={12} fill="var(--rust)">
              ● loss at full load
            </text>
            <text x={width - RIGHT} y={12} textAnchor="end" fill="var(--slate)">
              ■ cores, cm³
            </text>
          </g>
          <g className={plots.mono} fill="var(--muted)">
            {right.ticks(4).map((v) => (
              <text key={v} x={width - RIGHT + 6} y={right(v) + 4}>
                {v}
              </text>
            ))}
          </g>
        </svg>
      )}
    </div>
  );
}
