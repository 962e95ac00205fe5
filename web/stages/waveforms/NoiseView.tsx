'use client';
import { line, scaleLinear, scaleLog } from 'd3';
import { useCallback, useMemo, type RefObject } from 'react';
import { BRANCHES } from '../../../core/branches';
import type { NoiseStudy } from '../../../core/evaluation/noise';
import { levelAt, STANDARDS, type LimitTable } from '../../../core/noise/receiver';
import { inWords } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { OverrideField, QuantityField } from '../../frame/QuantityField';
import { LogXAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { useSize } from '../../plots/useSize';
import { useZoomX } from '../../plots/useZoomX';
import { useStore, actions } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import css from '../stages.module.css';
import { LimitsEditor } from './LimitsEditor';

const [LEFT, RIGHT, TOP, BOTTOM] = [54, 10, 8, 24];
/** dBµV from which levels are drawn */
const FLOOR = 10;

/** The design's own noise at the point in view, and whether it is of what is in view now. */
function useNoise(): { study?: NoiseStudy; problem?: string; fresh: boolean } {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const args = useMemo(() => [design, point] as [typeof design, typeof point], [design, point]);
  const ask = useCallback((engine: Engine, ...a: typeof args) => engine.conductedNoise(...a), []);
  const found = useAsked(ask, args);
  return { ...(found?.value ? { study: found.value } : {}), ...(found?.problem ? { problem: inWords(found.problem) } : {}), fresh: found?.args === args };
}

/** Conducted noise as a receiver would read it, against the limits of a standard. */
export function NoiseView({ svg }: { svg: RefObject<SVGSVGElement | null> }) {
  const { study, problem, fresh } = useNoise();
  if (!study) return problem ? <p className={css.fails}>{problem}.</p> : <p className="muted">Reading the spectrum …</p>;
  return (
    <div className={fresh ? '' : 'stale'} style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 262px', gap: 16, flex: 1, minHeight: 0 }}>
      <NoisePlot study={study} svg={svg} />
      <div className={css.tight}>
        <NoiseFigures study={study} />
      </div>
    </div>
  );
}

/** Levels as lines from below, by what they are of; limits as steps. */
function NoisePlot({ study, svg }: { study: NoiseStudy; svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const right = width - RIGHT;
  const transform = useZoomX(svg, LEFT, right, 60);
  const x = transform.rescaleX(scaleLog([150e3, 30e6], [LEFT, right]));
  const top = Math.max(...study.readings.map((r) => r.peak), ...study.quasiPeak.flatMap(([, v]) => (Number.isFinite(v) ? [v] : [])));
  const y = scaleLinear([FLOOR, 10 * Math.ceil((top + 5) / 10)], [height - BOTTOM, TOP]);
  const [from, until] = x.domain() as [number, number];
  const seen = study.readings.filter((r) => r.frequency >= from && r.frequency <= until);
  const stem = (f: number, a: number, b: number): string => `M${x(f).toFixed(1)} ${y(Math.max(FLOOR, a)).toFixed(1)}V${y(Math.max(FLOOR, b)).toFixed(1)}`;
  const stepped = line<readonly [number, number]>()
    .defined(([f, v]) => Number.isFinite(v) && f > 0)
    .x(([f]) => x(f))
    .y(([, v]) => y(v));
  const beyond = (table: LimitTable, of: 'peak' | 'average'): boolean => study.readings.some((r) => r[of] > levelAt(table, r.frequency));
  return (
    <div ref={box} style={{ minHeight: 0, height: '100%', overflow: 'hidden' }} data-testid="noise">
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label={`Conducted noise against ${study.standard}: ${beyond(study.quasiPeak, 'peak') || beyond(study.average, 'average') ? 'beyond its limits' : 'within its limits'}`}>
          <clipPath id="noise-clip">
            <rect x={LEFT} y={TOP} width={Math.max(0, right - LEFT)} height={height - TOP - BOTTOM} />
          </clipPath>
          <rect x={LEFT} y={TOP} width={Math.max(0, right - LEFT)} height={height - TOP - BOTTOM} fill="transparent" />
          <LogXAxis scale={x} y0={TOP} y1={height - BOTTOM} />
          <g className={plots.axis}>
            {y.ticks(8).map((v, i, all) => (
              <g key={v} transform={`translate(0 ${y(v)})`}>
                <line x1={LEFT} x2={right} className={plots.grid} />
                <text x={LEFT - 5} dy="0.32em" textAnchor="end">
                  {v}
                  {i === all.length - 1 ? ' dBµV' : ''}
                </text>
              </g>
            ))}
          </g>
          <g clipPath="url(#noise-clip)" fill="none">
            <path d={seen.map((r) => stem(r.frequency, FLOOR, r.peak)).join('')} stroke="var(--slate)" strokeWidth={seen.length > 200 ? 1 : 2} opacity={0.75} />
            <path d={seen.map((r) => stem(r.frequency, FLOOR, r.average)).join('')} stroke="var(--spruce)" strokeWidth={seen.length > 200 ? 1 : 2} />
            <path d={stepped(study.quasiPeak) ?? ''} stroke="var(--fail)" strokeWidth={2} />
            <path d={stepped(study.average) ?? ''} stroke="var(--fail)" strokeWidth={2} strokeDasharray="6 3" />
            {seen.filter((r) => r.peak > levelAt(study.quasiPeak, r.frequency) || r.average > levelAt(study.average, r.frequency)).length <= 60 &&
              seen.map((r) => (r.peak > levelAt(study.quasiPeak, r.frequency) ? <circle key={r.frequency} cx={x(r.frequency)} cy={y(r.peak)} r={3} fill="var(--fail)" /> : null))}
          </g>
          <g className={plots.label} textAnchor="end">
            <text x={right - 4} y={TOP + 13} fill="var(--slate)" fontWeight={650}>
              peak
            </text>
            <text x={right - 40} y={TOP + 13} fill="var(--spruce)" fontWeight={650}>
              average
            </text>
            <text x={right - 96} y={TOP + 13} fill="var(--fail)" fontWeight={650}>
              limits: quasi-peak —, average - -
            </text>
          </g>
        </svg>
      )}
    </div>
  );
}

