'use client';
import { scaleLinear } from 'd3';
import { useId, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import { inWords } from '../../../core/problem';
import { printQuantity as print, printTyped } from '../../../core/quantity';
import { middleAt, readTrace, schedulesOf, type Schedule } from '../../../core/schedule';
import frame from '../../frame/frame.module.css';
import { XAxis, YAxis } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { useSize } from '../../plots/useSize';
import { useZoomX } from '../../plots/useZoomX';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';
import { BOTTOM, Cursors, GAP, LANE_COLOURS, LEFT, RIGHT, TOP } from './laneFrame';
import { rowsOfLabels } from './rowsOfLabels';
import { ownCopy, ScheduleRow } from './ScheduleRow';
import { useKeptRuns, useRun, type KeptRun, type Run } from './useRun';

/** Height of a row of the timeline's labels (px) */
const ROW = 14;

/** "load 2 → 6 A" of every step of a schedule, where it comes. */
function stepsInWords({ steps, begins }: Schedule, from: { load: number; line: number; reference: number }): { at: number; text: string; index: number }[] {
  const now = { ...from };
  const said = steps.map((s, index) => ({ ...s, index })).toSorted((a, b) => a.at - b.at).map(({ at, what, to, index }) => {
    const unit = what === 'load' ? 'A' : 'V';
    const text = `${what} ${printTyped(now[what], unit, 3)} → ${printTyped(to, unit, 3)}`;
    now[what] = to;
    return { at, text, index };
  });
  return begins === 'rest' ? [{ at: 0, text: 'switched on', index: -1 }, ...said] : said;
}

/** The converter in time: run through a schedule, exactly from event to event; least and most of each trace in every bin. */
export function InTime({ name, show, svg, told }: { name: string; show: (name: string) => void; svg: RefObject<SVGSVGElement | null>; told: (run: Run | undefined) => void }) {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { run, problem, progress, stop } = useRun(design, point, name);
  const asked = schedulesOf(design, point).find((s) => s.name === name);
  const kept = useStore((s) => s.kept);
  const keptRuns = useKeptRuns(kept, run);
  const others = kept.flatMap((k, i) => (k.visible && keptRuns[k.id] ? [{ label: k.label, ...keptStyle(i), ...keptRuns[k.id]! }] : []));
  const fresh = run !== undefined && run.design === design && run.point === point && run.schedule.name === name && progress === undefined;
  if (run && fresh) told(run);
  return (
    <>
      <div style={{ display: 'flex', gap: '2px 10px', flexWrap: 'wrap', alignItems: 'baseline', fontSize: 12, minHeight: 20 }} data-testid="run-state">
        {problem ? (
          <span className={css.fails}>{inWords(problem)}.</span>
        ) : progress !== undefined ? (
          <span className="muted">
            running, {print(progress, '%', 2)}{' '}
            <button type="button" className={frame.link} onClick={stop}>
              stop
            </button>
          </span>
        ) : run ? (
          <span className="muted" style={{ whiteSpace: 'nowrap' }}>
            switched, exact: {Math.round(run.seen.edges.at(-1)! / run.period).toLocaleString('en')} periods · wheel zooms, drag pans
          </span>
        ) : (
          <span className="muted">running …</span>
        )}
        {asked && <ScheduleRow schedule={asked} show={show} />}
      </div>
      <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0 }}>
        {run && <RunLanes run={run} asked={asked ?? run.schedule} others={others} show={show} svg={svg} />}
      </div>
    </>
  );
}

/** A kept state's run as it is laid over. */
type Other = KeptRun & { label: string; colour: string; dash: number[] };

