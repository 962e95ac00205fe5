'use client';
import { line, scaleLinear } from 'd3';
import { useEffect, useRef, useState } from 'react';
import type { Design } from '../../../core/design';
import { warmestOf } from '../../../core/design/limits';
import { readProfile, type Profile, type Under } from '../../../core/evaluation/profile';
import type { Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { COLUMNS, FileInput } from '../../frame/FileInput';
import { spaced, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { useSize } from '../../plots/useSize';
import { useStore } from '../../state/store';
import { isAborted } from '../../workers/jobs';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';

const [LEFT, RIGHT, TOP, BOTTOM, LOAD] = [52, 142, 10, 24, 60];
/** s between the moments of the axis, and how they are told */
const APART = [1, 2, 5, 10, 30, 60, 120, 300, 600, 1800, 3600, 7200, 14_400, 28_800];
const moment = (t: number): string => (t % 3600 === 0 ? `${t / 3600} h` : t % 60 === 0 ? `${t / 60} min` : `${t} s`);
const COLOURS = ['var(--rust)', 'var(--spruce)', 'var(--slate)', 'var(--plum)', 'var(--ochre)'];

/** A profile that shows what is meant until one's own is read: full and smallest load by turns, half an hour each. */
const example = ({ brief }: Design): Profile => {
  const time = Float64Array.from({ length: 13 }, (_, k) => k * 1800);
  return { time, load: time.map((_, k) => (k % 2 === 0 ? brief.load.max : brief.load.min)) };
};

/** Temperatures under a load that changes over seconds to hours, and the cycles that they go through. */
export function ProfileView() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const svg = useRef<SVGSVGElement>(null);
  const input = useRef<HTMLInputElement>(null);
  const [own, setOwn] = useState<{ name: string; profile: Profile }>();
  const [wrong, setWrong] = useState<Problem>();
  const [found, setFound] = useState<{ design: Design; profile: Profile; under?: Under; problem?: Problem }>();
  const { line: volts, air } = point;
  useEffect(() => {
    const left = new AbortController();
    const profile = own?.profile ?? example(design);
    jobs().at('asked', left.signal).underProfile(design, { line: volts, load: design.brief.load.max, air }, profile).then(
      (r) => void (left.signal.aborted || setFound({ design, profile, ...(r.ok ? { under: r.value } : { problem: r.problem }) })),
      (error) => void (isAborted(error) || console.error(error)),
    );
    return () => left.abort();
  }, [design, volts, air, own]);
  const read = async (file: File): Promise<void> => {
    const profile = readProfile(await file.text());
    setWrong(profile.ok ? undefined : profile.problem);
    if (profile.ok) setOwn({ name: file.name, profile: profile.value });
  };
  const fresh = found?.design === design;
  const under = found?.under;
  return (
    <div className={css.columns}>
      <div className={css.stack}>
        <div className={css.head}>
          <h2 style={{ margin: 0 }}>
            Under a load <span className="muted" style={{ fontWeight: 400 }}>{own ? own.name : 'full and smallest by turns'}</span>
          </h2>
          <span style={{ flex: 1 }} />
          <SaveMenu svg={svg} name="profile" columns={() => ({ 'time (s)': [...(under?.time ?? [])], ...Object.fromEntries((under?.nodes ?? []).map((n, i) => [`${n.title} (°C)`, [...under!.temperatures[i]!]])) })} />
        </div>
        {found?.problem && <p className={css.fails}>{`${found.problem.message}: ${found.problem.remedy}`}</p>}
        <Course under={under} profile={found?.profile} fresh={fresh} svg={svg} />
      </div>
      <div className={found && !fresh ? 'stale' : ''}>
        <FileInput ref={input} title="Load profile" accept={COLUMNS} open={(file) => void read(file)} />
        <button type="button" className={frame.chip} onClick={() => input.current?.click()}>
          A profile of your own…
        </button>{' '}
        {own && (
          <button type="button" className={frame.link} onClick={() => setOwn(undefined)}>
            the example again
          </button>
        )}
        <p className="muted">CSV of s and A: each load stands until the next.</p>
        {wrong && <p className={css.fails}>{`${wrong.where}: ${wrong.message}: ${wrong.remedy}`}</p>}
        <table className={css.list} data-testid="under-profile">
          <thead>
            <tr>
              <th />
              <th style={{ textAlign: 'right' }}>at most</th>
              <th style={{ textAlign: 'right' }}>cycles</th>
            </tr>
          </thead>
          <tbody>
            {under?.nodes.map((n, i) =>
              n.limit === undefined ? null : (
                <tr key={n.id} title={under.cycles[i]!.map((c) => `${Number(c.count.toPrecision(3))} of ${c.from.toFixed(0)} to ${c.to.toFixed(0)} K`).join(', ')}>
                  <td>{n.title}</td>
                  <td className={`${css.number} ${under.hottest[i]!.temperature > warmestOf(design, n.spot === 'junction' ? 'junction' : 'winding', n.limit) ? css.fails : ''}`}>{under.hottest[i]!.temperature.toFixed(1)} °C</td>
                  <td className={css.number}>{under.cycles[i]!.length === 0 ? 'none' : `${Number(under.counted[i]!.toPrecision(3))} to ${under.cycles[i]![0]!.to.toFixed(0)} K`}</td>
                </tr>
              ),
            )}
          </tbody>
        </table>
        <p className="muted">Cycles of a kelvin or more, counted as fatigue does (rainflow, ASTM E1049), at {print(volts, 'V')}.</p>
      </div>
    </div>
  );
}

/** The load below, every node above it. */
function Course({ under, profile, fresh, svg }: { under: Under | undefined; profile: Profile | undefined; fresh: boolean; svg: React.RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  if (!under || !profile) return <div ref={box} style={{ flex: 1 }} />;
  const { time, temperatures, nodes } = under;
  const [from, until] = [time[0]!, profile.time.at(-1)!];
  const x = scaleLinear([from, until], [LEFT, width - RIGHT]);
  const all = temperatures.flatMap((list) => [Math.min(...list), Math.max(...list)]);
  const y = scaleLinear([Math.min(...all) - 1, Math.max(...all) + 2], [height - BOTTOM - LOAD - 12, TOP]).nice();
  const most = profile.load.reduce((a, b) => Math.max(a, b), 0);
  const below = scaleLinear([0, most || 1], [height - BOTTOM, height - BOTTOM - LOAD]);
  const every = Math.ceil(profile.time.length / 2000);
  const steps = Array.from({ length: Math.ceil(profile.time.length / every) }, (_, k) => k * every);
  const labels = spaced(temperatures.map((list) => y(list.at(-1)!)));
  const apart = APART.find((s) => (until - from) / s <= 7) ?? 86_400;
  const moments = Array.from({ length: Math.floor(until / apart) - Math.ceil(from / apart) + 1 }, (_, k) => (Math.ceil(from / apart) + k) * apart);
  return (
    <div ref={box} className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label="Temperatures under the load" data-testid="profile">
          <YAxis scale={y} unit="°C" x0={LEFT} x1={width - RIGHT} count={6} />
          <YAxis scale={below} unit="A" x0={LEFT} x1={width - RIGHT} ticks={[0, most]} />
          {moments.map((t) => (
            <g key={t} transform={`translate(${x(t)} 0)`}>
              <line y1={TOP} y2={height - BOTTOM} stroke="var(--line)" />
              <text y={height - BOTTOM + 15} textAnchor="middle" className={plots.mono} fill="var(--muted)">
                {t === 0 ? '0' : moment(t)}
              </text>
            </g>
          ))}
          <path d={steps.map((k, i) => `${i === 0 ? 'M' : 'H'}${i === 0 ? `${x(profile.time[k]!).toFixed(1)} ${below(profile.load[k]!).toFixed(1)}` : `${x(profile.time[k]!).toFixed(1)}V${below(profile.load[k]!).toFixed(1)}`}`).join('')} fill="none" stroke="var(--ink)" strokeWidth={1.4} />
          {temperatures.map((list, i) => (
            <g key={nodes[i]!.id}>
              <path d={line<number>((_, k) => x(time[k]!), (v) => y(v))([...list])!} fill="none" stroke={COLOURS[i % COLOURS.length]} strokeWidth={nodes[i]!.limit === undefined ? 1.1 : 1.8} strokeDasharray={nodes[i]!.limit === undefined ? '4 3' : ''} />
              <text x={width - RIGHT + 6} y={labels[i]! + 4} className={plots.label} fill={COLOURS[i % COLOURS.length]}>
                {nodes[i]!.title}
              </text>
            </g>
          ))}
        </svg>
      )}
    </div>
  );
}