function NoiseFigures({ study }: { study: NoiseStudy }) {
  const design = useStore((s) => s.design);
  const row = (label: string, value: React.ReactNode, fails = false) => (
    <div className={frame.row}>
      <span className="muted">{label}</span>
      <span className={`mono ${fails ? css.fails : ''}`}>{value}</span>
    </div>
  );
  const { quasiPeak, average } = study.nearest;
  const at = study.readings.find((r) => r.frequency === quasiPeak?.frequency);
  const room = Math.min(quasiPeak?.room ?? Infinity, average?.room ?? Infinity);
  const [filter] = Object.entries(design.branches ?? {}).find(([, b]) => BRANCHES[b.kind].line) ?? [];
  const stray = (key: 'toEarth' | 'windingCapacitance' | 'leadInductance', unit: 'F' | 'H', title: string) => (
    <div className={frame.row}>
      <span className="muted">{title}</span>
      <OverrideField path={`noise.${key}`} unit={unit} label={title} computed={study.strays[key]} suggested={study.strays[key]} />
    </div>
  );
  return (
    <div data-testid="noise-figures">
      <select className={frame.select} style={{ width: '100%', maxWidth: 'none' }} aria-label="Standard" value={design.noise?.standard ?? STANDARDS.find((s) => s.title === study.standard)!.id} onChange={(e) => actions.edit({ noise: { ...design.noise, standard: e.target.value, quasiPeak: undefined, average: undefined } })}>
        {STANDARDS.map((s) => (
          <option key={s.id} value={s.id}>
            {s.title}
          </option>
        ))}
      </select>
      <h3>Nearest to its limit</h3>
      {quasiPeak && row(`quasi-peak, ${print(quasiPeak.frequency, 'Hz', 3)}`, `${quasiPeak.level.toFixed(1)} of ${quasiPeak.limit.toFixed(1)} dBµV`, quasiPeak.room < 0)}
      {average && row(`average, ${print(average.frequency, 'Hz', 3)}`, `${average.level.toFixed(1)} of ${average.limit.toFixed(1)} dBµV`, average.room < 0)}
      {Number.isFinite(room) && row('room', print(room, 'dB', 3), room < 0)}
      {row('required', design.requirements.noise.on ? <QuantityField path="requirements.noise.limit" /> : <button type="button" className={frame.link} onClick={() => actions.edit({ 'requirements.noise.on': true })}>≥ {print(design.requirements.noise.limit, 'dB')} at full load</button>)}
      {at && row('of it between the lines', `${at.between.toFixed(1)} dBµV`)}
      {at && row('to earth', `${at.earth.toFixed(1)} dBµV`)}
      {room < 0 && at && at.between > at.earth && filter && (
        <button type="button" className={frame.chip} style={{ margin: '6px 0' }} onClick={() => actions.edit({ [`branches.${filter}.attenuation`]: Math.ceil((design.branches![filter]!.attenuation ?? 40) - room + 2) })}>
          give the filter {Math.ceil(-room + 2)} dB more
        </button>
      )}
      {filter && (
        <>
          <h3>To earth</h3>
          <div className={frame.row}>
            <span className="muted">common-mode choke</span>
            <OverrideField path={`branches.${filter}.commonMode`} unit="H" label="common-mode inductance" computed={design.branches![filter]!.commonMode ?? 0} suggested={0} />
          </div>
          <div className={frame.row}>
            <span className="muted">from each line to earth</span>
            <OverrideField path={`branches.${filter}.toEarth`} unit="F" label="capacitance from each line to earth" computed={design.branches![filter]!.toEarth ?? 0} suggested={0} />
          </div>
          {study.leakage !== undefined && row('current to earth', print(study.leakage, 'A', 3), study.leakage > 3.5e-3)}
          {study.leakage !== undefined && <p className="muted" style={{ fontSize: 11.5, margin: '0 0 4px' }}>IEC 60335-1: 3.5 mA where it stands fixed, 0.75 mA where it is carried.</p>}
          {study.discharge && row(`empties ${print(study.discharge.capacitance, 'F', 2)} in 1 s`, `${print(study.discharge.resistance, 'Ω', 3)}, ${print(study.discharge.watts, 'W', 2)}`)}
        </>
      )}
      <h3>Strays</h3>
      {stray('toEarth', 'F', 'switch node to earth')}
      {stray('windingCapacitance', 'F', 'across a filter’s winding')}
      {stray('leadInductance', 'H', 'leads of a capacitor')}
      {row('edges take', print(study.strays.edge, 's', 2))}
      <LimitsEditor standard={study.standard} />
      <p className="muted" style={{ fontSize: 11.5, lineHeight: 1.35 }}>
        Leaves out: {study.leavesOut}.
      </p>
    </div>
  );
}