function RunLanes({ run: { seen, traces, schedule: done, point, design }, asked: schedule, others, show, svg }: { run: Run; asked: Schedule; others: readonly Other[]; show: (name: string) => void; svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const [cursors, setCursors] = useState<[number, number]>([0.2, 0.6]);
  const clip = useId();
  const dragged = useRef('');
  const right = width - RIGHT;
  const transform = useZoomX(svg, LEFT, right);
  const { edges, least, most } = seen;
  // Steps stand where they are asked for, also while the run with them is under way.
  const x = transform.rescaleX(scaleLinear([0, done.lasts], [LEFT, right]));
  const steps = stepsInWords(schedule, { load: point.load, line: point.line, reference: design.brief.output.voltage });
  const labels = rowsOfLabels(steps.map((s) => ({ x: x(s.at), text: s.text })), right);
  const top = TOP + 12 + ROW * (1 + Math.max(0, ...labels.map((l) => l.row)));
  const laneHeight = (height - top - BOTTOM - GAP * (traces.length - 1)) / traces.length;
  const [from, to] = x.domain() as [number, number];
  const [ta, tb] = cursors.map((c) => c * schedule.lasts) as [number, number];
  const moveCursor = (which: 0 | 1, to: number): void => setCursors((now) => now.map((c, i) => (i === which ? Math.min(1, Math.max(0, to / schedule.lasts)) : c)) as [number, number]);
  /** Least and most of what a kept state does, as two lines. */
  const outline = ({ seen: s }: Other, j: number, y: (v: number) => number): string =>
    s.edges.length < 2 ? '' : [s.least[j]!, s.most[j]!].map((values) => 'M' + Array.from(values, (v, k) => `${x((s.edges[k]! + s.edges[k + 1]!) / 2).toFixed(1)} ${y(v).toFixed(1)}`).join('L')).join('');
  /** Move a step of the schedule: of the design's own it is moved there, of a usual one a copy is made for it. */
  const move = (index: number, to: number, gesture: string): void => {
    const at = Number(Math.min(schedule.lasts, Math.max(0, to)).toPrecision(3));
    const k = useStore.getState().design.schedules?.findIndex((s) => s.name === schedule.name) ?? -1;
    if (k >= 0) actions.edit({ [`schedules.${k}.steps.${index}.at`]: at }, gesture);
    else {
      const name = ownCopy(schedule, (own) => ({ ...own, steps: own.steps.map((s, i) => (i === index ? { ...s, at } : s)) }));
      if (name) show(name);
    }
  };
  const grab = (index: number) => (e: PointerEvent<SVGElement>): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    dragged.current = `step ${index} ${Date.now()}`;
  };
  const pull = (index: number) => (e: PointerEvent<SVGElement>): void => {
    if (e.buttons === 1) move(index, x.invert(e.clientX - svg.current!.getBoundingClientRect().left), dragged.current);
  };
  const nudge = (e: KeyboardEvent, s: { at: number; index: number }): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    move(s.index, s.at + by * (e.shiftKey ? 0.05 : 0.01) * schedule.lasts, `keys step ${s.index}`);
  };
  const band = (i: number, y: (v: number) => number): string => {
    const up: string[] = [];
    const down: string[] = [];
    for (let k = 0; k < edges.length - 1; k++) {
      const px = x((edges[k]! + edges[k + 1]!) / 2);
      if (px < LEFT - 20 || px > right + 20) continue;
      up.push(`${px.toFixed(1)} ${y(most[i]![k]!).toFixed(1)}`);
      down.push(`${px.toFixed(1)} ${y(least[i]![k]!).toFixed(1)}`);
    }
    return up.length > 0 ? `M${up.join('L')}L${down.reverse().join('L')}Z` : '';
  };
  return (
    <div ref={box} style={{ height: '100%', overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="group" aria-label={`In time: ${schedule.name}`} data-testid="run-lanes">
          <clipPath id={clip}>
            <rect x={LEFT} y={0} width={Math.max(0, right - LEFT)} height={height} />
          </clipPath>
          <rect x={LEFT} y={0} width={Math.max(0, right - LEFT)} height={height} fill="transparent" />
          <text x={0} y={TOP + 14} className={plots.label} fontWeight={650} fill="var(--ink)">
            {schedule.name}
          </text>
          <XAxis scale={x} unit="s" y0={top} y1={height - BOTTOM} count={7} />
          <g clipPath={`url(#${clip})`}>
            {steps.map((s, i) => (
              <g key={`${s.at} ${s.text}`}>
                <line x1={x(s.at)} x2={x(s.at)} y1={TOP + 8 + ROW * labels[i]!.row} y2={height - BOTTOM} stroke="var(--muted)" strokeDasharray="2 3" />
                <circle
                  cx={x(s.at)}
                  cy={TOP + 10 + ROW * labels[i]!.row}
                  r={4.5}
                  fill="var(--card)"
                  stroke="var(--spruce)"
                  strokeWidth={2}
                  {...(s.index < 0 ? {} : { 'data-dragged': true, 'data-step': s.index, className: plots.handle, tabIndex: 0, role: 'slider', 'aria-label': s.text, 'aria-valuenow': s.at, 'aria-valuetext': print(s.at, 's', 3), onPointerDown: grab(s.index), onPointerMove: pull(s.index), onPointerUp: () => actions.endGesture(), onKeyDown: (e: KeyboardEvent) => nudge(e, s) })}
                />
                <text x={x(s.at) + (labels[i]!.before ? -9 : 9)} y={TOP + 14 + ROW * labels[i]!.row} textAnchor={labels[i]!.before ? 'end' : 'start'} fontSize={11.5} fill="var(--ink)">
                  {s.text}
                </text>
              </g>
            ))}
          </g>
          {traces.map((trace, i) => {
            const y0 = top + i * (laneHeight + GAP);
            const read = readTrace(seen, i, from, to);
            const laid = others.flatMap((o) => {
              const j = o.traces.findIndex((t) => t.id === trace.id);
              const seenThere = j < 0 ? undefined : readTrace(o.seen, j, from, to);
              return seenThere ? [{ ...o, j, ...seenThere }] : [];
            });
            const [low, high] = [Math.min(read?.least ?? 0, ...laid.map((o) => o.least)), Math.max(read?.most ?? 1, ...laid.map((o) => o.most))];
            const y = scaleLinear([low, high === low ? low + 1 : high], [y0 + laneHeight - 5, y0 + 5]);
            const colour = LANE_COLOURS[i % LANE_COLOURS.length];
            return (
              <g key={trace.id} data-trace={trace.id}>
                <rect x={LEFT} y={y0} width={Math.max(0, right - LEFT)} height={laneHeight} fill="none" stroke="var(--line)" />
                <YAxis scale={y} unit={trace.unit} x0={LEFT} x1={right} count={laneHeight > 110 ? 5 : laneHeight > 60 ? 3 : 2} />
                {laid.map((o) => (
                  <path key={o.label} clipPath={`url(#${clip})`} d={outline(o, o.j, y)} fill="none" stroke={o.colour} strokeWidth={1.4} strokeDasharray={o.dash.join(' ')} />
                ))}
                <path clipPath={`url(#${clip})`} d={band(i, y)} fill={colour} fillOpacity={0.35} stroke={colour} strokeWidth={1.2} strokeLinejoin="round" />
                <g transform={`translate(0 ${y0})`}>
                  <text y={13} className={plots.label} fontWeight={650} fill={colour}>
                    {trace.title}
                  </text>
                  <g className={plots.mono} fill="var(--muted)">
                    <text y={29} data-testid={`run-most-${trace.id}`}>most {print(read?.most ?? NaN, trace.unit)}</text>
                    <text y={43} data-testid={`run-least-${trace.id}`}>least {print(read?.least ?? NaN, trace.unit)}</text>
                    {laneHeight > 72 && (
                      <text y={laneHeight - 3} fill="var(--ink)">
                        b−a {print(middleAt(seen, i, tb) - middleAt(seen, i, ta), trace.unit)}
                      </text>
                    )}
                  </g>
                </g>
              </g>
            );
          })}
          <Cursors at={[ta, tb]} move={moveCursor} x={x} svg={svg} top={top} bottom={height - BOTTOM} step={schedule.lasts / 500} />
          <text x={0} y={height - 6} className={plots.mono} fill="var(--ink)">
            b−a {print(tb - ta, 's', 4)}
          </text>
        </svg>
      )}
    </div>
  );
}

/** A run as it is saved: least and most of every bin. */
export const runAsColumns = ({ seen: { edges, least, most }, traces }: Run): Record<string, readonly number[]> => ({
  'from (s)': edges.slice(0, -1),
  'to (s)': edges.slice(1),
  ...Object.fromEntries(traces.flatMap((t, i) => [[`${t.title}, least (${t.unit})`, [...least[i]!]], [`${t.title}, most (${t.unit})`, [...most[i]!]]])),
});
