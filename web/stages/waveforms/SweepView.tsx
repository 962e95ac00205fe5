'use client';
import { interpolateRgb, scaleLinear, scaleLog } from 'd3';
import { useState, type RefObject } from 'react';
import { topologyOf } from '../../../core/design';
import { inWords as problemInWords } from '../../../core/problem';
import { printQuantity as print, printTyped, type UnitName } from '../../../core/quantity';
import { schedulesOf } from '../../../core/schedule';
import { inWords, limitOf, MOST_AXES, sweepable, sweptFigures, type Axis, type Swept } from '../../../core/sweep';
import frame from '../../frame/frame.module.css';
import { LogXAxis, spaced, XAxis, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { useSize } from '../../plots/useSize';
import { useInTime } from '../../state/inTime';
import { useStore } from '../../state/store';
import { isNow, sweepActions, useSweep, type Sweep } from '../../state/sweep';
import css from '../stages.module.css';

/** Columns that a curve over time is drawn in */
const BINS = 300;
/** Around the plot, px; at the right stand the labels of curves */
const [LEFT, RIGHT, TOP, BOTTOM] = [56, 118, 12, 24];

/** A design over values of up to three quantities: a figure over the first of them, or a trace over a schedule; a curve is picked and its values taken. */
export function SweepView({ svg }: { svg: RefObject<SVGSVGElement | null> }) {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { asked, shown, trace, schedule, sweep, progress, problem, picked } = useSweep();
  const offered = useInTime((s) => s.run?.offered);
  const figures = sweptFigures(design);
  const schedules = schedulesOf(design, point);
  const wave = shown === 'wave' ? { schedule: schedules.find((s) => s.name === schedule) ?? schedules[1]!, trace, bins: BINS } : undefined;
  const go = (): void => void sweepActions.run(wave);
  const runs = sweep?.runs.filter((r) => r !== undefined) ?? [];
  const bad = runs.filter((r) => r.problem);
  return (
    <div className={css.stack} data-testid="sweep" style={{ fontSize: 12.5 }}>
      <form
        style={{ display: 'flex', gap: '4px 12px', flexWrap: 'wrap', alignItems: 'baseline' }}
        onSubmit={(e) => {
          e.preventDefault();
          go();
        }}
      >
        {asked.map((a, i) => (
          <AxisField key={i} index={i} {...a} />
        ))}
        {asked.length < MOST_AXES && (
          <button type="button" className={frame.link} onClick={() => sweepActions.ask([...asked, { path: asked.some((a) => a.path === 'brief.frequency') ? 'load' : 'brief.frequency', values: '' }])}>
            one more quantity
          </button>
        )}
        <span style={{ whiteSpace: 'nowrap' }}>
          see{' '}
          <select className={frame.select} aria-label="What is seen of a sweep" value={shown} onChange={(e) => sweepActions.show({ shown: e.target.value })}>
            {figures.map((f) => (
              <option key={f.id} value={f.id}>
                {f.title}
              </option>
            ))}
            <option value="wave">a trace in time</option>
            <option value="loop">the loop gain</option>
            {topologyOf(design)?.fedAt !== undefined && <option value="front">the filter’s impedance</option>}
          </select>{' '}
          {shown === 'wave' && (
            <>
              <select className={frame.select} aria-label="Trace of a sweep" value={trace} onChange={(e) => sweepActions.show({ trace: e.target.value })}>
                {(offered ?? [{ id: 'output', title: 'Output' }, { id: 'L1.current', title: 'L1 current' }]).map((o) => (
                  <option key={o.id} value={o.id}>
                    {o.title}
                  </option>
                ))}
              </select>{' '}
              <select className={frame.select} aria-label="Schedule of a sweep" value={schedule} onChange={(e) => sweepActions.show({ schedule: e.target.value })}>
                {schedules.map((s) => (
                  <option key={s.name}>{s.name}</option>
                ))}
              </select>
            </>
          )}
        </span>
        {progress === undefined ? (
          <button type="submit" className={frame.chip} style={{ background: 'var(--spruce)', color: 'var(--on-spruce)' }}>
            Run
          </button>
        ) : (
          <span role="status" className="muted">
            {runs.length} of {sweep!.runs.length}{' '}
            <button type="button" className={frame.link} onClick={sweepActions.stop}>
              stop
            </button>
          </span>
        )}
      </form>
      {problem && <p className={css.fails} style={{ margin: '4px 0' }}>{problemInWords(problem)}.</p>}
      {bad.length > 0 && <p className="muted" style={{ margin: '2px 0' }}>{bad.length} of {runs.length} can not be: {problemInWords(bad[0]!.problem!)}.</p>}
      {sweep ? (
        <div className={isNow(sweep, design, point) ? '' : 'stale'} style={{ flex: 1, minHeight: 0 }}>
          <SweepPlot sweep={sweep} svg={svg} />
        </div>
      ) : (
        <p className="muted" style={{ margin: '14px 0' }}>Choose what changes and between which values, as in “10u..47u/5” or “150k, 220k”, and run. A curve is picked with a click; its values can be taken.</p>
      )}
      {sweep && <Filters sweep={sweep} />}
      {sweep && picked !== undefined && sweep.runs[picked] && <Picked sweep={sweep} k={picked} run={sweep.runs[picked]!} />}
    </div>
  );
}

/** One quantity and its values. */
function AxisField({ index, path, values }: { index: number; path: string; values: string }) {
  const design = useStore((s) => s.design);
  const asked = useSweep((s) => s.asked);
  const all = sweepable(design);
  const put = (change: Partial<{ path: string; values: string }>): void => sweepActions.ask(asked.map((a, i) => (i === index ? { ...a, ...change } : a)));
  return (
    <span style={{ whiteSpace: 'nowrap' }} data-testid={`axis-${index}`}>
      <select className={frame.select} aria-label={`Swept quantity ${index + 1}`} value={path} style={{ maxWidth: 200 }} onChange={(e) => put({ path: e.target.value })}>
        {!all.some((s) => s.path === path) && <option value={path}>choose …</option>}
        {all.map((s) => (
          <option key={s.path} value={s.path}>
            {s.title}
          </option>
        ))}
      </select>{' '}
      <input className={css.search} aria-label={`Values of quantity ${index + 1}`} value={values} placeholder="10u..47u/5" onKeyDown={(e) => e.stopPropagation()} onChange={(e) => put({ values: e.target.value })} />
      {asked.length > 1 && (
        <button type="button" className={frame.link} aria-label={`take quantity ${index + 1} away`} onClick={() => sweepActions.ask(asked.filter((_, i) => i !== index))}>
          ×
        </button>
      )}
    </span>
  );
}

/** A curve: the runs along the first quantity with the others standing, or one run in time. */
interface Curve {
  key: string;
  label: string;
  xs: number[];
  ys: number[];
  runs: number[];
  /** 0 to 1, by the first of what tells curves apart */
  tone: number;
  holds: boolean;
}

const toneOf = (axis: Axis | undefined, value: number | undefined): number => {
  const k = axis && value !== undefined ? axis.values.indexOf(value) : 0;
  return axis && axis.values.length > 1 ? k / (axis.values.length - 1) : 0;
};

/** What is drawn over the frequency, a curve a run, by its title. */
const OVER_FREQUENCY = { loop: 'loop gain', front: 'impedance before the line, dB of an ohm' } as const;
const isOverFrequency = (shown: string): shown is keyof typeof OVER_FREQUENCY => Object.hasOwn(OVER_FREQUENCY, shown);

function curvesOf({ axes, runs, wave }: Sweep, shown: string, visible: (r: Swept) => boolean): Curve[] {
  const there = runs.flatMap((r, k) => (r && visible(r) ? [{ ...r, k }] : []));
  if (shown === 'wave' && wave)
    return there.flatMap((r): Curve[] => {
      if (!r.wave) return [];
      const dt = wave.schedule.lasts / wave.bins;
      return [{ key: String(r.k), label: axes.map((a, i) => printTyped(r.values[i]!, a.unit, 3)).join(', '), xs: Array.from(r.wave.least, (_, i) => (i + 0.5) * dt), ys: Array.from(r.wave.least, (v, i) => (v + r.wave!.most[i]!) / 2), runs: [r.k], tone: toneOf(axes[0], r.values[0]), holds: r.holds }];
    });
  if (isOverFrequency(shown))
    return there.flatMap((r): Curve[] =>
      r[shown] ? [{ key: String(r.k), label: axes.map((a, i) => printTyped(r.values[i]!, a.unit, 3)).join(', '), xs: [...r[shown].frequency], ys: [...r[shown].gain], runs: [r.k], tone: toneOf(axes[0], r.values[0]), holds: r.holds }] : [],
    );
  const groups = new Map<string, typeof there>();
  for (const r of there) {
    const key = r.values.slice(1).join(' ');
    groups.set(key, [...(groups.get(key) ?? []), r]);
  }
  return [...groups].map(([key, list]): Curve => {
    const own = list.filter((r) => r.figures[shown] !== undefined).toSorted((a, b) => a.values[0]! - b.values[0]!);
    return { key, label: axes.slice(1).map((a, i) => inWords({ title: '', unit: a.unit }, list[0]!.values[i + 1]!).trim()).join(', '), xs: own.map((r) => r.values[0]!), ys: own.map((r) => r.figures[shown]!), runs: own.map((r) => r.k), tone: toneOf(axes[1], list[0]!.values[1]), holds: own.every((r) => r.holds) };
  });
}

function SweepPlot({ sweep, svg }: { sweep: Sweep; svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const { shown, hidden, picked } = useSweep();
  const [hovered, setHovered] = useState<string>();
  const offered = useInTime((s) => s.run?.offered);
  const [first] = sweep.axes;
  const inTime = shown === 'wave';
  /** A run is one curve, and not a point of one */
  const over = isOverFrequency(shown);
  const whole = inTime || over;
  const visible = (r: Swept): boolean => sweep.axes.every((a, i) => !(hidden[a.path] ?? []).includes(r.values[i]!));
  const curves = curvesOf(sweep, shown, visible).filter((c) => c.xs.length > 0);
  const figure = sweptFigures(sweep.design).find((f) => f.id === shown);
  const unit: UnitName = over ? 'dB' : inTime ? (offered?.find((o) => o.id === sweep.wave?.trace)?.unit ?? 'V') : (figure?.unit ?? '');
  const limit = whole ? undefined : limitOf(sweep.design, shown);
  const xs = curves.flatMap((c) => c.xs);
  const ys = [...curves.flatMap((c) => c.ys), ...(limit ? [limit.limit] : [])].filter(Number.isFinite);
  if (xs.length === 0) return <div ref={box} className="muted" style={{ height: '100%' }}>{whole ? 'Run it again to see that.' : ''}</div>;
  const spread = [Math.min(...xs), Math.max(...xs)] as [number, number];
  const even = first!.values.length > 2 && first!.values[1]! - first!.values[0]! < 0.5 * (first!.values[2]! - first!.values[1]!);
  const x = ((over || (!inTime && even)) && spread[0] > 0 ? scaleLog : scaleLinear)(spread[0] === spread[1] ? [spread[0] * 0.9, spread[1] * 1.1 + 1e-30] : spread, [LEFT, width - RIGHT]);
  const [low, high] = [Math.min(...ys), Math.max(...ys)];
  const pad = 0.06 * (high - low || Math.abs(high) || 1);
  const y = scaleLinear([low - pad, high + pad], [height - BOTTOM, TOP]);
  const style = typeof document === 'undefined' ? undefined : getComputedStyle(document.documentElement);
  const colour = interpolateRgb(style?.getPropertyValue('--spruce').trim() || '#1d5c50', style?.getPropertyValue('--rust').trim() || '#b9542b');
  const ends = spaced(curves.map((c) => y(c.ys.at(-1)!)), 13);
  return (
    <div ref={box} style={{ height: '100%', overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="group" aria-label={over ? `${OVER_FREQUENCY[shown]} over frequency` : `${figure?.title ?? 'trace'} over ${inTime ? 'time' : first!.title}`} data-testid="sweep-plot">
          {over ? <LogXAxis scale={x} y0={TOP} y1={height - BOTTOM} /> : <XAxis scale={x} unit={inTime ? 's' : first!.unit} y0={TOP} y1={height - BOTTOM} count={6} />}
          <YAxis scale={y} unit={unit} x0={LEFT} x1={width - RIGHT} count={6} />
          <text x={LEFT + 6} y={TOP + 11} className={plots.label} fill="var(--muted)">{over ? OVER_FREQUENCY[shown] : inTime ? `${sweep.wave?.trace} through ${sweep.wave?.schedule.name}` : `${figure?.title} over ${first!.title}`}</text>
          {limit && (
            <g>
              <line x1={LEFT} x2={width - RIGHT} y1={y(limit.limit)} y2={y(limit.limit)} stroke="var(--fail)" strokeDasharray="5 3" />
              <text x={width - RIGHT - 4} y={y(limit.limit) - 4} textAnchor="end" className={plots.mono} fill="var(--fail)">{limit.direction} {print(limit.limit, unit, 3)}</text>
            </g>
          )}
          {curves.map((c, i) => {
            const on = hovered === c.key || (picked !== undefined && c.runs.includes(picked));
            const faded = hovered !== undefined && hovered !== c.key;
            return (
              <g key={c.key} data-curve={c.key} opacity={faded ? 0.25 : 1} onPointerEnter={() => setHovered(c.key)} onPointerLeave={() => setHovered(undefined)}>
                <path d={c.xs.map((v, k) => `${k === 0 ? 'M' : 'L'}${x(v).toFixed(1)} ${y(c.ys[k]!).toFixed(1)}`).join('')} fill="none" stroke={colour(c.tone)} strokeWidth={on ? 2.6 : 1.6} />
                {whole && <path d={c.xs.map((v, k) => `${k === 0 ? 'M' : 'L'}${x(v).toFixed(1)} ${y(c.ys[k]!).toFixed(1)}`).join('')} fill="none" stroke="transparent" strokeWidth={10} style={{ cursor: 'pointer' }} tabIndex={0} role="button" aria-label={`pick ${c.label}`} onClick={() => sweepActions.pick(c.runs[0])} onKeyDown={(e) => e.key === 'Enter' && sweepActions.pick(c.runs[0])} />}
                {!whole &&
                  c.xs.map((v, k) => (
                    <circle
                      key={v}
                      cx={x(v)}
                      cy={y(c.ys[k]!)}
                      r={c.runs[k] === picked ? 6 : 4}
                      fill={sweep.runs[c.runs[k]!]!.holds ? colour(c.tone) : 'var(--card)'}
                      stroke={sweep.runs[c.runs[k]!]!.holds ? colour(c.tone) : 'var(--fail)'}
                      strokeWidth={2}
                      style={{ cursor: 'pointer' }}
                      tabIndex={0}
                      role="button"
                      aria-label={`pick ${inWords(first!, v)}${c.label ? `, ${c.label}` : ''}`}
                      onClick={() => sweepActions.pick(c.runs[k])}
                      onKeyDown={(e) => e.key === 'Enter' && sweepActions.pick(c.runs[k])}
                    >
                      <title>{`${inWords(first!, v)}${c.label ? `, ${c.label}` : ''}: ${print(c.ys[k]!, unit, 3)}`}</title>
                    </circle>
                  ))}
                {c.label && (curves.length <= 24 || on) && (
                  <text x={width - RIGHT + 12} y={ends[i]! + 4} className={plots.mono} fill={colour(c.tone)} fontWeight={on ? 700 : 400}>
                    {c.label}
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      )}
    </div>
  );
}

/** Values of each quantity, left out of the picture and put back by a click. */
function Filters({ sweep: { axes } }: { sweep: Sweep }) {
  const hidden = useSweep((s) => s.hidden);
  if (axes.length < 2 && axes[0]!.values.length < 2) return null;
  return (
    <div style={{ display: 'flex', flexWrap: 'wrap', gap: '2px 14px', alignItems: 'baseline', marginTop: 4 }} data-testid="filters">
      {axes.filter((a) => a.values.length <= 12).map((a) => (
        <span key={a.path}>
          <span className="muted">{a.title}</span>{' '}
          {a.values.map((v) => (
            <button key={v} type="button" className={frame.link} aria-pressed={!(hidden[a.path] ?? []).includes(v)} style={{ marginRight: 7, textDecoration: (hidden[a.path] ?? []).includes(v) ? 'line-through' : 'none' }} onClick={() => sweepActions.hide(a.path, v)}>
              {printTyped(v, a.unit, 3)}
            </button>
          ))}
        </span>
      ))}
    </div>
  );
}

/** The run that is picked: its values and figures, and a way to take them. */
function Picked({ sweep, k, run }: { sweep: Sweep; k: number; run: Swept }) {
  const figures = sweptFigures(sweep.design).filter((f) => run.figures[f.id] !== undefined);
  return (
    <div style={{ marginTop: 4, lineHeight: 1.5 }} data-testid="picked">
      <b>{sweep.axes.map((a, i) => inWords(a, run.values[i]!)).join(', ')}</b>{' '}
      <button type="button" className={frame.chip} style={{ padding: '1px 9px' }} onClick={() => sweepActions.take(k)}>
        Take these values
      </button>{' '}
      <span className={run.holds ? 'muted' : css.fails}>{run.problem ? problemInWords(run.problem) : run.holds ? 'meets all that is asked at this point' : 'does not meet all that is asked at this point'}</span>
      <div className="mono muted" style={{ whiteSpace: 'normal' }}>{figures.map((f) => `${f.title} ${print(run.figures[f.id]!, f.unit, 3)}`).join(' · ')}</div>
    </div>
  );
}

/** A sweep as it is saved: a line a run. */
export const sweepAsColumns = ({ axes, runs, design }: Sweep): Record<string, readonly number[]> => {
  const there = runs.filter((r) => r !== undefined);
  return {
    ...Object.fromEntries(axes.map((a, i) => [`${a.title} (${a.unit})`, there.map((r) => r.values[i]!)])),
    ...Object.fromEntries(sweptFigures(design).map((f) => [`${f.title} (${f.unit})`, there.map((r) => r.figures[f.id] ?? NaN)])),
  };
};
